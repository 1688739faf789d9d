package server

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/draw"
	"net/http"
	"time"

	"raconte/api"
	"raconte/core/difference"
	"raconte/core/refusal"
	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/store"
	"raconte/works"

	"github.com/gin-gonic/gin"
)

// revised is a document as it is, or, by its number, one of its revisions, which those who edit may see.
func (s *Server) revised(c *gin.Context, id string, number *int) (works.Reading, error) {
	if number == nil || !reviews(c) {
		return s.visible(c, id, true)
	}
	return s.Works.Reading(c.Request.Context(), accountOf(c).Viewer(), id, works.Which{Revision: *number})
}

// GetDifferences answers with what has changed between two states of a document.
func (s *Server) GetDifferences(c *gin.Context, id string, p api.GetDifferencesParams) error {
	after, before, err := s.bothStates(c, id, p.From, p.To)
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, api.Differences{
		Title: after.Title, From: stateOf(before.Whole), To: stateOf(after.Whole), Difference: difference.Of(before.Core(), after.Core()),
	})
}

// bothStates are the two states that are asked about, without chapters: these have revisions of their own.
func (s *Server) bothStates(c *gin.Context, id string, from, to *int) (after, before works.Reading, err error) {
	ctx, v := c.Request.Context(), accountOf(c).Viewer()
	after, err = s.Works.Reading(ctx, v, id, works.Which{Draft: to == nil, Revision: of(to), Apart: true})
	if err != nil {
		return after, before, err
	}
	number := after.Document.Revision // of a draft, the last that was released
	if to != nil {
		number--
	}
	if from != nil {
		number = *from
	}
	if number < 1 {
		return after, before, refusal.New("There is no earlier revision to compare it with.")
	}
	before, err = s.Works.Reading(ctx, v, id, works.Which{Revision: number, Apart: true})
	if errors.Is(err, store.ErrNotFound) {
		err = refusal.New("There is no revision %d.", number)
	}
	return after, before, err
}

func stateOf(w store.Whole) api.StateOf {
	out := api.StateOf{Said: "Draft", At: w.ChangedAt, By: w.ChangedName}
	if w.Revised {
		n := w.Document.Revision
		out.Revision, out.Said = &n, "Revision "+w.Facts.SayRevision(n)
	}
	return out
}

// longestCompared is how long someone waits for where two pictures differ.
const longestCompared = 6 * time.Second

// comparedWidth is how wide the pictures are that are compared, in pixels: as they are shown beside each other.
const comparedWidth = 1200

// GetDiffering answers with where two finished pictures differ.
func (s *Server) GetDiffering(c *gin.Context, id string, p api.GetDifferingParams) error {
	after, before, err := s.bothStates(c, id, &p.From, p.To)
	if err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), longestCompared)
	defer cancel()
	old, err := s.finished(ctx, before.Whole, p.Before)
	var now *image.RGBA
	if err == nil {
		now, err = s.finished(ctx, after.Whole, p.After)
	}
	if err != nil {
		return err
	}
	var out struct {
		Same   bool         `json:"same"`
		Sizes  bool         `json:"sizes"`
		Places []scene.Rect `json:"places"`
	}
	out.Places = []scene.Rect{}
	if out.Sizes = old.Rect.Size() == now.Rect.Size(); out.Sizes {
		found := sight.Compare(old, now)
		w, h := float64(now.Rect.Dx()), float64(now.Rect.Dy())
		for _, r := range found.Rectangles {
			out.Places = append(out.Places, scene.Rect{X: float64(r.Min.X) / w, Y: float64(r.Min.Y) / h, W: float64(r.Dx()) / w, H: float64(r.Dy()) / h})
		}
		out.Same = len(out.Places) == 0
	}
	return answer(c, http.StatusOK, out)
}

// finished is a finished picture of a document as pixels.
func (s *Server) finished(ctx context.Context, w store.Whole, figure string) (*image.RGBA, error) {
	d := w.Core()
	f, _, there := d.Figure(figure)
	if !there {
		return nil, store.ErrNotFound
	}
	file, err := s.Pictures.Finished(ctx, f, d.Numbers().Markers[figure], comparedWidth)
	if err != nil {
		return nil, err
	}
	img, _, err := image.Decode(bytes.NewReader(file.Data))
	if err != nil {
		return nil, fmt.Errorf("reading a finished picture: %w", err)
	}
	if rgba, is := img.(*image.RGBA); is {
		return rgba, nil
	}
	out := image.NewRGBA(image.Rectangle{Max: img.Bounds().Size()})
	draw.Draw(out, out.Rect, img, img.Bounds().Min, draw.Src)
	return out, nil
}

// RestoreRevision makes a document as it was in a revision.
func (s *Server) RestoreRevision(c *gin.Context, id string, in api.RestoreRevisionJSONRequestBody) error {
	err := s.Store.Documents.Restore(c.Request.Context(), id, in.Revision, in.Seq, accountOf(c).Viewer())
	if errors.Is(err, store.ErrConflict) {
		return problem(http.StatusConflict, "Someone changed the document since you saw it. Read what is new, then try again.")
	}
	var d store.Document
	if err == nil {
		d, err = s.Store.Documents.Head(c.Request.Context(), id)
	}
	if err != nil {
		return err
	}
	s.publish(d, "")
	return answer(c, http.StatusOK, s.summary(d))
}

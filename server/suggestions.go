package server

import (
	"net/http"
	"reflect"
	"slices"

	"raconte/api"
	"raconte/core/comment"
	"raconte/core/difference"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/refusal"
	"raconte/core/words"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

// suggested adds to threads what their first comments suggest, against what stands there.
func suggested(out []api.Thread, all []store.Comment, d document.Document) {
	blocks, n := map[string]document.Block{}, d.Numbers()
	for _, b := range d.Blocks {
		blocks[b.ID] = b
	}
	for _, c := range all {
		i := slices.IndexFunc(out, func(t api.Thread) bool { return t.Id == c.ID })
		if c.Suggestion == nil || i < 0 {
			continue
		}
		to := api.Suggestion{Outcome: (*api.SuggestionOutcome)(orNil(c.Outcome)), Pieces: []api.SuggestionPiece{}}
		b, there := blocks[c.Place.Block]
		if r := c.Suggestion.Figure; r != nil {
			now, _, _ := d.Figure(c.Place.Figure)
			to.Changed = !now.SameLook(r.From)
			if taking, can := now.Taking(r.To); can {
				to.Figure = &taking
			}
		} else {
			to.Words = &c.Suggestion.To
			to.Changed = !there || !reflect.DeepEqual(b.Words, c.Suggestion.From)
			for _, p := range difference.OfWords(b, c.Suggestion.From, c.Suggestion.To, n) {
				to.Pieces = append(to.Pieces, api.SuggestionPiece{Kind: api.SuggestionPieceKind(p.Kind), Text: p.Text})
			}
		}
		out[i].Suggestion = &to
	}
}

// suggesting checks other words that a comment suggests for a block, or another look of a picture of it, and keeps with
// them what stands there.
func (s *Server) suggesting(c *gin.Context, id string, at comment.Place, to *words.Node, look *figure.Figure) (*store.Suggestion, error) {
	w, err := s.Store.Documents.Whole(c.Request.Context(), id)
	if err != nil {
		return nil, err
	}
	d := w.Core()
	i := slices.IndexFunc(d.Blocks, func(b document.Block) bool { return b.ID == at.Block })
	switch {
	case to != nil && look != nil:
		return nil, refusal.New("A suggestion is of words or of a picture.")
	case i < 0:
		return nil, refusal.New("The step is not there any more.")
	case look != nil:
		from, _, ok := d.Figure(at.Figure)
		if !ok {
			return nil, refusal.New("The picture is not there any more.")
		}
		if err := from.CheckSuggested(*look); err != nil {
			return nil, refusal.New("%s", sentence(err))
		}
		return &store.Suggestion{Figure: &store.Redrawn{From: from, To: *look}}, nil
	}
	b := d.Blocks[i]
	from := b.Words
	if b.Words = *to; b.Check() != nil {
		return nil, refusal.New("The suggested words are not in order.")
	}
	if reflect.DeepEqual(from, *to) {
		return nil, refusal.New("The suggested words are those that stand there.")
	}
	return &store.Suggestion{From: from, To: *to}, nil
}

// GetFigureGround answers with what another look of a picture can be drawn on: of its shot what the picture shows, and
// nothing that is concealed.
func (s *Server) GetFigureGround(c *gin.Context, id, figureID string) error {
	w, err := s.Store.Documents.Whole(c.Request.Context(), id)
	if err != nil {
		return err
	}
	f, _, ok := w.Core().Figure(figureID)
	if !ok {
		return problem(http.StatusNotFound, "The picture is not there any more.")
	}
	file, err := s.Pictures.Ground(c.Request.Context(), f)
	return s.sendPicture(c, file, err)
}

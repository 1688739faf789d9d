package server

import (
	"context"
	"fmt"
	"net/http"
	"time"

	"raconte/api"
	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/pictures"
	"raconte/store"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

// mostFound bounds a page of found shots.
const mostFound = 120

// FindShots answers with the caller's own shots.
func (s *Server) FindShots(c *gin.Context, p api.FindShotsParams) {
	q := store.ShotQuery{Placed: p.Placed, Most: mostFound}
	if p.Window != nil {
		q.Window = *p.Window
	}
	if p.Text != nil {
		q.Text = *p.Text
	}
	if p.Unused != nil {
		q.Unused = *p.Unused
	}
	if p.After != nil {
		q.After = *p.After
	}
	if p.Day != nil {
		offset := 0
		if p.Offset != nil {
			offset = *p.Offset
		}
		q.From = p.Day.Time.Add(-time.Duration(offset) * time.Minute)
		q.To = q.From.Add(24 * time.Hour)
	}
	shots, err := s.Store.FindShots(c, accountOf(c).ID, q)
	if err != nil {
		s.fail(c, err)
		return
	}
	out := make([]api.Taken, 0, len(shots))
	for _, shot := range shots {
		out = append(out, takenAnswer(shot))
	}
	c.JSON(http.StatusOK, out)
}

// GetTaken answers with what is known of a shot.
func (s *Server) GetTaken(c *gin.Context, id string) {
	if !s.seesShot(c, id) {
		return
	}
	shot, err := s.Store.Shot(c, id)
	if err != nil {
		s.fail(c, err)
		return
	}
	out := takenAnswer(shot)
	words := make([]scene.Rect, 0, len(shot.Words))
	for _, w := range shot.Words {
		words = append(words, w.Rect)
	}
	out.Words = &words
	c.JSON(http.StatusOK, out)
}

// DiscardShots takes shots out of their sessions or brings them back.
func (s *Server) DiscardShots(c *gin.Context) {
	var in api.DiscardShotsJSONRequestBody
	if err := c.ShouldBindJSON(&in); err != nil || len(in.Shots) > 5000 {
		problem(c, http.StatusBadRequest, "Name the shots, at most 5,000.")
		return
	}
	if err := s.Store.Discard(c, accountOf(c).ID, in.Shots, in.Discarded); err != nil {
		s.fail(c, err)
		return
	}
	c.Status(http.StatusNoContent)
}

// GetRoom answers with how much the caller's shots take.
func (s *Server) GetRoom(c *gin.Context) {
	r, err := s.Store.Room(c, accountOf(c).ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.JSON(http.StatusOK, api.Room{
		Shots: r.Shots, Bytes: r.Bytes, UnusedShots: r.UnusedShots, UnusedBytes: r.UnusedBytes, Reads: s.Reader.Languages(),
	})
}

// ScaleShot adds a smaller copy of a shot.
func (s *Server) ScaleShot(c *gin.Context, id string) {
	var in api.ScaleShotJSONRequestBody
	if err := c.ShouldBindJSON(&in); err != nil {
		problem(c, http.StatusBadRequest, "Say how wide the copy is to be.")
		return
	}
	shot, err := s.Store.Shot(c, id)
	if err == nil && shot.CreatedBy != accountOf(c).ID {
		err = store.ErrNotFound
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	if in.Width < 16 || in.Width >= shot.Width {
		problem(c, http.StatusBadRequest, fmt.Sprintf("The copy is 16 to %d pixels wide.", shot.Width-1))
		return
	}
	data, err := s.Pictures.Smaller(c, shot, in.Width)
	if err != nil {
		s.fail(c, err)
		return
	}
	k := float64(in.Width) / float64(shot.Width)
	copied, err := s.Pictures.Keep(c, pictures.Arrival{
		ID: uuid.NewString(), Name: shot.Name, Data: data, By: shot.CreatedBy, Capture: shot.CaptureID, About: shot.About.Scaled(k),
	})
	if err == nil && shot.CaptureID != nil {
		err = s.placeBehind(c, shot, copied.ID)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	if _, err := s.Jobs.Add(c, "preview", copied.ID, copied.CreatedBy); err != nil {
		s.Log.Warn("queueing a preview", "shot", copied.ID, "error", err)
	}
	s.queueReading(c, copied)
	c.JSON(http.StatusCreated, takenAnswer(copied))
}

// queueReading has the text in a shot read in the background, where that can be done.
func (s *Server) queueReading(ctx context.Context, shot store.Shot) {
	if s.Reader.Languages() == "" || shot.FoundText != nil {
		return
	}
	if _, err := s.Reads.Add(ctx, "read", shot.ID, shot.CreatedBy); err != nil {
		s.Log.Warn("queueing the reading of a shot", "shot", shot.ID, "error", err)
	}
}

// placeBehind puts a new shot right behind another one of its session.
func (s *Server) placeBehind(ctx context.Context, shot store.Shot, id string) error {
	all, err := s.Store.FindShots(ctx, shot.CreatedBy, store.ShotQuery{Capture: *shot.CaptureID})
	if err != nil {
		return err
	}
	var order []string
	for _, o := range all {
		if o.ID == id {
			continue
		}
		order = append(order, o.ID)
		if o.ID == shot.ID {
			order = append(order, id)
		}
	}
	return s.Store.Reorder(ctx, shot.CreatedBy, *shot.CaptureID, order)
}

// Reading takes a core for seconds. It waits until nobody has brought a shot in for a while, so that it never slows
// those who capture; but not for ever, where someone always does.
const (
	quietBefore = 8 * time.Second
	longestWait = 5 * time.Minute
)

func (s *Server) awaitQuiet(ctx context.Context) error {
	for began := time.Now(); time.Since(began) < longestWait; {
		wait := quietBefore - time.Since(time.Unix(0, s.lastShot.Load()))
		if wait <= 0 {
			return nil
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(wait):
		}
	}
	return nil
}

// ReadText is the job that finds the words in a shot.
func (s *Server) ReadText(ctx context.Context, j store.Job, _ func(done, all int)) (string, error) {
	if err := s.awaitQuiet(ctx); err != nil {
		return "", err
	}
	shot, err := s.Store.Shot(ctx, j.Payload)
	if err != nil {
		return "", err
	}
	_, err = s.read(ctx, shot)
	return "", err
}

// read finds the words in a shot and keeps them.
func (s *Server) read(ctx context.Context, shot store.Shot) ([]sight.Word, error) {
	file, err := s.Pictures.Original(ctx, shot.ID)
	if err != nil {
		return nil, err
	}
	words, err := s.Reader.Words(ctx, file.Data)
	if err != nil {
		return nil, err
	}
	// What stands in a password field is not for anyone to find.
	kept := words[:0]
	for _, w := range words {
		secret := false
		for _, e := range shot.About.Elements {
			secret = secret || (e.Secret && !e.Rect.Intersect(w.Rect).Empty())
		}
		if !secret {
			kept = append(kept, w)
		}
	}
	return kept, s.Store.SetRead(ctx, shot.ID, kept)
}

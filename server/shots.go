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
	openapi_types "github.com/oapi-codegen/runtime/types"
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
	if p.AfterId != nil {
		q.AfterID = *p.AfterId
	}
	if p.Discarded != nil {
		q.Discarded = *p.Discarded
	}
	for _, t := range []time.Time{q.After, dayOf(p.Day)} {
		if y := t.Year(); !t.IsZero() && (y < 1990 || y > 2199) {
			problem(c, http.StatusBadRequest, "The time lies outside the years 1990 to 2199.")
			return
		}
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
	s.answer(c, http.StatusOK, each(s, c, shots, takenAnswer))
}

func dayOf(day *openapi_types.Date) time.Time {
	if day == nil {
		return time.Time{}
	}
	return day.Time
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
	s.answer(c, http.StatusOK, out)
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
	s.answer(c, http.StatusOK, api.Room{
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
		err = s.Store.PlaceBehind(c, shot.CreatedBy, *shot.CaptureID, copied.ID, shot.ID)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	if _, err := s.Jobs.Add(c, "preview", copied.ID, copied.CreatedBy); err != nil {
		s.Log.Warn("queueing a preview", "shot", copied.ID, "error", err)
	}
	s.queueReading(c, copied)
	s.answer(c, http.StatusCreated, takenAnswer(copied))
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

// Reading takes a core for seconds. It waits a little until nobody has brought a shot in for a while, so that it hardly
// slows those who capture; but only a little: while shots keep arriving, they are read too.
const (
	quietBefore  = 8 * time.Second
	longestQuiet = 10 * time.Second
)

func (s *Server) awaitQuiet(ctx context.Context) error {
	for began := time.Now(); time.Since(began) < longestQuiet; {
		wait := min(quietBefore-time.Since(time.Unix(0, s.lastShot.Load())), longestQuiet-time.Since(began))
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
	if err != nil || shot.FoundText != nil {
		return "", err
	}
	_, err = s.read(pictures.For(ctx, shot.CreatedBy), shot)
	return "", err
}

// readNow waits a few seconds for the words in a shot. Where they take longer, a job reads them and done is false.
func (s *Server) readNow(ctx context.Context, shot store.Shot) (words []sight.Word, done bool) {
	limited, cancel := context.WithTimeout(ctx, soonRead)
	defer cancel()
	words, err := s.read(limited, shot)
	if err == nil {
		return words, true
	}
	if ctx.Err() == nil {
		if limited.Err() == nil {
			s.Log.Warn("reading a shot for suggestions", "shot", shot.ID, "error", err)
		}
		s.queueReading(ctx, shot)
	}
	return nil, false
}

// soonRead is how long someone waits for a picture to be read.
const soonRead = 6 * time.Second

// read finds the words in a shot and keeps them, once its turn has come.
func (s *Server) read(ctx context.Context, shot store.Shot) ([]sight.Word, error) {
	select { // of all requests and jobs, few read at a time
	case s.reading <- struct{}{}:
		defer func() { <-s.reading }()
	case <-ctx.Done():
		return nil, ctx.Err()
	}
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

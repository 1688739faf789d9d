package server

import (
	"fmt"
	"net/http"
	"time"

	"raconte/api"
	"raconte/core/scene"
	"raconte/store"
	"raconte/works/pictures"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
	openapi_types "github.com/oapi-codegen/runtime/types"
)

// mostFound bounds a page of found shots.
const mostFound = 120

// FindShots answers with the caller's own shots.
func (s *Server) FindShots(c *gin.Context, p api.FindShotsParams) error {
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
			return problem(http.StatusBadRequest, "The time lies outside the years 1990 to 2199.")
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
	shots, err := s.Store.Captures.FindShots(c.Request.Context(), accountOf(c).ID, q)
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, shots, takenAnswer))
}

func dayOf(day *openapi_types.Date) time.Time {
	if day == nil {
		return time.Time{}
	}
	return day.Time
}

// GetTaken answers with what is known of a shot.
func (s *Server) GetTaken(c *gin.Context, id string) error {
	if err := s.seesShot(c, id); err != nil {
		return err
	}
	shot, err := s.Store.Captures.Shot(c.Request.Context(), id)
	if err != nil {
		return err
	}
	out := takenAnswer(shot)
	words := make([]scene.Rect, 0, len(shot.Words))
	for _, w := range shot.Words {
		words = append(words, w.Rect)
	}
	out.Words = &words
	return answer(c, http.StatusOK, out)
}

// DiscardShots takes shots out of their sessions or brings them back.
func (s *Server) DiscardShots(c *gin.Context, in api.DiscardShotsJSONRequestBody) error {
	if len(in.Shots) > 5000 {
		return problem(http.StatusBadRequest, "Name the shots, at most 5,000.")
	}
	return empty(c, s.Store.Captures.Discard(c.Request.Context(), accountOf(c).ID, in.Shots, in.Discarded))
}

// GetRoom answers with how much the caller's shots take.
func (s *Server) GetRoom(c *gin.Context) error {
	r, err := s.Store.Captures.Room(c.Request.Context(), accountOf(c).ID)
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, api.Room{
		Shots: r.Shots, Bytes: r.Bytes, UnusedShots: r.UnusedShots, UnusedBytes: r.UnusedBytes, Reads: s.Works.Reader.Languages(),
	})
}

// ScaleShot adds a smaller copy of a shot.
func (s *Server) ScaleShot(c *gin.Context, id string, in api.ScaleShotJSONRequestBody) error {
	shot, err := s.Store.Captures.Shot(c.Request.Context(), id)
	if err == nil && shot.CreatedBy != accountOf(c).ID {
		err = store.ErrNotFound
	}
	if err != nil {
		return err
	}
	if in.Width < 16 || in.Width >= shot.Width {
		return problem(http.StatusBadRequest, fmt.Sprintf("The copy is 16 to %d pixels wide.", shot.Width-1))
	}
	data, err := s.Pictures.Smaller(c.Request.Context(), shot, in.Width)
	if err != nil {
		return err
	}
	k := float64(in.Width) / float64(shot.Width)
	copied, err := s.Pictures.Keep(c.Request.Context(), pictures.Arrival{
		ID: uuid.NewString(), Name: shot.Name, Data: data, By: shot.CreatedBy, Capture: shot.CaptureID, About: shot.About.Scaled(k),
	})
	if err == nil && shot.CaptureID != nil {
		err = s.Store.Captures.PlaceBehind(c.Request.Context(), shot.CreatedBy, *shot.CaptureID, copied.ID, shot.ID)
	}
	if err != nil {
		return err
	}
	s.Works.Arrived(c.Request.Context(), copied)
	return answer(c, http.StatusCreated, takenAnswer(copied))
}

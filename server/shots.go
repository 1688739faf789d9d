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
	shots, err := s.Store.Captures.FindShots(c.Request.Context(), accountOf(c).ID, q)
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
	shot, err := s.Store.Captures.Shot(c.Request.Context(), id)
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
	if err := s.Store.Captures.Discard(c.Request.Context(), accountOf(c).ID, in.Shots, in.Discarded); err != nil {
		s.fail(c, err)
		return
	}
	c.Status(http.StatusNoContent)
}

// GetRoom answers with how much the caller's shots take.
func (s *Server) GetRoom(c *gin.Context) {
	r, err := s.Store.Captures.Room(c.Request.Context(), accountOf(c).ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, http.StatusOK, api.Room{
		Shots: r.Shots, Bytes: r.Bytes, UnusedShots: r.UnusedShots, UnusedBytes: r.UnusedBytes, Reads: s.Works.Reader.Languages(),
	})
}

// ScaleShot adds a smaller copy of a shot.
func (s *Server) ScaleShot(c *gin.Context, id string) {
	var in api.ScaleShotJSONRequestBody
	if err := c.ShouldBindJSON(&in); err != nil {
		problem(c, http.StatusBadRequest, "Say how wide the copy is to be.")
		return
	}
	shot, err := s.Store.Captures.Shot(c.Request.Context(), id)
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
	data, err := s.Pictures.Smaller(c.Request.Context(), shot, in.Width)
	if err != nil {
		s.fail(c, err)
		return
	}
	k := float64(in.Width) / float64(shot.Width)
	copied, err := s.Pictures.Keep(c.Request.Context(), pictures.Arrival{
		ID: uuid.NewString(), Name: shot.Name, Data: data, By: shot.CreatedBy, Capture: shot.CaptureID, About: shot.About.Scaled(k),
	})
	if err == nil && shot.CaptureID != nil {
		err = s.Store.Captures.PlaceBehind(c.Request.Context(), shot.CreatedBy, *shot.CaptureID, copied.ID, shot.ID)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	s.Works.Arrived(c.Request.Context(), copied)
	s.answer(c, http.StatusCreated, takenAnswer(copied))
}

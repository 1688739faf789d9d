package server

import (
	"context"
	"encoding/json"
	"errors"
	"net/http"
	"time"

	"raconte/api"
	"raconte/core/refusal"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

// problem answers with what happened and ends the request.
func problem(c *gin.Context, code int, message string) {
	c.AbortWithStatusJSON(code, api.Problem{Message: message})
}

// answer answers with JSON. It is encoded whole before the first byte goes out, so that what can't be encoded is an
// error and not an empty answer.
func (s *Server) answer(c *gin.Context, code int, v any) {
	raw, err := json.Marshal(v)
	if err != nil {
		s.fail(c, err)
		return
	}
	c.Data(code, "application/json; charset=utf-8", raw)
}

// each are the answers for items of a list. One that can't be encoded is left out and logged: it does not take the
// others with it.
func each[T, A any](s *Server, c *gin.Context, items []T, of func(T) A) []json.RawMessage {
	out := make([]json.RawMessage, 0, len(items))
	for _, item := range items {
		raw, err := json.Marshal(of(item))
		if err != nil {
			s.Log.Error("an item of a list can't be told", "request", c.GetString("request"), "error", err)
			continue
		}
		out = append(out, raw)
	}
	return out
}

// statusGone is for those who have gone before they were answered; nobody reads it but the log.
const statusGone = 499

// late tells whether a request has taken as long as it may.
func late(c *gin.Context) bool {
	return errors.Is(context.Cause(c.Request.Context()), context.DeadlineExceeded)
}

// databaseAnswers tells whether the database can be asked now.
func (s *Server) databaseAnswers() bool {
	ctx, cancel := context.WithTimeout(context.Background(), 500*time.Millisecond)
	defer cancel()
	return s.Store.Ping(ctx) == nil
}

// fail answers for an error: what is meant for people is told, the rest is logged.
func (s *Server) fail(c *gin.Context, err error) {
	var large *http.MaxBytesError
	reason, refused := refusal.Reason(err)
	switch {
	case refused:
		problem(c, http.StatusUnprocessableEntity, reason)
	case errors.Is(err, store.ErrNotFound):
		problem(c, http.StatusNotFound, "This is not there, or not any more, or you may not see it.")
	case errors.As(err, &large):
		problem(c, http.StatusRequestEntityTooLarge, tooLarge(large))
	case errors.Is(err, store.ErrConflict):
		problem(c, http.StatusConflict, "Someone else changed this since you saw it. Nothing of yours was changed. Look at it again, then try once more.")
	case errors.Is(err, store.ErrLimit):
		problem(c, http.StatusUnprocessableEntity, "There are as many of these as there may be. Take one out first.")
	case context.Cause(c.Request.Context()) != nil && !late(c) && errors.Is(err, context.Canceled):
		c.AbortWithStatus(statusGone)
	case store.Unreachable(err), (late(c) || errors.Is(err, context.DeadlineExceeded)) && !s.databaseAnswers():
		c.Header("Retry-After", "5")
		problem(c, http.StatusServiceUnavailable, "The database does not answer at the moment. What you sent was not kept; it is still with you. Try again in a moment.")
	case late(c), errors.Is(err, context.DeadlineExceeded):
		c.Header("Retry-After", "5")
		problem(c, http.StatusTooManyRequests, "This took too long, or too much of yours is under way already, so it was ended. Nothing was changed. Try again in a moment.")
	default:
		s.Log.Error("a request failed", "request", c.GetString("request"), "path", patternOf(c), "error", err)
		problem(c, http.StatusInternalServerError, "Something went wrong inside Raconte. Nothing of yours was changed. Try again; if it stays, tell your administrator the request id "+c.GetString("request")+".")
	}
}

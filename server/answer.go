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
	"raconte/works"

	"github.com/gin-gonic/gin"
)

// refused is an error that is answered as it says, with the status that goes with it.
type refused struct {
	code int
	api.Problem
}

func (r *refused) Error() string { return r.Message }

// problem is an error that is answered with what happened.
func problem(code int, message string) error { return &refused{code, api.Problem{Message: message}} }

// needs is the error of who has to show something more before they get in.
func needs(what api.ProblemNeeds, message string) error {
	return &refused{http.StatusUnauthorized, api.Problem{Message: message, Needs: &what}}
}

// end answers with what happened and ends the request.
func end(c *gin.Context, code int, message string) {
	c.AbortWithStatusJSON(code, api.Problem{Message: message})
}

// answer answers with JSON. It is encoded whole before the first byte goes out, so that what can't be encoded is an
// error and not an empty answer.
func answer(c *gin.Context, code int, v any) error {
	raw, err := json.Marshal(v)
	if err == nil {
		c.Data(code, "application/json; charset=utf-8", raw)
	}
	return err
}

// sent answers with a file.
func sent(c *gin.Context, mediaType string, data []byte) error {
	c.Data(http.StatusOK, mediaType, data)
	return nil
}

// empty answers that something is done, or says why it is not.
func empty(c *gin.Context, err error) error {
	if err == nil {
		c.Status(http.StatusNoContent)
	}
	return err
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

// fail is the one map from errors to answers: what is meant for people is told, the rest is logged.
func (s *Server) fail(c *gin.Context, err error) {
	var large *http.MaxBytesError
	var said *refused
	var making works.StillMaking
	reason, meant := refusal.Reason(err)
	switch {
	case errors.As(err, &said):
		c.AbortWithStatusJSON(said.code, said.Problem)
	case meant:
		end(c, http.StatusUnprocessableEntity, reason)
	case errors.As(err, &making):
		c.JSON(http.StatusAccepted, makingAnswer(making.Making))
	case errors.Is(err, store.ErrNotFound):
		end(c, http.StatusNotFound, "This is not there, or not any more, or you may not see it.")
	case errors.As(err, &large):
		end(c, http.StatusRequestEntityTooLarge, tooLarge(large))
	case errors.Is(err, store.ErrConflict):
		end(c, http.StatusConflict, "Someone else changed this since you saw it. Nothing of yours was changed. Look at it again, then try once more.")
	case errors.Is(err, store.ErrLimit):
		end(c, http.StatusUnprocessableEntity, "There are as many of these as there may be. Take one out first.")
	case context.Cause(c.Request.Context()) != nil && !late(c) && errors.Is(err, context.Canceled):
		c.AbortWithStatus(statusGone)
	case store.Unreachable(err), (late(c) || errors.Is(err, context.DeadlineExceeded)) && !s.databaseAnswers():
		c.Header("Retry-After", "5")
		end(c, http.StatusServiceUnavailable, "The database does not answer at the moment. What you sent was not kept; it is still with you. Try again in a moment.")
	case late(c), errors.Is(err, context.DeadlineExceeded):
		c.Header("Retry-After", "5")
		end(c, http.StatusTooManyRequests, "This took too long, or too much of yours is under way already, so it was ended. Nothing was changed. Try again in a moment.")
	default:
		s.Log.Error("a request failed", "request", c.GetString("request"), "path", patternOf(c), "error", err)
		end(c, http.StatusInternalServerError, "Something went wrong inside Raconte. Nothing of yours was changed. Try again; if it stays, tell your administrator the request id "+c.GetString("request")+".")
	}
}

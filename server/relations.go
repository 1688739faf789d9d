package server

import (
	"net/http"

	"github.com/gin-gonic/gin"
)

// UseAnswer counts that a stock answer was used.
func (s *Server) UseAnswer(c *gin.Context, id string) {
	if err := s.Store.Documents.Used(c.Request.Context(), id); err != nil {
		s.fail(c, err)
		return
	}
	c.Status(http.StatusNoContent)
}

// ListRelated answers with the documents that one was made of, and those that were made of it.
func (s *Server) ListRelated(c *gin.Context, id string) {
	all, err := s.Store.Documents.Related(c.Request.Context(), id, accountOf(c).Viewer())
	if err != nil {
		s.fail(c, err)
		return
	}
	type related struct {
		ID    string `json:"id"`
		Title string `json:"title"`
		Kind  string `json:"kind"`
		Made  bool   `json:"made"`
		Block string `json:"block"`
	}
	out := make([]related, 0, len(all))
	for _, r := range all {
		out = append(out, related(r))
	}
	s.answer(c, http.StatusOK, out)
}

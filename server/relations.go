package server

import (
	"net/http"

	"github.com/gin-gonic/gin"
)

// UseAnswer counts that a stock answer was used.
func (s *Server) UseAnswer(c *gin.Context, id string) error {
	return empty(c, s.Store.Documents.Used(c.Request.Context(), id))
}

// ListRelated answers with the documents that one was made of, and those that were made of it.
func (s *Server) ListRelated(c *gin.Context, id string) error {
	all, err := s.Store.Documents.Related(c.Request.Context(), id, accountOf(c).Viewer())
	if err != nil {
		return err
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
	return answer(c, http.StatusOK, out)
}

package server

import (
	"errors"
	"net/http"

	"raconte/api"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

// ListInbox answers with the requests that came in.
func (s *Server) ListInbox(c *gin.Context, p api.ListInboxParams) error {
	by := ""
	if of(p.Mine) {
		by = accountOf(c).ID
	}
	all, err := s.Store.Exchange.Inbox(c.Request.Context(), accountOf(c).Viewer(), string(of(p.State)), by, of(p.Text))
	if err != nil {
		return err
	}
	out := []api.Incoming{}
	for _, a := range all {
		out = append(out, incoming(a, accountOf(c).ID))
	}
	return answer(c, http.StatusOK, out)
}

func incoming(a store.Incoming, me string) api.Incoming {
	return api.Incoming{
		Document: a.DocumentID, Title: a.Title, Asker: a.Asker, Address: a.Address, State: api.IncomingState(a.State), Taken: a.TakenName,
		Mine: a.TakenBy != nil && *a.TakenBy == me, At: a.AskedAt, Changed: a.ChangedAt,
	}
}

// GetAsked answers with how a request that came in stands.
func (s *Server) GetAsked(c *gin.Context, id string) error {
	a, err := s.Store.Exchange.AskedOf(c.Request.Context(), id)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	var out struct {
		Request *api.Incoming `json:"request,omitempty"`
	}
	if err == nil {
		in := incoming(a, accountOf(c).ID)
		out.Request = &in
	}
	return answer(c, http.StatusOK, out)
}

// SetAsked takes a request, says that it is answered, or closes it.
func (s *Server) SetAsked(c *gin.Context, id string, in api.SetAskedJSONRequestBody) error {
	ctx, me := c.Request.Context(), accountOf(c).ID
	var err error
	switch string(in.State) {
	case store.AskedAnswered:
		err = s.Works.Answered(ctx, id, me)
	case store.AskedTaken:
		err = s.Store.Exchange.SetAsked(ctx, id, store.AskedTaken, me)
	default:
		err = s.Store.Exchange.SetAsked(ctx, id, store.AskedClosed, "")
	}
	if err == nil {
		s.asked(id)
	}
	return empty(c, err)
}

// asked tells that a request has come in, or stands otherwise.
func (s *Server) asked(document string) {
	s.tellReviewers("inbox", document, documentEvent{Document: document})
}

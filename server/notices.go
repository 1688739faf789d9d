package server

import (
	"net/http"

	"raconte/api"
	"raconte/store"
	"raconte/works"

	"github.com/gin-gonic/gin"
)

// ListNotices answers with what concerns the caller.
func (s *Server) ListNotices(c *gin.Context) error {
	me := accountOf(c)
	all, err := s.Store.Trail.Notices(c.Request.Context(), me.Viewer())
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, all, func(n store.Notice) api.NoticeOf {
		return api.NoticeOf{
			Id: n.ID, Kind: api.NoticeOfKind(n.Kind), Document: n.DocumentID, Who: orNil(n.Who), Told: n.Told, At: n.At, Read: n.ReadAt != nil, Path: works.Where(n, me),
		}
	}))
}

// ReadNotices keeps that the caller has read a notice, or all.
func (s *Server) ReadNotices(c *gin.Context, in api.ReadNoticesJSONRequestBody) error {
	me := accountOf(c).ID
	err := s.Store.Trail.HaveRead(c.Request.Context(), me, of(in.Id))
	if err == nil {
		s.noticed(me)
	}
	return empty(c, err)
}

// noticed tells an account's screens that its notices have changed.
func (s *Server) noticed(account string) {
	s.events.send(event{kind: "notices", data: struct{}{}, to: toOwner(account)})
}

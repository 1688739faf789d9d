package server

import (
	"net/http"

	"raconte/api"
	"raconte/core/access"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

// ListSessions answers with where the caller is signed in.
func (s *Server) ListSessions(c *gin.Context) error {
	all, err := s.Store.Identity.Logins(c.Request.Context(), accountOf(c).ID)
	if err != nil {
		return err
	}
	this := s.sessions.GetString(c.Request.Context(), loginKey)
	return answer(c, http.StatusOK, each(s, c, all, func(at store.Login) api.Login {
		return api.Login{Id: at.ID, Browser: at.Browser, Address: at.Address, BeganAt: at.BeganAt, SeenAt: at.SeenAt, This: at.ID == this}
	}))
}

// EndSession ends one of the caller's sessions.
func (s *Server) EndSession(c *gin.Context, login string) error {
	err := s.Store.Identity.EndLogin(c.Request.Context(), accountOf(c).ID, login)
	if err == nil {
		s.events.end(accountOf(c).ID)
	}
	return empty(c, err)
}

// ChangeMine says how the caller gets notices by mail.
func (s *Server) ChangeMine(c *gin.Context, in api.ChangeMineJSONRequestBody) error {
	if !may(c, access.Read, access.Thing{}) {
		return problem(http.StatusBadRequest, "Say how you want to get notices.")
	}
	return empty(c, s.Store.Identity.SetMails(c.Request.Context(), accountOf(c).ID, string(in.Mails)))
}

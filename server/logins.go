package server

import (
	"net/http"

	"raconte/api"
	"raconte/core/access"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

// ListSessions answers with where the caller is signed in.
func (s *Server) ListSessions(c *gin.Context) {
	all, err := s.Store.Identity.Logins(c.Request.Context(), accountOf(c).ID)
	if err != nil {
		s.fail(c, err)
		return
	}
	this := s.sessions.GetString(c.Request.Context(), loginKey)
	s.answer(c, http.StatusOK, each(s, c, all, func(at store.Login) api.Login {
		return api.Login{Id: at.ID, Browser: at.Browser, Address: at.Address, BeganAt: at.BeganAt, SeenAt: at.SeenAt, This: at.ID == this}
	}))
}

// EndSession ends one of the caller's sessions.
func (s *Server) EndSession(c *gin.Context, login string) {
	err := s.Store.Identity.EndLogin(c.Request.Context(), accountOf(c).ID, login)
	if err == nil {
		s.events.end(accountOf(c).ID)
	}
	s.done(c, err)
}

// ChangeMine says how the caller gets notices by mail.
func (s *Server) ChangeMine(c *gin.Context) {
	var in api.ChangeMineJSONRequestBody
	if err := c.ShouldBindJSON(&in); err != nil || !may(c, access.Read, access.Thing{}) {
		problem(c, http.StatusBadRequest, "Say how you want to get notices.")
		return
	}
	s.done(c, s.Store.Identity.SetMails(c.Request.Context(), accountOf(c).ID, string(in.Mails)))
}

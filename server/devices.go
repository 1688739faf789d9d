package server

import (
	"errors"
	"net/http"
	"strings"

	"raconte/api"
	"raconte/core/access"
	"raconte/store"
	"raconte/works/pictures"

	"github.com/gin-gonic/gin"
)

// A device token is 32 random bytes. A hash without salt is enough for what can't be guessed.
const tokenBytes = 32

func hashToken(token string) string { return store.HashToken(token) }

// authorizeDevice lets a recorder in by its token, as its owner, while the owner may edit.
func (s *Server) authorizeDevice(c *gin.Context) error {
	token, ok := strings.CutPrefix(c.GetHeader("Authorization"), "Bearer ")
	if !ok {
		c.Header("WWW-Authenticate", "Bearer")
		return problem(http.StatusUnauthorized, "Send the device's token in the header “Authorization: Bearer …”.")
	}
	d, err := s.Store.Identity.DeviceWith(c.Request.Context(), hashToken(strings.TrimSpace(token)))
	var owner store.Account
	if err == nil {
		owner, err = s.Store.Identity.Account(c.Request.Context(), d.Owner)
	}
	switch {
	case errors.Is(err, store.ErrNotFound):
		c.Header("WWW-Authenticate", `Bearer error="invalid_token"`)
		return problem(http.StatusUnauthorized, "This token is not known, or it was revoked. Its owner can make a new one under Setup.")
	case err != nil:
		return err
	case owner.DisabledAt != nil, !access.May(owner.Viewer(), access.Edit, access.Thing{}):
		return problem(http.StatusForbidden, "The owner of this token may not bring shots in any more.")
	default:
		c.Request = c.Request.WithContext(pictures.For(c.Request.Context(), owner.ID))
		c.Set("account", owner)
		c.Set("device", d.Name)
	}
	return nil
}

// ListDevices answers with the caller's recorders.
func (s *Server) ListDevices(c *gin.Context) error {
	all, err := s.Store.Identity.Devices(c.Request.Context(), accountOf(c).ID)
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, all, deviceAnswer))
}

// AddDevice makes a recorder's token.
func (s *Server) AddDevice(c *gin.Context, in api.AddDeviceJSONRequestBody) error {
	if strings.TrimSpace(in.Name) == "" || len([]rune(in.Name)) > 100 {
		return problem(http.StatusBadRequest, "Give the recorder a name of at most 100 characters.")
	}
	token := newToken()
	d, err := s.Store.Identity.AddDevice(c.Request.Context(), accountOf(c).ID, strings.TrimSpace(in.Name), hashToken(token))
	if err != nil {
		return err
	}
	return answer(c, http.StatusCreated, api.NewDevice{Device: deviceAnswer(d), Token: token})
}

// RevokeDevice takes a recorder's right away.
func (s *Server) RevokeDevice(c *gin.Context, id string) error {
	return empty(c, s.Store.Identity.RevokeDevice(c.Request.Context(), id, accountOf(c).ID))
}

func deviceAnswer(d store.Device) api.Device {
	return api.Device{Id: d.ID, Name: d.Name, MadeAt: d.MadeAt, UsedAt: d.UsedAt}
}

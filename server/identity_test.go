package server_test

import (
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"

	"raconte/api"
	"raconte/core/access"
	"raconte/server"
	"raconte/server/servertest"
	"raconte/standin/identity"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTheHousesOwnSignInGivesRoleAndGroups(t *testing.T) {
	var provider *identity.Provider
	at := httptest.NewServer(nil)
	defer at.Close()
	provider, err := identity.New(at.URL)
	require.NoError(t, err)
	at.Config.Handler = provider
	h := startWith(t, func(c *server.Config) {
		c.Identity = server.NewIdentity("Pellworth", at.URL, identity.Client, identity.Secret, "http://raconte.example",
			map[access.Role]string{access.Author: "pellworth-authors", access.Reader: "pellworth-readers"})
	})
	admin := h.browser(t, "admin")
	// way goes through the sign-in as someone, up to the address that it leads back to.
	way := func(b browser, who string) string {
		b.CheckRedirect = nil
		res, err := b.Get(h.Address + "/api/identity?to=/reviews")
		require.NoError(t, err)
		_ = res.Body.Close()
		require.Equal(t, at.URL, res.Request.URL.Scheme+"://"+res.Request.URL.Host)
		b.CheckRedirect = servertest.Stay
		res, err = b.PostForm(res.Request.URL.String(), url.Values{"who": {who}})
		require.NoError(t, err)
		_ = res.Body.Close()
		return strings.Replace(res.Header.Get("Location"), "http://raconte.example", h.Address, 1)
	}
	back := func(b browser, address string) string {
		res, err := b.Get(address)
		require.NoError(t, err)
		_ = res.Body.Close()
		return res.Header.Get("Location")
	}
	wren := h.browser(t, "")
	address := way(wren, "1001")
	stranger := h.browser(t, "")
	stranger.CheckRedirect = servertest.Stay
	assert.Equal(t, "/?identity=foreign", back(stranger, address), "another browser's way")
	address = way(wren, "1001")
	assert.Equal(t, "/reviews", back(wren, address))
	assert.Equal(t, "/?identity=foreign", back(wren, address), "it works once")
	_, body := wren.do("GET", "/api/session", nil)
	me := decoded[api.Account](t, body)
	assert.Equal(t, []string{"wren", "Wren Oddie", "author"}, []string{me.Name, me.DisplayName, string(me.Role)})
	_, body = admin.do("GET", "/api/accounts", nil)
	for _, m := range decoded[[]api.Member](t, body) {
		if m.Name == "wren" {
			assert.Len(t, m.Groups, 1, "the group of that name")
		}
	}
	code, _ := wren.do("POST", "/api/session", map[string]string{"name": "wren", "password": ""})
	assert.Equal(t, 401, code, "there is no password to sign in with")
	sefa := h.browser(t, "")
	assert.Equal(t, "/?identity=role", back(sefa, way(sefa, "1003")))
	code, _ = admin.do("PATCH", "/api/accounts/"+me.Id, map[string]any{"disabled": true})
	require.Equal(t, 204, code)
	assert.Equal(t, "/?identity=disabled", back(wren, way(wren, "1001")))
	evil := h.browser(t, "")
	evil.CheckRedirect = servertest.Stay
	res, err := evil.Get(h.Address + "/api/identity?to=//evil.example")
	require.NoError(t, err)
	_ = res.Body.Close()
	assert.NotContains(t, res.Header.Get("Location"), "evil")
}

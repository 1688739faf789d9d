package server_test

import (
	"net/http/httptest"
	"net/url"
	"strings"
	"testing"
	"time"

	"raconte/api"
	"raconte/core/access"
	"raconte/practice/standin/identity"
	"raconte/server"
	"raconte/server/servertest"

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
	way := func(b browser, who string, more ...string) string {
		b.CheckRedirect = nil
		query := "to=/reviews"
		if len(more) > 0 && strings.HasPrefix(more[0], "to=") {
			query = more[0]
		} else if len(more) > 0 {
			query += "&" + more[0]
		}
		res, err := b.Get(h.Address + "/api/identity?" + query)
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
	for _, to := range []string{"//evil.example", "/%09/evil.example", "/%5Cevil.example", "/%0A/evil.example", "https://evil.example", "javascript:alert(1)"} {
		evil := h.browser(t, "")
		at := strings.Replace(way(evil, "1002", "to="+url.QueryEscape(to)), "http://raconte.example", h.Address, 1)
		assert.NotContains(t, back(evil, at), "evil", to)
		evil = h.browser(t, "")
		assert.NotContains(t, back(evil, way(evil, "1002", "to="+to)), "evil", to)
	}
	var rows int
	require.NoError(t, h.Store.SQL().QueryRow("SELECT COUNT(*) FROM sessions").Scan(&rows))
	for range 20 {
		nobody := h.browser(t, "")
		nobody.CheckRedirect = servertest.Stay
		res, err := nobody.Get(h.Address + "/api/identity")
		require.NoError(t, err)
		_ = res.Body.Close()
	}
	var now int
	require.NoError(t, h.Store.SQL().QueryRow("SELECT COUNT(*) FROM sessions").Scan(&now))
	assert.Equal(t, rows, now, "who sets out leaves nothing behind")

	// An address alone ties nobody who looks like it; the last administrator stays one, which the trail tells.
	_, body = admin.do("GET", "/api/accounts", nil)
	for _, m := range decoded[[]api.Member](t, body) {
		if m.Name == "admin" {
			code, body := admin.do("PATCH", "/api/accounts/"+m.Id, map[string]any{"email": "séfa@pellworth.example"})
			require.Equal(t, 204, code, body)
		}
	}
	identity.People[2].Groups = []string{"pellworth-readers"}
	defer func() { identity.People[2].Groups = nil }()
	assert.Equal(t, "/reviews", back(sefa, way(sefa, "1003")))
	_, body = sefa.do("GET", "/api/session", nil)
	assert.Equal(t, "sefa", decoded[api.Account](t, body).Name, "séfa@ is somebody else")
	boss := identity.Person{Subject: "1004", Username: "boss", Name: "Maud", Email: "séfa@pellworth.example", Groups: []string{"pellworth-readers"}}
	identity.People = append(identity.People, boss)
	defer func() { identity.People = identity.People[:3] }()
	maud := h.browser(t, "")
	assert.Equal(t, "/reviews", back(maud, way(maud, "1004")))
	_, body = maud.do("GET", "/api/session", nil)
	assert.EqualValues(t, "administrator", decoded[api.Account](t, body).Role)
	_, body = maud.do("GET", "/api/trail", nil)
	assert.Contains(t, body, "The last administrator stays one")
	assert.Contains(t, body, "Tied to the sign-in of Pellworth")

	// To be let through silently is no signature.
	signs := func(b browser) string {
		_, body := b.do("POST", "/api/documents/"+admin.documents()["Reprint a lot label"]+"/reviews/none/signature", map[string]any{"digest": strings.Repeat("0", 64)})
		return body
	}
	provider.ShowedAt("1003", time.Now().Add(-time.Hour))
	identity.People[2].Groups = []string{"pellworth-authors"}
	assert.Equal(t, "/reviews", back(sefa, way(sefa, "1003")))
	assert.Contains(t, signs(sefa), "sign in there once more")
	assert.Equal(t, "/reviews", back(sefa, way(sefa, "1003", "fresh=true")))
	assert.NotContains(t, signs(sefa), "sign in there once more")
}

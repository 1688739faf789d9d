package server_test

import (
	"encoding/json"
	"net"
	"net/http"
	"os"
	"regexp"
	"strings"
	"testing"
	"time"

	"raconte/api"
	"raconte/platform/mail"
	standin "raconte/practice/standin/mail"
	"raconte/server/servertest"

	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// mailed starts a mail server for the house, and answers with what came in for someone, the last first.
func (h house) mailed(t *testing.T) func(to string, most int) []standin.Received {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { _ = l.Close() })
	box := &standin.Box{}
	go func() { _ = box.Serve(l, nil) }()
	h.Works.Mail, err = mail.Parse("smtp://raconte:standin@" + l.Addr().String() + "?from=raconte@pellworth.example&tls=never")
	require.NoError(t, err)
	return func(to string, least int) (all []standin.Received) {
		t.Helper()
		assert.Eventually(t, func() bool {
			all = nil
			for _, m := range box.Mails() {
				if m.To == to {
					all = append(all, m)
				}
			}
			return len(all) >= least
		}, 5*time.Minute, 50*time.Millisecond, "a mail for %s", to)
		return all
	}
}

func decoded[T any](t *testing.T, body string) (v T) {
	t.Helper()
	require.NoError(t, json.Unmarshal([]byte(body), &v), body)
	return v
}

var welcome = regexp.MustCompile(`/welcome/([A-Za-z0-9_-]+)`)

func TestAPersonIsInvitedSignsInWithACodeAndIsDisabled(t *testing.T) {
	h := start(t)
	mails := h.mailed(t)
	h.Work(t)
	admin, nobody := h.browser(t, "admin"), h.browser(t, "")
	code, body := admin.do("POST", "/api/accounts", map[string]any{"name": "Wren", "displayName": "Wren Oddie", "email": "Wren@pellworth.example", "role": "author"})
	require.Equal(t, 201, code, body)
	made := decoded[api.Invitation](t, body)
	assert.True(t, made.Mailed)
	sent := mails("wren@pellworth.example", 1)[0]
	assert.Contains(t, sent.Text, "Maud Selwyn has made an account for you. You sign in as wren.")
	token := welcome.FindStringSubmatch(sent.HTML)[1]
	assert.Equal(t, made.Link, "http://raconte.example/welcome/"+token)
	code, body = admin.do("POST", "/api/accounts", map[string]any{"name": "wren", "displayName": "x", "role": "author"})
	assert.Equal(t, 422, code, body)

	code, _ = nobody.do("POST", "/api/session", map[string]string{"name": "wren", "password": ""})
	assert.Equal(t, 401, code, "who has no password can't sign in without one")
	_, body = nobody.do("GET", "/api/tickets/"+token, nil)
	assert.Equal(t, api.Ticket{Name: "wren", DisplayName: "Wren Oddie", Invites: true}, decoded[api.Ticket](t, body))
	code, body = nobody.do("POST", "/api/tickets/"+token, map[string]string{"password": "wrenoddie1"})
	assert.Equal(t, 422, code, body)
	const password = "plum dock cellar 9"
	code, body = nobody.do("POST", "/api/tickets/"+token, map[string]string{"password": password})
	require.Equal(t, 200, code, body)
	wren := nobody // is signed in now
	code, _ = h.browser(t, "").do("POST", "/api/tickets/"+token, map[string]string{"password": password})
	assert.Equal(t, 404, code, "it works once")

	// One-time codes.
	_, body = wren.do("POST", "/api/one-time", nil)
	secret := decoded[struct{ Secret string }](t, body).Secret
	code, _ = wren.do("PUT", "/api/one-time", map[string]string{"code": "000000"})
	assert.Equal(t, 422, code)
	now, err := totp.GenerateCode(secret, time.Now())
	require.NoError(t, err)
	code, body = wren.do("PUT", "/api/one-time", map[string]string{"code": now})
	require.Equal(t, 200, code, body)
	recovery := decoded[[]string](t, body)
	other := h.browser(t, "")
	sign := func(with string) int {
		code, body = other.do("POST", "/api/session", map[string]string{"name": "wren", "password": password, "code": with})
		return code
	}
	require.Equal(t, 401, sign(""))
	assert.Contains(t, body, `"needs":"code"`)
	assert.Equal(t, 401, sign(now), "a code is taken once, also the one that proved them")
	next, err := totp.GenerateCode(secret, time.Now().Add(30*time.Second))
	require.NoError(t, err)
	assert.Equal(t, 200, sign(next))
	assert.Equal(t, 401, sign(next))
	code, body = wren.do("POST", "/api/one-time", nil)
	assert.Equal(t, 409, code, "no other authenticator takes its place: "+body)
	for _, c := range []string{"", next, "000000"} {
		code, body = wren.do("DELETE", "/api/one-time", map[string]string{"password": password, "code": c})
		assert.Equal(t, 422, code, "they are not turned off without a code that was not used: "+body)
	}
	assert.Equal(t, 200, sign(strings.ToLower(recovery[0])))
	assert.Equal(t, 401, sign(recovery[0]))
	code, body = wren.do("DELETE", "/api/one-time", map[string]string{"password": "another one", "code": recovery[1]})
	assert.Equal(t, 422, code, body)
	code, body = wren.do("DELETE", "/api/one-time", map[string]string{"password": password, "code": recovery[1]})
	assert.Equal(t, 204, code, body)
	assert.Equal(t, 200, sign(""))

	// Sessions are seen and ended one by one.
	_, body = wren.do("GET", "/api/sessions", nil)
	for _, at := range decoded[[]api.Login](t, body) {
		if !at.This {
			code, _ = wren.do("DELETE", "/api/sessions/"+at.Id, nil)
			assert.Equal(t, 204, code)
		}
	}
	code, _ = other.do("GET", "/api/session", nil)
	assert.Equal(t, 401, code)
	code, _ = wren.do("GET", "/api/session", nil)
	assert.Equal(t, 200, code)

	// Disabled while writing, with a recorder: both end at once, and the documents go to another.
	_, body = wren.do("POST", "/api/devices", map[string]string{"name": "Recorder"})
	device := decoded[api.NewDevice](t, body).Token
	_, body = wren.do("POST", "/api/documents", map[string]string{"title": "Sweep the dock"})
	doc := decoded[api.Summary](t, body).Id
	code, body = wren.do("POST", "/api/documents/"+doc+"/changes", map[string]any{"id": "c1", "blocks": []any{}, "facts": map[string]any{"base": 1, "facts": map[string]any{"title": "Sweep the dock", "owner": "Wren Oddie"}}})
	require.Equal(t, 200, code, body)
	stream := wren.listen(t)
	code, body = admin.do("PATCH", "/api/accounts/"+made.Account, map[string]any{"disabled": true})
	require.Equal(t, 204, code, body)
	for open := true; open; {
		select {
		case _, open = <-stream:
		case <-time.After(5 * time.Minute):
			t.Fatal("their stream of events goes on")
		}
	}
	code, _ = wren.do("POST", "/api/documents/"+doc+"/changes", map[string]any{"id": "c2", "blocks": []any{}})
	assert.Equal(t, 401, code)
	code, _ = h.browser(t, "").do("GET", "/api/feed/runs", nil, "Authorization", "Bearer "+device)
	assert.Equal(t, 401, code)
	code, body = other.do("POST", "/api/session", map[string]string{"name": "wren", "password": password})
	assert.Equal(t, 403, code, body)
	ines, err := h.Store.Identity.AccountNamed(t.Context(), "ines")
	require.NoError(t, err)
	code, body = admin.do("PUT", "/api/accounts/"+made.Account+"/documents", map[string]any{"to": ines.ID})
	require.Equal(t, 200, code, body)
	assert.JSONEq(t, `{"documents":1}`, body)
	_, body = admin.do("GET", "/api/documents/"+doc, nil)
	assert.Equal(t, "Ines Brackwater", decoded[api.Document](t, body).Facts.Owner)
	_, body = admin.do("GET", "/api/trail.csv?act=access", nil)
	assert.Contains(t, body, "Maud Selwyn,access,Wren Oddie,Disabled")
	for _, change := range []string{"DELETE FROM trail", "UPDATE trail SET who = 'Nobody'"} {
		_, err := h.Store.SQL().Exec(change)
		assert.ErrorContains(t, err, "only ever added to")
	}
}

func TestAForgottenPasswordIsChosenAnew(t *testing.T) {
	h := start(t)
	mails := h.mailed(t)
	there, nobody := h.browser(t, "ines"), h.browser(t, "")
	for _, name := range []string{"nobody at all", "INES@pellworth.example"} {
		code, body := nobody.do("POST", "/api/forgotten", map[string]string{"name": name})
		assert.Equal(t, 204, code, body)
	}
	h.Work(t)
	var token []string
	assert.Eventually(t, func() bool { // besides, she is told of a document of hers that is due
		for _, m := range mails("ines@pellworth.example", 1) {
			if found := welcome.FindStringSubmatch(m.Text); found != nil {
				token = found
			}
		}
		return token != nil
	}, 5*time.Minute, 50*time.Millisecond)
	require.NotNil(t, token)
	code, body := nobody.do("POST", "/api/tickets/"+token[1], map[string]string{"password": "nine sheds of quince"})
	require.Equal(t, 200, code, body)
	code, _ = there.do("GET", "/api/session", nil)
	assert.Equal(t, 401, code, "other sessions have ended")
}

func TestTheFirstAdministratorIsMadeOnce(t *testing.T) {
	t.Parallel()
	h := house{servertest.Start(t, os.Stderr)}
	nobody := h.browser(t, "")
	_, body := nobody.do("GET", "/api/entrance", nil)
	assert.Contains(t, body, `"first":true`)
	first := map[string]string{"name": "maud", "displayName": "Maud Selwyn", "password": "nine sheds of quince"}
	code, body := nobody.do("POST", "/api/first", first)
	require.Equal(t, http.StatusCreated, code, body)
	assert.Contains(t, body, `"administer"`)
	first["name"] = "other"
	code, _ = h.browser(t, "").do("POST", "/api/first", first)
	assert.Equal(t, http.StatusConflict, code)
	_, body = nobody.do("GET", "/api/entrance", nil)
	assert.Contains(t, body, `"first":false`)
	account, err := h.Store.Identity.AccountNamed(t.Context(), "maud")
	require.NoError(t, err)
	code, body = nobody.do("PATCH", "/api/accounts/"+account.ID, map[string]any{"role": "reader"})
	assert.Equal(t, 422, code, body)
}

// Package identity stands in for a house's identity provider: OpenID Connect (Core 1.0) with the authorization code
// flow and PKCE, a handful of made-up people, and no passwords, since whoever reaches it may be anybody. Nothing leaves
// the machine.
package identity

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"html/template"
	"net/http"
	"net/url"
	"sync"
	"time"

	"github.com/go-jose/go-jose/v4"
	"github.com/go-jose/go-jose/v4/jwt"
)

// Client is who may ask: Raconte.
const (
	Client = "raconte"
	Secret = "standin"
)

// Person is someone whom the provider knows.
type Person struct {
	Subject, Username, Name, Email string
	Groups                         []string
}

// People are those of the demo's house.
var People = []Person{
	{"1001", "wren", "Wren Oddie", "wren@pellworth.example", []string{"pellworth-authors", "Quality team"}},
	{"1002", "jory", "Jory Tamblyn", "jory@pellworth.example", []string{"pellworth-readers"}},
	{"1003", "sefa", "Sefa Amory", "sefa@pellworth.example", nil},
}

const codeLasts = time.Minute

type grant struct {
	person                       Person
	nonce, challenge, redirectTo string
	until, at                    time.Time
}

// Provider is the stand-in, as an http.Handler.
type Provider struct {
	issuer string
	signer jose.Signer
	public jose.JSONWebKey
	mux    *http.ServeMux

	mu     sync.Mutex
	grants map[string]grant
	showed map[string]time.Time // when each showed who they are, by subject: after that they are let through silently
}

// New is a provider at an address.
func New(issuer string) (*Provider, error) {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return nil, fmt.Errorf("making a key: %w", err)
	}
	signer, err := jose.NewSigner(jose.SigningKey{Algorithm: jose.ES256, Key: jose.JSONWebKey{Key: key, KeyID: "1"}}, nil)
	if err != nil {
		return nil, fmt.Errorf("making a signer: %w", err)
	}
	p := &Provider{
		issuer: issuer, signer: signer, public: jose.JSONWebKey{Key: key.Public(), KeyID: "1", Algorithm: "ES256", Use: "sig"},
		mux: http.NewServeMux(), grants: map[string]grant{}, showed: map[string]time.Time{},
	}
	p.mux.HandleFunc("GET /.well-known/openid-configuration", p.discover)
	p.mux.HandleFunc("GET /keys", func(w http.ResponseWriter, _ *http.Request) {
		answer(w, http.StatusOK, jose.JSONWebKeySet{Keys: []jose.JSONWebKey{p.public}})
	})
	p.mux.HandleFunc("GET /authorize", p.authorize)
	p.mux.HandleFunc("POST /authorize", p.choose)
	p.mux.HandleFunc("POST /token", p.token)
	return p, nil
}

// ServeHTTP answers a request.
func (p *Provider) ServeHTTP(w http.ResponseWriter, r *http.Request) { p.mux.ServeHTTP(w, r) }

func answer(w http.ResponseWriter, code int, v any) {
	w.Header().Set("Content-Type", "application/json")
	w.Header().Set("Cache-Control", "no-store")
	w.WriteHeader(code)
	_ = json.NewEncoder(w).Encode(v) // who has gone is not told
}

func (p *Provider) discover(w http.ResponseWriter, _ *http.Request) {
	answer(w, http.StatusOK, map[string]any{
		"issuer": p.issuer, "authorization_endpoint": p.issuer + "/authorize", "token_endpoint": p.issuer + "/token", "jwks_uri": p.issuer + "/keys",
		"response_types_supported": []string{"code"}, "subject_types_supported": []string{"public"}, "id_token_signing_alg_values_supported": []string{"ES256"},
		"code_challenge_methods_supported": []string{"S256"}, "token_endpoint_auth_methods_supported": []string{"client_secret_basic", "client_secret_post"},
	})
}

var page = template.Must(template.New("").Parse(`<!doctype html><html lang="en"><meta charset="utf-8"><title>Sign-in stand-in</title><meta name="viewport" content="width=device-width">
<style>body{font:16px/1.5 sans-serif;margin:3rem auto;max-width:30rem;padding:0 1rem;color:#16272d}button{font:inherit;display:block;width:100%;text-align:left;padding:.6rem 1rem;margin:.5rem 0;border:1px solid #596a70;background:#fff;border-radius:4px}small{display:block;color:#596a70}</style>
<p>This stands in for a house's identity provider. It asks for no password.</p><h1>Who are you?</h1>
<form method="post" action="/authorize?{{.Query}}">{{range .People}}<button name="who" value="{{.Subject}}">{{.Name}}<small>{{range $i, $g := .Groups}}{{if $i}}, {{end}}{{$g}}{{else}}in no group{{end}}</small></button>{{end}}</form></html>`))

func (p *Provider) asked(r *http.Request) (url.Values, bool) {
	q := r.URL.Query()
	back, err := url.Parse(q.Get("redirect_uri"))
	ok := err == nil && (back.Scheme == "http" || back.Scheme == "https") && back.Path == "/api/identity/return" &&
		q.Get("client_id") == Client && q.Get("response_type") == "code" && q.Get("code_challenge_method") == "S256"
	return q, ok
}

func (p *Provider) authorize(w http.ResponseWriter, r *http.Request) {
	q, ok := p.asked(r)
	if !ok {
		http.Error(w, "This is no request that the stand-in knows.", http.StatusBadRequest)
		return
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	_ = page.Execute(w, map[string]any{"Query": template.URL(q.Encode()), "People": People}) //nolint:gosec // G203: it was encoded
}

// shown is when someone showed who they are: now, where that is asked for or they never did.
func (p *Provider) shown(one Person, q url.Values) time.Time {
	at, before := p.showed[one.Subject]
	if !before || q.Get("prompt") == "login" || q.Get("max_age") == "0" {
		at = time.Now()
		p.showed[one.Subject] = at
	}
	return at
}

// ShowedAt has someone be let through silently who showed who they are at a time.
func (p *Provider) ShowedAt(subject string, at time.Time) {
	p.mu.Lock()
	defer p.mu.Unlock()
	p.showed[subject] = at
}

func (p *Provider) choose(w http.ResponseWriter, r *http.Request) {
	q, ok := p.asked(r)
	if !ok {
		http.Error(w, "This is no request that the stand-in knows.", http.StatusBadRequest)
		return
	}
	for _, one := range People {
		if one.Subject != r.FormValue("who") {
			continue
		}
		raw := make([]byte, 24)
		_, _ = rand.Read(raw) // never fails: Go 1.24 and newer
		code := base64.RawURLEncoding.EncodeToString(raw)
		p.mu.Lock()
		p.grants[code] = grant{one, q.Get("nonce"), q.Get("code_challenge"), q.Get("redirect_uri"), time.Now().Add(codeLasts), p.shown(one, q)}
		p.mu.Unlock()
		http.Redirect(w, r, q.Get("redirect_uri")+"?"+url.Values{"code": {code}, "state": {q.Get("state")}}.Encode(), http.StatusSeeOther)
		return
	}
	http.Error(w, "Nobody was chosen.", http.StatusBadRequest)
}

func (p *Provider) token(w http.ResponseWriter, r *http.Request) {
	id, secret, basic := r.BasicAuth()
	if !basic {
		id, secret = r.FormValue("client_id"), r.FormValue("client_secret")
	}
	p.mu.Lock()
	g, known := p.grants[r.FormValue("code")]
	delete(p.grants, r.FormValue("code")) // each works once
	p.mu.Unlock()
	sum := sha256.Sum256([]byte(r.FormValue("code_verifier")))
	proven := subtle.ConstantTimeCompare([]byte(base64.RawURLEncoding.EncodeToString(sum[:])), []byte(g.challenge)) == 1
	if id != Client || secret != Secret || !known || !proven || time.Now().After(g.until) || r.FormValue("redirect_uri") != g.redirectTo {
		answer(w, http.StatusBadRequest, map[string]string{"error": "invalid_grant"})
		return
	}
	token, err := jwt.Signed(p.signer).Claims(jwt.Claims{
		Issuer: p.issuer, Subject: g.person.Subject, Audience: jwt.Audience{Client}, IssuedAt: jwt.NewNumericDate(time.Now()), Expiry: jwt.NewNumericDate(time.Now().Add(5 * time.Minute)),
	}).Claims(map[string]any{
		"nonce": g.nonce, "auth_time": g.at.Unix(), "name": g.person.Name, "preferred_username": g.person.Username, "email": g.person.Email, "email_verified": true, "groups": g.person.Groups,
	}).Serialize()
	if err != nil {
		answer(w, http.StatusInternalServerError, map[string]string{"error": "server_error"})
		return
	}
	answer(w, http.StatusOK, map[string]any{"access_token": "none", "token_type": "Bearer", "expires_in": 300, "id_token": token})
}

package server

import (
	"context"
	"crypto/rand"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"

	"raconte/api"
	"raconte/core/access"
	"raconte/store"

	"github.com/coreos/go-oidc/v3/oidc"
	"github.com/gin-gonic/gin"
	"golang.org/x/oauth2"
)

// Identity is the house's own identity provider, by OpenID Connect (Core 1.0, with the authorization code flow and
// PKCE, RFC 7636).
type Identity struct {
	Name   string                 // as the button says it
	Roles  map[access.Role]string // the groups of the provider that give each role
	find   func(context.Context) (*oidc.Provider, error)
	client oauth2.Config
}

// NewIdentity is a provider at an address, to which Raconte is known by an id and a secret. It is first asked when
// someone signs in, so that a provider that is down keeps nobody else out.
func NewIdentity(name, issuer, id, secret, address string, roles map[access.Role]string) *Identity {
	p := &Identity{Name: name, Roles: roles, client: oauth2.Config{
		ClientID: id, ClientSecret: secret, RedirectURL: address + "/api/identity/return", Scopes: []string{oidc.ScopeOpenID, "profile", "email", "groups"},
	}}
	var found *oidc.Provider
	turn := make(chan struct{}, 1)
	p.find = func(ctx context.Context) (*oidc.Provider, error) {
		select {
		case turn <- struct{}{}:
			defer func() { <-turn }()
		case <-ctx.Done():
			return nil, ctx.Err()
		}
		if found != nil {
			return found, nil
		}
		// Its keys are fetched later, by the context that it was found with.
		provider, err := oidc.NewProvider(oidc.ClientContext(context.WithoutCancel(ctx), identityClient), issuer)
		if err != nil {
			return nil, fmt.Errorf("asking the identity provider: %w", err)
		}
		found = provider
		return found, nil
	}
	return p
}

// identityClient follows nobody: what it sends, a code and a secret, goes where it was set up to go.
var identityClient = &http.Client{
	Timeout:       5 * time.Second,
	CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
}

// How a way through the house's own sign-in may end. The page has the words for it: what stands in an address could be
// anybody's.
const (
	identityDown     = "down"
	identityForeign  = "foreign" // it was not begun here
	identityRefused  = "refused"
	identityNoRole   = "role"
	identityDisabled = "disabled"
	identityStale    = "stale" // it let them through without asking
)

// clockSlack is how far the provider's clock may be behind ours.
const clockSlack = time.Minute

// errNoRole and errDisabled say why someone may not sign in.
var (
	errNoRole   = errors.New(identityNoRole)
	errDisabled = errors.New(identityDisabled)
)

// GoToIdentity sends someone to the house's own sign-in.
func (s *Server) GoToIdentity(c *gin.Context, p api.GoToIdentityParams) error {
	if s.Identity == nil {
		return store.ErrNotFound
	}
	ctx := c.Request.Context()
	provider, err := s.Identity.find(ctx)
	if err != nil {
		s.Log.Error("finding the identity provider", "error", err)
		s.leaveIdentity(c, identityDown)
		return nil
	}
	state, nonce, verifier := newToken(), newToken(), oauth2.GenerateVerifier()
	if err := s.setOut(c, way{state, nonce, verifier, localPath(of(p.To)), of(p.Fresh), time.Now()}); err != nil {
		return err
	}
	client := s.Identity.client
	client.Endpoint = provider.Endpoint()
	options := []oauth2.AuthCodeOption{oidc.Nonce(nonce), oauth2.S256ChallengeOption(verifier)}
	if of(p.Fresh) { // a person has to show who they are, now (Core 1.0, 3.1.2.1)
		options = append(options, oauth2.SetAuthURLParam("max_age", "0"), oauth2.SetAuthURLParam("prompt", "login"))
	}
	c.Redirect(http.StatusFound, client.AuthCodeURL(state, options...))
	return nil
}

// way is one's way through the house's sign-in. It is kept in a cookie, sealed, and not on the server: anybody may
// begin one.
type way struct {
	State, Nonce, Verifier, To string
	Fresh                      bool
	Begun                      time.Time
}

const (
	wayCookie  = "raconte-way"
	wayLasts   = 10 * time.Minute
	wayThrough = "/api/identity"
)

func (s *Server) setOut(c *gin.Context, w way) error {
	raw, err := json.Marshal(w)
	if err != nil {
		return fmt.Errorf("going to the identity provider: %w", err)
	}
	sealed, err := s.Works.Key.Seal(string(raw), wayCookie)
	if err != nil {
		return err
	}
	s.wayIs(c, base64.RawURLEncoding.EncodeToString([]byte(sealed)), int(wayLasts.Seconds()))
	return nil
}

func (s *Server) wayIs(c *gin.Context, value string, seconds int) {
	http.SetCookie(c.Writer, &http.Cookie{Name: wayCookie, Value: value, Path: wayThrough, MaxAge: seconds, HttpOnly: true, SameSite: http.SameSiteLaxMode, Secure: s.sessions.Cookie.Secure})
}

// cameBack is the way that a browser set out on; it is used up by that.
func (s *Server) cameBack(c *gin.Context) (w way, ok bool) {
	value, err := c.Cookie(wayCookie)
	if err != nil {
		return w, false
	}
	s.wayIs(c, "", -1)
	sealed, err := base64.RawURLEncoding.DecodeString(value)
	if err != nil {
		return w, false
	}
	raw, err := s.Works.Key.Open(string(sealed), wayCookie)
	if err != nil || json.Unmarshal([]byte(raw), &w) != nil {
		return way{}, false
	}
	return w, time.Since(w.Begun) < wayLasts
}

// localPath is where one goes on, which is never another site.
func localPath(path string) string {
	u, err := url.Parse(path)
	if err != nil || strings.ContainsFunc(path+u.Path, func(r rune) bool { return r < ' ' || r == 0x7f || r == '\\' }) || u.Scheme != "" || u.Opaque != "" || u.Host != "" || u.User != nil || !strings.HasPrefix(u.Path, "/") || strings.HasPrefix(u.Path, "//") {
		return "/"
	}
	return (&url.URL{Path: u.Path, RawQuery: u.RawQuery, Fragment: u.Fragment}).String()
}

// ReturnFromIdentity signs in whom the house's own sign-in knows.
func (s *Server) ReturnFromIdentity(c *gin.Context, p api.ReturnFromIdentityParams) error {
	if s.Identity == nil {
		return store.ErrNotFound
	}
	ctx := c.Request.Context()
	kept, ok := s.cameBack(c)
	if !ok || of(p.State) != kept.State {
		s.leaveIdentity(c, identityForeign)
		return nil
	}
	if of(p.Code) == "" {
		s.leaveIdentity(c, identityRefused)
		return nil
	}
	claims, err := s.Identity.claims(ctx, *p.Code, kept.Verifier, kept.Nonce)
	if err != nil {
		s.Log.Error("signing in by the identity provider", "error", err)
		s.leaveIdentity(c, identityDown)
		return nil
	}
	if kept.Fresh && (claims.AuthTime == 0 || time.Unix(claims.AuthTime, 0).Before(kept.Begun.Add(-clockSlack))) {
		s.leaveIdentity(c, identityStale)
		return nil
	}
	a, err := s.known(ctx, claims)
	if errors.Is(err, errNoRole) || errors.Is(err, errDisabled) {
		s.leaveIdentity(c, err.Error())
		return nil
	}
	if err == nil {
		err = s.begin(c, a)
	}
	if err != nil {
		return err
	}
	s.sessions.Put(c.Request.Context(), "signed-in", min(claims.AuthTime, time.Now().Unix())) // as the provider says; 0 where it does not
	if _, _, err := s.sessions.Commit(c.Request.Context()); err != nil {
		return err
	}
	c.Redirect(http.StatusFound, kept.To)
	return nil
}

// leaveIdentity goes back to the sign-in with what went wrong.
func (s *Server) leaveIdentity(c *gin.Context, how string) {
	c.Redirect(http.StatusFound, "/?identity="+how)
}

// claims are what the provider says of someone.
type claims struct {
	Subject  string   `json:"sub"`
	Name     string   `json:"name"`
	Username string   `json:"preferred_username"`
	Email    string   `json:"email"`
	Verified bool     `json:"email_verified"`
	Groups   []string `json:"groups"`
	Nonce    string   `json:"nonce"`
	AuthTime int64    `json:"auth_time"` // when they showed who they are, in seconds since 1970
}

// claims exchanges a code for what the provider says of someone, and checks that it is said to us, now.
func (p *Identity) claims(ctx context.Context, code, verifier, nonce string) (claims, error) {
	var said claims
	ctx, cancel := context.WithTimeout(oidc.ClientContext(ctx, identityClient), 8*time.Second)
	defer cancel()
	provider, err := p.find(ctx)
	if err != nil {
		return said, err
	}
	client := p.client
	client.Endpoint = provider.Endpoint()
	token, err := client.Exchange(ctx, code, oauth2.VerifierOption(verifier))
	if err != nil {
		return said, fmt.Errorf("exchanging the code: %w", err)
	}
	raw, ok := token.Extra("id_token").(string)
	if !ok {
		return said, errors.New("the provider sent no ID token")
	}
	checked, err := provider.Verifier(&oidc.Config{ClientID: p.client.ClientID}).Verify(ctx, raw)
	if err != nil {
		return said, fmt.Errorf("checking the ID token: %w", err)
	}
	if err := checked.Claims(&said); err != nil {
		return said, fmt.Errorf("reading the ID token: %w", err)
	}
	if said.Nonce != nonce || said.Subject == "" || len(said.Subject) > 255 {
		return said, errors.New("the ID token answers another question")
	}
	return said, nil
}

// role is the highest role that someone's groups give; "" where none does.
func (p *Identity) role(groups []string) access.Role {
	for _, role := range []access.Role{access.Administrator, access.Approver, access.Author, access.Reader} {
		if named := p.Roles[role]; named == "*" || named != "" && slices.Contains(groups, named) {
			return role
		}
	}
	return ""
}

// known is the account of whom the provider knows: the one that is tied to them, else the one with their e-mail
// address, which the provider must have checked, else a new one. Role and groups are those that the provider says. The
// error is errNoRole or errDisabled where they may not sign in.
func (s *Server) known(ctx context.Context, said claims) (store.Account, error) {
	role := s.Identity.role(said.Groups)
	if role == "" {
		return store.Account{}, errNoRole
	}
	email := ""
	if said.Verified {
		email = strings.ToLower(strings.TrimSpace(said.Email))
	}
	a, err := s.Store.Identity.AccountOf(ctx, said.Subject, email)
	if errors.Is(err, store.ErrNotFound) {
		name := said.Username
		if _, ok := store.NormalName(name); !ok {
			raw := make([]byte, 6)
			_, _ = rand.Read(raw) // never fails: Go 1.24 and newer
			name = "p-" + strings.ToLower(base64.RawURLEncoding.EncodeToString(raw))
		}
		display := strings.TrimSpace(said.Name)
		if display == "" {
			display = name
		}
		if a, err = person(name, display, email, role); err == nil {
			a.Subject = &said.Subject
			a, err = s.Store.Identity.AddPerson(ctx, a, nil, store.Account{DisplayName: s.Identity.Name})
		}
	}
	if err != nil {
		return a, err
	}
	if a.DisabledAt != nil {
		return a, errDisabled
	}
	a.Subject, a.Role = &said.Subject, role
	groups, err := s.sharedGroups(ctx, said.Groups)
	if err != nil {
		return a, err
	}
	if err := s.Store.Identity.SetSubject(ctx, a, groups, s.Identity.Name); err != nil {
		return a, err
	}
	return s.Store.Identity.Account(ctx, a.ID)
}

// sharedGroups are the groups of the house that are called like those of the provider.
func (s *Server) sharedGroups(ctx context.Context, named []string) ([]string, error) {
	all, err := s.Store.Identity.Groups(ctx)
	shared := []string{}
	for _, c := range all {
		if slices.ContainsFunc(named, func(n string) bool { return n == c.Name }) {
			shared = append(shared, c.ID)
		}
	}
	return shared, err
}

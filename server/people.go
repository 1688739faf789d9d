package server

import (
	"context"
	"crypto/rand"
	"encoding/base64"
	"errors"
	"net/http"
	"strings"
	"time"

	"raconte/api"
	"raconte/core/access"
	"raconte/platform/passwords"
	"raconte/store"
	"raconte/works"

	"github.com/gin-gonic/gin"
)

// How long the links last that let one choose a password.
const (
	inviteLasts = 3 * 24 * time.Hour
	resetLasts  = time.Hour
)

// GetEntrance tells how one gets in.
func (s *Server) GetEntrance(c *gin.Context) error {
	has, err := s.Store.Identity.HasAccounts(c.Request.Context())
	if err != nil {
		return err
	}
	out := api.Entrance{First: !has, Mail: s.Works.Mail.On()}
	if s.Identity != nil {
		out.Provider = &s.Identity.Name
	}
	return answer(c, http.StatusOK, out)
}

// AddFirst makes the first administrator.
func (s *Server) AddFirst(c *gin.Context, in api.AddFirstJSONRequestBody) error {
	if err := s.mustWait(c, s.throttle.fromAddress(c.ClientIP())); err != nil {
		return err
	}
	a, err := person(in.Name, in.DisplayName, of(in.Email), access.Administrator)
	if err == nil {
		a.PasswordHash, err = s.hashOf(c, in.Password, a)
	}
	if err == nil {
		a, err = s.Store.Identity.FirstPerson(c.Request.Context(), a)
	}
	if errors.Is(err, store.ErrConflict) {
		return problem(http.StatusConflict, "There is an administrator already. Sign in, or ask to be invited.")
	}
	if err == nil {
		err = s.begin(c, a)
	}
	if err != nil {
		return err
	}
	return answer(c, http.StatusCreated, accountAnswer(a))
}

// person is a new account without a password. The error is a refusal.
func person(name, displayName, email string, role access.Role) (store.Account, error) {
	address, err := store.NormalAddress(email)
	return store.Account{Name: name, DisplayName: strings.TrimSpace(displayName), Email: address, Role: role}, err
}

// hashOf is a password that someone has chosen, as it is stored. The error is a refusal where it is too easy to guess.
// Few are hashed at once, as they are checked.
func (s *Server) hashOf(c *gin.Context, password string, a store.Account) (string, error) {
	if err := passwords.Check(password, a.Name, a.DisplayName, of(a.Email), s.Works.House); err != nil {
		return "", err
	}
	select {
	case s.checking <- struct{}{}:
		defer func() { <-s.checking }()
	case <-c.Request.Context().Done():
		return "", c.Request.Context().Err()
	}
	return passwords.Hash(password)
}

// ListAccounts answers with all people.
func (s *Server) ListAccounts(c *gin.Context) error {
	ctx := c.Request.Context()
	all, err := s.Store.Identity.Accounts(ctx)
	var groups []store.Group
	var owns map[string]int
	var seen map[string]time.Time
	if err == nil {
		groups, err = s.Store.Identity.Groups(ctx)
	}
	if err == nil {
		owns, err = s.Store.Documents.Owned(ctx)
	}
	if err == nil {
		seen, err = s.Store.Identity.SeenLast(ctx)
	}
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, all, func(a store.Account) api.Member {
		m := api.Member{
			Id: a.ID, Name: a.Name, DisplayName: a.DisplayName, Email: of(a.Email), Role: api.Role(a.Role), Groups: []string{}, Disabled: a.DisabledAt != nil,
			Invited: a.PasswordHash == "" && a.Subject == nil, Owns: owns[a.DisplayName], OneTime: a.OTPSecret != "",
		}
		if at, known := seen[a.ID]; known {
			m.SeenAt = &at
		}
		for _, g := range groups {
			for _, member := range g.Accounts {
				if member == a.ID {
					m.Groups = append(m.Groups, g.ID)
				}
			}
		}
		return m
	}))
}

// AddAccount adds a person and invites them.
func (s *Server) AddAccount(c *gin.Context, in api.AddAccountJSONRequestBody) error {
	a, err := person(in.Name, in.DisplayName, of(in.Email), access.Role(in.Role))
	if err == nil {
		a, err = s.Store.Identity.AddPerson(c.Request.Context(), a, of(in.Groups), accountOf(c))
	}
	if err != nil {
		return err
	}
	return s.invite(c, a)
}

// InviteAgain gives a person a new link.
func (s *Server) InviteAgain(c *gin.Context, account string) error {
	a, err := s.Store.Identity.Account(c.Request.Context(), account)
	if err != nil {
		return err
	}
	if a.DisabledAt != nil {
		return problem(http.StatusUnprocessableEntity, a.DisplayName+" is disabled. Let them in again first.")
	}
	return s.invite(c, a)
}

func (s *Server) invite(c *gin.Context, a store.Account) error {
	link, mailed, err := s.ticket(c.Request.Context(), a, true, accountOf(c).DisplayName)
	if err != nil {
		return err
	}
	return answer(c, http.StatusCreated, api.Invitation{Account: a.ID, Link: link, Until: time.Now().Add(inviteLasts), Mailed: mailed})
}

// ticket makes a link that lets someone choose a password, and sends it to them where that can be.
func (s *Server) ticket(ctx context.Context, a store.Account, invites bool, by string) (link string, mailed bool, err error) {
	token, lasts := newToken(), resetLasts
	letter := works.Letter{
		Subject: "Choose another password", Press: "Choose a password",
		Lines: []string{"someone, perhaps you, said that you have forgotten your password for Raconte. This link lets you choose another. It works once, for an hour.", "If it was not you, do nothing: your password stays as it is."},
	}
	if invites {
		lasts = inviteLasts
		letter.Subject = by + " invites you to Raconte"
		letter.Lines = []string{by + " has made an account for you. You sign in as " + a.Name + ". This link lets you choose your password. It works once, for three days."}
	}
	if err := s.Store.Identity.AddTicket(ctx, store.Ticket{Hash: hashToken(token), AccountID: a.ID, Invites: invites}, lasts); err != nil {
		return "", false, err
	}
	letter.Link = s.Address + "/welcome/" + token
	mailed, err = s.Works.Write(ctx, a, letter)
	return letter.Link, mailed, err
}

// newToken is one that can't be guessed.
func newToken() string {
	raw := make([]byte, tokenBytes)
	_, _ = rand.Read(raw) // never fails: Go 1.24 and newer
	return base64.RawURLEncoding.EncodeToString(raw)
}

// Forgot sends someone a link to choose another password. Whoever asks does not learn whether there is such a person.
func (s *Server) Forgot(c *gin.Context, in api.ForgotJSONRequestBody) error {
	if !s.Works.Mail.On() {
		return problem(http.StatusUnprocessableEntity, "Raconte can't send mail here. Ask your administrator for a new link.")
	}
	if err := s.mustWait(c, s.throttle.fromAddress(c.ClientIP())); err != nil {
		return err
	}
	select {
	case s.forgetting <- struct{}{}:
	default:
		c.Header("Retry-After", "10")
		return problem(http.StatusTooManyRequests, "Many ask for that at the moment. Try again in a moment.")
	}
	// Whether there is such a person can't be told by how long the answer takes.
	ctx := context.WithoutCancel(c.Request.Context())
	go func() {
		defer func() { <-s.forgetting }()
		ctx, cancel := context.WithTimeout(ctx, longestRequest)
		defer cancel()
		if err := s.forgot(ctx, in.Name); err != nil {
			s.Log.Error("sending someone a link for another password", "error", err)
		}
	}()
	return empty(c, nil)
}

func (s *Server) forgot(ctx context.Context, name string) error {
	a, err := s.Store.Identity.AccountNamed(ctx, name)
	if errors.Is(err, store.ErrNotFound) {
		if address, bad := store.NormalAddress(name); bad == nil && address != nil {
			a, err = s.Store.Identity.AccountAt(ctx, *address)
		}
	}
	if err == nil && a.DisabledAt == nil && s.throttle.forAccount(a.ID, "forgotten") == 0 {
		_, _, err = s.ticket(ctx, a, false, "")
	}
	if errors.Is(err, store.ErrNotFound) {
		return nil
	}
	return err
}

const ticketGone = "This link has been used, or is too old. Ask for a new one."

// GetTicket tells whose link it is.
func (s *Server) GetTicket(c *gin.Context, token string) error {
	if err := s.mustWait(c, s.throttle.fromAddress(c.ClientIP())); err != nil {
		return err
	}
	t, a, err := s.Store.Identity.TicketWith(c.Request.Context(), hashToken(token))
	if errors.Is(err, store.ErrNotFound) {
		return problem(http.StatusNotFound, ticketGone)
	}
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, api.Ticket{Name: a.Name, DisplayName: a.DisplayName, Invites: t.Invites})
}

// UseTicket sets a password and signs in. One-time codes, where they are on, are still asked for.
func (s *Server) UseTicket(c *gin.Context, token string, in api.UseTicketJSONRequestBody) error {
	if err := s.mustWait(c, s.throttle.fromAddress(c.ClientIP())); err != nil {
		return err
	}
	ctx := c.Request.Context()
	_, a, err := s.Store.Identity.TicketWith(ctx, hashToken(token))
	var hash string
	if err == nil {
		hash, err = s.hashOf(c, in.Password, a)
	}
	if err == nil {
		a, err = s.Store.Identity.UseTicket(ctx, hashToken(token), hash)
	}
	if errors.Is(err, store.ErrNotFound) {
		return problem(http.StatusNotFound, ticketGone)
	}
	if err != nil {
		return err
	}
	s.events.end(a.ID)
	if a.OTPSecret != "" {
		return needs(api.Code, "Your password is set. Sign in with it and with a one-time code.")
	}
	if err := s.begin(c, a); err != nil {
		return err
	}
	s.remember(c, a.ID)
	return answer(c, http.StatusOK, accountAnswer(a))
}

// ChangeAccount changes a person's account.
func (s *Server) ChangeAccount(c *gin.Context, account string, in api.ChangeAccountJSONRequestBody) error {
	change := store.PersonChange{DisplayName: in.DisplayName, Email: in.Email, Groups: in.Groups, Disabled: in.Disabled}
	if in.Role != nil {
		role := access.Role(*in.Role)
		change.Role = &role
	}
	a, err := s.Store.Identity.ChangePerson(c.Request.Context(), account, change, accountOf(c))
	if err == nil && (in.Role != nil || in.Disabled != nil || in.Groups != nil) {
		s.events.end(a.ID) // whoever may still listen connects again, and is asked again
	}
	return empty(c, err)
}

// HandOver makes another the owner of what a person owns.
func (s *Server) HandOver(c *gin.Context, account string, in api.HandOverJSONRequestBody) error {
	ctx := c.Request.Context()
	from, err := s.Store.Identity.Account(ctx, account)
	var to store.Account
	if err == nil {
		to, err = s.Store.Identity.Account(ctx, in.To)
	}
	n := 0
	if err == nil {
		n, err = s.Store.Documents.HandOver(ctx, from, to, accountOf(c).Viewer())
	}
	if err != nil {
		return err
	}
	out := struct {
		Documents int `json:"documents"`
	}{n}
	return answer(c, http.StatusOK, out)
}

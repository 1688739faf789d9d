package server

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"
	"sync"
	"time"

	"raconte/api"
	"raconte/core/access"
	"raconte/platform/passwords"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

// browserCookie tells a browser that an account has signed in from before. It lets nobody in; it only keeps guesses
// from elsewhere apart from those of the person.
const (
	browserCookie = "raconte-browser"
	keepBrowser   = 180 * 24 * time.Hour
)

// nobody is compared against when a name is unknown, so that the answer takes as long.
var nobody = sync.OnceValue(func() string {
	hash, err := passwords.Hash("nobody")
	if err != nil {
		panic(err)
	}
	return hash
})

// SignIn starts a session.
func (s *Server) SignIn(c *gin.Context, in api.SignInJSONRequestBody) error {
	if err := s.mustWait(c, s.throttle.fromAddress(c.ClientIP())); err != nil {
		return err
	}
	a, err := s.Store.Identity.AccountNamed(c.Request.Context(), in.Name)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	who, hash := a.ID, a.PasswordHash
	if hash == "" { // there is no such person, or they have no password: the answer takes as long
		hash = nobody()
	}
	if a.ID == "" {
		name, _ := store.NormalName(in.Name)
		who = "nobody " + name
	}
	place, err := s.placeOf(c, a.ID)
	if err != nil {
		return err
	}
	if err := s.mustWait(c, s.throttle.forAccount(who, place)); err != nil {
		return err
	}
	match, err := s.passwordIs(c, in.Password, hash)
	if err != nil {
		return err
	}
	if !match || a.PasswordHash == "" {
		s.throttle.failed(who, place)
		return problem(http.StatusUnauthorized, "Name and password do not match. Check both and try again.")
	}
	if a.DisabledAt != nil {
		return problem(http.StatusForbidden, "This account is disabled. Ask your administrator.")
	}
	if a.OTPSecret != "" {
		if of(in.Code) == "" {
			return needs(api.Code, "Give the one-time code that your authenticator shows.")
		}
		fits, err := s.codeIs(c, a, *in.Code)
		if err != nil {
			return err
		}
		if !fits {
			s.throttle.failed(who, place)
			return needs(api.Code, "The code is wrong, or was used before. Give the next that your authenticator shows, or one for recovery.")
		}
	}
	s.throttle.succeeded(who, place)
	if err := s.begin(c, a); err != nil {
		return err
	}
	s.remember(c, a.ID)
	return answer(c, http.StatusOK, accountAnswer(a))
}

// mustWait fails where a guess is not taken yet.
func (s *Server) mustWait(c *gin.Context, wait time.Duration) error {
	if wait <= 0 {
		return nil
	}
	seconds := int(wait.Seconds()) + 1
	c.Header("Retry-After", strconv.Itoa(seconds))
	until := fmt.Sprintf("%d seconds", seconds)
	if seconds > 90 {
		until = fmt.Sprintf("%d minutes", seconds/60+1)
	}
	return problem(http.StatusTooManyRequests, fmt.Sprintf("Too many attempts. Try again in %s. Whoever is signed in already stays so.", until))
}

// passwordIs checks a password. That takes 64 MB and a core for a while, so that few are checked at once.
func (s *Server) passwordIs(c *gin.Context, password, hash string) (bool, error) {
	select {
	case s.checking <- struct{}{}:
		defer func() { <-s.checking }()
	case <-c.Request.Context().Done():
		return false, c.Request.Context().Err()
	}
	return passwords.Matches(password, hash)
}

// placeOf is where a guess comes from, as far as it matters: a browser or an address that the account is known from,
// each by itself, or elsewhere. It is asked for of nobody, too, so that the answer takes as long.
func (s *Server) placeOf(c *gin.Context, account string) (string, error) {
	for _, place := range []string{browserOf(c), "address " + c.ClientIP()} {
		if place == "" {
			continue
		}
		known, err := s.Store.Identity.KnowsPlace(c.Request.Context(), account, hashToken(place))
		if err != nil {
			return "", fmt.Errorf("looking a browser up: %w", err)
		}
		if known {
			return place, nil
		}
	}
	return "elsewhere", nil
}

func browserOf(c *gin.Context) string {
	cookie, err := c.Request.Cookie(browserCookie)
	if err != nil || len(cookie.Value) > 64 {
		return ""
	}
	return cookie.Value
}

// remember makes the browser and the address places that the account is known from.
func (s *Server) remember(c *gin.Context, account string) {
	token := browserOf(c)
	if token == "" {
		token = newToken()
	}
	for _, place := range []string{token, "address " + c.ClientIP()} {
		if err := s.Store.Identity.AddPlace(c.Request.Context(), account, hashToken(place)); err != nil {
			s.Log.Warn("remembering a browser", "error", err) // then it may have to wait one day
		}
	}
	http.SetCookie(c.Writer, &http.Cookie{
		Name: browserCookie, Value: token, Path: "/api/session", MaxAge: int(keepBrowser.Seconds()),
		HttpOnly: true, SameSite: http.SameSiteLaxMode, Secure: s.sessions.Cookie.Secure,
	})
}

// begin starts a session of an account in the present request's browser.
func (s *Server) begin(c *gin.Context, a store.Account) error {
	ctx := c.Request.Context()
	if err := s.sessions.RenewToken(ctx); err != nil {
		return fmt.Errorf("beginning a session: %w", err)
	}
	s.sessions.Put(ctx, "account", a.ID)
	s.sessions.Put(ctx, "epoch", a.Epoch)
	login, err := s.Store.Identity.BeginLogin(ctx, a.ID, c.Request.UserAgent(), c.ClientIP())
	if err != nil {
		return err
	}
	s.sessions.Put(ctx, loginKey, login)
	token, expiry, err := s.sessions.Commit(ctx)
	if err != nil {
		return fmt.Errorf("beginning a session: %w", err)
	}
	s.sessions.WriteSessionCookie(ctx, c.Writer, token, expiry)
	return nil
}

// GetSession tells who is signed in.
func (s *Server) GetSession(c *gin.Context) error {
	return answer(c, http.StatusOK, accountAnswer(accountOf(c)))
}

// SignOut ends the session.
func (s *Server) SignOut(c *gin.Context) error {
	ctx := c.Request.Context()
	if err := s.Store.Identity.EndLogin(ctx, accountOf(c).ID, s.sessions.GetString(ctx, loginKey)); err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	if err := s.sessions.Destroy(ctx); err != nil {
		return err
	}
	s.events.end(accountOf(c).ID)
	s.sessions.WriteSessionCookie(ctx, c.Writer, "", time.Time{})
	return empty(c, nil)
}

// ChangePassword changes the caller's password and ends all other sessions.
func (s *Server) ChangePassword(c *gin.Context, in api.ChangePasswordJSONRequestBody) error {
	a := accountOf(c)
	if err := s.itIsThem(c, in.Old); err != nil {
		return err
	}
	hash, err := s.hashOf(c, in.New, a)
	if err == nil {
		a.Epoch, err = s.Store.Identity.SetPassword(c.Request.Context(), a, hash)
	}
	if errors.Is(err, store.ErrConflict) {
		return problem(http.StatusConflict, "The password was changed elsewhere meanwhile. Sign in again.")
	}
	return s.goOn(c, a, err)
}

// EndOtherSessions ends the caller's sessions but this one.
func (s *Server) EndOtherSessions(c *gin.Context) error {
	a := accountOf(c)
	var err error
	a.Epoch, err = s.Store.Identity.EndSessions(c.Request.Context(), a.ID)
	return s.goOn(c, a, err)
}

// goOn begins the caller's session anew where all of an earlier epoch have ended.
func (s *Server) goOn(c *gin.Context, a store.Account, err error) error {
	if err == nil {
		err = s.Store.Identity.EndLogins(c.Request.Context(), a.ID)
	}
	if err == nil {
		err = s.begin(c, a)
	}
	if err != nil {
		return err
	}
	s.events.end(a.ID)
	return empty(c, nil)
}

func accountAnswer(a store.Account) api.Account {
	out := api.Account{
		Id: a.ID, Name: a.Name, DisplayName: a.DisplayName, Role: api.Role(a.Role), May: []api.AccountMay{}, Email: a.Email, Mails: api.Mails(a.Mails), OneTime: a.OTPSecret != "",
		Password: a.PasswordHash != "",
	}
	for _, act := range access.Acts {
		if access.May(a.Viewer(), act, access.Thing{}) {
			out.May = append(out.May, api.AccountMay(act))
		}
	}
	return out
}

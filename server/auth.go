package server

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"time"

	"raconte/api"
	"raconte/store"

	"github.com/alexedwards/argon2id"
	"github.com/gin-gonic/gin"
)

// open marks routes that need no session; byDevice those that a recorder calls with its token.
const (
	open     store.Role = ""
	byDevice store.Role = "device"
)

var pathParameter = regexp.MustCompile(`\{([^}]+)\}`)

// rolesOfRoutes reads from the API's description which role each route needs. A route that it does
// not name has no entry and is refused.
func rolesOfRoutes() (map[string]store.Role, error) {
	spec, err := api.GetSpec()
	if err != nil {
		return nil, fmt.Errorf("reading the API's description: %w", err)
	}
	roles := map[string]store.Role{}
	for path, item := range spec.Paths.Map() {
		for method, op := range item.Operations() {
			role := open
			if op.Security == nil {
				return nil, fmt.Errorf("%s %s says nothing of who may call it", method, path)
			}
			for _, requirement := range *op.Security {
				if _, ok := requirement["device"]; ok && len(requirement) == 1 {
					role = byDevice
					continue
				}
				scopes := requirement["session"]
				if len(scopes) != 1 || !store.Role(scopes[0]).AtLeast(store.Reader) {
					return nil, fmt.Errorf("%s %s does not name one role", method, path)
				}
				role = store.Role(scopes[0])
			}
			roles[method+" "+pathParameter.ReplaceAllString(path, ":$1")] = role
		}
	}
	return roles, nil
}

// authorize refuses whoever may not call the route.
func (s *Server) authorize(roles map[string]store.Role) gin.HandlerFunc {
	return func(c *gin.Context) {
		need, known := roles[c.Request.Method+" "+c.FullPath()]
		if !known {
			problem(c, http.StatusForbidden, "This can't be called.")
			return
		}
		if need == byDevice {
			s.authorizeDevice(c)
			return
		}
		ctx, a, err := s.whoAsks(c.Request)
		if err != nil {
			s.fail(c, err)
			return
		}
		c.Request = c.Request.WithContext(ctx)
		c.Set("account", a)
		switch {
		case need == open:
		case a.ID == "":
			problem(c, http.StatusUnauthorized, "Sign in first.")
		case !a.Role.AtLeast(need):
			problem(c, http.StatusForbidden, fmt.Sprintf("Your account may read, but this needs the role of %s.", need))
		}
	}
}

// whoAsks finds the session and account of a request as they are now; the account is empty where nobody
// is signed in.
func (s *Server) whoAsks(r *http.Request) (context.Context, store.Account, error) {
	token := ""
	if cookie, err := r.Cookie(s.sessions.Cookie.Name); err == nil {
		token = cookie.Value
	}
	ctx, err := s.sessions.Load(r.Context(), token)
	if err != nil {
		return nil, store.Account{}, fmt.Errorf("loading the session: %w", err)
	}
	id := s.sessions.GetString(ctx, "account")
	if id == "" {
		return ctx, store.Account{}, nil
	}
	a, err := s.Store.Account(ctx, id)
	if errors.Is(err, store.ErrNotFound) {
		err = nil
	}
	return ctx, a, err
}

func accountOf(c *gin.Context) store.Account {
	a, _ := c.Get("account")
	account, _ := a.(store.Account)
	return account
}

// nobody is compared against when a name is unknown, so that the answer takes as long.
var nobody = sync.OnceValue(func() string {
	hash, err := argon2id.CreateHash("nobody", argon2id.DefaultParams)
	if err != nil {
		panic(err)
	}
	return hash
})

// SignIn starts a session.
func (s *Server) SignIn(c *gin.Context) {
	var in api.Credentials
	if err := c.ShouldBindJSON(&in); err != nil {
		problem(c, http.StatusBadRequest, "Give a name and a password.")
		return
	}
	// A password check takes 64 MB and a core for a while. Those at once are few, and each looks at the failures
	// only when its turn has come, so that many guesses sent together count one by one.
	select {
	case s.checking <- struct{}{}:
		defer func() { <-s.checking }()
	case <-c.Request.Context().Done():
		return
	}
	who := strings.ToLower(in.Name) + " " + c.RemoteIP()
	if wait := s.attempts.wait(who); wait > 0 {
		c.Header("Retry-After", strconv.Itoa(int(wait.Seconds())+1))
		problem(c, http.StatusTooManyRequests, fmt.Sprintf("Too many attempts. Try again in %d minutes.", int(wait.Minutes())+1))
		return
	}
	a, err := s.Store.AccountNamed(c, in.Name)
	hash := a.PasswordHash
	if err != nil {
		hash = nobody()
	}
	match, hashErr := argon2id.ComparePasswordAndHash(in.Password, hash)
	if err != nil || hashErr != nil || !match {
		s.attempts.failed(who)
		problem(c, http.StatusUnauthorized, "Name and password do not match. Check both and try again.")
		return
	}
	s.attempts.forget(who)
	ctx := c.Request.Context()
	if err := s.sessions.RenewToken(ctx); err != nil {
		s.fail(c, err)
		return
	}
	s.sessions.Put(ctx, "account", a.ID)
	token, expiry, err := s.sessions.Commit(ctx)
	if err != nil {
		s.fail(c, err)
		return
	}
	s.sessions.WriteSessionCookie(ctx, c.Writer, token, expiry)
	c.JSON(http.StatusOK, accountAnswer(a))
}

// GetSession tells who is signed in.
func (s *Server) GetSession(c *gin.Context) { c.JSON(http.StatusOK, accountAnswer(accountOf(c))) }

// SignOut ends the session.
func (s *Server) SignOut(c *gin.Context) {
	ctx := c.Request.Context()
	if err := s.sessions.Destroy(ctx); err != nil {
		s.fail(c, err)
		return
	}
	s.sessions.WriteSessionCookie(ctx, c.Writer, "", time.Time{})
	c.Status(http.StatusNoContent)
}

func accountAnswer(a store.Account) api.Account {
	return api.Account{Id: a.ID, Name: a.Name, DisplayName: a.DisplayName, Role: api.Role(a.Role)}
}

// HashPassword is a password as it is stored.
func HashPassword(password string) (string, error) {
	hash, err := argon2id.CreateHash(password, argon2id.DefaultParams)
	if err != nil {
		return "", fmt.Errorf("hashing a password: %w", err)
	}
	return hash, nil
}

// attempts counts failures to sign in, by name and address.
type attempts struct {
	mu       sync.Mutex
	failures map[string][]time.Time
}

const (
	mostFailures = 8
	failureSpan  = 10 * time.Minute
	mostWatched  = 10000
)

func newAttempts() *attempts { return &attempts{failures: map[string][]time.Time{}} }

// wait is how long whoever failed too often has to wait.
func (a *attempts) wait(who string) time.Duration {
	a.mu.Lock()
	defer a.mu.Unlock()
	recent := a.failures[who]
	for len(recent) > 0 && time.Since(recent[0]) > failureSpan {
		recent = recent[1:]
	}
	a.failures[who] = recent
	if len(recent) == 0 {
		delete(a.failures, who)
	}
	if len(recent) < mostFailures {
		return 0
	}
	return failureSpan - time.Since(recent[0])
}

func (a *attempts) failed(who string) {
	a.mu.Lock()
	defer a.mu.Unlock()
	if len(a.failures) >= mostWatched {
		clear(a.failures) // a flood of made-up names: better to forget than to fill the memory
	}
	a.failures[who] = append(a.failures[who], time.Now())
}

func (a *attempts) forget(who string) {
	a.mu.Lock()
	defer a.mu.Unlock()
	delete(a.failures, who)
}

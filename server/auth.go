package server

import (
	"context"
	"fmt"
	"net"
	"net/http"
	"net/url"
	"regexp"
	"strings"

	"raconte/core/access"
	"raconte/core/id"
	"raconte/store"
	"raconte/works/pictures"

	"github.com/gin-gonic/gin"
)

// healthPath is where whoever watches Raconte asks.
const healthPath = "/api/health"

// open marks routes that need no session; byDevice those that a recorder calls with its token.
const (
	open     access.Act = ""
	byDevice access.Act = "device"
)

// denied says why one may not.
var denied = map[access.Act]string{
	access.Read:       "Your account may not read here.",
	access.Review:     "Your account may read what is released, but not what is being written.",
	access.Edit:       "Your account may read here, but not change anything. Ask your administrator for the role of author.",
	access.Administer: "This is for administrators.",
}

var pathParameter = regexp.MustCompile(`\{([^}]+)\}`)

// needsOf reads what one must be allowed to do to call each operation. One that says nothing of it is an error.
func needsOf(ops map[string]operation) (map[string]access.Act, error) {
	needs := map[string]access.Act{}
	for name, op := range ops {
		need := open
		if op.Security == nil {
			return nil, fmt.Errorf("%s says nothing of who may call it", name)
		}
		for _, requirement := range *op.Security {
			if _, ok := requirement["device"]; ok && len(requirement) == 1 {
				need = byDevice
				continue
			}
			scopes := requirement["session"]
			if len(scopes) != 1 || !access.Act(scopes[0]).Known() {
				return nil, fmt.Errorf("%s does not name one act", name)
			}
			need = access.Act(scopes[0])
		}
		needs[name] = need
	}
	return needs, nil
}

// authorize refuses whoever may not call the route.
func (s *Server) authorize(needs map[string]access.Act) gin.HandlerFunc {
	return func(c *gin.Context) {
		need, known := needs[c.Request.Method+" "+c.FullPath()]
		if !known {
			end(c, http.StatusForbidden, "This can't be called.")
			return
		}
		if need == byDevice {
			if err := s.authorizeDevice(c); err != nil {
				s.fail(c, err)
			}
			return
		}
		if need == open && c.FullPath() == healthPath {
			return // it is the same for everybody, and asked all the time
		}
		ctx, a, err := s.whoAsks(c.Request)
		if err != nil {
			s.fail(c, err)
			return
		}
		c.Request = c.Request.WithContext(pictures.For(ctx, a.ID))
		c.Set("account", a)
		if document := c.Param("document"); id.Valid(document) && a.ID != "" {
			lies, err := s.asks.whereabouts(ctx, document)
			if err != nil {
				s.fail(c, err)
				return
			}
			if !mayRead(a.Viewer(), lies.folder) {
				end(c, http.StatusForbidden, closed(lies.ask))
				return
			}
		}
		switch {
		case need == open:
		case a.ID == "":
			end(c, http.StatusUnauthorized, "Sign in first.")
		case !may(c, need, access.Thing{}):
			end(c, http.StatusForbidden, denied[need])
		}
	}
}

// whoAsks finds the session and account of a request as they are now; the account is empty where nobody
// is signed in, or the session is of an earlier epoch.
func (s *Server) whoAsks(r *http.Request) (context.Context, store.Account, error) {
	token := ""
	if cookie, err := r.Cookie(s.sessions.Cookie.Name); err == nil {
		token = cookie.Value
	}
	ctx, err := s.sessions.Load(context.WithValue(r.Context(), versionsKey{}, &versions{}), token)
	if err != nil {
		return nil, store.Account{}, fmt.Errorf("loading the session: %w", err)
	}
	account := s.sessions.GetString(ctx, "account")
	if account == "" {
		return ctx, store.Account{}, nil
	}
	// A session from before there were epochs belongs to the first.
	a, err := s.asks.stillIn(ctx, account, s.sessions.GetString(ctx, loginKey), max(1, s.sessions.GetInt(ctx, "epoch")))
	return ctx, a, err
}

// closed tells whom to ask for a document in a closed folder, and nothing else of it.
func closed(ask string) string {
	if ask == "" {
		return "This document is in a closed folder. Ask your administrator for it."
	}
	return "This document is in a closed folder. Ask " + ask + " for it."
}

func accountOf(c *gin.Context) store.Account {
	a, _ := c.Get("account")
	account, _ := a.(store.Account)
	return account
}

// may tells whether the caller may do an act with a thing.
func may(c *gin.Context, act access.Act, on access.Thing) bool {
	return access.May(accountOf(c).Viewer(), act, on)
}

// fromHere refuses requests to another host than the application's: a page of another site whose name leads to this
// machine would else be taken for one of ours.
func (s *Server) fromHere(next http.Handler) http.Handler {
	own := ""
	if u, err := url.Parse(s.Address); err == nil {
		own = u.Hostname()
	}
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		host := r.Host
		if h, _, err := net.SplitHostPort(host); err == nil {
			host = h
		}
		ip := net.ParseIP(strings.Trim(host, "[]"))
		if !strings.EqualFold(host, own) && host != "localhost" && (ip == nil || !ip.IsLoopback()) {
			refuse(w, http.StatusMisdirectedRequest, "Raconte is not reached under this name. Its address is "+s.Address+".")
			return
		}
		next.ServeHTTP(w, r)
	})
}

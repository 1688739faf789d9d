// Package server is the web application's face to browsers: routes, sessions, roles, live events. It
// checks who asks and what is sent, and leaves the work to the packages below it.
package server

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"strings"
	"sync/atomic"
	"time"

	"raconte/api"
	"raconte/jobs"
	"raconte/ocr"
	"raconte/pictures"
	"raconte/press"
	"raconte/store"

	"github.com/alexedwards/scs/mysqlstore"
	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"
	lru "github.com/hashicorp/golang-lru/v2"
)

// Config is what a server is made from.
type Config struct {
	Store    *store.Store
	Pictures *pictures.Maker
	Press    press.Press
	Jobs     *jobs.Runner
	Reads    *jobs.Runner // reads the text in pictures, where Reader can
	Files    Files
	Reader   ocr.Reader // of text in pictures; the zero Reader reads none
	Web      fs.FS      // the built interface
	Log      *slog.Logger
}

// Server answers requests. It implements the interface generated from api/openapi.yaml.
type Server struct {
	Config
	sessions  *scs.SessionManager
	swept     *mysqlstore.MySQLStore
	attempts  *attempts
	events    *broker
	documents *lru.Cache[string, store.Whole]
	closing   chan struct{}
	lastShot  atomic.Int64  // when the last shot came in, in nanoseconds of the Unix epoch
	checking  chan struct{} // a place for each password that is being checked
}

var _ api.ServerInterface = (*Server)(nil)

// New makes a server.
func New(c Config) (*Server, error) {
	cache, err := lru.New[string, store.Whole](64)
	if err != nil {
		return nil, fmt.Errorf("making the document cache: %w", err)
	}
	s := &Server{Config: c, attempts: newAttempts(), events: newBroker(), documents: cache, closing: make(chan struct{}), checking: make(chan struct{}, 2)}
	s.swept = mysqlstore.New(c.Store.SQL())
	s.sessions = scs.New()
	s.sessions.Store = s.swept
	s.sessions.Lifetime = 14 * time.Hour // a working day
	s.sessions.Cookie.Name = "raconte"
	s.sessions.Cookie.SameSite = http.SameSiteLaxMode
	s.sessions.HashTokenInStore = true
	c.Jobs.Changed = s.jobChanged
	return s, nil
}

// Handler is the server's whole handler.
func (s *Server) Handler() (http.Handler, error) {
	roles, err := rolesOfRoutes()
	if err != nil {
		return nil, err
	}
	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.ContextWithFallback = true
	if err := r.SetTrustedProxies(nil); err != nil {
		return nil, fmt.Errorf("setting up the router: %w", err)
	}
	r.Use(s.trace, s.recoverPanics, secureHeaders, limitBody)
	r.NoRoute(func(c *gin.Context) {
		if strings.HasPrefix(c.Request.URL.Path, "/api/") {
			problem(c, http.StatusNotFound, "There is nothing at this address.")
			return
		}
		s.serveWeb(c)
	})
	group := r.Group("", s.authorize(roles))
	api.RegisterHandlersWithOptions(group, s, api.GinServerOptions{
		ErrorHandler: func(c *gin.Context, err error, code int) {
			problem(c, code, "The request is not in order: "+err.Error())
		},
	})
	guard := http.NewCrossOriginProtection()
	guard.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "application/json")
		w.WriteHeader(http.StatusForbidden)
		_, _ = w.Write([]byte(`{"message":"This request came from another site and was refused."}`))
	}))
	return guard.Handler(r), nil
}

// Serve answers on a listener until ctx is cancelled, then lets requests under way end.
func (s *Server) Serve(ctx context.Context, l net.Listener) error {
	handler, err := s.Handler()
	if err != nil {
		return err
	}
	srv := &http.Server{
		Handler: handler, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: 3 * time.Minute,
		WriteTimeout: 3 * time.Minute, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10,
		ErrorLog: slog.NewLogLogger(s.Log.Handler(), slog.LevelWarn),
	}
	failed := make(chan error, 1)
	go func() { failed <- srv.Serve(l) }()
	select {
	case err := <-failed:
		return fmt.Errorf("serving: %w", err)
	case <-ctx.Done():
	}
	close(s.closing) // ends event streams, which would never end by themselves
	s.swept.StopCleanup()
	grace, cancel := context.WithTimeout(context.WithoutCancel(ctx), 10*time.Second)
	defer cancel()
	if err := srv.Shutdown(grace); err != nil {
		return fmt.Errorf("stopping: %w", err)
	}
	return nil
}

// problem answers with what happened and ends the request.
func problem(c *gin.Context, code int, message string) {
	c.AbortWithStatusJSON(code, api.Problem{Message: message})
}

// fail answers for an error: what is meant for people is told, the rest is logged.
func (s *Server) fail(c *gin.Context, err error) {
	var large *http.MaxBytesError
	switch {
	case errors.Is(err, store.ErrNotFound):
		problem(c, http.StatusNotFound, "This is not there, or not any more, or you may not see it.")
	case errors.As(err, &large):
		problem(c, http.StatusRequestEntityTooLarge, tooLarge(large))
	case errors.Is(err, context.Canceled):
		c.Abort() // nobody is there to read an answer
	default:
		s.Log.Error("a request failed", "request", c.GetString("request"), "path", c.Request.URL.Path, "error", err)
		problem(c, http.StatusInternalServerError, "Something went wrong inside Raconte. Nothing of yours was changed. Try again; if it stays, tell your administrator the request id "+c.GetString("request")+".")
	}
}

// GetHealth tells whether the application and its database answer.
func (s *Server) GetHealth(c *gin.Context) {
	ctx, cancel := context.WithTimeout(c.Request.Context(), 2*time.Second)
	defer cancel()
	if err := s.Store.Ping(ctx); err != nil {
		problem(c, http.StatusServiceUnavailable, "The database does not answer.")
		return
	}
	c.JSON(http.StatusOK, api.Health{Status: api.Well})
}

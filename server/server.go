// Package server is the web application's face to browsers: routes, sessions, roles, live events. It
// checks who asks and what is sent, and leaves the work to the packages below it.
package server

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"strings"
	"sync"
	"time"

	"raconte/api"
	"raconte/platform/kept"
	"raconte/platform/packed"
	"raconte/platform/together"
	"raconte/recorder"
	"raconte/store"
	"raconte/works"
	"raconte/works/pictures"

	"github.com/alexedwards/scs/mysqlstore"
	"github.com/alexedwards/scs/v2"
	"github.com/gin-gonic/gin"
)

// Config is what a server is made from.
type Config struct {
	Store    *store.Store
	Pictures *pictures.Maker
	Works    *works.Works
	Web      *packed.Tree // the built interface
	Log      *slog.Logger
	Address  string    // as colleagues reach it
	Proxies  []string  // addresses or networks of the proxies that are believed when they say who asks
	Key      string    // the file of the key that signs the recorder for many machines
	Identity *Identity // the house's own sign-in; nil where there is none
}

// Server answers requests. It implements the interface generated from api/openapi.yaml.
type Server struct {
	Config
	sessions   *scs.SessionManager
	swept      *mysqlstore.MySQLStore
	throttle   *throttle
	asks       *asks
	events     *broker
	presence   *presence
	read       *kept.Cache[string] // what documents are kept under there that readers have asked for
	answers    *kept.Cache[[]byte] // of documents, as readers get them
	pages      *kept.Cache[[]byte] // as they are answered
	laying     together.Group[[]byte]
	closing    chan struct{}
	checking   chan struct{} // a place for each password that is being checked
	importing  chan struct{} // and for each bundle that is being unpacked
	parcels    *kept.Cache[works.Parcel]
	forgetting chan struct{} // and for each link that is sent to who has forgotten a password
	arriving   arriving
	weighing   chan struct{} // and for each delivery that is being weighed
	packing    sync.Mutex
	packaged   recorder.Package
}

var _ api.ServerInterface = (*Server)(nil)

// Bytes in memory of computed pages and answers, as JSON, and of parcels.
const (
	mostPages   = 48 << 20
	mostParcels = 48 << 20
	mostRead    = 4 << 20
)

// weightOf is how much a parcel takes in memory.
func weightOf(p works.Parcel) int {
	n := 1000 + len(p.Text)
	for _, f := range p.Files {
		n += len(f.Data)
	}
	return n
}

// New makes a server.
func New(c Config) (*Server, error) {
	s := &Server{
		Config: c, throttle: newThrottle(), asks: newAsks(c.Store), events: newBroker(), presence: newPresence(), closing: make(chan struct{}),
		answers: kept.New(mostPages, func(raw []byte) int { return len(raw) }), pages: kept.New(mostPages, func(raw []byte) int { return len(raw) }),
		parcels: kept.New(mostParcels, weightOf), read: kept.New(mostRead, func(key string) int { return len(key) + 300 }),
		checking: make(chan struct{}, 2), importing: make(chan struct{}, 2), weighing: make(chan struct{}, 1), forgetting: make(chan struct{}, 4),
	}
	s.swept = mysqlstore.New(c.Store.SQL())
	s.sessions = scs.New()
	s.sessions.Store = sessionStore{s.swept, c.Store.SQL()}
	s.sessions.Lifetime = 14 * time.Hour // a working day
	s.sessions.Cookie.Name = "raconte"
	s.sessions.Cookie.SameSite = http.SameSiteLaxMode
	s.sessions.Cookie.Secure = strings.HasPrefix(c.Address, "https://")
	s.sessions.HashTokenInStore = true
	c.Works.Told = s.noticed
	c.Works.Asked = s.asked
	c.Works.IsReleased = func(d store.Document) {
		s.publish(d, "")
		s.publishRevision(d)
	}
	c.Works.Begin(s.jobChanged)
	return s, nil
}

// Handler is the server's whole handler.
func (s *Server) Handler() (http.Handler, error) {
	ops, err := operations()
	if err != nil {
		return nil, err
	}
	needs, err := needsOf(ops)
	if err != nil {
		return nil, err
	}
	gin.SetMode(gin.ReleaseMode)
	r := gin.New()
	r.ContextWithFallback = true
	r.RedirectTrailingSlash = false
	if err := r.SetTrustedProxies(s.Proxies); err != nil {
		return nil, fmt.Errorf("RACONTE_TRUSTED_PROXIES names no addresses: %w", err)
	}
	r.Use(s.trace, s.recoverPanics, timed(ops), paced)
	r.NoRoute(func(c *gin.Context) {
		if strings.HasPrefix(c.Request.URL.Path, "/api/") {
			end(c, http.StatusNotFound, "There is nothing at this address.")
			return
		}
		s.serveWeb(c)
	})
	group := r.Group("", s.authorize(needs), s.within(ops))
	api.RegisterHandlersWithOptions(group, s, api.GinServerOptions{
		ErrorHandler: func(c *gin.Context, err error, code int) {
			if code == http.StatusBadRequest {
				err = problem(code, "The request is not in order: "+err.Error())
			}
			s.fail(c, err)
		},
	})
	guard := http.NewCrossOriginProtection()
	guard.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		refuse(w, http.StatusForbidden, "This request came from another site and was refused.")
	}))
	guard.AddInsecureBypassPattern(feed) // it takes no cookie that a page could misuse
	return s.secured(s.fromHere(openToRecorders(guard.Handler(r)))), nil
}

// refuse answers before a request has reached the router.
func refuse(w http.ResponseWriter, code int, message string) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(code)
	_ = json.NewEncoder(w).Encode(api.Problem{Message: message}) // who does not listen is not told
}

// Serve answers on a listener until ctx is cancelled, then lets requests under way end.
func (s *Server) Serve(ctx context.Context, l net.Listener) error {
	handler, err := s.Handler()
	if err != nil {
		return err
	}
	srv := &http.Server{
		Handler: handler, ReadHeaderTimeout: 10 * time.Second, // bodies and answers have a pace of their own
		WriteTimeout: time.Minute, IdleTimeout: 2 * time.Minute, MaxHeaderBytes: 64 << 10,
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
		_ = srv.Close() // what is under way still is cut off: stopping always ends
		return fmt.Errorf("stopping: %w", err)
	}
	return nil
}

// GetHealth tells whether the application and its database answer.
func (s *Server) GetHealth(c *gin.Context) error {
	ctx, cancel := context.WithTimeout(c.Request.Context(), 2*time.Second)
	defer cancel()
	if err := s.Store.Ping(ctx); err != nil {
		return problem(http.StatusServiceUnavailable, "The database does not answer.")
	}
	return answer(c, http.StatusOK, api.Health{Status: api.Well})
}

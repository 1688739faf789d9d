package server

import (
	"context"
	"net/http"
	"runtime/debug"
	"slices"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
)

// trace gives each request an id and logs how it went.
func (s *Server) trace(c *gin.Context) {
	id := uuid.NewString()
	c.Set("request", id)
	c.Header("X-Request-Id", id)
	began := time.Now()
	c.Next()
	if strings.HasPrefix(c.Request.URL.Path, "/api/") {
		s.Log.Info("request", "request", id, "method", c.Request.Method, "path", patternOf(c),
			"status", c.Writer.Status(), "ms", time.Since(began).Milliseconds(), "account", accountOf(c).ID)
	}
}

// patternOf is a request's route: what stands in its places may let someone in, and is in no log.
func patternOf(c *gin.Context) string {
	if p := c.FullPath(); p != "" {
		return p
	}
	return "(no such address)"
}

func (s *Server) recoverPanics(c *gin.Context) {
	defer func() {
		if p := recover(); p != nil {
			if p == http.ErrAbortHandler {
				panic(p) // an answer that can't be finished is cut off, not ended as if it were whole
			}
			s.Log.Error("a request panicked", "request", c.GetString("request"), "panic", p, "stack", string(debug.Stack()))
			if !c.Writer.Written() {
				end(c, http.StatusInternalServerError, "Something went wrong inside Raconte. Try again.")
			}
		}
	}()
	c.Next()
}

// policy is the content security policy: everything from here, WebAssembly allowed, pictures also
// from memory, since a pasted picture is shown before it is sent.
const policy = "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self'; img-src 'self' blob: data:; media-src 'self' blob:; " +
	"font-src 'self'; connect-src 'self'; frame-src 'self'; manifest-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

// secured gives every answer the headers that keep it where it belongs, refusals and redirects included.
func (s *Server) secured(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("Content-Security-Policy", policy)
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Cross-Origin-Resource-Policy", "same-origin")
		h.Set("Permissions-Policy", "camera=(self), microphone=(self), geolocation=(), display-capture=(self)")
		if strings.HasPrefix(r.URL.Path, "/api/") {
			h.Set("Cache-Control", "no-store")
		}
		if strings.HasPrefix(r.URL.Path, "/s/") {
			s.securedLink(r.Context(), h)
		}
		next.ServeHTTP(w, r)
	})
}

// untimed are operations that last as long as files take to come and go, or for ever.
var untimed = []string{"PutShot", "PutDoorPicture", "AddAttachment", "GetAttachment", "PutFeedShot", "PutCapturedShot", "ImportBundle", "FilePDF", "ImportFile", "GetFile", "RewriteFile", "GetDeliveryFile", "GetShot", "GetEvents", "CompareShots", "PutClip", "GetClip", "GetMadeClip", "GetFigureClip", "GetSharedClip", "AddVoice", "GetFilmPart"}

// timed ends the work of a request that takes too long; it comes before all that asks anything. Of an operation that
// lasts as long as a file does, only what comes before it is timed: see begun.
func timed(ops map[string]operation) gin.HandlerFunc {
	return func(c *gin.Context) {
		ctx, cancel := context.WithCancelCause(c.Request.Context())
		defer cancel(nil)
		end := time.AfterFunc(longestRequest, func() { cancel(context.DeadlineExceeded) })
		defer end.Stop()
		if op, known := ops[c.Request.Method+" "+c.FullPath()]; known && slices.Contains(untimed, op.OperationID) {
			c.Set("begun", end)
		}
		c.Request = c.Request.WithContext(ctx)
		c.Next()
	}
}

// begun ends the timing of an operation that lasts as long as a file does, once it is known who asks.
func begun(c *gin.Context) {
	if end, is := c.Get("begun"); is {
		end.(*time.Timer).Stop()
	}
}

// securedLink gives the page of a link its own headers: it may be framed by the pages that the administrator lists,
// search engines stay out, and its address is told to nobody that it leads to.
func (s *Server) securedLink(ctx context.Context, h http.Header) {
	h.Set("X-Robots-Tag", "noindex, nofollow")
	h.Set("Referrer-Policy", "no-referrer")
	ctx, cancel := context.WithTimeout(ctx, 3*time.Second)
	defer cancel()
	frames, err := s.Store.Exchange.Frames(ctx)
	if err != nil {
		s.Log.Error("reading which pages may frame links", "error", err) // then none may
		return
	}
	if len(frames) > 0 {
		h.Set("Content-Security-Policy", strings.Replace(policy, "frame-ancestors 'none'", "frame-ancestors "+strings.Join(frames, " "), 1))
	}
}

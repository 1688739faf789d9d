package server

import (
	"net/http"
	"runtime/debug"
	"strings"
	"time"

	"raconte/intake"
	"raconte/output/bundle"

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
		s.Log.Info("request", "request", id, "method", c.Request.Method, "path", c.Request.URL.Path,
			"status", c.Writer.Status(), "ms", time.Since(began).Milliseconds(), "account", accountOf(c).ID)
	}
}

func (s *Server) recoverPanics(c *gin.Context) {
	defer func() {
		if p := recover(); p != nil {
			s.Log.Error("a request panicked", "request", c.GetString("request"), "panic", p, "stack", string(debug.Stack()))
			if !c.Writer.Written() {
				problem(c, http.StatusInternalServerError, "Something went wrong inside Raconte. Try again.")
			}
		}
	}()
	c.Next()
}

// policy is the content security policy: everything from here, WebAssembly allowed, pictures also
// from memory, since a pasted picture is shown before it is sent.
const policy = "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self'; img-src 'self' blob: data:; " +
	"font-src 'self'; connect-src 'self'; manifest-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

func secureHeaders(c *gin.Context) {
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", policy)
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("Referrer-Policy", "same-origin")
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	h.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=(), display-capture=(self)")
	if strings.HasPrefix(c.Request.URL.Path, "/api/") {
		h.Set("Cache-Control", "no-store")
	}
	c.Next()
}

// mostJSON bounds the body of an ordinary request: a change of many steps with long words.
const mostJSON = 16 << 20

// mostAbout bounds what a request may tell of a shot besides its picture.
const mostAbout = 1 << 20

// limitBody bounds what a request may send, before any of it is read.
func limitBody(c *gin.Context) {
	limit := int64(mostJSON)
	switch {
	case c.Request.Method == http.MethodPut && strings.HasPrefix(c.Request.URL.Path, "/api/shots/"):
		limit = intake.MostBytes
	case c.Request.Method == http.MethodPut && (strings.HasPrefix(c.Request.URL.Path, "/api/feed/") || strings.HasPrefix(c.Request.URL.Path, "/api/captures/")):
		limit = intake.MostBytes + mostAbout
	case c.Request.URL.Path == "/api/bundles":
		limit = bundle.MostBytes
	}
	if c.Request.ContentLength > limit {
		c.Header("Connection", "close")
		err := &http.MaxBytesError{Limit: limit}
		problem(c, http.StatusRequestEntityTooLarge, tooLarge(err))
		return
	}
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, limit)
	c.Next()
}

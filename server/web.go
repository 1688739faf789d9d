package server

import (
	"bytes"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"
	"time"

	"github.com/gin-gonic/gin"
)

// serveWeb answers with the built interface: a file where the path names one, else the one page,
// which finds its way by itself. Large files lie there compressed as well and are sent so.
func (s *Server) serveWeb(c *gin.Context) {
	if c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead {
		problem(c, http.StatusMethodNotAllowed, "This address can only be read.")
		return
	}
	name := strings.TrimPrefix(path.Clean(c.Request.URL.Path), "/")
	if name == "practice" {
		name = "practice.html"
	}
	if info, err := fs.Stat(s.Web, name); name == "" || err != nil || info.IsDir() {
		if strings.HasPrefix(name, "assets/") || path.Ext(name) != "" {
			problem(c, http.StatusNotFound, "There is nothing at this address.")
			return
		}
		name = "index.html"
	}
	if strings.HasPrefix(name, "assets/") { // named by their content
		c.Header("Cache-Control", "public, max-age=31536000, immutable")
	} else {
		c.Header("Cache-Control", "no-cache")
	}
	c.Header("Content-Type", mediaType(name))
	c.Header("Vary", "Accept-Encoding")
	for _, enc := range []struct{ name, suffix string }{{"br", ".br"}, {"gzip", ".gz"}} {
		if strings.Contains(c.GetHeader("Accept-Encoding"), enc.name) {
			if data, err := fs.ReadFile(s.Web, name+enc.suffix); err == nil {
				c.Header("Content-Encoding", enc.name)
				http.ServeContent(c.Writer, c.Request, "", time.Time{}, bytes.NewReader(data))
				return
			}
		}
	}
	data, err := fs.ReadFile(s.Web, name)
	if err != nil {
		problem(c, http.StatusNotFound, "The interface is not built. Run make build.")
		return
	}
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, bytes.NewReader(data))
}

// mediaType does not rely on the system's tables, which may lack what browsers insist on.
func mediaType(name string) string {
	switch path.Ext(name) {
	case ".js":
		return "text/javascript; charset=utf-8"
	case ".wasm":
		return "application/wasm"
	case ".ttf":
		return "font/ttf"
	case ".html":
		return "text/html; charset=utf-8"
	}
	return mime.TypeByExtension(path.Ext(name))
}

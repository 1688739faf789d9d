package server

import (
	"bytes"
	"mime"
	"net/http"
	"path"
	"strconv"
	"strings"
	"time"

	"raconte/engines/fonts"

	"github.com/gin-gonic/gin"
)

// serveWeb answers with the built interface: a file where the path names one, else the one page,
// which finds its way by itself. What lies packed is sent so to those who take it.
func (s *Server) serveWeb(c *gin.Context) {
	if c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead {
		end(c, http.StatusMethodNotAllowed, "This address can only be read.")
		return
	}
	name := strings.TrimPrefix(path.Clean(c.Request.URL.Path), "/")
	files := s.Web
	if face, is := strings.CutPrefix(name, "fonts/"); is && fonts.Files.Has(face) {
		files, name = fonts.Files, face
	}
	if name == "practice" {
		name = "practice.html"
	}
	if !files.Has(name) {
		if strings.HasPrefix(name, "assets/") || path.Ext(name) != "" {
			end(c, http.StatusNotFound, "There is nothing at this address.")
			return
		}
		name = "index.html"
	}
	sum, err := files.Sum(name)
	if err != nil {
		end(c, http.StatusNotFound, "The interface is not built. Run make build.")
		return
	}
	if strings.HasPrefix(name, "assets/") { // named by their content
		c.Header("Cache-Control", "public, max-age=31536000, immutable")
	} else {
		c.Header("Cache-Control", "no-cache")
	}
	c.Header("Content-Type", mediaType(name))
	c.Header("Vary", "Accept-Encoding")
	data, err := files.Packed(name)
	if err == nil && strings.Contains(c.GetHeader("Accept-Encoding"), "br") {
		c.Header("Content-Encoding", "br")
		sum += "-br"
	} else if data, err = files.Read(name); err != nil {
		s.fail(c, err)
		return
	}
	c.Header("ETag", strconv.Quote(sum))
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

package server

import (
	"bytes"
	"encoding/xml"
	"net/http"
	"strings"
	"time"

	"raconte/recorder"

	"github.com/gin-gonic/gin"
)

// GetRecorder answers with the recorder for browsers, as a zip.
func (s *Server) GetRecorder(c *gin.Context) error {
	var b bytes.Buffer
	if err := recorder.WriteZip(&b, "raconte-recorder"); err != nil {
		return err
	}
	c.Header("Content-Disposition", `attachment; filename="raconte-recorder.zip"`)
	c.Header("Content-Type", "application/zip")
	http.ServeContent(c.Writer, c.Request, "", time.Time{}, bytes.NewReader(b.Bytes()))
	return nil
}

// packed is the signed recorder; it is made when it is asked for first.
func (s *Server) packed() (recorder.Package, error) {
	s.packing.Lock()
	defer s.packing.Unlock()
	if s.packaged.ID == "" {
		p, err := recorder.Pack(s.Key)
		if err != nil {
			return p, err
		}
		s.packaged = p
	}
	return s.packaged, nil
}

// GetRecorderPackage answers with the signed recorder.
func (s *Server) GetRecorderPackage(c *gin.Context) error {
	p, err := s.packed()
	if err != nil {
		return err
	}
	return sent(c, "application/x-chrome-extension", p.Data)
}

// updates is how browsers ask for versions of what a policy has installed.
type updates struct {
	XMLName  xml.Name `xml:"gupdate"`
	Space    string   `xml:"xmlns,attr"`
	Protocol string   `xml:"protocol,attr"`
	App      struct {
		ID    string `xml:"appid,attr"`
		Check struct {
			Address string `xml:"codebase,attr"`
			Version string `xml:"version,attr"`
		} `xml:"updatecheck"`
	} `xml:"app"`
}

// GetRecorderUpdates answers with the version of the signed recorder.
func (s *Server) GetRecorderUpdates(c *gin.Context) error {
	p, err := s.packed()
	if err != nil {
		return err
	}
	version, err := recorder.Version()
	if err != nil {
		return err
	}
	u := updates{Space: "http://www.google.com/update2/response", Protocol: "2.0"} // the name of the format, not an address that is asked
	u.App.ID = p.ID
	u.App.Check.Address, u.App.Check.Version = s.Address+"/api/recorder/raconte.crx", version
	c.XML(http.StatusOK, u)
	return nil
}

// GetRecorderPolicy answers with the policy for browsers on many machines.
func (s *Server) GetRecorderPolicy(c *gin.Context) error {
	p, err := s.packed()
	if err != nil {
		return err
	}
	c.Header("Content-Disposition", `attachment; filename="raconte-recorder-policy.json"`)
	c.JSON(http.StatusOK, map[string]any{"ExtensionSettings": map[string]any{
		p.ID: map[string]any{"installation_mode": "normal_installed", "update_url": s.Address + "/api/recorder/updates.xml"},
	}})
	return nil
}

const feed = "/api/feed/"

// openToRecorders lets recorders in other programs and browsers send to the feed and read its answers, whatever site
// they count as. It is of no use to a page without a token: the feed takes no session.
func openToRecorders(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, feed) {
			h := w.Header()
			h.Set("Access-Control-Allow-Origin", "*")
			if r.Method == http.MethodOptions {
				h.Set("Access-Control-Allow-Methods", "GET, POST, PUT")
				h.Set("Access-Control-Allow-Headers", "Authorization, Content-Type")
				h.Set("Access-Control-Max-Age", "600")
				w.WriteHeader(http.StatusNoContent)
				return
			}
		}
		next.ServeHTTP(w, r)
	})
}

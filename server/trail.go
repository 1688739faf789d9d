package server

import (
	"encoding/csv"
	"net/http"
	"strings"
	"time"

	"raconte/api"
	"raconte/core/access"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

const (
	trailPage = 100
	trailFile = 100_000 // lines of a file, which keeps it under some 50 MB
)

// GetTrail answers with what was done.
func (s *Server) GetTrail(c *gin.Context, p api.GetTrailParams) error {
	q, err := askedOf(c, api.GetTrailFileParams{Document: p.Document, Act: p.Act, Account: p.Account, From: p.From, To: p.To})
	if err != nil {
		return err
	}
	q.Before = of(p.Before)
	all, err := s.Store.Trail.Trail(c.Request.Context(), q, accountOf(c).Viewer())
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, all, func(a store.Act) api.TrailLine {
		return api.TrailLine{Id: a.ID, At: a.At, Who: a.Who, Act: api.TrailAct(a.Act), Document: a.DocumentID, About: a.About, Told: a.Told}
	}))
}

// askedOf are the lines that are asked for. Not ok: it has answered that the whole trail is for administrators.
func askedOf(c *gin.Context, p api.GetTrailFileParams) (store.Asked, error) {
	q := store.Asked{Document: of(p.Document), Account: of(p.Account), Most: trailPage}
	if p.Act != nil {
		q.Act = string(*p.Act)
	}
	if p.From != nil {
		q.Since = &p.From.Time
	}
	if p.To != nil {
		until := p.To.AddDate(0, 0, 1)
		q.Until = &until
	}
	if q.Document == "" && !may(c, access.Administer, access.Thing{}) {
		return q, problem(http.StatusForbidden, denied[access.Administer])
	}
	return q, nil
}

// GetTrailFile answers with what was done as a file.
func (s *Server) GetTrailFile(c *gin.Context, p api.GetTrailFileParams) error {
	q, err := askedOf(c, p)
	if err != nil {
		return err
	}
	var out strings.Builder
	w := csv.NewWriter(&out)
	w.UseCRLF = true
	_ = w.Write([]string{"at", "who", "act", "about", "told", "document"}) // a strings.Builder takes everything
	for n := 0; n < trailFile; n += q.Most {
		q.Most = 1000
		all, err := s.Store.Trail.Trail(c.Request.Context(), q, accountOf(c).Viewer())
		if err != nil {
			return err
		}
		for _, a := range all {
			_ = w.Write([]string{a.At.UTC().Format(time.RFC3339), cell(a.Who), a.Act, cell(a.About), cell(a.Told), of(a.DocumentID)})
			q.Before = a.ID
		}
		if len(all) < q.Most {
			break
		}
	}
	w.Flush()
	c.Header("Content-Disposition", `attachment; filename="trail.csv"`)
	return sent(c, "text/csv; charset=utf-8", []byte(out.String()))
}

// cell is a text that a spreadsheet does not take for a formula.
func cell(text string) string {
	if text != "" && strings.ContainsRune("=+-@\t\r", rune(text[0])) {
		return "'" + text
	}
	return text
}

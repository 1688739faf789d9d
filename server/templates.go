package server

import (
	"context"
	"errors"
	"html/template"
	"io"
	"mime"
	"net/http"

	"raconte/api"
	"raconte/core/access"
	"raconte/core/refusal"
	"raconte/output"
	"raconte/output/formats"
	"raconte/output/html"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

// ListTemplates answers with the templates of the house.
func (s *Server) ListTemplates(c *gin.Context) error {
	all, err := s.Store.Setup.Templates(c.Request.Context())
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, each(s, c, all, func(t store.Template) api.Template { return templateOf(t, nil) }))
}

func templateOf(t store.Template, notes []output.Note) api.Template {
	return api.Template{
		Id: t.ID, Kind: api.TemplateKind(t.Kind), Name: t.Name, Bytes: t.Bytes, Script: t.Script, Version: t.Version, At: t.ChangedAt, By: t.ChangedName, Notes: notesOf(notes),
	}
}

func notesOf(notes []output.Note) []api.TemplateNote {
	out := []api.TemplateNote{}
	for _, n := range notes {
		one := api.TemplateNote{Text: n.Text, Fatal: n.Fatal}
		if n.Line > 0 {
			one.Line = &n.Line
		}
		if n.Where != "" {
			one.Where = &n.Where
		}
		out = append(out, one)
	}
	return out
}

// templateSent reads a template and looks at it; it fails where nothing can be made with it.
func (s *Server) templateSent(c *gin.Context, kind string, script bool) (data []byte, notes []output.Note, err error) {
	data, err = io.ReadAll(c.Request.Body)
	if err != nil {
		return nil, nil, bodyFailed(err, "The file did not arrive whole. Nothing was kept of it. Send it again.")
	}
	notes, err = s.Works.CheckTemplate(c.Request.Context(), kind, output.Own{Data: data, Script: script})
	for _, n := range notes {
		if n.Fatal && err == nil {
			err = refusal.New("Line %d: %s", n.Line, n.Text)
		}
	}
	if reason, refused := refusal.Reason(err); refused {
		return nil, nil, problem(http.StatusUnprocessableEntity, reason+" Nothing was kept.")
	}
	if err != nil {
		return nil, nil, err
	}
	return data, notes, nil
}

// AddTemplate keeps a template.
func (s *Server) AddTemplate(c *gin.Context, p api.AddTemplateParams) error {
	data, notes, err := s.templateSent(c, string(p.Kind), false)
	if err != nil {
		return err
	}
	t := store.Template{Kind: string(p.Kind), Name: p.Name, Bytes: int64(len(data)), ChangedBy: accountOf(c).ID}
	if t.SHA256, err = s.Works.KeepTemplate(c.Request.Context(), data); err == nil {
		t, err = s.Store.Setup.AddTemplate(c.Request.Context(), t)
	}
	if err != nil {
		return err
	}
	t.ChangedName = accountOf(c).DisplayName
	return answer(c, http.StatusCreated, templateOf(t, notes))
}

// aTemplate is a template that can be changed.
func (s *Server) aTemplate(c *gin.Context, id string) (store.Template, error) {
	t, err := s.Store.Setup.Template(c.Request.Context(), id)
	if err == nil && t.Deleted {
		err = store.ErrNotFound
	}
	return t, err
}

func (s *Server) changeTemplate(c *gin.Context, t store.Template, notes []output.Note) error {
	t.ChangedBy = accountOf(c).ID
	t, err := s.Store.Setup.ChangeTemplate(c.Request.Context(), t)
	if errors.Is(err, store.ErrConflict) {
		return problem(http.StatusConflict, "Someone else has changed this template since. Open it again; what you have can be kept as a template of its own.")
	}
	if err != nil {
		return err
	}
	t.ChangedName = accountOf(c).DisplayName
	return answer(c, http.StatusOK, templateOf(t, notes))
}

// ChangeTemplate keeps another file for a template. What may run script is an administrator's to say, each time.
func (s *Server) ChangeTemplate(c *gin.Context, id string, p api.ChangeTemplateParams) error {
	t, err := s.aTemplate(c, id)
	if err != nil {
		return err
	}
	t.Script = t.Script && may(c, access.Administer, access.Thing{})
	data, notes, err := s.templateSent(c, t.Kind, t.Script)
	if err != nil {
		return err
	}
	t.Version, t.Bytes = p.Version, int64(len(data))
	if t.SHA256, err = s.Works.KeepTemplate(c.Request.Context(), data); err != nil {
		return err
	}
	return s.changeTemplate(c, t, notes)
}

// RenameTemplate changes the name of a template, or whether it may run script.
func (s *Server) RenameTemplate(c *gin.Context, id string, in api.RenameTemplateJSONRequestBody) error {
	t, err := s.aTemplate(c, id)
	if err != nil {
		return err
	}
	if in.Script != nil {
		if !may(c, access.Administer, access.Thing{}) {
			return problem(http.StatusForbidden, "Whether a template may run script is for an administrator to say.")
		}
		t.Script = *in.Script
	}
	if in.Name != nil {
		t.Name = *in.Name
	}
	t.Version = in.Version
	return s.changeTemplate(c, t, nil)
}

// DeleteTemplate takes a template out of the choice.
func (s *Server) DeleteTemplate(c *gin.Context, id string) error {
	return empty(c, s.Store.Setup.DeleteTemplate(c.Request.Context(), id))
}

// GetTemplate answers with the file of a template.
func (s *Server) GetTemplate(c *gin.Context, id string) error {
	t, err := s.aTemplate(c, id)
	if err != nil {
		return err
	}
	data, err := s.Works.HouseFile(c.Request.Context(), t.SHA256)
	if err != nil {
		return err
	}
	handOut(c, t.Name+"."+t.Kind, data)
	return nil
}

// GetTemplateExample answers with a template to begin one's own from.
func (s *Server) GetTemplateExample(c *gin.Context, example string) error {
	if source, there := html.Source(example); there {
		handOut(c, example+".html", []byte(source))
		return nil
	}
	f, known := formats.Taking(example)
	if !known {
		return store.ErrNotFound
	}
	data, err := f.Example()
	if err != nil {
		return err
	}
	handOut(c, "example."+example, data)
	return nil
}

// handOut answers with a file to keep. It is never shown as a page of ours.
func handOut(c *gin.Context, name string, data []byte) {
	c.Header("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name}))
	c.Data(http.StatusOK, "application/octet-stream", data)
}

// CheckTemplate answers with what is to be said of a template that is being written.
func (s *Server) CheckTemplate(c *gin.Context, p api.CheckTemplateParams) error {
	data, err := io.ReadAll(c.Request.Body)
	if err != nil {
		return bodyFailed(err, "The template did not arrive whole.")
	}
	notes, err := s.Works.CheckTemplate(c.Request.Context(), "html", output.Own{Data: data, Script: of(p.Script)})
	if err != nil {
		return err
	}
	return answer(c, http.StatusOK, notesOf(notes))
}

// sandboxed is the policy of a page that is tried: it can do nothing and ask nothing, and stands in a frame of ours
// alone.
const sandboxed = "sandbox; default-src 'none'; img-src data:; style-src 'unsafe-inline'; frame-ancestors 'self'"

// scriptedFrame is that of one that may run script, in a world of its own.
const scriptedFrame = "sandbox allow-scripts; default-src 'none'; img-src data:; style-src 'unsafe-inline'; script-src 'unsafe-inline'; frame-ancestors 'self'"

// TryTemplate answers with the beginning of a document as a template shows it.
func (s *Server) TryTemplate(c *gin.Context, id string) error {
	source := c.PostForm("source")
	w, err := s.visible(c, id, true)
	if err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), longestWeighing)
	defer cancel()
	script := c.PostForm("script") == "true" && may(c, access.Administer, access.Thing{})
	var page bounded
	err = s.Works.Preview(ctx, &page, w.Whole, output.Own{Data: []byte(source), Script: script}, accountOf(c).Viewer())
	if errors.Is(err, errTooMuch) || ctx.Err() != nil && c.Request.Context().Err() == nil {
		err = refusal.New("It is too much to be shown here.")
	}
	c.Header("Content-Security-Policy", sandboxed)
	if reason, refused := refusal.Reason(err); refused {
		c.Data(http.StatusUnprocessableEntity, "text/html; charset=utf-8", []byte("<p>"+template.HTMLEscapeString(reason)+"</p>"))
		return nil
	}
	if err != nil {
		return err
	}
	if script {
		c.Header("Content-Security-Policy", scriptedFrame)
	}
	return sent(c, "text/html; charset=utf-8", page.Bytes())
}

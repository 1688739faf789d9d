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
func (s *Server) ListTemplates(c *gin.Context) {
	all, err := s.Store.Setup.Templates(c.Request.Context())
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, http.StatusOK, each(s, c, all, func(t store.Template) api.Template { return templateOf(t, nil) }))
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

// templateSent reads a template and looks at it; where nothing can be made with it, that is answered.
func (s *Server) templateSent(c *gin.Context, kind string, script bool) (data []byte, notes []output.Note, ok bool) {
	data, err := io.ReadAll(c.Request.Body)
	if err != nil {
		s.failBody(c, err, "The file did not arrive whole. Nothing was kept of it. Send it again.")
		return nil, nil, false
	}
	notes, err = s.Works.CheckTemplate(c.Request.Context(), kind, output.Own{Data: data, Script: script})
	for _, n := range notes {
		if n.Fatal && err == nil {
			err = refusal.New("Line %d: %s", n.Line, n.Text)
		}
	}
	if reason, refused := refusal.Reason(err); refused {
		problem(c, http.StatusUnprocessableEntity, reason+" Nothing was kept.")
		return nil, nil, false
	}
	if err != nil {
		s.fail(c, err)
		return nil, nil, false
	}
	return data, notes, true
}

// AddTemplate keeps a template.
func (s *Server) AddTemplate(c *gin.Context, p api.AddTemplateParams) {
	data, notes, ok := s.templateSent(c, string(p.Kind), false)
	if !ok {
		return
	}
	t := store.Template{Kind: string(p.Kind), Name: p.Name, Bytes: int64(len(data)), ChangedBy: accountOf(c).ID}
	var err error
	if t.SHA256, err = s.Works.KeepTemplate(c.Request.Context(), data); err == nil {
		t, err = s.Store.Setup.AddTemplate(c.Request.Context(), t)
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	t.ChangedName = accountOf(c).DisplayName
	s.answer(c, http.StatusCreated, templateOf(t, notes))
}

// aTemplate is a template that can be changed.
func (s *Server) aTemplate(c *gin.Context, id string) (store.Template, bool) {
	t, err := s.Store.Setup.Template(c.Request.Context(), id)
	if err == nil && t.Deleted {
		err = store.ErrNotFound
	}
	if err != nil {
		s.fail(c, err)
		return t, false
	}
	return t, true
}

func (s *Server) changeTemplate(c *gin.Context, t store.Template, notes []output.Note) {
	t.ChangedBy = accountOf(c).ID
	t, err := s.Store.Setup.ChangeTemplate(c.Request.Context(), t)
	if errors.Is(err, store.ErrConflict) {
		problem(c, http.StatusConflict, "Someone else has changed this template since. Open it again; what you have can be kept as a template of its own.")
		return
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	t.ChangedName = accountOf(c).DisplayName
	s.answer(c, http.StatusOK, templateOf(t, notes))
}

// ChangeTemplate keeps another file for a template. What may run script is an administrator's to say, each time.
func (s *Server) ChangeTemplate(c *gin.Context, id string, p api.ChangeTemplateParams) {
	t, ok := s.aTemplate(c, id)
	if !ok {
		return
	}
	t.Script = t.Script && may(c, access.Administer, access.Thing{})
	data, notes, ok := s.templateSent(c, t.Kind, t.Script)
	if !ok {
		return
	}
	t.Version, t.Bytes = p.Version, int64(len(data))
	var err error
	if t.SHA256, err = s.Works.KeepTemplate(c.Request.Context(), data); err != nil {
		s.fail(c, err)
		return
	}
	s.changeTemplate(c, t, notes)
}

// RenameTemplate changes the name of a template, or whether it may run script.
func (s *Server) RenameTemplate(c *gin.Context, id string) {
	var in api.RenameTemplateJSONBody
	if err := c.ShouldBindJSON(&in); err != nil {
		problem(c, http.StatusBadRequest, "Say what is to change.")
		return
	}
	t, ok := s.aTemplate(c, id)
	if !ok {
		return
	}
	if in.Script != nil {
		if !may(c, access.Administer, access.Thing{}) {
			problem(c, http.StatusForbidden, "Whether a template may run script is for an administrator to say.")
			return
		}
		t.Script = *in.Script
	}
	if in.Name != nil {
		t.Name = *in.Name
	}
	t.Version = in.Version
	s.changeTemplate(c, t, nil)
}

// DeleteTemplate takes a template out of the choice.
func (s *Server) DeleteTemplate(c *gin.Context, id string) {
	if err := s.Store.Setup.DeleteTemplate(c.Request.Context(), id); err != nil {
		s.fail(c, err)
		return
	}
	c.Status(http.StatusNoContent)
}

// GetTemplate answers with the file of a template.
func (s *Server) GetTemplate(c *gin.Context, id string) {
	t, ok := s.aTemplate(c, id)
	if !ok {
		return
	}
	data, err := s.Works.HouseFile(c.Request.Context(), t.SHA256)
	if err != nil {
		s.fail(c, err)
		return
	}
	handOut(c, t.Name+"."+t.Kind, data)
}

// GetTemplateExample answers with a template to begin one's own from.
func (s *Server) GetTemplateExample(c *gin.Context, example string) {
	if source, there := html.Source(example); there {
		handOut(c, example+".html", []byte(source))
		return
	}
	f, known := formats.Taking(example)
	if !known {
		s.fail(c, store.ErrNotFound)
		return
	}
	data, err := f.Example()
	if err != nil {
		s.fail(c, err)
		return
	}
	handOut(c, "example."+example, data)
}

// handOut answers with a file to keep. It is never shown as a page of ours.
func handOut(c *gin.Context, name string, data []byte) {
	c.Header("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name}))
	c.Data(http.StatusOK, "application/octet-stream", data)
}

// CheckTemplate answers with what is to be said of a template that is being written.
func (s *Server) CheckTemplate(c *gin.Context, p api.CheckTemplateParams) {
	data, err := io.ReadAll(c.Request.Body)
	if err != nil {
		s.failBody(c, err, "The template did not arrive whole.")
		return
	}
	notes, err := s.Works.CheckTemplate(c.Request.Context(), "html", output.Own{Data: data, Script: of(p.Script)})
	if err != nil {
		s.fail(c, err)
		return
	}
	s.answer(c, http.StatusOK, notesOf(notes))
}

// sandboxed is the policy of a page that is tried: it can do nothing and ask nothing, and stands in a frame of ours
// alone.
const sandboxed = "sandbox; default-src 'none'; img-src data:; style-src 'unsafe-inline'; frame-ancestors 'self'"

// scriptedFrame is that of one that may run script, in a world of its own.
const scriptedFrame = "sandbox allow-scripts; default-src 'none'; img-src data:; style-src 'unsafe-inline'; script-src 'unsafe-inline'; frame-ancestors 'self'"

// TryTemplate answers with the beginning of a document as a template shows it.
func (s *Server) TryTemplate(c *gin.Context, id string) {
	source := c.PostForm("source")
	w, _, err := s.visible(c, id, true)
	if err != nil {
		s.fail(c, err)
		return
	}
	ctx, cancel := context.WithTimeout(c.Request.Context(), longestWeighing)
	defer cancel()
	script := c.PostForm("script") == "true" && may(c, access.Administer, access.Thing{})
	var page bounded
	err = s.Works.Preview(ctx, &page, w, output.Own{Data: []byte(source), Script: script}, accountOf(c).Viewer())
	if errors.Is(err, errTooMuch) || ctx.Err() != nil && c.Request.Context().Err() == nil {
		err = refusal.New("It is too much to be shown here.")
	}
	c.Header("Content-Security-Policy", sandboxed)
	if reason, refused := refusal.Reason(err); refused {
		c.Data(http.StatusUnprocessableEntity, "text/html; charset=utf-8", []byte("<p>"+template.HTMLEscapeString(reason)+"</p>"))
		return
	}
	if err != nil {
		s.fail(c, err)
		return
	}
	if script {
		c.Header("Content-Security-Policy", scriptedFrame)
	}
	c.Data(http.StatusOK, "text/html; charset=utf-8", page.Bytes())
}

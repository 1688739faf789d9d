package tracker

import (
	"bytes"
	"html/template"
	"net/http"
	"strconv"

	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/extension"
)

// written is Markdown as HTML; what is HTML in it stays out.
var written = goldmark.New(goldmark.WithExtensions(extension.Table))

var page = template.Must(template.New("").Funcs(template.FuncMap{"written": func(s string) template.HTML {
	var out bytes.Buffer
	if err := written.Convert([]byte(s), &out); err != nil {
		return template.HTML(template.HTMLEscapeString(s))
	}
	return template.HTML(out.String()) //nolint:gosec // goldmark leaves HTML out
}, "states": func() []string { return States }}).Parse(`
{{define "head"}}<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Tracker, a stand-in</title>
<style>body{font:16px/1.5 sans-serif;margin:2rem auto;max-width:52rem;padding:0 1rem;color:#222}table{border-collapse:collapse;width:100%}td,th{text-align:left;border-bottom:1px solid #ccc;padding:.3rem .5rem}img{max-width:100%;border:1px solid #999}.plain{background:#ffd;padding:.3rem .6rem;border:1px solid #cc9}textarea,input,select{font:inherit;padding:.2rem}textarea{width:100%}</style>
<p class="plain">A stand-in for a tracker of faults, for trying Raconte. It forgets everything when it stops.</p>{{end}}
{{define "list"}}{{template "head"}}<h1>Issues</h1>{{if .}}<table><tr><th>Number<th>Title<th>State<th>By<th>Files</tr>
{{range .}}<tr><td>{{.Number}}<td><a href="/issues/{{.Number}}">{{.Title}}</a><td>{{.State}}<td>{{.Reporter}}<td>{{len .Files}}</tr>{{end}}</table>{{else}}<p>None yet.</p>{{end}}{{end}}
{{define "issue"}}{{template "head"}}<p><a href="/">All issues</a></p><h1>{{.Number}} {{.Title}}</h1>
<p>{{.State}}, by {{.Reporter}}{{if .Changes}}, changed {{.Changes}} times{{end}}. {{if .Link}}<a href="{{.Link}}" rel="noreferrer">Where it comes from</a>{{end}}</p>
<div>{{written .Text}}</div>
{{$n := .Number}}{{range $k, $f := .Files}}<h3>{{$f.Name}}, {{$f.Size}} bytes</h3>{{if eq $f.Type "image/png" "image/jpeg" "image/gif" "image/webp"}}<img src="/issues/{{$n}}/files/{{$k}}" alt="{{$f.Name}}">{{else if eq $f.Type "video/mp4"}}<video controls preload="none" src="/issues/{{$n}}/files/{{$k}}"></video>{{else}}<a href="/issues/{{$n}}/files/{{$k}}">Open</a>{{end}}{{end}}
<h2>Said</h2>{{range .Comments}}<p><b>{{.By}}</b> {{.At.Format "15:04"}}<br>{{.Said}}</p>{{else}}<p>Nothing yet.</p>{{end}}
<form method="post"><p><label>State <select name="state">{{$s := .State}}{{range states}}<option{{if eq . $s}} selected{{end}}>{{.}}</option>{{end}}</select></label>
<label>You <input name="by" maxlength="60" value="Mira, development"></label></p><p><label>Say something<br><textarea name="said" rows="3" maxlength="3000"></textarea></label></p><p><button>Keep</button></p></form>{{end}}`))

func (t *Tracker) list(w http.ResponseWriter, _ *http.Request) {
	_ = page.ExecuteTemplate(w, "list", t.Issues())
}

func (t *Tracker) show(w http.ResponseWriter, r *http.Request) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if i := t.of(w, r); i != nil {
		_ = page.ExecuteTemplate(w, "issue", i)
	}
}

func (t *Tracker) download(w http.ResponseWriter, r *http.Request) {
	t.mu.Lock()
	defer t.mu.Unlock()
	i := t.of(w, r)
	k, err := strconv.Atoi(r.PathValue("file"))
	if i == nil {
		return
	}
	if err != nil || k < 0 || k >= len(i.Files) {
		http.NotFound(w, r)
		return
	}
	w.Header().Set("Content-Type", i.Files[k].Type)
	_, _ = w.Write(i.Files[k].data)
}

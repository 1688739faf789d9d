// Package html writes a document as a web page: one file that needs nothing else, or a folder with the pictures beside
// it. How it looks is a template of html/template, given the data that docs/templates.md describes.
package html

import (
	"bufio"
	"context"
	"embed"
	"fmt"
	"html/template"
	"io"

	"raconte/core/refusal"
	"raconte/output"
	"raconte/output/flow"
)

//go:embed templates
var shipped embed.FS

// Templates are those that ship, in the order in which people are offered them.
var Templates = []output.Template{
	{Name: "page", Title: "A page"}, {Name: "steps", Title: "A step at a time"}, {Name: "printed", Title: "As printed"},
	{Name: "fragment", Title: "A fragment to paste into a wiki"},
}

// Format is the web page, in one file or, as a folder, with its pictures beside it.
type Format struct{ Folder bool }

// About names it.
func (f Format) About() output.About {
	if f.Folder {
		return output.About{Name: "html-folder", Title: "Web page with a folder of pictures", Extension: "zip", MediaType: "application/zip", Main: "index.html", Templates: Templates}
	}
	return output.About{Name: "html", Title: "Web page", Extension: "html", MediaType: "text/html; charset=utf-8", Templates: Templates}
}

// Write makes the page.
func (f Format) Write(ctx context.Context, w io.Writer, in output.Input, o output.Options) error {
	if o.Template == "" {
		o.Template = Templates[0].Name
	}
	t, err := template.ParseFS(shipped, "templates/"+o.Template+".html", "templates/parts.html")
	if err != nil {
		return refusal.New("There is no template %q for web pages.", o.Template)
	}
	d := flow.Read(ctx, in, o)
	if !f.Folder {
		buf := bufio.NewWriter(w)
		if err := t.ExecuteTemplate(buf, o.Template+".html", d); err != nil {
			return cause(ctx, err)
		}
		return buf.Flush()
	}
	folder := flow.NewFolder(w, in.Made)
	beside := o.Beside
	if beside == "" {
		beside = "pictures"
	}
	if err := folder.Pictures(ctx, d, beside+"/", beside+"/"); err != nil {
		return err
	}
	page, err := folder.Create("index.html", false)
	if err == nil {
		err = t.ExecuteTemplate(page, o.Template+".html", d)
	}
	if err != nil {
		return cause(ctx, err)
	}
	return folder.Close()
}

// cause is what stopped a template: nobody waiting any more goes before all else.
func cause(ctx context.Context, err error) error {
	if ctx.Err() != nil {
		return ctx.Err()
	}
	return fmt.Errorf("writing the page: %w", err)
}

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
		return output.About{Name: "html-folder", Title: "Web page with a folder of pictures", Extension: "zip", MediaType: "application/zip", Main: "index.html", Plays: true, Templates: Templates, Own: "html"}
	}
	return output.About{Name: "html", Title: "Web page", Extension: "html", MediaType: "text/html; charset=utf-8", Plays: true, Templates: Templates, Own: "html"}
}

// executor writes a document through a template.
type executor func(ctx context.Context, w io.Writer, d *flow.Document) error

// Write makes the page.
func (f Format) Write(ctx context.Context, w io.Writer, in output.Input, o output.Options) error {
	execute, err := templateFor(o)
	if err != nil {
		return err
	}
	d := flow.Read(ctx, in, o)
	if !f.Folder {
		buf := bufio.NewWriter(w)
		if err := execute(ctx, buf, d); err != nil {
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
		err = execute(ctx, page, d)
	}
	if err != nil {
		return cause(ctx, err)
	}
	return folder.Close()
}

// templateFor is the template that is asked for: the house's own, or one that ships.
func templateFor(o output.Options) (executor, error) {
	if o.Own != nil {
		own, notes := parseOwn(o.Own)
		if len(notes) > 0 {
			return nil, refusal.New("The template is not in order. Line %d: %s", notes[0].Line, notes[0].Text)
		}
		return own.execute, nil
	}
	if o.Template == "" {
		o.Template = Templates[0].Name
	}
	t, err := template.ParseFS(shipped, "templates/"+o.Template+".html", "templates/parts.html")
	if err != nil {
		return nil, refusal.New("There is no template %q for web pages.", o.Template)
	}
	return func(_ context.Context, w io.Writer, d *flow.Document) error {
		return t.ExecuteTemplate(w, o.Template+".html", d)
	}, nil
}

// Example is a template to begin one of the house's own from: the page, in one file.
func (Format) Example() ([]byte, error) {
	source, _ := Source(Templates[0].Name)
	return []byte(source), nil
}

// Source is a template that ships as one file, to make one of the house's own from.
func Source(name string) (string, bool) {
	page, err := shipped.ReadFile("templates/" + name + ".html")
	if err != nil || name == "parts" {
		return "", false
	}
	parts, err := shipped.ReadFile("templates/parts.html")
	return string(page) + "\n" + string(parts), err == nil
}

// cause is what stopped a template: nobody waiting any more goes before all else.
func cause(ctx context.Context, err error) error {
	if ctx.Err() != nil {
		return ctx.Err()
	}
	return fmt.Errorf("writing the page: %w", err)
}

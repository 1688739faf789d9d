// Package markdown writes a document as CommonMark, with its pictures in a folder beside it. Tables are those of GitHub
// Flavored Markdown, since CommonMark has none.
package markdown

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"raconte/core/story"
	"raconte/core/words"
	"raconte/output"
	"raconte/output/flow"
)

// Format is Markdown, as a folder.
type Format struct{}

// About names it.
func (Format) About() output.About {
	return output.About{Name: "md", Plays: true, Title: "Markdown with a folder of pictures", Extension: "md", MediaType: "application/zip", Main: "document.md"}
}

// Words is Markdown without pictures, for the clipboard: what stands for them is written.
type Words struct{}

// About names it.
func (Words) About() output.About {
	return output.About{Name: "markdown-words", Title: "Markdown without pictures", Extension: "md", MediaType: "text/markdown; charset=utf-8"}
}

// Write writes the document.
func (Words) Write(ctx context.Context, w io.Writer, in output.Input, o output.Options) error {
	_, err := w.Write(document(flow.Read(ctx, in, o), o.Bare))
	return errors.Join(err, ctx.Err())
}

// Write makes the folder.
func (Format) Write(ctx context.Context, w io.Writer, in output.Input, o output.Options) error {
	d := flow.Read(ctx, in, o)
	beside := o.Beside
	if beside == "" {
		beside = "pictures"
	}
	folder := flow.NewFolder(w, in.Made)
	if err := folder.Pictures(ctx, d, beside+"/", strings.ReplaceAll(beside, " ", "%20")+"/"); err != nil {
		return err
	}
	if err := folder.Put("document.md", Document(d), false); err != nil {
		return err
	}
	if err := ctx.Err(); err != nil {
		return err
	}
	return folder.Close()
}

// Document is a document as Markdown; its pictures are named already.
func Document(d *flow.Document) []byte { return document(d, false) }

func document(d *flow.Document, bare bool) []byte {
	var out bytes.Buffer
	reader := d.Story().Reader()
	say := func(format string, args ...any) { fmt.Fprintf(&out, format, args...) }
	if !bare {
		say("# %s\n\n", Escape(d.Title))
		if d.Draft != "" {
			say("**%s**\n\n", Escape(d.Draft))
		}
		say("%s. %s\n\n", Escape(d.Kind), Escape(d.Meta))
	}
	warn(&out, d.Notice)
	for _, b := range d.Blocks {
		if b.Heading() {
			say("%s %s\n\n", strings.Repeat("#", min(b.Depth, 2)+1), Escape(strings.TrimSpace(b.Number+" "+b.Title)))
			continue
		}
		if b.Step() {
			say("#### %s %s\n\n", Escape(d.Words["step"]), Escape(b.Number))
		}
		if b.Critical != "" {
			say("**%s**\n\n", Escape(b.Critical))
		}
		warn(&out, b.Notice)
		if said := said(reader, b.Source); said != "" {
			say("%s\n\n", said)
		}
		if b.Time != "" {
			say("*%s*\n\n", Escape(b.Time))
		}
		for _, l := range b.Links {
			if l.Address != "" {
				say("[%s](<%s>)\n\n", Escape(l.Said), strings.NewReplacer("<", "%3C", ">", "%3E").Replace(l.Address))
			} else {
				say("%s\n\n", Escape(l.Said))
			}
		}
		for _, p := range b.Pictures {
			if bare {
				say("*%s*\n\n", Escape(p.Numbered()))
			} else if alt := Escape(strings.ReplaceAll(p.Alt, "\n", " ")); p.Name == "" {
				say("*%s*\n\n", alt)
			} else {
				say("![%s](%s)\n\n", alt, p.Name)
				if p.Film != "" {
					say("[%s](%s)\n\n", Escape(d.Words["play"]), p.Film)
				}
			}
			if p.Caption != "" {
				say("*%s*\n\n", Escape(p.Caption))
			}
		}
	}
	return append(bytes.TrimRight(out.Bytes(), "\n"), '\n')
}

func warn(out *bytes.Buffer, n *flow.Notice) {
	if n == nil {
		return
	}
	fmt.Fprintf(out, "> **%s**\n", Escape(n.Word))
	for _, l := range n.Lines {
		fmt.Fprintf(out, ">\n> %s\n", Escape(l))
	}
	out.WriteByte('\n')
}

// said are the words of a block as Markdown.
func said(r story.Reader, b story.Block) string {
	var w writer
	r.Walk(b, &w)
	return w.String()
}

// writer writes words as Markdown.
type writer struct {
	strings.Builder
	words.Flat
	begun, listed bool // whether anything is written, and the last of it stands in a list
}

func (w *writer) Paragraph(p words.Paragraph) {
	switch {
	case !w.begun:
	case p.Bullet != "" && w.listed:
		w.WriteString("\n")
	default:
		w.WriteString("\n\n")
	}
	w.begun, w.listed = true, p.Depth > 0
	// What follows in an item stands as far in as the item's own words: a bullet and a space.
	indent := strings.Repeat("   ", max(0, p.Depth-1))
	switch {
	case p.Bullet == "" && p.Depth > 0:
		indent += "   "
		w.WriteString(indent)
	case strings.HasSuffix(p.Bullet, "."):
		w.WriteString(indent + p.Bullet + " ")
		indent += "   "
	case p.Bullet != "":
		w.WriteString(indent + "-  ")
		indent += "   "
	}
	w.WriteString(strings.ReplaceAll(spans(p), "\n", "\\\n"+indent))
}

// Table writes a table; one without a head has an empty one, since Markdown knows no other.
func (w *writer) Table(t words.Table) {
	if w.begun {
		w.WriteString("\n\n")
	}
	w.begun, w.listed = true, false
	rows := make([][]string, 0, len(t.Rows)+1)
	if !slices.ContainsFunc(t.Rows[0], func(c words.Cell) bool { return c.Head }) {
		rows = append(rows, make([]string, t.Columns))
	}
	for _, row := range t.Rows {
		said := make([]string, t.Columns)
		for i, c := range row {
			var lines []string
			for _, p := range c.Paragraphs() {
				lines = append(lines, strings.ReplaceAll(strings.ReplaceAll(spans(p), "|", `\|`), "\n", "<br>"))
			}
			said[i] = strings.Join(lines, "<br>")
		}
		rows = append(rows, said)
	}
	for i, row := range rows {
		w.WriteString("| " + strings.Join(row, " | ") + " |")
		if i == 0 {
			w.WriteString("\n|" + strings.Repeat(" --- |", t.Columns))
		}
		if i < len(rows)-1 {
			w.WriteString("\n")
		}
	}
}

func spans(p words.Paragraph) string {
	var out strings.Builder
	for _, s := range p.Spans {
		if s.Marker != "" {
			fmt.Fprintf(&out, "**\\[%s\\]**", Escape(s.Text))
			continue
		}
		said := flow.Clean(s.Text)
		// Marks stand at words, not at the spaces around them.
		trimmed := strings.TrimSpace(said)
		if trimmed == "" {
			out.WriteString(said)
			continue
		}
		from := strings.Index(said, trimmed)
		before, after := said[:from], said[from+len(trimmed):]
		switch {
		case s.Code && !strings.Contains(trimmed, "`"):
			trimmed = "`" + trimmed + "`"
		case s.Keycap:
			trimmed = "<kbd>" + Escape(trimmed) + "</kbd>"
		default:
			trimmed = Escape(trimmed)
		}
		if s.Bold || s.Control {
			trimmed = "**" + trimmed + "**"
		}
		if s.Italic {
			trimmed = "*" + trimmed + "*"
		}
		if s.Link != "" {
			trimmed = "[" + trimmed + "](<" + strings.NewReplacer("<", "%3C", ">", "%3E").Replace(s.Link) + ">)"
		}
		out.WriteString(before + trimmed + after)
	}
	return out.String()
}

// Escape is text that Markdown reads as what it is.
func Escape(s string) string {
	var out strings.Builder
	start := true // of a line
	digits := false
	for _, r := range s {
		switch {
		case strings.ContainsRune("\\`*_[]<>&|~", r):
			out.WriteByte('\\')
		case start && strings.ContainsRune("#+-=:", r), digits && (r == '.' || r == ')'):
			out.WriteByte('\\')
		}
		out.WriteRune(r)
		digits = r >= '0' && r <= '9' && (start || digits)
		start = r == '\n' || start && (r == ' ' || r == '\t')
	}
	return out.String()
}

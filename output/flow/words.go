package flow

import (
	"fmt"
	"html"
	"html/template"
	"strings"

	"raconte/core/story"
	"raconte/core/words"
)

// writer writes words as HTML that is XML too.
type writer struct {
	strings.Builder
	block story.Block
}

// HTML are the words of a block as HTML.
func HTML(r story.Reader, b story.Block) template.HTML {
	w := &writer{block: b}
	if !b.Words.Empty() {
		r.Walk(b, w)
	}
	return template.HTML(w.String())
}

func (w *writer) Paragraph(p words.Paragraph) {
	w.WriteString(`<p dir="auto">`)
	for _, s := range p.Spans {
		if s.Marker != "" {
			w.marker(s)
			continue
		}
		open, close := tags(s)
		w.WriteString(open + strings.ReplaceAll(html.EscapeString(Clean(s.Text)), "\n", "<br/>") + close)
	}
	w.WriteString("</p>\n")
}

func (w *writer) Open(l words.List) {
	if l.Item {
		w.WriteString(`<li dir="auto">`)
		return
	}
	w.WriteString("<" + ListTag(l) + ">\n")
}

func (w *writer) Close(l words.List) { w.WriteString("</" + ListTag(l) + ">\n") }

// ListTag is what HTML, and DITA after it, calls a list or an item of one.
func ListTag(l words.List) string {
	switch {
	case l.Item:
		return "li"
	case l.Ordered:
		return "ol"
	}
	return "ul"
}

func (w *writer) Table(t words.Table) {
	w.WriteString("<table>\n<tbody>\n")
	for _, row := range t.Rows {
		w.WriteString("<tr>")
		for _, cell := range row {
			tag := map[bool]string{true: "th", false: "td"}[cell.Head]
			w.WriteString("<" + tag + ">")
			cell.Walk(w)
			w.WriteString("</" + tag + ">")
		}
		if len(row) == 0 {
			w.WriteString("<td></td>")
		}
		w.WriteString("</tr>\n")
	}
	w.WriteString("</tbody>\n</table>\n")
}

func (w *writer) marker(s words.Span) {
	tag, there := w.block.Tags[s.Marker]
	if !there {
		w.WriteString(`<span class="marker">?</span>`)
		return
	}
	fmt.Fprintf(w, `<span class="marker" style="background:%s;color:%s">%s</span>`, tag.Ink, tag.On, html.EscapeString(s.Text))
}

// tags are those around a piece of text.
func tags(s words.Span) (open, close string) {
	wrap := func(o, c string) { open, close = open+o, c+close }
	switch {
	case s.Link != "":
		wrap(`<a href="`+html.EscapeString(s.Link)+`">`, "</a>")
	case s.Inside != "":
		wrap(`<a href="#`+Anchor(s.Inside)+`">`, "</a>")
	}
	if s.Bold {
		wrap("<strong>", "</strong>")
	}
	if s.Control {
		wrap(`<strong class="control">`, "</strong>")
	}
	if s.Italic {
		wrap("<em>", "</em>")
	}
	if s.Keycap {
		wrap("<kbd>", "</kbd>")
	}
	if s.Code {
		wrap("<code>", "</code>")
	}
	return open, close
}

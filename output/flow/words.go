package flow

import (
	"fmt"
	"html"
	"html/template"
	"strings"

	"raconte/core/document"
	"raconte/core/story"
	"raconte/core/words"
)

// writer writes words as HTML that is XML too.
type writer struct {
	strings.Builder
	block  story.Block
	where  map[string]string // blocks where what can be referred to stands, by its id
	others document.Around
}

// HTML are the words of a block as HTML.
func HTML(b story.Block, where map[string]string, others document.Around) template.HTML {
	w := &writer{block: b, where: where, others: others}
	if !b.Words.Empty() {
		w.blocks(b.Words.Content)
	}
	return template.HTML(w.String())
}

func (w *writer) blocks(nodes []words.Node) {
	for _, n := range nodes {
		switch n.Type {
		case "paragraph":
			w.WriteString(`<p dir="auto">`)
			w.inline(n.Content)
			w.WriteString("</p>\n")
		case "bulletList", "orderedList":
			tag := map[string]string{"bulletList": "ul", "orderedList": "ol"}[n.Type]
			w.WriteString("<" + tag + ">\n")
			for _, item := range n.Content {
				w.WriteString(`<li dir="auto">`)
				w.blocks(item.Content)
				w.WriteString("</li>\n")
			}
			w.WriteString("</" + tag + ">\n")
		case "table":
			w.WriteString("<table>\n<tbody>\n")
			for _, row := range n.Content {
				w.WriteString("<tr>")
				for _, cell := range row.Content {
					tag := map[bool]string{true: "th", false: "td"}[cell.Type == "tableHeader"]
					w.WriteString("<" + tag + ">")
					w.blocks(cell.Content)
					w.WriteString("</" + tag + ">")
				}
				if len(row.Content) == 0 {
					w.WriteString("<td></td>")
				}
				w.WriteString("</tr>\n")
			}
			w.WriteString("</tbody>\n</table>\n")
		}
	}
}

func (w *writer) inline(nodes []words.Node) {
	p := words.Node{Type: "doc", Content: []words.Node{{Type: "paragraph", Content: nodes}}}.Paragraphs()[0]
	for _, s := range p.Spans {
		if s.Marker != "" {
			w.marker(s.Marker)
			continue
		}
		open, close := w.tags(s)
		said := strings.ReplaceAll(html.EscapeString(Clean(s.Text)), "\n", "<br/>")
		w.WriteString(open + said + close)
	}
}

func (w *writer) marker(id string) {
	tag, there := w.block.Tags[id]
	if !there {
		w.WriteString(`<span class="marker">?</span>`)
		return
	}
	fmt.Fprintf(w, `<span class="marker" style="background:%s;color:%s">%s</span>`, tag.Ink, tag.On, html.EscapeString(tag.Label))
}

// tags are those around a piece of text.
func (w *writer) tags(s words.Span) (open, close string) {
	wrap := func(o, c string) { open, close = open+o, c+close }
	switch {
	case s.Link != "":
		wrap(`<a href="`+html.EscapeString(s.Link)+`">`, "</a>")
	case s.To != "":
		if inside, there := w.where[s.To]; there {
			wrap(`<a href="#`+Anchor(inside)+`">`, "</a>")
		} else if o := w.others[s.To]; o.Address != "" {
			wrap(`<a href="`+html.EscapeString(o.Address)+`">`, "</a>")
		}
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

// Marker is what a reference to a marker reads as in a block; "?" where the marker is gone.
func Marker(b story.Block, id string) string {
	if tag, there := b.Tags[id]; there {
		return tag.Label
	}
	return "?"
}

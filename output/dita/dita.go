// Package dita writes a document as DITA 1.3 (OASIS): a map, a task topic for what is done under each heading, and a
// concept topic where nothing is done, with the pictures beside them.
package dita

import (
	"context"
	"fmt"
	"html"
	"io"
	"strings"

	"raconte/core/story"
	"raconte/core/words"
	"raconte/output"
	"raconte/output/flow"
)

// Format is DITA, as a folder.
type Format struct{}

// About names it.
func (Format) About() output.About {
	return output.About{Name: "dita", Title: "DITA map and topics", Extension: "dita", MediaType: "application/zip", Main: "document.ditamap"}
}

// topic is a file: what stands under one heading.
type topic struct {
	id, name string
	title    string
	depth    int // of its heading; 0 of what stands before the first
	blocks   []flow.Block
}

// book is what topics are written from.
type book struct {
	doc    *flow.Document
	reader story.Reader
	topics map[string]*topic // by block
}

// Write makes the folder.
func (Format) Write(ctx context.Context, w io.Writer, in output.Input, o output.Options) error {
	d := flow.Read(ctx, in, o)
	beside := o.Beside
	if beside == "" {
		beside = "topics"
	}
	folder := flow.NewFolder(w, in.Made)
	if err := folder.Pictures(ctx, d, beside+"/pictures/", "pictures/"); err != nil {
		return err
	}
	b := &book{doc: d, reader: d.Story().Reader(), topics: map[string]*topic{}}
	topics := b.divided()
	for _, t := range topics {
		if err := folder.Put(beside+"/"+t.name, []byte(b.written(t)), false); err != nil {
			return err
		}
	}
	if err := folder.Put("document.ditamap", []byte(b.mapped(topics, strings.ReplaceAll(beside, " ", "%20"))), false); err != nil {
		return err
	}
	if err := ctx.Err(); err != nil {
		return err
	}
	return folder.Close()
}

// divided are the topics: each heading begins one.
func (b *book) divided() []*topic {
	topics := []*topic{{id: "start", name: "start.dita", title: b.doc.Title}}
	for i, block := range b.doc.Blocks {
		if block.Heading() {
			topics = append(topics, &topic{id: fmt.Sprint("topic", i+1), name: fmt.Sprintf("topic%03d.dita", i+1), title: block.Title, depth: block.Depth})
		}
		last := topics[len(topics)-1]
		b.topics[block.Source.ID] = last
		if !block.Heading() {
			last.blocks = append(last.blocks, block)
		}
	}
	if len(topics) > 1 && len(topics[0].blocks) == 0 && b.doc.Notice == nil {
		return topics[1:]
	}
	return topics
}

func (b *book) mapped(topics []*topic, beside string) string {
	var out strings.Builder
	out.WriteString(declaration + "<!DOCTYPE map PUBLIC \"-//OASIS//DTD DITA Map//EN\" \"map.dtd\">\n")
	fmt.Fprintf(&out, "<map xml:lang=\"%s\">\n<title>%s</title>\n", b.doc.Language, esc(b.doc.Title))
	open := 0
	for _, t := range topics {
		depth := min(max(t.depth, 1), open+1)
		out.WriteString(strings.Repeat("</topicref>\n", open-depth+1))
		kind := "concept"
		if t.does() {
			kind = "task"
		}
		fmt.Fprintf(&out, "<topicref href=\"%s/%s\" type=\"%s\">\n", beside, t.name, kind)
		open = depth
	}
	out.WriteString(strings.Repeat("</topicref>\n", open) + "</map>\n")
	return out.String()
}

const declaration = `<?xml version="1.0" encoding="UTF-8"?>` + "\n"

// does tells whether anything is done in the topic.
func (t *topic) does() bool {
	for _, block := range t.blocks {
		if block.Step() {
			return true
		}
	}
	return false
}

func (b *book) written(t *topic) string {
	var out strings.Builder
	kind := "concept"
	if t.does() {
		kind = "task"
	}
	public := map[string]string{"task": "Task", "concept": "Concept"}[kind]
	fmt.Fprintf(&out, "%s<!DOCTYPE %s PUBLIC \"-//OASIS//DTD DITA %s//EN\" \"%s.dtd\">\n<%s id=\"%s\" xml:lang=\"%s\">\n<title>%s</title>\n", declaration, kind, public, kind, kind, t.id, b.doc.Language, esc(t.title))
	first := ""
	if t.depth == 0 {
		fmt.Fprintf(&out, "<shortdesc>%s</shortdesc>\n", esc(b.doc.Kind+". "+b.doc.Meta))
		first = note(b.doc.Notice)
	}
	if kind == "concept" {
		out.WriteString("<conbody>\n" + first)
		for _, block := range t.blocks {
			fmt.Fprintf(&out, "<div id=\"%s\">%s</div>\n", block.ID, b.passage(block))
		}
		out.WriteString("</conbody>\n</concept>\n")
		return out.String()
	}
	out.WriteString("<taskbody>\n")
	at := 0
	for ; !t.blocks[at].Step(); at++ { // what stands before the first step is the context of all
		first += fmt.Sprintf("<div id=\"%s\">%s</div>\n", t.blocks[at].ID, b.passage(t.blocks[at]))
	}
	if first != "" {
		out.WriteString("<context>\n" + first + "</context>\n")
	}
	last := len(t.blocks)
	for ; !t.blocks[last-1].Step(); last-- {
	}
	out.WriteString("<steps>\n")
	between := ""
	for _, block := range t.blocks[at:last] {
		if !block.Step() {
			between += fmt.Sprintf("<div id=\"%s\">%s</div>", block.ID, b.passage(block))
			continue
		}
		if between != "" {
			fmt.Fprintf(&out, "<stepsection>%s</stepsection>\n", between)
			between = ""
		}
		b.step(&out, block)
	}
	out.WriteString("</steps>\n")
	if last < len(t.blocks) {
		out.WriteString("<result>\n")
		for _, block := range t.blocks[last:] {
			fmt.Fprintf(&out, "<div id=\"%s\">%s</div>\n", block.ID, b.passage(block))
		}
		out.WriteString("</result>\n")
	}
	out.WriteString("</taskbody>\n</task>\n")
	return out.String()
}

// step writes a step: its first paragraph is the command, the rest explains it.
func (b *book) step(out *strings.Builder, block flow.Block) {
	importance := ""
	if block.Critical != "" {
		importance = ` importance="urgent"`
	}
	fmt.Fprintf(out, "<step id=\"%s\"%s>\n%s", block.ID, importance, note(block.Notice))
	source, command := block.Source, ""
	if nodes := source.Words.Content; len(nodes) > 0 && nodes[0].Type == "paragraph" {
		first := source
		first.Words.Content, source.Words.Content = nodes[:1], nodes[1:]
		command = strings.TrimSuffix(strings.TrimPrefix(b.words(first), "<p>"), "</p>\n")
	}
	fmt.Fprintf(out, "<cmd>%s</cmd>\n", command)
	rest := b.words(source) + b.beside(block)
	if block.Critical != "" {
		rest = "<p>" + esc(block.Critical) + "</p>\n" + rest
	}
	if rest != "" {
		fmt.Fprintf(out, "<info>\n%s</info>\n", rest)
	}
	out.WriteString("</step>\n")
}

func (b *book) passage(block flow.Block) string {
	return note(block.Notice) + b.words(block.Source) + b.beside(block)
}

// beside is what stands beside the words: time, links and pictures.
func (b *book) beside(block flow.Block) string {
	var out strings.Builder
	if block.Time != "" {
		fmt.Fprintf(&out, "<p>%s</p>\n", esc(block.Time))
	}
	for _, l := range block.Links {
		if l.Address == "" {
			fmt.Fprintf(&out, "<p>%s</p>\n", esc(l.Said))
			continue
		}
		fmt.Fprintf(&out, "<p><xref href=\"%s\" format=\"html\" scope=\"external\">%s</xref></p>\n", esc(l.Address), esc(l.Said))
	}
	for _, p := range block.Pictures {
		title := ""
		if p.Caption != "" {
			title = "<title>" + esc(p.Caption) + "</title>"
		}
		fmt.Fprintf(&out, "<fig id=\"%s\">%s<image href=\"%s\" placement=\"break\"><alt>%s</alt></image></fig>\n", p.ID, title, p.Name, esc(p.Alt))
	}
	return out.String()
}

func note(n *flow.Notice) string {
	if n == nil {
		return ""
	}
	lines := ""
	for _, l := range n.Lines {
		lines += "<p>" + esc(l) + "</p>"
	}
	return fmt.Sprintf("<note type=\"%s\">%s</note>\n", n.Signal, lines)
}

// words are the words of a block.
func (b *book) words(block story.Block) string {
	w := writer{book: b}
	b.reader.Walk(block, &w)
	return w.String()
}

// writer writes words as DITA has them.
type writer struct {
	strings.Builder
	book *book
}

func (w *writer) Open(l words.List) {
	w.WriteString("<" + flow.ListTag(l) + ">")
	if !l.Item {
		w.WriteString("\n")
	}
}

func (w *writer) Close(l words.List) { w.WriteString("</" + flow.ListTag(l) + ">\n") }

func (w *writer) Table(t words.Table) {
	w.WriteString("<simpletable>\n")
	for i, row := range t.Rows {
		tag := map[bool]string{true: "sthead", false: "strow"}[i == 0 && words.Head(row)]
		w.WriteString("<" + tag + ">")
		for _, c := range row {
			w.WriteString("<stentry>")
			c.Walk(w)
			w.WriteString("</stentry>")
		}
		if len(row) == 0 {
			w.WriteString("<stentry/>")
		}
		w.WriteString("</" + tag + ">\n")
	}
	w.WriteString("</simpletable>\n")
}

func (w *writer) Paragraph(p words.Paragraph) {
	w.WriteString("<p>")
	for _, s := range p.Spans {
		if s.Marker != "" {
			w.WriteString(`<ph outputclass="marker">` + esc(s.Text) + "</ph>")
			continue
		}
		said := strings.ReplaceAll(esc(flow.Clean(s.Text)), "\n", " ")
		for _, tag := range []struct {
			on   bool
			name string
		}{{s.Code, "codeph"}, {s.Keycap, "userinput"}, {s.Control, "uicontrol"}, {s.Bold, "b"}, {s.Italic, "i"}} {
			if tag.on {
				said = "<" + tag.name + ">" + said + "</" + tag.name + ">"
			}
		}
		if s.Link != "" {
			said = `<xref href="` + esc(s.Link) + `" format="html" scope="external">` + said + "</xref>"
		} else if t := w.book.topics[s.Inside]; t != nil {
			to := t.name + "#" + t.id
			if id := flow.Anchor(s.Inside); !heads(w.book.doc, s.Inside) {
				to += "/" + id
			}
			said = `<xref href="` + to + `">` + said + "</xref>"
		}
		w.WriteString(said)
	}
	w.WriteString("</p>\n")
}

// heads tells whether a block is a heading: a topic of its own then.
func heads(d *flow.Document, id string) bool {
	for _, b := range d.Blocks {
		if b.Source.ID == id {
			return b.Heading()
		}
	}
	return false
}

func esc(s string) string { return html.EscapeString(s) }

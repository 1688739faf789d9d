package prose

import (
	"bytes"
	"context"
	"encoding/base64"
	"io/fs"
	"net/url"
	"path"
	"strconv"
	"strings"

	"raconte/core/words"
	"raconte/intake"

	"github.com/andybalholm/cascadia"
	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/extension"
	markup "github.com/yuin/goldmark/renderer/html"
	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// readMarkdown reads CommonMark with tables.
func readMarkdown(_ context.Context, files fs.FS, name string) (*source, func(string) ([]byte, error), error) {
	raw, err := readFile(files, name, mostText)
	if err != nil {
		return nil, nil, err
	}
	if err := boundMarkdown(name, raw); err != nil {
		return nil, nil, err
	}
	var out bytes.Buffer
	md := goldmark.New(goldmark.WithExtensions(extension.Table, extension.Strikethrough, extension.Footnote),
		goldmark.WithRendererOptions(markup.WithUnsafe())) // what is HTML in it is read as HTML is
	if err := md.Convert(raw, &out); err != nil {
		return nil, nil, refuse("%s can't be read as Markdown.", path.Base(name))
	}
	return parseHTML(files, name, out.Bytes())
}

func readHTML(_ context.Context, files fs.FS, name string) (*source, func(string) ([]byte, error), error) {
	raw, err := readFile(files, name, mostText+intake.MostBytes)
	if err != nil {
		return nil, nil, err
	}
	return parseHTML(files, name, raw)
}

func parseHTML(files fs.FS, name string, raw []byte) (*source, func(string) ([]byte, error), error) {
	root, err := html.ParseWithOptions(bytes.NewReader(raw), html.ParseOptionEnableScripting(false))
	if err != nil {
		return nil, nil, refuse("%s can't be read as HTML.", path.Base(name))
	}
	r := &htmlReader{source: &source{}, notes: &notes{of: map[string][]words.Node{}}}
	if unhidden(root) {
		r.leave("What was hidden or deleted.")
	}
	r.readNotes(root)
	r.flow(root, 0)
	r.after = r.notes.said
	return r.source, func(picture string) ([]byte, error) { return beside(files, name, picture) }, nil
}

// beside is a picture that a text names: in the text itself, or in a file of the same folder. Nothing is fetched.
func beside(files fs.FS, text, picture string) ([]byte, error) {
	if data, in := strings.CutPrefix(picture, "data:"); in {
		head, body, _ := strings.Cut(data, ",")
		if !strings.HasSuffix(head, ";base64") {
			return nil, refuse("It is written in a way that is not read.")
		}
		return base64.StdEncoding.DecodeString(strings.Map(func(r rune) rune {
			if r <= ' ' {
				return -1
			}
			return r
		}, body))
	}
	u, err := url.Parse(picture)
	if err != nil || u.Scheme != "" || u.Host != "" {
		return nil, refuse("It lies elsewhere.")
	}
	at := path.Join(path.Dir(text), u.Path)
	if !fs.ValidPath(at) {
		return nil, refuse("It lies outside of the folder.")
	}
	return readFile(files, at, intake.MostBytes)
}

const deepest = 200 // elements within each other

type htmlReader struct {
	*source
	notes *notes
}

// flow reads what stands on its own: headings, paragraphs, lists, tables.
func (r *htmlReader) flow(n *html.Node, depth int) {
	if depth > deepest || len(r.pieces) > mostPieces {
		r.leave("What lies deeper, or further down, than can be read.")
		return
	}
	var inline []words.Node
	var shows []shown
	flush := func() {
		if said := tidied(inline); len(said) > 0 || len(shows) > 0 {
			r.pieces = append(r.pieces, piece{inline: said, shows: shows})
		}
		inline, shows = nil, nil
	}
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		switch {
		case c.Type == html.ElementNode && ignored(c):
			r.note(c)
		case c.Type == html.ElementNode && c.DataAtom == atom.Title:
			r.title = strings.Join(strings.Fields(textOf(c)), " ")
		case c.Type == html.ElementNode && heading(c) > 0:
			flush()
			text, pictures := r.inline(c, nil, depth)
			r.pieces = append(r.pieces, piece{heading: heading(c), inline: tidied(text)})
			if len(pictures) > 0 {
				r.pieces = append(r.pieces, piece{shows: pictures})
			}
		case c.Type == html.ElementNode && c.DataAtom == atom.Ol:
			flush()
			r.steps(c, depth)
		case c.Type == html.ElementNode && c.DataAtom == atom.Ul:
			flush()
			list, pictures := r.list(c, depth)
			r.pieces = append(r.pieces, piece{blocks: []words.Node{list}, shows: pictures})
		case c.Type == html.ElementNode && c.DataAtom == atom.Table:
			flush()
			r.pieces = append(r.pieces, piece{table: r.rows(c, depth)})
		case c.Type == html.ElementNode && c.DataAtom == atom.Figcaption:
			flush()
			text, pictures := r.inline(c, nil, depth)
			r.pieces = append(r.pieces, piece{inline: tidied(text), shows: pictures, caption: len(pictures) == 0})
		case c.Type == html.ElementNode && block(c):
			flush()
			r.flow(c, depth+1)
		case c.Type == html.DocumentNode || c.Type == html.ElementNode || c.Type == html.TextNode:
			text, pictures := r.inlineOf(c, nil, depth)
			inline, shows = append(inline, text...), append(shows, pictures...)
		}
	}
	flush()
}

// steps reads a numbered list: each item is a step.
func (r *htmlReader) steps(list *html.Node, depth int) {
	start := attribute(list, "start")
	begins := start == "" || start == "1"
	for li := list.FirstChild; li != nil; li = li.NextSibling {
		if li.Type != html.ElementNode {
			continue
		}
		blocks, shows := r.blocks(li, depth+1)
		r.pieces = append(r.pieces, piece{item: true, begins: begins, blocks: blocks, shows: shows})
		begins = false
	}
}

// list reads a list that stays one.
func (r *htmlReader) list(n *html.Node, depth int) (words.Node, []shown) {
	out := words.Node{Type: "bulletList"}
	if n.DataAtom == atom.Ol {
		out.Type = "orderedList"
	}
	var shows []shown
	for li := n.FirstChild; li != nil; li = li.NextSibling {
		if li.Type != html.ElementNode || depth > deepest {
			continue
		}
		blocks, pictures := r.blocks(li, depth+1)
		if len(blocks) == 0 {
			blocks = []words.Node{{Type: "paragraph"}}
		}
		out.Content = append(out.Content, words.Node{Type: "listItem", Content: blocks})
		shows = append(shows, pictures...)
	}
	return out, shows
}

// blocks reads what stands in a list item or a cell.
func (r *htmlReader) blocks(n *html.Node, depth int) (blocks []words.Node, shows []shown) {
	var inline []words.Node
	flush := func() {
		if t := tidied(inline); len(t) > 0 {
			blocks = append(blocks, words.Node{Type: "paragraph", Content: t})
		}
		inline = nil
	}
	for c := n.FirstChild; c != nil && depth < deepest; c = c.NextSibling {
		var pictures []shown
		switch {
		case c.Type == html.ElementNode && ignored(c):
			r.note(c)
		case c.Type == html.ElementNode && c.DataAtom == atom.Figcaption && len(shows) > 0 && described(shows[len(shows)-1].alt) == "":
			shows[len(shows)-1].alt = numberedAs.ReplaceAllString(strings.Join(strings.Fields(textOf(c)), " "), "")
		case c.Type == html.ElementNode && (c.DataAtom == atom.Ul || c.DataAtom == atom.Ol):
			flush()
			var list words.Node
			if list, pictures = r.list(c, depth+1); len(list.Content) > 0 {
				blocks = append(blocks, list)
			}
		case c.Type == html.ElementNode && (block(c) || heading(c) > 0 || c.DataAtom == atom.Table || c.DataAtom == atom.Tr || c.DataAtom == atom.Td):
			flush()
			var more []words.Node
			more, pictures = r.blocks(c, depth+1)
			blocks = append(blocks, more...)
		default:
			var text []words.Node
			text, pictures = r.inlineOf(c, nil, depth)
			inline = append(inline, text...)
		}
		shows = append(shows, pictures...)
	}
	flush()
	return blocks, shows
}

func (r *htmlReader) rows(n *html.Node, depth int) []row {
	rows := []row{}
	below := map[int]int{} // how many rows further down a cell reaches, by its column
	for c := n.FirstChild; c != nil && depth < deepest; c = c.NextSibling {
		switch {
		case c.DataAtom == atom.Tr:
			if out := r.row(c, below, depth); len(out) > 0 {
				rows = append(rows, out)
			}
		case c.DataAtom == atom.Caption:
			text, pictures := r.inline(c, nil, depth)
			if said := tidied(text); len(said) > 0 || len(pictures) > 0 {
				r.pieces = append(r.pieces, piece{inline: said, shows: pictures})
			}
		case c.Type == html.ElementNode:
			rows = append(rows, r.rows(c, depth+1)...)
		}
	}
	return rows
}

// row reads a row of a table. Where cells span several, the others are empty, so that columns stay where they are.
func (r *htmlReader) row(tr *html.Node, below map[int]int, depth int) (out row) {
	covered := func() {
		for below[len(out)] > 0 {
			below[len(out)]--
			out = append(out, cell{})
		}
	}
	for td := tr.FirstChild; td != nil; td = td.NextSibling {
		if td.DataAtom != atom.Td && td.DataAtom != atom.Th {
			continue
		}
		covered()
		blocks, shows := r.blocks(td, depth+1)
		wide, tall := span(td, "colspan"), span(td, "rowspan")
		if wide > 1 || tall > 1 {
			r.leave(mergedCells)
		}
		for i := range wide {
			below[len(out)] = tall - 1
			c := cell{head: td.DataAtom == atom.Th}
			if i == 0 {
				c.blocks, c.shows = blocks, shows
			}
			out = append(out, c)
		}
	}
	covered()
	return out
}

func span(td *html.Node, name string) int {
	n, _ := strconv.Atoi(attribute(td, name)) // 1 where it is none
	return max(1, min(n, mostSpan))
}

// inline reads the words in an element.
func (r *htmlReader) inline(n *html.Node, styles []words.Style, depth int) (out []words.Node, shows []shown) {
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		text, pictures := r.inlineOf(c, styles, depth+1)
		out, shows = append(out, text...), append(shows, pictures...)
	}
	return out, shows
}

func (r *htmlReader) inlineOf(n *html.Node, styles []words.Style, depth int) (out []words.Node, shows []shown) {
	if depth > deepest {
		return nil, nil
	}
	switch {
	case n.Type == html.TextNode:
		if text := spaced(n.Data); text != "" {
			out = append(out, words.Node{Type: "text", Text: text, Marks: styles})
		}
		return out, nil
	case n.Type != html.ElementNode && n.Type != html.DocumentNode:
		return nil, nil
	case ignored(n):
		r.note(n)
		return nil, nil
	case r.notes.of[noteOf(n)] != nil:
		return r.notes.add(r.notes.of[noteOf(n)]), nil
	}
	switch n.DataAtom {
	case atom.Br:
		return []words.Node{{Type: "hardBreak"}}, nil
	case atom.Img:
		if src := attribute(n, "src"); src != "" {
			return nil, []shown{{name: src, alt: attribute(n, "alt")}}
		}
		return nil, nil
	}
	return r.inline(n, styled(n, styles), depth)
}

// readNotes takes the notes at the end out of a page (DPUB-ARIA 1.0, doc-endnotes and doc-noteref).
func (r *htmlReader) readNotes(root *html.Node) {
	for _, at := range endnotes.MatchAll(root) {
		for _, li := range noteItems.MatchAll(at) {
			for _, back := range backlinks.MatchAll(li) {
				back.Parent.RemoveChild(back)
			}
			text, _ := r.inline(li, nil, 0)
			r.notes.of["#"+attribute(li, "id")] = tidied(text)
		}
		if at.Parent != nil {
			at.Parent.RemoveChild(at)
		}
	}
}

var (
	endnotes  = cascadia.MustCompile(`[role="doc-endnotes"]`)
	noteItems = cascadia.MustCompile(`li[id]`)
	backlinks = cascadia.MustCompile(`[role="doc-backlink"]`)
)

// noteOf is what a reference to a note leads to; "" for anything else.
func noteOf(n *html.Node) string {
	if n.DataAtom == atom.A && attribute(n, "role") == "doc-noteref" {
		return attribute(n, "href")
	}
	return ""
}

var marks = map[atom.Atom]string{
	atom.B: "bold", atom.Strong: "bold", atom.I: "italic", atom.Em: "italic", atom.Code: "code", atom.Kbd: "keycap", atom.Tt: "code", atom.Samp: "code",
}

func styled(n *html.Node, styles []words.Style) []words.Style {
	style := words.Style{Type: marks[n.DataAtom]}
	if n.DataAtom == atom.A {
		if href := attribute(n, "href"); words.SafeLink(href) {
			style = words.Style{Type: "link", Attrs: &words.Attrs{Href: href}}
		}
	}
	if style.Type == "" {
		return styles
	}
	for _, s := range styles {
		if s.Type == style.Type {
			return styles
		}
	}
	return append(append([]words.Style{}, styles...), style)
}

func attribute(n *html.Node, name string) string {
	for _, a := range n.Attr {
		if a.Key == name {
			return a.Val
		}
	}
	return ""
}

func heading(n *html.Node) int {
	switch n.DataAtom {
	case atom.H1, atom.H2, atom.H3, atom.H4, atom.H5, atom.H6:
		return int(n.Data[1] - '0')
	}
	return 0
}

func block(n *html.Node) bool {
	switch n.DataAtom {
	case atom.Html, atom.Head, atom.Body, atom.P, atom.Div, atom.Section, atom.Article, atom.Main, atom.Header, atom.Footer, atom.Aside, atom.Blockquote,
		atom.Pre, atom.Figure, atom.Figcaption, atom.Center, atom.Dl, atom.Dt, atom.Dd, atom.Details, atom.Summary, atom.Form, atom.Fieldset, atom.Address, atom.Hr, atom.Nav:
		return true
	}
	return false
}

func ignored(n *html.Node) bool {
	switch n.DataAtom {
	case atom.Script, atom.Style, atom.Noscript, atom.Template, atom.Iframe, atom.Object, atom.Embed, atom.Video, atom.Audio, atom.Svg, atom.Canvas, atom.Math, atom.Link, atom.Meta:
		return true
	}
	return false
}

// note lists what is left out, where a reader would miss it.
func (r *htmlReader) note(n *html.Node) {
	switch n.DataAtom {
	case atom.Iframe, atom.Object, atom.Embed:
		r.leave("Something embedded from elsewhere.")
	case atom.Video, atom.Audio:
		r.leave("A film or a sound.")
	case atom.Svg, atom.Canvas, atom.Math:
		r.leave("A drawing or a formula.")
	}
}

func textOf(n *html.Node) string {
	if n.Type == html.TextNode {
		return n.Data
	}
	s := ""
	for c := n.FirstChild; c != nil; c = c.NextSibling {
		s += textOf(c)
	}
	return s
}

// spaced is a text with its runs of blanks made one.
func spaced(s string) string {
	s = strings.ReplaceAll(s, "\x00", "")
	out := strings.Join(strings.Fields(s), " ")
	if s == "" {
		return ""
	}
	blank := func(b byte) bool { return b == ' ' || b == '\n' || b == '\t' || b == '\r' }
	if out == "" {
		return " "
	}
	if blank(s[0]) {
		out = " " + out
	}
	if blank(s[len(s)-1]) {
		out += " "
	}
	return out
}

// tidied is inline text without blanks at its ends, and without two in a row.
func tidied(inline []words.Node) []words.Node {
	var out []words.Node
	blank := true
	for _, n := range inline {
		if n.Type == "text" {
			if blank {
				n.Text = strings.TrimLeft(n.Text, " ")
			}
			if n.Text == "" {
				continue
			}
			blank = strings.HasSuffix(n.Text, " ")
		} else {
			blank = true
		}
		out = append(out, n)
	}
	for len(out) > 0 {
		last := &out[len(out)-1]
		if last.Type == "text" {
			if last.Text = strings.TrimRight(last.Text, " "); last.Text != "" {
				break
			}
		}
		out = out[:len(out)-1]
	}
	return out
}

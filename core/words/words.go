// Package words is the rich text of a block: paragraphs, lists and small tables of bold, italic, code, key caps,
// names of controls, links and references. docs/text-model.md describes the JSON. The
// package reads it, refuses what is not in the model and flattens it for those who lay it out.
package words

import (
	"encoding/json"
	"errors"
	"fmt"
	"net/url"
	"slices"
	"strings"
	"unicode/utf8"

	"raconte/core/id"
)

// Node is one node of the text. The zero Node is an empty text.
type Node struct {
	Type    string  `json:"type"`
	Text    string  `json:"text,omitempty"`
	Marks   []Style `json:"marks,omitempty"`
	Attrs   *Attrs  `json:"attrs,omitempty"`
	Content []Node  `json:"content,omitempty"`
}

// Style is how a piece of text is set: bold, italic, code, keycap, control or link.
type Style struct {
	Type  string `json:"type"`
	Attrs *Attrs `json:"attrs,omitempty"`
}

// Attrs holds what nodes and styles carry besides text.
type Attrs struct {
	Href string `json:"href,omitempty"` // of a link
	Mark string `json:"mark,omitempty"` // of a marker reference: the id of the marker
	To   string `json:"to,omitempty"`   // of a reference: the id of what it refers to
	Kind Kind   `json:"kind,omitempty"` // of a reference: what it refers to
}

// Limits of one step's text.
const (
	mostNodes   = 4000
	mostText    = 20000 // characters
	deepestList = 8
	mostStyles  = 6 // of one word: there are no more
)

// Plain is a text of one plain paragraph.
func Plain(s string) Node {
	p := Node{Type: "paragraph"}
	if s != "" {
		p.Content = []Node{{Type: "text", Text: s}}
	}
	return Node{Type: "doc", Content: []Node{p}}
}

// Parse reads and checks a text.
func Parse(raw []byte) (Node, error) {
	var n Node
	if err := json.Unmarshal(raw, &n); err != nil {
		return Node{}, fmt.Errorf("the words are not readable: %w", err)
	}
	return n, n.Check()
}

// Check tells what in a text is outside the model; nil where nothing is.
func (n Node) Check() error {
	if n.Type == "" && len(n.Content) == 0 {
		return nil
	}
	if n.Type != "doc" {
		return errors.New("the words do not start with a doc node")
	}
	c := checker{}
	return c.blocks(n.Content, 0)
}

type checker struct{ nodes, text int }

func (c *checker) count(n Node) error {
	c.nodes++
	c.text += utf8.RuneCountInString(n.Text)
	if len(n.Marks) > mostStyles {
		return fmt.Errorf("a word has more than %d styles", mostStyles)
	}
	if c.nodes > mostNodes || c.text > mostText {
		return fmt.Errorf("the words of one step are longer than %d characters", mostText)
	}
	return nil
}

func (c *checker) blocks(nodes []Node, depth int) error {
	if depth > deepestList {
		return fmt.Errorf("lists are nested deeper than %d", deepestList)
	}
	for _, n := range nodes {
		if err := c.count(n); err != nil {
			return err
		}
		var err error
		switch n.Type {
		case "paragraph":
			err = c.inline(n.Content)
		case "bulletList", "orderedList":
			for _, item := range n.Content {
				if item.Type != "listItem" {
					return fmt.Errorf("a list holds a %.20q", item.Type)
				}
				if err := c.count(item); err != nil {
					return err
				}
				if err = c.blocks(item.Content, depth+1); err != nil {
					break
				}
			}
		case "table":
			err = c.table(n)
		default:
			return fmt.Errorf("unknown text node %.20q", n.Type)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

func (c *checker) inline(nodes []Node) error {
	for _, n := range nodes {
		if err := c.count(n); err != nil {
			return err
		}
		switch n.Type {
		case "text", "hardBreak":
		case "markerRef":
			if n.Attrs == nil || !id.Valid(n.Attrs.Mark) {
				return errors.New("a marker reference names no marker")
			}
		case "reference":
			if n.Attrs == nil || !id.Valid(n.Attrs.To) || !n.Attrs.Kind.known() {
				return errors.New("a reference names nothing that it could refer to")
			}
		default:
			return fmt.Errorf("unknown text node %.20q in a paragraph", n.Type)
		}
		for _, s := range n.Marks {
			switch s.Type {
			case "bold", "italic", "code", "keycap", "control":
			case "link":
				if s.Attrs == nil || !SafeLink(s.Attrs.Href) {
					return errors.New("a link leads somewhere other than http, https or mailto")
				}
			default:
				return fmt.Errorf("unknown text style %.20q", s.Type)
			}
		}
	}
	return nil
}

// Mended is a text of a time when less was checked: ids of markers are ids, and no word has a style twice.
func (n Node) Mended() Node {
	if n.Attrs != nil && n.Attrs.Mark != "" {
		n.Attrs = &Attrs{Href: n.Attrs.Href, Mark: id.Mended(n.Attrs.Mark)}
	}
	var styles []Style
	for _, s := range n.Marks {
		if !slices.ContainsFunc(styles, func(t Style) bool { return t.Type == s.Type }) {
			styles = append(styles, s)
		}
	}
	n.Marks = styles
	content := n.Content
	n.Content = nil
	for _, c := range content {
		n.Content = append(n.Content, c.Mended())
	}
	return n
}

// SafeLink tells whether an address may be linked to: http, https or mailto.
func SafeLink(href string) bool {
	u, err := url.Parse(href)
	if err != nil || len(href) > 2000 {
		return false
	}
	switch strings.ToLower(u.Scheme) {
	case "http", "https":
		return u.Host != ""
	case "mailto":
		return u.Opaque != ""
	}
	return false
}

// Paragraph is one paragraph or list item, flattened.
type Paragraph struct {
	Depth  int    // how deep in lists, 0 outside
	Bullet string // "•", "1." or "" for a further paragraph of an item
	Spans  []Span
}

// Span is a stretch of a paragraph in one style.
type Span struct {
	Text                                string
	Bold, Italic, Code, Keycap, Control bool
	Link                                string
	Marker                              string // a reference to a marker; Text is its label, where that has been found
	To                                  string // a reference to anything else; Text is what it was named
	Kind                                Kind   // what To is
	Inside                              string // of a reference: the block where what it refers to stands, where that has been found
}

// Reading is what the paragraph says, without its markers.
func (p Paragraph) Reading() string {
	var all strings.Builder
	for _, s := range p.Spans {
		if s.Marker == "" {
			all.WriteString(s.Text)
		}
	}
	return all.String()
}

func spans(nodes []Node) []Span {
	var out []Span
	for _, n := range nodes {
		s := Span{Text: strings.ReplaceAll(n.Text, "\n", " ")}
		switch n.Type {
		case "hardBreak":
			s.Text = "\n"
		case "markerRef":
			s.Text, s.Marker = "", n.Attrs.Mark
		case "reference":
			s.To, s.Kind = n.Attrs.To, n.Attrs.Kind
			if s.Text == "" {
				s.Text = unknown
			}
		}
		for _, m := range n.Marks {
			switch m.Type {
			case "bold":
				s.Bold = true
			case "italic":
				s.Italic = true
			case "code":
				s.Code = true
			case "keycap":
				s.Keycap = true
			case "control":
				s.Control = true
			case "link":
				s.Link = m.Attrs.Href
			}
		}
		out = append(out, s)
	}
	return out
}

// Reading is the words without their style; markers read as their number, or "?" where it is unknown.
func (n Node) Reading(numbers map[string]int) string {
	var lines []string
	for _, p := range n.Paragraphs() {
		line := ""
		for _, s := range p.Spans {
			switch {
			case s.Marker == "":
				line += s.Text
			case numbers[s.Marker] > 0:
				line += fmt.Sprint(numbers[s.Marker])
			default:
				line += "?"
			}
		}
		if p.Bullet != "" {
			line = p.Bullet + " " + line
		}
		lines = append(lines, line)
	}
	return strings.TrimSpace(strings.Join(lines, "\n"))
}

// Empty tells whether there is nothing to read: no letters and no marker.
func (n Node) Empty() bool {
	for _, p := range n.Paragraphs() {
		for _, s := range p.Spans {
			if s.Marker != "" || strings.TrimSpace(s.Text) != "" {
				return false
			}
		}
	}
	return true
}

// References are the markers that the text refers to, in the order of the text.
func (n Node) References() []string {
	var ids []string
	for _, p := range n.Paragraphs() {
		for _, s := range p.Spans {
			if s.Marker != "" {
				ids = append(ids, s.Marker)
			}
		}
	}
	return ids
}

// longestLabel is where a label is cut, in characters.
const longestLabel = 64

// Label is the first sentence, for tables of steps and folded lines: without markers, at most 64
// characters, cut between words; "" where there are no words.
func (n Node) Label() string {
	line := ""
	for _, p := range n.Paragraphs() {
		for _, s := range p.Spans {
			if s.Marker != "" {
				line = strings.TrimRight(line, " ")
			}
			line += s.Text
		}
		if line = strings.TrimSpace(line); line != "" {
			break
		}
	}
	line, _, _ = strings.Cut(line, "\n")
	if all := Sentences(line); len(all) > 0 {
		// A colon leads on to what it is about.
		for line = all[0]; strings.HasSuffix(line, ":") && len(all) > 1; all = all[1:] {
			line += " " + all[1]
		}
		line = strings.TrimRight(line, ".!?。！？")
	}
	if utf8.RuneCountInString(line) <= longestLabel {
		return line
	}
	line = string([]rune(line)[:longestLabel])
	if i := strings.LastIndexByte(line, ' '); i > longestLabel/2 {
		line = line[:i]
	}
	return strings.TrimRight(line, " ,;:") + "…"
}

// Told is plain text as words: a paragraph for each line that has something on it.
func Told(s string) Node {
	n := Node{Type: "doc"}
	for line := range strings.Lines(s) {
		if line = strings.TrimSpace(line); line != "" {
			n.Content = append(n.Content, Plain(line).Content...)
		}
	}
	if len(n.Content) == 0 {
		return Plain("")
	}
	return n
}

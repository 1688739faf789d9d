package prose

import (
	"strings"

	"raconte/core/document"
	"raconte/core/words"

	"github.com/beevik/etree"
)

// ours is what a file that Raconte wrote says of a piece, by the styles of its paragraphs and by its bookmarks.
type ours struct {
	apart    bool   // a block begins with it
	anchor   string // what links lead to it by
	whole    bool   // the notice is the document's
	critical bool   // the step that follows asks for a press
	seconds  int    // that the step before takes
	link     *document.WebLink
}

// Names of styles of our DOCX files (output/docx). A file that has the first two is one of ours.
const (
	ownKind     = "kind of document"
	ownMore     = "step continued"
	ownAbout    = "about the document"
	ownStamp    = "draft stamp"
	ownHeading  = "contents heading"
	ownStep     = "step"
	ownCritical = "critical step"
	ownLeads    = "leads to"
	ownPicture  = "picture"
	ownCaption  = "caption"
	ownHead     = "table head"
)

// ownWhole is the bookmark in the notice of a whole document.
const ownWhole = "whole_document"

// letters are the styles of letters that are styles of words.
var letters = map[string]string{"name of a control": "control", "key": "keycap", "code": "code"}

// oursOf is what an element says by the bookmarks in it.
func (r *docxReader) oursOf(e *etree.Element) (o ours) {
	if !r.own {
		return o
	}
	for _, b := range e.FindElements(".//bookmarkStart") {
		switch name := b.SelectAttrValue("name", ""); {
		case name == ownWhole:
			o.whole = true
		case !o.apart:
			o.apart, o.anchor = true, name
		}
	}
	return o
}

// ourParagraph reads a paragraph of a style that only our files have; false where it is read as in any other.
func (r *docxReader) ourParagraph(p *etree.Element, style string, inline []words.Node, shows []shown) bool {
	begun := len(r.pieces) > 0
	switch style {
	case ownKind, ownStamp, ownHeading, ownCaption:
	case ownAbout:
		if begun {
			r.pieces = append(r.pieces, piece{ours: ours{seconds: took(plain(inline))}})
		}
	case ownCritical:
		r.pieces = append(r.pieces, piece{ours: ours{critical: true}})
	case ownStep:
		_, list, _, _ := r.place(p, r.style(styleID(p)))
		r.pieces = append(r.pieces, piece{item: true, begins: list != "" && r.count.begins(list, r.lists[list]), blocks: paragraphs(inline), shows: shows, ours: r.oursOf(p)})
	case ownLeads:
		for _, n := range inline {
			for _, s := range n.Marks {
				if s.Type == "link" {
					r.pieces = append(r.pieces, piece{ours: ours{link: &document.WebLink{Address: s.Attrs.Href, Title: cut(n.Text, document.LongestTitle)}}})
					return true
				}
			}
		}
		r.leave("Where steps hand over to.")
	case ownPicture:
		r.pieces = append(r.pieces, piece{inline: inline, shows: shows}) // its bookmark is the picture's
	default:
		return false
	}
	return true
}

// say gives the last block what is said of it.
func (m *maker) say(o ours) {
	m.critical = m.critical || o.critical
	b, there := m.last()
	if !there {
		return
	}
	if o.anchor != "" {
		m.anchors[o.anchor] = *b
	}
	if o.seconds > 0 && b.Type == document.Step {
		b.Seconds = o.seconds
	}
	if o.link != nil && len(b.Beside) < document.MostBeside && (b.Type == document.Step || b.Type == document.Passage) {
		b.Beside = append(b.Beside, *o.link)
	}
}

// finish settles what is known at the end: how steps count, and what words refer to.
func (m *maker) finish() {
	m.counting()
	for i, b := range m.made.Document.Blocks {
		m.made.Document.Blocks[i].Words = m.referring(b.Words)
	}
}

// referring are words whose references lead to blocks of the document, or, where these are not there, say what they
// said.
func (m *maker) referring(n words.Node) words.Node {
	if n.Type == "reference" {
		kind := map[document.Type]words.Kind{document.Step: words.ToStep, document.Section: words.ToSection}
		if b, there := m.anchors[n.Attrs.To]; there && kind[b.Type] != "" {
			return words.Node{Type: "reference", Attrs: &words.Attrs{To: b.ID, Kind: kind[b.Type]}}
		}
		return words.Node{Type: "text", Text: n.Text, Marks: n.Marks}
	}
	for i, c := range n.Content {
		n.Content[i] = m.referring(c)
	}
	return n
}

// took is the time that a line says, as "about 30 s", in seconds.
func took(line string) int {
	for i, r := range line {
		if r >= '0' && r <= '9' {
			seconds, _ := document.ReadTime(strings.TrimSpace(line[i:])) // 0 where it is none
			return seconds
		}
	}
	return 0
}

// Package flow makes a story ready for formats that flow: words as HTML, numbers and names filled in, pictures made as
// they are asked for. Its Document is also what the house's own templates are given; docs/templates.md describes it.
package flow

import (
	"context"
	"fmt"
	"html/template"
	"strings"
	"unicode/utf8"

	"raconte/core/document"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/text"
	"raconte/output"
)

// Document is a document as templates have it.
type Document struct {
	Title    string
	Kind     string // "Procedure", in the language of the style
	Language string // by its tag of BCP 47
	Meta     string // the line under the title: state, steps, time, who changed it
	Address  string // where it is read; "" where it has no address
	Draft    string // what a draft, or a copy that was replaced, is stamped with; "" of anything else
	Fields   map[string]string
	Notice   *Notice // of the whole
	Signal   string  // the most severe signal word; "" where nothing is warned of
	Contents []Entry
	Blocks   []Block
	Colors   style.Colors
	Words    map[string]string // that are printed, by their keys
	Manual   bool
	Bare     bool // without its title and what stands under that

	story story.Story
}

// Entry is a line of the table of contents.
type Entry struct {
	ID, Number, Title string
	Depth             int // 1, or 2 of what stands in a section
	Heads             bool
}

// Notice warns before an action.
type Notice struct {
	Signal string // "danger", "warning", "caution" or "notice"
	Word   string // as it is printed
	Lines  []string
}

// Block is a section, a step, a passage or a chapter.
type Block struct {
	ID       string // what links lead to
	Type     string // "section", "step", "passage" or "chapter"
	Depth    int    // of a heading: 1 or 2
	Number   string // "" of what does not count
	Title    string // a heading; of a step its first sentence
	HTML     template.HTML
	Text     string
	Notice   *Notice
	Critical string // what is said of a critical step
	Time     string // that it takes
	Links    []Link
	Pictures []*Picture
	Under    string // the heading that it stands under; "" of headings
	Before   string // the block before it that is no heading
	After    string // the one after it

	Source story.Block
}

// Link is what a step leads to.
type Link struct {
	Said    string // "Do: Reprint a lot label"
	Address string // "" where there is none
	Inside  string // the block where it stands in the same document
}

// Step tells whether the block is a step.
func (b Block) Step() bool { return b.Type == string(document.Step) }

// Heading tells whether the block is a section or a chapter.
func (b Block) Heading() bool {
	return b.Type == string(document.Section) || b.Type == string(document.Chapter)
}

// Read makes a story ready. The pictures are made when they are asked for, and no sooner.
func Read(ctx context.Context, in output.Input, o output.Options) *Document {
	s, e := in.Story, in.Edition
	st := e.Style
	if st.Language == "" {
		st = style.Default()
		e.Style = st
	}
	d := &Document{
		Title: Clean(s.Title), Kind: st.Said(string(s.Kind)), Language: string(st.Language), Meta: Clean(e.Meta(s)), Address: e.Address,
		Fields: e.Values(s), Notice: notice(s.Notice, st), Colors: st.Colors, Words: map[string]string{}, Manual: s.Kind == document.Manual, Bare: o.Bare, story: s,
	}
	for k, v := range d.Fields {
		d.Fields[k] = Clean(v)
	}
	for key := range style.Printable(style.English) {
		d.Words[key] = st.Said(key)
	}
	if s.Signal != "" {
		d.Signal = st.Said(string(s.Signal))
	}
	switch {
	case e.Draft:
		d.Draft = st.Said("draft stamp")
	case e.Replaced != "":
		d.Draft = st.Said("replaced stamp", "n", e.Replaced)
	}
	pictures := newMaker(ctx, in, o)
	if !s.HasPictures() {
		in.Progress(1, 1)
	}
	reader := s.Reader()
	depth := 1
	for _, b := range s.Blocks {
		out := Block{
			ID: Anchor(b.ID), Type: string(b.Type), Depth: b.Depth, Number: b.Number, Title: Clean(b.Label), Text: Clean(reading(b)), Notice: notice(b.Notice, st), Source: b,
			HTML: HTML(reader, b),
		}
		if b.Heads() {
			out.Title = Clean(strings.Join(strings.Fields(b.Words.Reading(nil)), " "))
			if out.Title == "" {
				out.Title = Clean(b.Label)
			}
			depth = b.Depth + 1
		}
		if b.Critical {
			out.Critical = st.Said("critical")
		}
		if b.Type == document.Step && b.Seconds > 0 {
			out.Time = e.About(document.Time{Seconds: b.Seconds})
		}
		if b.Does != nil {
			l := Link{Said: st.Said("do") + ": " + Clean(b.Does.Said()), Address: b.Does.Address}
			if inside := reader.Inside(b.Does.ID); inside != "" {
				l.Inside = Anchor(inside)
			}
			out.Links = append(out.Links, l)
		}
		for _, w := range b.Beside {
			said := Clean(w.Said())
			if w.Film {
				said = st.Said("film") + ": " + said
			}
			out.Links = append(out.Links, Link{Said: said, Address: w.Address})
		}
		for _, f := range b.Figures {
			p := pictures.add(f)
			if st.Numbers.Pictures {
				p.Caption = fmt.Sprintf("%s %d", st.Said("picture"), f.Number)
			}
			out.Pictures = append(out.Pictures, p)
		}
		if b.Number != "" {
			entry := Entry{ID: out.ID, Number: b.Number, Title: out.Title, Depth: depth, Heads: b.Heads()}
			if b.Heads() {
				entry.Depth = b.Depth
			}
			if st.Contents != style.ListNothing && (b.Heads() || st.Contents == style.ListSteps) {
				d.Contents = append(d.Contents, entry)
			}
		}
		d.Blocks = append(d.Blocks, out)
	}
	d.chain()
	return d
}

// chain tells each block that is no heading what it stands under, and its neighbours.
func (d *Document) chain() {
	under, last := "", -1
	for i := range d.Blocks {
		b := &d.Blocks[i]
		if b.Heading() {
			under = strings.TrimSpace(b.Number + " " + b.Title)
			continue
		}
		if b.Under = under; last >= 0 {
			b.Before, d.Blocks[last].After = d.Blocks[last].ID, b.ID
		}
		last = i
	}
}

// All are the pictures of the document, in its order.
func (d *Document) All() []*Picture {
	var all []*Picture
	for _, b := range d.Blocks {
		all = append(all, b.Pictures...)
	}
	return all
}

// Story is what the document was read from.
func (d *Document) Story() story.Story { return d.story }

func notice(n *document.Notice, st style.Style) *Notice {
	if n == nil {
		return nil
	}
	out := &Notice{Signal: string(n.Signal), Word: st.Said(string(n.Signal))}
	for _, l := range n.Lines() {
		out.Lines = append(out.Lines, Clean(l))
	}
	return out
}

// reading are the words of a block without their style, markers as they read.
func reading(b story.Block) string {
	numbers := map[string]int{}
	for id, tag := range b.Tags {
		numbers[id] = tag.Number
	}
	return b.Words.Reading(numbers)
}

// Anchor is an id as links lead to it: a name of XML.
func Anchor(id string) string { return "b-" + id }

// Clean is text that every format can hold: characters that steer are seen as what they are, and those that XML does
// not have are left out.
func Clean(s string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r == '\t' || r == '\n', r >= 0x20 && r <= 0xd7ff, r >= 0xe000 && r <= 0xfffd, r >= 0x10000 && r <= utf8.MaxRune:
			return r
		}
		return -1
	}, text.Shown(strings.ToValidUTF8(s, "\uFFFD")))
}

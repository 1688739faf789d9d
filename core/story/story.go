// Package story is a document read for output: its numbers and references resolved, its pictures with what stands for
// them, and no geometry. Formats that flow write a story; core/page lays one out on paper.
package story

import (
	"cmp"
	"slices"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/id"
	"raconte/core/words"
)

// Story is a document read for output.
type Story struct {
	Kind    document.Kind
	Title   string
	Control document.Control
	Notice  *document.Notice // of the whole
	Signal  document.Signal  // the most severe of all notices
	Indexed []string         // words for the index besides the names of controls
	Others  document.Around  // what it leads to
	Steps   int              // how many there are
	Time    document.Time    // that they take together
	Blocks  []Block
	Film    document.Film // how it is told as a film
}

// Block is a block with its number.
type Block struct {
	ID       string
	Type     document.Type
	Depth    int    // of a section: 1, or 2 of one within another
	Seconds  int    // that a step takes; 0 where nobody has said
	Number   string // "" of what does not count
	Notice   *document.Notice
	Critical bool
	Asks     string          // of a heading that is a question: which
	Document string          // of a chapter: the procedure that it is
	Does     *document.Other // that a step hands over to
	Beside   []document.WebLink
	Label    string // its first sentence
	Words    words.Node
	Tags     map[string]figure.Tag // how the markers look that the words refer to, by their ids
	Figures  []Figure
	Told     *document.Told // how it is told in a film
}

// Figure is a picture with what stands for it.
type Figure struct {
	figure.Figure
	Number int    // through the document, from 1
	First  int    // the number of its first marker
	Alt    string // what stands for it where it can't be seen
}

// Of reads a document, a manual with its chapters read in; around is what it leads to. What stands in it beside what
// was written is put as a house says it, in English where said is nil.
func Of(d document.Document, around document.Around, said document.Said) Story {
	d = d.Timed(around)
	n, names := d.Numbers(), d.Names(around.Titles(), said)
	s := Story{
		Kind: d.Kind, Title: d.Facts.Title, Control: d.Facts.Control, Notice: d.Facts.Notice,
		Signal: d.Signal(), Indexed: d.Facts.Indexed, Others: around, Steps: n.Steps, Time: d.Time(), Blocks: make([]Block, 0, len(d.Blocks)),
	}
	if d.Facts.Film != nil {
		s.Film = *d.Facts.Film
	}
	repeats := false
	for _, b := range d.Blocks {
		if b.Asks != "" && b.Unanswered() {
			continue
		}
		if b.Asks != "" {
			s.Blocks = append(s.Blocks, asked(b.ID, string(b.Asks), b.Asks.Said(), said))
		}
		if b.Type == document.Step && d.Kind == document.Report && !repeats {
			repeats = true
			s.Blocks = append(s.Blocks, asked(b.ID, "repeat", document.Repeat, said))
		}
		out := Block{
			ID: b.ID, Type: b.Type, Depth: b.Depth(), Seconds: b.Seconds, Notice: b.Notice, Critical: b.Critical, Beside: b.Beside,
			Number: n.Blocks[b.ID], Told: b.Film, Tags: n.Tags(b.Figures), Figures: make([]Figure, 0, len(b.Figures)),
		}
		named := b.Named(names)
		out.Words, out.Label = named.Words, named.LabelIn(said)
		if b.Type == document.Chapter {
			out.Document = b.Document
		}
		if b.Type == document.Step && b.Document != "" {
			other, there := around[b.Document]
			if !there {
				other = document.Other{ID: b.Document, Title: document.Put(said, "not here")}
			}
			out.Does = &other
			if b.Words.Empty() {
				out.Label = document.Put(said, "do") + ": " + other.Said()
			}
		}
		for _, f := range b.Figures {
			out.Figures = append(out.Figures, Figure{f, n.Figures[f.ID], n.Markers[f.ID], named.AltIn(f, said)})
		}
		s.Blocks = append(s.Blocks, out)
	}
	return s
}

// asked is a heading over what answers a question, put as a house does or as it is usually put.
func asked(over, question, usually string, in document.Said) Block {
	said := usually
	if in != nil {
		said = cmp.Or(in("asks "+question), usually)
	}
	return Block{
		ID: id.Mended("asks " + question + " " + over), Type: document.Section, Depth: 1, Asks: question,
		Label: said, Words: words.Plain(said), Figures: []Figure{},
	}
}

// Filled is the story with the places in its words filled in, by their names.
func (s Story) Filled(values map[string]string) Story {
	if len(values) == 0 {
		return s
	}
	s.Blocks = slices.Clone(s.Blocks)
	for i, b := range s.Blocks {
		s.Blocks[i].Words = b.Words.Filled(values)
	}
	return s
}

// Figure finds a picture and the block that shows it.
func (s Story) Figure(id string) (f Figure, in Block, ok bool) {
	for _, b := range s.Blocks {
		for _, f := range b.Figures {
			if f.ID == id {
				return f, b, true
			}
		}
	}
	return Figure{}, Block{}, false
}

// Heads tells whether the block is a heading: a section's, or a chapter's.
func (b Block) Heads() bool { return b.Type == document.Section || b.Type == document.Chapter }

// Addresses are all that the story leads to outside of it, each once: what stands as a code on paper.
func (s Story) Addresses() []string {
	var all []string
	for _, b := range s.Blocks {
		if b.Does != nil && b.Does.Address != "" {
			all = append(all, b.Does.Address)
		}
		for _, l := range b.Beside {
			all = append(all, l.Address)
		}
	}
	slices.Sort(all)
	return slices.Compact(all)
}

// Package story is a document read for output: its numbers and references resolved, its pictures with what stands for
// them, and no geometry. Formats that flow write a story; core/page lays one out on paper.
package story

import (
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/words"
)

// Story is a document read for output.
type Story struct {
	Kind    string // as people read it: "Procedure"
	Title   string
	Notice  *document.Notice // of the whole
	Signal  document.Signal  // the most severe of all notices
	Steps   int              // how many there are
	Seconds int              // that they take together, as far as it was said
	Blocks  []Block
}

// Block is a block with its number.
type Block struct {
	ID      string
	Type    document.Type
	Depth   int    // of a section: 1, or 2 of one within another
	Seconds int    // that a step takes; 0 where nobody has said
	Number  string // "" of what does not count
	Notice  *document.Notice
	Label   string // its first sentence
	Words   words.Node
	Tags    map[string]figure.Tag // how the markers look that the words refer to, by their ids
	Figures []Figure
}

// Figure is a picture with what stands for it.
type Figure struct {
	figure.Figure
	Number int    // through the document, from 1
	First  int    // the number of its first marker
	Alt    string // what stands for it where it can't be seen
}

// Of reads a document.
func Of(d document.Document) Story {
	n := d.Numbers()
	s := Story{Kind: d.Kind.Name(), Title: d.Facts.Title, Notice: d.Facts.Notice, Signal: d.Signal(), Steps: n.Steps, Seconds: d.Seconds(), Blocks: make([]Block, 0, len(d.Blocks))}
	for _, b := range d.Blocks {
		out := Block{
			ID: b.ID, Type: b.Type, Depth: b.Depth(), Seconds: b.Seconds, Notice: b.Notice, Number: n.Blocks[b.ID], Label: b.Label(), Words: b.Words,
			Tags: n.Tags(b.Figures), Figures: make([]Figure, 0, len(b.Figures)),
		}
		for _, f := range b.Figures {
			out.Figures = append(out.Figures, Figure{f, n.Figures[f.ID], n.Markers[f.ID], b.Alt(f)})
		}
		s.Blocks = append(s.Blocks, out)
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

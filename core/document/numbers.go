package document

import (
	"strconv"

	"raconte/core/figure"
)

// Numbers are all that counts in a document. Nothing else counts: screens, pages and files ask here.
type Numbers struct {
	Blocks  map[string]string `json:"blocks"`  // how the sections and steps are numbered, by the block's id
	Figures map[string]int    `json:"figures"` // pictures, counted through the document, by the figure's id
	Markers map[string]int    `json:"markers"` // the number that a figure's first marker has or would have
	Steps   int               `json:"steps"`   // how many steps there are
}

// Counted is what counts in a block.
type Counted struct {
	ID      string          `json:"id"`
	Type    Type            `json:"type"`
	Figures []figure.Figure `json:"figures"`
}

// Counts is what counts in the block: of its figures, the markers.
func (b Block) Counts() Counted {
	c := Counted{b.ID, b.Type, make([]figure.Figure, len(b.Figures))}
	for i, f := range b.Figures {
		c.Figures[i] = figure.Figure{ID: f.ID, Marks: f.Markers()}
	}
	return c
}

// Numbers counts the document.
func (d Document) Numbers() Numbers {
	blocks := make([]Counted, len(d.Blocks))
	for i, b := range d.Blocks {
		blocks[i] = Counted{b.ID, b.Type, b.Figures}
	}
	return Count(blocks)
}

// Count numbers blocks in their order: steps through the document, sections apart from them, pictures through the
// document. Markers count within a block, or on from the blocks before it.
func Count(blocks []Counted) Numbers {
	n := Numbers{Blocks: map[string]string{}, Figures: map[string]int{}, Markers: map[string]int{}}
	sections, last := 0, 0
	for _, b := range blocks {
		switch b.Type {
		case Section:
			sections++
			n.Blocks[b.ID] = strconv.Itoa(sections)
		case Step:
			n.Steps++
			n.Blocks[b.ID] = strconv.Itoa(n.Steps)
		}
		for i, first := range figure.Firsts(b.Figures, last) {
			n.Markers[b.Figures[i].ID] = first
			n.Figures[b.Figures[i].ID] = len(n.Figures) + 1
		}
		last = figure.Last(b.Figures, last)
	}
	return n
}

// Tags are how a block's markers look where words refer to them, by the markers' ids.
func (n Numbers) Tags(figures []figure.Figure) map[string]figure.Tag {
	return figure.Tags(figures, n.Markers)
}

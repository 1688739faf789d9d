package document

import (
	"fmt"
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

// Counting is how steps are counted.
type Counting string

// The ways of counting steps.
const (
	Through Counting = ""        // through the document
	Anew    Counting = "section" // from 1 in each section
)

// Counted is what counts in a block.
type Counted struct {
	ID      string          `json:"id"`
	Type    Type            `json:"type"`
	Level   int             `json:"level,omitempty"`
	Figures []figure.Figure `json:"figures"`
}

// Counts is what counts in the block: of its figures, the markers.
func (b Block) Counts() Counted {
	c := Counted{b.ID, b.Type, b.Level, make([]figure.Figure, len(b.Figures))}
	for i, f := range b.Figures {
		c.Figures[i] = figure.Figure{ID: f.ID, Marks: f.Markers()}
	}
	return c
}

// Numbers counts the document.
func (d Document) Numbers() Numbers {
	blocks := make([]Counted, len(d.Blocks))
	for i, b := range d.Blocks {
		blocks[i] = Counted{b.ID, b.Type, b.Level, b.Figures}
	}
	return Count(blocks, d.Facts.Counting)
}

// Span is how many blocks belong to the one at an index, itself included: a section has all that follows, up to the
// next that lies no deeper.
func Span(blocks []Counted, at int) int {
	if at < 0 || at >= len(blocks) || blocks[at].Type != Section {
		return 1
	}
	for i := at + 1; i < len(blocks); i++ {
		if blocks[i].Type == Section && max(1, blocks[i].Level) <= max(1, blocks[at].Level) {
			return i - at
		}
	}
	return len(blocks) - at
}

// Count numbers blocks in their order: steps through the document or anew in each section, sections apart from them as
// 1 and 1.1, pictures through the document. Markers count within a block, or on from the blocks before it. A chapter is
// a section in which steps always count anew.
func Count(blocks []Counted, how Counting) Numbers {
	n := Numbers{Blocks: map[string]string{}, Figures: map[string]int{}, Markers: map[string]int{}}
	section, within, deep, step, last := 0, 0, 0, 0, 0
	for _, b := range blocks {
		switch b.Type {
		case Chapter:
			section, within, deep, step = section+1, 0, 0, 0
			n.Blocks[b.ID] = strconv.Itoa(section)
		case Section:
			if how == Anew {
				step = 0
			}
			if b.Level == 3 && within > 0 {
				deep++
				n.Blocks[b.ID] = fmt.Sprintf("%d.%d.%d", section, within, deep)
				break
			}
			if b.Level >= 2 && section > 0 {
				within, deep = within+1, 0
				n.Blocks[b.ID] = fmt.Sprintf("%d.%d", section, within)
				break
			}
			section, within, deep = section+1, 0, 0
			n.Blocks[b.ID] = strconv.Itoa(section)
		case Step:
			n.Steps++
			step++
			n.Blocks[b.ID] = strconv.Itoa(step)
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

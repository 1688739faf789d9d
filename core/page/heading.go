package page

import (
	"strings"

	"raconte/core/document"
	"raconte/core/story"
	"raconte/core/text"
)

// title is a section's heading as it will be set.
type title struct {
	lines  []string
	size   float64
	above  float64
	height float64
}

func titleOf(b story.Block) title {
	t := title{size: 15, above: 14}
	switch {
	case b.Type == document.Chapter:
		t.size, t.above = 18, 18
	case b.Depth >= 2:
		t.size, t.above = 12.5, 10
	}
	words := strings.Join(strings.Fields(b.Words.Reading(nil)), " ")
	if words == "" {
		words = b.Label
	}
	t.lines = text.Wrap(text.Bold, t.size, inner-gutter, text.Shown(words))
	t.height = t.above + float64(len(t.lines))*t.size*leading + 8
	return t
}

// follows is the height that what comes after a heading needs on the same sheet: up to the first step.
func (s *setter) follows(blocks []story.Block) float64 {
	height := 0.0
	for _, b := range blocks {
		if !b.Heads() {
			return height + s.fit(b).tight
		}
		height += titleOf(b).height
	}
	return height
}

// heading sets the heading of a section, which is the first of some blocks; what follows begins on the same sheet, unless
// nothing else fits there.
func (s *setter) heading(blocks []story.Block) {
	b := blocks[0]
	t := titleOf(b)
	begins := b.Type == document.Chapter && s.y > top // a chapter begins a sheet
	if need := t.height + s.follows(blocks[1:]); begins || need > s.room() && s.y > top {
		s.newSheet()
	}
	depth := min(b.Depth-1, s.depth)
	s.begins(b, depth)
	s.depth = depth + 1
	y := s.y + t.above
	text.Set(s.sheet(), text.Bold, t.size, side, y+t.size, b.Number, action)
	for _, l := range t.lines {
		text.Set(s.sheet(), text.Bold, t.size, side+gutter, y+t.size, l, ink)
		y += t.size * leading
	}
	s.y += t.height
}

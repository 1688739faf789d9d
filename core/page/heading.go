package page

import (
	"strconv"
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

func (s *setter) titleOf(b story.Block) title {
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
	t.lines = s.wrap(text.Bold, t.size, s.inner-s.gutterOf(b), words)
	t.height = t.above + float64(len(t.lines))*t.size*leading + 8
	return t
}

// follows is the height that what comes after a heading needs on the same sheet: up to the first step.
func (s *setter) follows(blocks []story.Block) float64 {
	height := 0.0
	for i, b := range blocks {
		if !b.Heads() {
			row := []story.Block{b}
			for _, next := range blocks[i+1:] {
				if len(row) == s.columns || b.Type != document.Step || next.Type != document.Step {
					break
				}
				row = append(row, next)
			}
			_, tight := s.fitRow(row, s.share())
			return height + tight
		}
		height += s.titleOf(b).height
	}
	return height
}

// heading sets the heading of a section, which is the first of some blocks; what follows begins on the same sheet,
// unless nothing else fits there.
func (s *setter) heading(blocks []story.Block) {
	b := blocks[0]
	t := s.titleOf(b)
	begins := b.Type == document.Chapter && s.y > s.top || // a chapter begins a sheet
		!s.layout.Runs() && s.steps == s.rows // and so does what stands above a step for which there is no row left
	if need := t.height + s.follows(blocks[1:]); begins || need > s.room() && s.y > s.top {
		s.newSheet()
	}
	depth := min(b.Depth-1, s.depth)
	s.begins(b, depth)
	s.lists++
	s.depth = depth + 1
	y := s.y + t.above
	s.sheet().Open("H" + strconv.Itoa(min(b.Depth+1, 6)))
	defer func() { s.sheet().Close(1) }()
	if s.Numbers.Sections {
		s.set(s.sheet(), text.Bold, t.size, s.left, y+t.size, b.Number, s.action)
	}
	for _, l := range t.lines {
		s.setIn(s.sheet(), text.Bold, t.size, s.left+s.gutterOf(b), s.inner-s.gutterOf(b), y+t.size, l, s.ink)
		y += t.size * leading
	}
	s.y += t.height
}

// gutterOf is the room for the number of a heading; a long one has more.
func (s *setter) gutterOf(b story.Block) float64 {
	if !s.Numbers.Sections {
		return 0
	}
	return max(s.gutter, s.measure(text.Bold, 18, b.Number)+8)
}

package page

import (
	"strings"

	"raconte/core/story"
	"raconte/core/text"
)

// heading sets the heading of a section; what follows begins on the same sheet.
func (s *setter) heading(b story.Block) {
	size, above := 15.0, 14.0
	if b.Depth == 2 {
		size, above = 12.5, 10
	}
	words := strings.Join(strings.Fields(b.Words.Reading(nil)), " ")
	if words == "" {
		words = b.Label
	}
	lines := text.Wrap(text.Bold, size, inner-gutter, text.Shown(words))
	height := above + float64(len(lines))*size*leading + 8
	if follows := content / float64(s.req.Layout) / 2; height+follows > s.room() && s.y > top {
		s.newSheet()
	}
	depth := min(b.Depth-1, s.depth)
	s.begins(b, depth)
	s.depth = depth + 1
	y := s.y + above
	if s.y == top {
		y, height = s.y, height-above
	}
	text.Set(s.sheet(), text.Bold, size, side, y+size, b.Number, action)
	for _, l := range lines {
		text.Set(s.sheet(), text.Bold, size, side+gutter, y+size, l, ink)
		y += size * leading
	}
	s.y += height
}

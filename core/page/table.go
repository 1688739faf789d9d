package page

import (
	"math"

	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/words"
)

const cellPad = 4.0

// setTable sets a table to a width, its columns equally wide.
func (l *look) setTable(t words.Table, tags map[string]figure.Tag, width, size float64) setting {
	var s setting
	column := width / float64(t.Columns)
	fill := func(color scene.Color, x, y, w, h float64) {
		s.drawn.Fill(scene.Rounded(scene.Rect{X: x, Y: y, W: w, H: h}, 0), color)
	}
	s.drawn.Open("Table")
	for _, row := range t.Rows {
		bottom := s.height
		var drawn scene.Scene
		drawn.Open("TR")
		for i, c := range row {
			x, y := float64(i)*column, s.height+cellPad
			drawn.Open(map[bool]string{true: "TH", false: "TD"}[c.Head])
			lists := lister{scene: &drawn}
			for _, p := range c.Paragraphs() {
				lists.enter(p)
				for j := range p.Spans {
					p.Spans[j].Bold = p.Spans[j].Bold || c.Head
				}
				y = l.setParagraph(&drawn, p, tags, x+cellPad, y, column-2*cellPad, size)
			}
			lists.leave(0)
			drawn.Close(1)
			bottom = math.Max(bottom, y+cellPad)
		}
		drawn.Close(1)
		for i, c := range row {
			if c.Head {
				fill(l.shade, float64(i)*column, s.height, column, bottom-s.height)
			}
		}
		fill(l.soft, 0, s.height, width, 0.6)
		for c := range t.Columns + 1 {
			fill(l.soft, float64(c)*column-0.3, s.height, 0.6, bottom-s.height)
		}
		s.drawn.Items = append(s.drawn.Items, drawn.Items...)
		s.height = bottom
	}
	fill(l.soft, 0, s.height, width, 0.6)
	s.drawn.Close(1)
	return s
}

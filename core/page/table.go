package page

import (
	"math"

	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/words"
)

const cellPad = 4.0

// setTable sets a table to a width, its columns equally wide.
func (l *look) setTable(cells []words.Paragraph, tags map[string]figure.Tag, width, size float64) setting {
	var s setting
	column := width / float64(cells[0].Cell.Columns)
	edge := func(x, y, w, h float64) { s.drawn.Fill(scene.Rounded(scene.Rect{X: x, Y: y, W: w, H: h}, 0), l.soft) }
	y := 0.0
	s.drawn.Open("Table")
	for i := 0; i < len(cells); {
		row, bottom := cells[i].Cell.Row, y
		var drawn scene.Scene
		drawn.Open("TR")
		at, heads := map[int]float64{}, map[int]bool{}
		lists := lister{scene: &drawn}
		for ; i < len(cells) && cells[i].Cell.Row == row; i++ {
			c := cells[i].Cell
			if _, begun := at[c.Column]; !begun {
				if lists.leave(0); len(at) > 0 {
					drawn.Close(1)
				}
				drawn.Open(map[bool]string{true: "TH", false: "TD"}[c.Head])
				at[c.Column] = y + cellPad
			}
			lists.enter(cells[i])
			p := cells[i]
			if c.Head {
				heads[c.Column] = true
				for j := range p.Spans {
					p.Spans[j].Bold = true
				}
			}
			at[c.Column] = l.setParagraph(&drawn, p, tags, float64(c.Column)*column+cellPad, at[c.Column], column-2*cellPad, size)
			bottom = math.Max(bottom, at[c.Column]+cellPad)
		}
		lists.leave(0)
		drawn.Close(2)
		for c := range cells[0].Cell.Columns {
			if heads[c] {
				s.drawn.Fill(scene.Rounded(scene.Rect{X: float64(c) * column, Y: y, W: column, H: bottom - y}, 0), l.shade)
			}
		}
		edge(0, y, width, 0.6)
		for c := range cells[0].Cell.Columns + 1 {
			edge(float64(c)*column-0.3, y, 0.6, bottom-y)
		}
		s.drawn.Items = append(s.drawn.Items, drawn.Items...)
		y = bottom
	}
	edge(0, y, width, 0.6)
	s.drawn.Close(1)
	s.height = y
	return s
}

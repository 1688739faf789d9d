package figure

import (
	"math"
	"slices"

	"raconte/core/scene"
)

// Tied are the marks with the ends of arrows and lines where the marks are that they follow.
func Tied(marks []Mark, unit float64) []Mark {
	var out []Mark
	for i, m := range marks {
		if m.From == "" && m.To == "" {
			continue
		}
		tied := m.followed(marks, unit)
		if slices.Equal(tied.Points, m.Points) {
			continue
		}
		if out == nil {
			out = slices.Clone(marks)
		}
		out[i] = tied
	}
	if out == nil {
		return marks
	}
	return out
}

func (m Mark) followed(marks []Mark, unit float64) Mark {
	area := func(id string) (scene.Rect, bool) {
		i := slices.IndexFunc(marks, func(o Mark) bool { return o.ID == id })
		if id == "" || i < 0 {
			return scene.Rect{}, false
		}
		return marks[i].Area(unit), true
	}
	from, hasFrom := area(m.From)
	to, hasTo := area(m.To)
	if !hasFrom && !hasTo {
		return m
	}
	before := m.Points
	pts := slices.Clone(m.Points)
	if hasFrom {
		pts[0] = from.Center()
	}
	if hasTo {
		pts[1] = to.Center()
	}
	// An arrow leaves from and comes to the sides that face its other end, or its bend.
	facing := func(i int) scene.Point {
		if len(pts) == 3 && m.Way != "" {
			return pts[2]
		}
		return pts[1-i]
	}
	if len(pts) == 3 {
		shift := pts[0].Minus(before[0]).Plus(pts[1].Minus(before[1])).Times(0.5)
		if !hasFrom || !hasTo {
			shift = scene.Point{}
		}
		pts[2] = pts[2].Plus(shift)
	}
	a, b := pts[0], pts[1]
	if hasFrom {
		a = onEdge(from.Grow(3*unit), facing(0))
	}
	if hasTo {
		b = onEdge(to.Grow(3*unit), facing(1))
	}
	pts[0], pts[1] = a, b
	m.Points = pts
	return m
}

// onEdge is where the line from the middle of r towards p leaves r.
func onEdge(r scene.Rect, p scene.Point) scene.Point {
	c := r.Center()
	d := p.Minus(c)
	k := math.Inf(1)
	if d.X != 0 {
		k = math.Min(k, r.W/2/math.Abs(d.X))
	}
	if d.Y != 0 {
		k = math.Min(k, r.H/2/math.Abs(d.Y))
	}
	if math.IsInf(k, 1) {
		return scene.Point{X: c.X, Y: r.Y}
	}
	return c.Plus(d.Times(k))
}

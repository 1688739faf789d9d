package figure

import (
	"slices"

	"raconte/core/scene"
)

// Target is what of the shot a mark is about, in pixels of the shot; false for marks that are about no one
// place, as texts and strokes of the pen. Unit is that of the figure.
func (m Mark) Target(unit float64) (scene.Rect, bool) {
	around := func(p scene.Point) scene.Rect {
		return scene.Rect{X: p.X, Y: p.Y}.Grow(26 * unit)
	}
	switch about := shapes[m.Kind].about; about {
	case aboutNothing:
		return scene.Rect{}, false
	case aboutCorners:
		return m.corners(), true
	default:
		return around(m.Points[about]), true
	}
}

// Follows is the mark when what it is about has moved and grown: about the middle of its target, by a scale.
// Arrows, notes and details keep their length and the size of their words; only what they point at follows.
func (m Mark) Follows(from, to scene.Point, scale float64) Mark {
	by := to.Minus(from)
	switch {
	case m.Kind.Framed():
		m = m.ShiftedBy(scene.Point{})
		for i, p := range m.Points {
			m.Points[i] = to.Plus(p.Minus(from).Times(scale))
		}
		return m
	case m.Kind == Detail:
		lens := m.Points[2]
		m = m.ShiftedBy(by)
		for i := range 2 {
			m.Points[i] = to.Plus(m.Points[i].Minus(by).Minus(from).Times(scale))
		}
		m.Points[2] = lens.Plus(by)
		return m
	}
	return m.ShiftedBy(by)
}

func (f Figure) with(m Mark) Figure {
	f.Marks = append(slices.Clone(f.Marks), m)
	return f
}

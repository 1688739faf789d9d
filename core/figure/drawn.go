package figure

import (
	"slices"

	"raconte/core/scene"
)

// Pull is how far the drawing of a new mark has come: from a press to where the pointer is. Places are those of the
// finished picture.
type Pull struct {
	From, At scene.Point
	Snapped  func() scene.Point            // where the pointer's place snaps to
	Words    func(r scene.Rect) scene.Rect // a rectangle along the lines of words in it; nil where it stays as drawn
	Steady   bool                          // straight, square or round
	Moved    bool                          // a drag, and no press
	Scale    float64                       // screen pixels for a pixel of the shot
	Unit     float64
	Frame    scene.Rect // of the picture
}

// A mark that an arrow's end may follow.
type ties int

const (
	tiesNot  ties = iota
	tiesOn        // where the end lies on it
	tiesEdge      // where the end is near its edge
)

// Free tells whether a mark of the kind begins where the press is, without snapping.
func (k Kind) Free() bool { return shapes[k].free }

// Pulled is a new mark, drawn as far as p.
func (m Mark) Pulled(p Pull) Mark {
	m.Points = shapes[m.Kind].pulled(m, p)
	return m
}

// Finished is a new mark whose drawing ends; false where nothing was drawn.
func (m Mark) Finished(p Pull) (Mark, bool) {
	if end := shapes[m.Kind].finished; end != nil {
		return end(m, p)
	}
	return m, p.Moved
}

// Ties tells whether an arrow's end at a place follows the mark, give or take so much.
func (m Mark) Ties(at scene.Point, unit, near float64) bool {
	area := m.Area(unit)
	if !area.Grow(near).Contains(at) {
		return false
	}
	switch shapes[m.Kind].ties {
	case tiesOn:
		return true
	case tiesEdge:
		inner := area.Grow(-near)
		return inner.Empty() || !inner.Contains(at)
	}
	return false
}

// Ways to draw that several kinds share.

func pulledToCorner(m Mark, p Pull) []scene.Point {
	return append([]scene.Point{p.From, Steady(p.From, p.Snapped(), p.Steady, m.Kind)}, m.Points[2:]...)
}

func pulledFreely(_ Mark, p Pull) []scene.Point { return []scene.Point{p.From, p.At} }

func pulledAlong(_ Mark, p Pull) []scene.Point { return []scene.Point{p.At} }

func finishedAtOnce(m Mark, _ Pull) (Mark, bool) { return m, true }

// finishedFrame draws nothing of a press, or of what is too thin to be seen.
func finishedFrame(m Mark, p Pull) (Mark, bool) {
	r := m.corners()
	return m, p.Moved && r.W >= 2 && r.H >= 2
}

// pulledByHand adds to the way of the pen.
func pulledByHand(m Mark, p Pull) []scene.Point {
	switch {
	case p.Steady:
		return []scene.Point{p.From, p.At}
	case p.At.Minus(m.Points[len(m.Points)-1]).Length()*p.Scale >= 2 && len(m.Points) < MostPoints:
		return append(slices.Clone(m.Points), p.At)
	}
	return m.Points
}

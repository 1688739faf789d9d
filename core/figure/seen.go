package figure

import (
	"math"

	"raconte/core/scene"
)

// Seen is how a finished picture is seen: its size in pixels of the shot, and the part of it that its marks point at,
// in shares of it; nil where no mark points.
type Seen struct {
	W    float64     `json:"w"`
	H    float64     `json:"h"`
	Area *scene.Rect `json:"area,omitempty"`
}

// Shows tells whether the finished picture shows what stands at a place of the shot, whose size is told: its middle is
// neither cropped nor folded away, and nothing of it is covered.
func (s Shown) Shows(shot Size, r scene.Rect) bool {
	g, middle := s.Geometry(shot), r.Center()
	return g.Inner.Contains(g.Show(middle)) && !g.foldsAway(middle) && !s.Hides(r)
}

const around = 0.08 // of the picture, that is seen around what its marks point at

// Seen tells how the figure of a shot is seen.
func (f Figure) Seen(shot Size) Seen {
	g := f.Geometry(shot)
	s := Seen{W: g.Frame.W, H: g.Frame.H}
	if s.W <= 0 || s.H <= 0 {
		return s
	}
	left, top, right, bottom := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	for _, m := range f.Marks {
		if m.Kind.Covers() {
			continue
		}
		for _, p := range m.Points {
			q := g.Show(p)
			left, right = math.Min(left, q.X), math.Max(right, q.X)
			top, bottom = math.Min(top, q.Y), math.Max(bottom, q.Y)
		}
	}
	if right < left {
		return s
	}
	share := func(v, from, of float64) float64 { return math.Min(1, math.Max(0, (v-from)/of)) }
	x0, x1 := share(left, g.Frame.X, s.W)-around, share(right, g.Frame.X, s.W)+around
	y0, y1 := share(top, g.Frame.Y, s.H)-around, share(bottom, g.Frame.Y, s.H)+around
	x0, y0, x1, y1 = math.Max(0, x0), math.Max(0, y0), math.Min(1, x1), math.Min(1, y1)
	s.Area = &scene.Rect{X: x0, Y: y0, W: x1 - x0, H: y1 - y0}
	return s
}

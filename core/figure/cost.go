package figure

import (
	"math"

	"raconte/core/scene"
)

// MostCost is the most that a figure's marks may cost together: some three million segments of outlines, of 56 bytes
// each. Hundreds of ordinary marks cost a hundredth of it.
const MostCost = 3_000_000

// Segments that a mark's outlines have, at the most, for each thing it is made of.
const (
	perPoint  = 30   // of a line: its part and its joint, in ink and keyline
	perDash   = 50   // with two ends
	perLetter = 35   // of a plate
	perBare   = 1500 // of letters with a line around each
	perCell   = 6    // of a hatched or scrambled cover
	usualMark = 60
)

// Cost is how much drawing the figure takes, in segments of outlines: an estimate that is never far too low. It
// needs no shot, so that it is known before any work begins.
func (f Figure) Cost() int {
	ground, marks, details, lights := 0, 0, 0, 0
	for _, m := range f.Marks {
		cost := m.cost()
		if m.Shadow {
			cost *= 5
		}
		marks += cost
		switch {
		case m.Kind.Ground():
			ground += cost
		case m.Kind == Detail:
			details++
		case m.Kind == Light:
			lights++
		}
	}
	// A detail shows the ground again; lights cut each other into bands.
	return marks + details*(ground+usualMark) + lights*lights*10
}

func (m Mark) cost() int {
	length := 0.0
	for i := 1; i < len(m.Points); i++ {
		length += m.Points[i].Minus(m.Points[i-1]).Length()
	}
	dashes := 0
	if m.Dash != "" {
		dashes = perDash * int(math.Min(scene.MostDashes, 2*length/5))
	}
	return shapes[m.Kind].cost(m) + shapes[m.Kind].dashed*dashes
}

// smoothed is how many points a pen's line has once it is smooth.
func smoothed(pts []scene.Point) int {
	n := 0.0
	for i := 1; i < len(pts); i++ {
		n += math.Max(1, math.Min(12, pts[i].Minus(pts[i-1]).Length()/4))
	}
	return int(math.Min(n, scene.MostSmooth)) + len(pts)
}

// clip is a mark without what lies farther off the picture than the area: nobody sees it, and dashes, hatching and
// outlines would be laid out all along it. False where nothing of it is left.
func (m Mark) clip(area scene.Rect) (Mark, bool) {
	inside := true
	for _, p := range m.Points {
		inside = inside && area.Contains(p)
	}
	if inside {
		return m, true
	}
	pts := make([]scene.Point, len(m.Points))
	for i, p := range m.Points {
		pts[i] = scene.Point{
			X: math.Max(area.X, math.Min(area.X+area.W, p.X)), Y: math.Max(area.Y, math.Min(area.Y+area.H, p.Y)),
		}
	}
	if m.Kind.Wire() && len(pts) == 2 && m.Way == "" {
		a, b, crosses := area.Clip(m.Points[0], m.Points[1])
		if !crosses {
			return m, false
		}
		pts[0], pts[1] = a, b
	}
	m.Points = pts
	return m, true
}

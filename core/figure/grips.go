package figure

import (
	"math"
	"slices"

	"raconte/core/scene"
)

// Grip is a place by which a mark or a crop is reshaped. Its name is the corner or side ("nw", "e"),
// "tail", "tip" and "bend" of an arrow, "point" for what a note points at, "lens" for a detail's enlargement
// and "zoom" for how large that is.
type Grip struct {
	Name string      `json:"name"`
	At   scene.Point `json:"at"`
}

// RectGrips are the corners and side middles of r.
func RectGrips(r scene.Rect) []Grip {
	x0, y0, x1, y1 := r.X, r.Y, r.X+r.W, r.Y+r.H
	c := r.Center()
	return []Grip{
		{"nw", scene.Point{X: x0, Y: y0}}, {"n", scene.Point{X: c.X, Y: y0}}, {"ne", scene.Point{X: x1, Y: y0}},
		{"e", scene.Point{X: x1, Y: c.Y}}, {"se", scene.Point{X: x1, Y: y1}}, {"s", scene.Point{X: c.X, Y: y1}},
		{"sw", scene.Point{X: x0, Y: y1}}, {"w", scene.Point{X: x0, Y: c.Y}},
	}
}

// Reshaped is the mark after its grip was dragged to a place; steady keeps arrows to eighths of a
// turn and boxes square.
func (m Mark) Reshaped(grip string, to scene.Point, steady bool) Mark {
	pts := slices.Clone(m.Points)
	switch {
	case grip == "bend":
		pts = append(pts[:2], to)
	case grip == "tail":
		pts[0] = Steady(pts[1], to, steady, m.Kind)
	case grip == "tip":
		pts[1] = Steady(pts[0], to, steady, m.Kind)
	case grip == "point", grip == "lens":
		pts[2] = to
	case grip == "zoom":
		r := scene.Between(pts[0], pts[1])
		k := math.Max((to.X-pts[2].X)/(r.W/2), (to.Y-pts[2].Y)/(r.H/2))
		m.Zoom = int(math.Max(110, math.Min(1000, math.Round(k*20)*5)))
	case shapes[m.Kind].corners:
		r := DragSide(scene.Between(pts[0], pts[1]), grip, to)
		pts[0], pts[1] = scene.Point{X: r.X, Y: r.Y}, scene.Point{X: r.X + r.W, Y: r.Y + r.H}
	case m.Kind.Speaks():
		left, right := math.Min(pts[0].X, pts[1].X), math.Max(pts[0].X, pts[1].X)
		if grip == "w" {
			left = math.Min(to.X, right-narrowest)
		} else {
			right = math.Max(to.X, left+narrowest)
		}
		pts[0].X, pts[1].X = left, right
	}
	m.Points = pts
	return m
}

// DragSide is r with the side or corner named by grip dragged to a place; dragged past the
// opposite side, the rectangle turns over.
func DragSide(r scene.Rect, grip string, to scene.Point) scene.Rect {
	a, b := scene.Point{X: r.X, Y: r.Y}, scene.Point{X: r.X + r.W, Y: r.Y + r.H}
	for _, side := range grip {
		switch side {
		case 'n':
			a.Y = to.Y
		case 's':
			b.Y = to.Y
		case 'w':
			a.X = to.X
		case 'e':
			b.X = to.X
		}
	}
	return scene.Between(a, b)
}

// Steady is where a drag from a fixed point leads when held steady: an arrow or line to the nearest
// eighth of a turn, anything else to a square.
func Steady(from, to scene.Point, steady bool, kind Kind) scene.Point {
	d := to.Minus(from)
	if !steady || (d.X == 0 && d.Y == 0) {
		return to
	}
	if kind.Wire() {
		angle := math.Round(math.Atan2(d.Y, d.X)/(math.Pi/4)) * (math.Pi / 4)
		l := d.Length()
		return from.Plus(scene.Point{X: math.Cos(angle) * l, Y: math.Sin(angle) * l})
	}
	side := math.Max(math.Abs(d.X), math.Abs(d.Y))
	return from.Plus(scene.Point{X: math.Copysign(side, d.X), Y: math.Copysign(side, d.Y)})
}

// MovedBy is the mark at another place. What a note points at, and the part that a detail shows, stay: only
// their plate and lens move.
func (m Mark) MovedBy(d scene.Point) Mark {
	pts := slices.Clone(m.Points)
	for i, p := range m.Points {
		if slices.Contains(shapes[m.Kind].stays, i) {
			continue
		}
		pts[i] = p.Plus(d)
	}
	m.Points = pts
	return m
}

// ShiftedBy is the mark with all of it at another place, its target too.
func (m Mark) ShiftedBy(d scene.Point) Mark {
	pts := make([]scene.Point, len(m.Points))
	for i, p := range m.Points {
		pts[i] = p.Plus(d)
	}
	m.Points = pts
	return m
}

package figure

import (
	"math"
	"slices"
	"strings"

	"raconte/core/scene"
)

var edgeLine = scene.Hex("#596a70")

// OpenSides are the sides of the picture that are drawn as going on: letters of "nesw".
func (f Figure) OpenSides(g Geometry) string {
	if f.Edge.Open != "auto" {
		return f.Edge.Open
	}
	cut := f.cut(scene.Rect{W: float64(g.Sheet.W), H: float64(g.Sheet.H)})
	sides := ""
	for _, side := range []struct {
		name string
		more float64
	}{
		{"n", cut.Y}, {"e", float64(g.Sheet.W) - cut.X - cut.W}, {"s", float64(g.Sheet.H) - cut.Y - cut.H}, {"w", cut.X},
	} {
		if side.more > 1 {
			sides += side.name
		}
	}
	return sides
}

// Plain tells whether the picture ends as it is, with no edge of its own.
func (f Figure) Plain() bool {
	return f.Edge.Look == "" && f.Edge.Open == "" && len(f.Outline) == 0 && f.Margin == nil
}

// shape is the outline that the picture shows in; nil where it shows as a plain rectangle.
func (f Figure) shape(g Geometry, unit float64) scene.Outline {
	if len(f.Outline) > 2 {
		pts := make([]scene.Point, 0, len(f.Outline))
		for _, p := range f.Outline {
			pts = append(pts, g.fold(p))
		}
		return scene.Polygon(pts...)
	}
	open := f.OpenSides(g)
	switch {
	case open != "":
		return scene.Polygon(slices.Concat(g.sides(open, unit)...)...)
	case f.Edge.Look == "rounded":
		return scene.Rounded(g.Inner, 12*unit)
	}
	return nil
}

// sides are the lines along the picture's sides, clockwise from its top left corner. An open side is the
// freehand line by which ISO 128 ends interrupted views.
func (g Geometry) sides(open string, unit float64) [][]scene.Point {
	r := g.Inner
	corners := []scene.Point{{X: r.X, Y: r.Y}, {X: r.X + r.W, Y: r.Y}, {X: r.X + r.W, Y: r.Y + r.H}, {X: r.X, Y: r.Y + r.H}}
	all := make([][]scene.Point, 4)
	for i, name := range "nesw" {
		a, b := corners[i], corners[(i+1)%4]
		if !strings.ContainsRune(open, name) {
			all[i] = []scene.Point{a, b}
			continue
		}
		d := b.Minus(a)
		l := d.Length()
		along := d.Times(1 / l)
		inward := scene.Point{X: -along.Y, Y: along.X}
		depth := math.Min(3.5*unit, math.Min(r.W, r.H)/8)
		n := int(math.Max(8, math.Min(200, l/(5*unit))))
		for j := range n + 1 {
			t := float64(j) / float64(n)
			at := t * l / unit
			wave := 0.5 + 0.28*math.Sin(at/13) + 0.22*math.Sin(at/7.3+1.7)
			fade := math.Min(1, 8*math.Min(t, 1-t)) // it begins and ends in the corners
			all[i] = append(all[i], a.Plus(along.Times(t*l)).Plus(inward.Times(2*depth*wave*fade)))
		}
	}
	return all
}

// furniture is what is drawn on the picture whatever its marks: its edges and its folds.
func (f Figure) furniture(g Geometry, unit float64) []scene.Item {
	var s scene.Scene
	for _, fold := range g.folds {
		g.drawFold(&s, fold, unit)
	}
	open := f.OpenSides(g)
	if len(f.Outline) > 2 {
		return s.Items
	}
	line := 1.2 * unit
	for i, side := range g.sides(open, unit) {
		name := "nesw"[i : i+1]
		if strings.Contains(open, name) {
			s.Fill(scene.Stroke(side, line, false), edgeLine)
		} else if open != "" && f.Edge.Look != "faded" {
			s.Fill(scene.Stroke(side, line, false), edgeLine)
		}
	}
	if open != "" {
		return s.Items
	}
	switch f.Edge.Look {
	case "hairline":
		s.Fill(scene.Frame(g.Inner.Grow(-line/2), 0, line), edgeLine)
	case "rounded":
		s.Fill(scene.Frame(g.Inner.Grow(-line/2), 12*unit-line/2, line), edgeLine)
	case "faded":
		const steps = 16
		width := math.Min(28*unit, math.Min(g.Inner.W, g.Inner.H)/4)
		for i := range steps {
			band := width / steps
			r := g.Inner.Grow(-band * (float64(i) + 0.5))
			white := lightInk
			white.A = uint8(255 * (1 - (float64(i)+0.5)/steps))
			s.Fill(scene.Frame(r, 0, band), white)
		}
	}
	return s.Items
}

// drawFold fills the gap of a fold with the long-break line of ISO 128: straight, with zigzags.
func (g Geometry) drawFold(s *scene.Scene, f Fold, unit float64) {
	r := g.Inner
	at := g.fold(scene.Point{X: f.From, Y: f.From})
	var gap scene.Rect
	var pts []scene.Point
	point := func(along, aside float64) scene.Point { return scene.Point{X: along, Y: at.Y + g.gap/2 + aside} }
	length, start := r.W, r.X
	if f.Down {
		gap = scene.Rect{X: at.X, Y: r.Y, W: g.gap, H: r.H}
		point = func(along, aside float64) scene.Point { return scene.Point{X: at.X + g.gap/2 + aside, Y: along} }
		length, start = r.H, r.Y
	} else {
		gap = scene.Rect{X: r.X, Y: at.Y, W: r.W, H: g.gap}
	}
	s.Fill(scene.Rounded(gap, 0), lightInk)
	pts = append(pts, point(start, 0))
	high := g.gap * 0.42
	for i, n := 0, int(math.Max(1, math.Round(length/(160*unit)))); i < n; i++ {
		middle := start + length*(float64(i)+0.5)/float64(n)
		pts = append(pts, point(middle-5*unit, 0), point(middle-2*unit, -high), point(middle+2*unit, high), point(middle+5*unit, 0))
	}
	pts = append(pts, point(start+length, 0))
	s.Fill(scene.Stroke(pts, 1.2*unit, false), edgeLine)
}

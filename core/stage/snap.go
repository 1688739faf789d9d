package stage

import (
	"math"
	"slices"

	"raconte/core/scene"
)

// Guide is a line that a drag has snapped to: upright at X from Y, or level at Y.
type Guide struct {
	Upright bool    `json:"upright"`
	At      float64 `json:"at"`
}

// snapNear is how far a drag snaps, in screen pixels.
const snapNear = 6.0

// snapped is p drawn to the nearest edges of elements, of other marks and of things in the picture.
func (s *Stage) snapped(p Pointer, except string) scene.Point {
	s.guides = nil
	if p.Alt {
		return p.At
	}
	near := snapNear / p.Scale
	xs, ys := s.lines(except)
	at := p.At
	if x, ok := nearestTo(at.X, xs, near); ok {
		at.X = x
		s.guides = append(s.guides, Guide{true, x})
	} else if x, ok := s.edge(p.At, near, true); ok {
		at.X = x
	}
	if y, ok := nearestTo(at.Y, ys, near); ok {
		at.Y = y
		s.guides = append(s.guides, Guide{false, y})
	} else if y, ok := s.edge(p.At, near, false); ok {
		at.Y = y
	}
	return at
}

// snappedBy is a way that marks are moved by, so that their room meets the lines of others.
func (s *Stage) snappedBy(by scene.Point, area scene.Rect, p Pointer, except string) scene.Point {
	s.guides = nil
	if p.Alt || area.Empty() {
		return by
	}
	near := snapNear / p.Scale
	xs, ys := s.lines(except)
	best := near
	shift := 0.0
	for _, x := range []float64{area.X, area.X + area.W/2, area.X + area.W} {
		if to, ok := nearestTo(x+by.X, xs, best); ok {
			best, shift = math.Abs(to-x-by.X), to-x-by.X
			s.guides = []Guide{{true, to}}
		}
	}
	by.X += shift
	best, shift = near, 0
	var level []Guide
	for _, y := range []float64{area.Y, area.Y + area.H/2, area.Y + area.H} {
		if to, ok := nearestTo(y+by.Y, ys, best); ok {
			best, shift = math.Abs(to-y-by.Y), to-y-by.Y
			level = []Guide{{false, to}}
		}
	}
	by.Y += shift
	s.guides = append(s.guides, level...)
	return by
}

// lines are the places across and down that drags snap to.
func (s *Stage) lines(except string) (xs, ys []float64) {
	if s.drag != nil && s.drag.xs != nil {
		return s.drag.xs, s.drag.ys
	}
	if s.drag != nil {
		defer func() { s.drag.xs, s.drag.ys = xs, ys }()
	}
	add := func(r scene.Rect) {
		xs = append(xs, r.X, r.X+r.W)
		ys = append(ys, r.Y, r.Y+r.H)
	}
	for _, r := range s.known.Elements {
		add(scene.Between(s.geo.Show(scene.Point{X: r.X, Y: r.Y}), s.geo.Show(scene.Point{X: r.X + r.W, Y: r.Y + r.H})))
	}
	for _, m := range s.fig.Marks {
		if m.ID == except || slices.Contains(s.selected, m.ID) || m.Kind.ByHand() || m.Kind.Wire() {
			continue
		}
		r := m.Area(s.unit())
		add(r)
		xs, ys = append(xs, r.Center().X), append(ys, r.Center().Y)
	}
	add(s.geo.Inner)
	return xs, ys
}

func nearestTo(v float64, all []float64, near float64) (float64, bool) {
	best, found := 0.0, false
	for _, a := range all {
		if d := math.Abs(a - v); d < near {
			near, best, found = d, a, true
		}
	}
	return best, found
}

// edge looks for a straight edge in the picture near p: a line of some length across which the
// lightness jumps.
func (s *Stage) edge(p scene.Point, near float64, upright bool) (float64, bool) {
	if s.ground.Image == nil {
		return 0, false
	}
	const half = 14 // looks so far along the edge, to both sides
	step := 1 / s.ground.Scale
	light := func(across, along float64) float64 {
		q := scene.Point{X: p.X + along, Y: p.Y + across}
		if upright {
			q = scene.Point{X: p.X + across, Y: p.Y + along}
		}
		c, _ := s.at(q)
		return 0.299*float64(c.R) + 0.587*float64(c.G) + 0.114*float64(c.B)
	}
	best, at := 0.0, 0.0
	n := int(math.Ceil(near / step))
	for i := -n; i <= n; i++ {
		across := float64(i) * step
		least := math.Inf(1)
		for j := -half; j <= half; j += 2 {
			along := float64(j) * step
			least = math.Min(least, math.Abs(light(across, along)-light(across-step, along)))
		}
		// Nearer edges win over somewhat stronger ones farther off.
		if score := least - math.Abs(across)*s.ground.Scale*0.5; least > 10 && score > best {
			best, at = score, across
		}
	}
	if best == 0 {
		return 0, false
	}
	// The edge lies on the side of the pixel.
	v := p.Y
	if upright {
		v = p.X
	}
	return math.Round(v + at), true
}

// alongWords is a highlight drawn over words, straight along their line: as high as the words are, and from the
// beginning of the first to the end of the last that it touches. One that is on no words, or on several lines, stays.
func (s *Stage) alongWords(r scene.Rect) scene.Rect {
	var line scene.Rect
	for _, w := range s.known.Words {
		w = scene.Between(s.geo.Show(scene.Point{X: w.X, Y: w.Y}), s.geo.Show(scene.Point{X: w.X + w.W, Y: w.Y + w.H}))
		on := w.Intersect(r)
		if on.H < w.H*0.4 || on.W < math.Min(w.W*0.3, w.H) {
			continue
		}
		if !line.Empty() && (w.Y > line.Y+line.H || w.Y+w.H < line.Y) {
			return r
		}
		line = line.Union(w)
	}
	if line.Empty() || line.W < r.W*0.5 {
		return r
	}
	return line.Grow(line.H * 0.18)
}

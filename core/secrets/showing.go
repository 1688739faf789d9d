package secrets

import (
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/sight"
)

// Showing are the words of a shot that a figure of it shows: not cropped or folded away, and touched by no concealment or
// patch. Size is the shot's; places are in its pixels.
func Showing(words []sight.Word, f figure.Figure, size figure.Size) []sight.Word {
	var covers []scene.Rect
	for _, m := range f.Marks {
		if m.Kind.Covers() && len(m.Points) >= 2 {
			covers = append(covers, scene.Between(m.Points[0], m.Points[1]))
		}
	}
	g := f.Geometry(size)
	out := []sight.Word{}
	for _, w := range words {
		if !touched(w.Rect, covers) && shows(g, f.Folds, w.Rect) && (len(f.Outline) < 3 || inside(g.Upright(g.Show(center(w.Rect))), f.Outline)) {
			out = append(out, w)
		}
	}
	return out
}

func center(r scene.Rect) scene.Point { return scene.Point{X: r.X + r.W/2, Y: r.Y + r.H/2} }

func touched(r scene.Rect, covers []scene.Rect) bool {
	for _, c := range covers {
		if r.X < c.X+c.W && c.X < r.X+r.W && r.Y < c.Y+c.H && c.Y < r.Y+r.H {
			return true
		}
	}
	return false
}

// shows tells whether the middle of r, and both its ends, lie in the finished picture and in no fold.
func shows(g figure.Geometry, folds []figure.Fold, r scene.Rect) bool {
	for _, x := range []float64{r.X + 1, r.X + r.W/2, r.X + r.W - 1} {
		q := g.Show(scene.Point{X: x, Y: r.Y + r.H/2})
		if q.X < g.Frame.X || q.X > g.Frame.X+g.Frame.W || q.Y < g.Frame.Y || q.Y > g.Frame.Y+g.Frame.H {
			return false
		}
		up := g.Upright(q)
		for _, f := range folds {
			at := up.Y
			if f.Down {
				at = up.X
			}
			if at > f.From && at < f.To {
				return false
			}
		}
	}
	return true
}

// inside tells whether a point lies in a polygon, by the even-odd rule.
func inside(p scene.Point, polygon []scene.Point) bool {
	in := false
	for i, j := 0, len(polygon)-1; i < len(polygon); j, i = i, i+1 {
		a, b := polygon[i], polygon[j]
		if (a.Y > p.Y) != (b.Y > p.Y) && p.X < (b.X-a.X)*(p.Y-a.Y)/(b.Y-a.Y)+a.X {
			in = !in
		}
	}
	return in
}

package secrets

import (
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/sight"
)

// Showing are the words of a shot that a figure of it shows: not cropped or folded away, and touched by no concealment
// or patch. Size is the shot's; places are in its pixels.
func Showing(words []sight.Word, f figure.Shown, size figure.Size) []sight.Word {
	g := f.Geometry(size)
	out := []sight.Word{}
	for _, w := range words {
		if !f.Hides(w.Rect) && shows(g, f.Folds, w.Rect) && (len(f.Outline) < 3 || inside(g.Upright(g.Show(center(w.Rect))), f.Outline)) {
			out = append(out, w)
		}
	}
	return out
}

func center(r scene.Rect) scene.Point { return scene.Point{X: r.X + r.W/2, Y: r.Y + r.H/2} }

// Peeks tells whether any of a place of the shot shows in a figure: what is cut off or folded away in part shows in
// part.
func Peeks(r scene.Rect, f figure.Shown, size figure.Size) bool {
	for _, o := range f.Visible(size) {
		if b := r.Intersect(o.Bounds()); b.W < 1 || b.H < 1 {
			return false
		}
	}
	g := f.Geometry(size)
	for _, x := range []float64{0.05, 0.25, 0.5, 0.75, 0.95} {
		for _, y := range []float64{0.1, 0.5, 0.9} {
			at := scene.Rect{X: r.X + x*r.W, Y: r.Y + y*r.H}
			if shows(g, f.Folds, scene.Rect{X: at.X - 1, Y: at.Y, W: 2}) && (len(f.Outline) < 3 || inside(g.Upright(g.Show(at.Center())), f.Outline)) {
				return true
			}
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

package figure

import (
	"slices"

	"raconte/core/scene"
)

// ground is the picture itself as it shows: the shot's parts, the shots set into it, and what covers
// them. Everything else is drawn on it, and details show nothing but it.
func (f Figure) ground(g Geometry, shown []Mark, unit float64) []scene.Item {
	items := f.pictures(g)
	for _, kinds := range [][]Kind{{Inset}, {Patch, Concealment}} {
		for _, m := range shown {
			if m.Kind == kinds[0] || m.Kind == kinds[len(kinds)-1] {
				items = append(items, f.cover(m, g, unit)...)
			}
		}
	}
	return items
}

// pictures are the shot's parts where they show.
func (f Figure) pictures(g Geometry) []scene.Item {
	from, to := g.parts()
	items := make([]scene.Item, 0, len(from))
	for i := range from {
		p := scene.Picture{Ref: f.Shot, Source: from[i], Target: to[i], Tone: f.Tone}
		if g.to != scene.Same {
			m := g.to.Then(scene.Stretch(1, scene.Point{X: to[i].X - from[i].X, Y: to[i].Y - from[i].Y}))
			p.Matrix, p.Source = &m, scene.Rect{}
		}
		if i == 0 {
			p.Alt = f.Alt
		}
		items = append(items, scene.Item{Picture: &p})
	}
	return items
}

// Clears tells whether some colour of the picture becomes transparent.
func (v View) Clears() bool {
	return slices.ContainsFunc(v.Recolours, func(r scene.Recolour) bool { return r.To == "" })
}

// Covered is the area that a concealment or patch covers in the finished picture.
func (f Figure) Covered(m Mark, g Geometry) scene.Rect {
	if f.Tilt != 0 {
		return f.tilted(g.ShowMark(m), g).Bounds()
	}
	shown := g.ShowMark(m)
	return scene.Between(shown.Points[0], shown.Points[1])
}

// tilted is a covered area in a picture that is turned by some degrees: the area as it lies in the shot,
// turned with it, so that all of it stays covered, and, where folds cut through it, all around that.
func (f Figure) tilted(m Mark, g Geometry) scene.Outline {
	kept := g.KeepMark(m)
	r := scene.Between(kept.Points[0], kept.Points[1])
	o := scene.Rounded(r, 0).Mapped(g.Show)
	if len(g.folds) > 0 {
		return scene.Rounded(o.Bounds(), 0)
	}
	return o
}

// Scene is the finished figure, its top left corner at the origin, in pixels of the shot; first is the
// number of its first marker.
func (f Shown) Scene(shot Size, first int) scene.Scene {
	g := f.Geometry(shot)
	var l Layouter
	var items []scene.Item
	for _, p := range l.Layout(f, shot, first) {
		items = append(items, p.Items...)
	}
	s := scene.Scene{W: g.Frame.W, H: g.Frame.H, Clear: f.Clears()}
	s.Items = scene.MovedAll(items, 1, scene.Point{X: -g.Frame.X, Y: -g.Frame.Y})
	return s
}

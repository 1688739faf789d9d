package figure

import (
	"hash/fnv"
	"math"
	"math/rand/v2"

	"raconte/core/scene"
)

// ground is the picture itself as it shows: the shot's parts, the shots set into it, and what covers
// them. Everything else is drawn on it, and loupes show nothing but it.
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

// cover is what a patch, concealment or inset puts over the picture. It is made of the mark alone: the
// pixels under it are not used.
func (f Figure) cover(m Mark, g Geometry, unit float64) []scene.Item {
	var s scene.Scene
	r := scene.Between(m.Points[0], m.Points[1])
	if r.Empty() {
		return nil
	}
	if m.Kind == Inset {
		s.Items = append(s.Items, scene.Item{Picture: &scene.Picture{Ref: m.Shot, Target: r, Tone: f.Tone}})
		s.Fill(scene.Frame(r, 0, 1.5*unit), f.Tone.Apply(darkInk))
		return s.Items
	}
	r = r.Outward() // no half-covered pixels
	tone := func(o scene.Outline, c scene.Color) { s.Fill(o, f.Tone.Apply(c)) }
	area := scene.Rounded(r, 0)
	if f.Tilt != 0 {
		area = f.tilted(m, g)
	}
	tone(area, m.CoverColor())
	if m.Kind == Patch {
		return s.Items
	}
	switch m.Look {
	case "hatched":
		tone(hatching(r, 9*unit, 2.5*unit), scene.Hex("#596a70"))
		tone(scene.Frame(r.Grow(-0.75*unit), 0, 1.5*unit), scene.Hex("#596a70"))
	case "scrambled":
		for shade, cells := range scramble(m.ID, r, 7*unit) {
			tone(cells, scene.Hex([]string{"#5f6d72", "#748288", "#a3adb0", "#bcc5c7"}[shade]))
		}
	}
	return s.Items
}

// CoverColor is what a concealment or patch covers with, under whatever look it has.
func (m Mark) CoverColor() scene.Color {
	switch {
	case m.Kind == Patch:
		return scene.Hex(m.Color)
	case m.Look == "hatched":
		return scene.Hex("#d0d8da")
	case m.Look == "scrambled":
		return scene.Hex("#8b979b")
	}
	return InkColor(m.Ink)
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

// hatching are strokes from the lower left to the upper right, within r.
func hatching(r scene.Rect, every, width float64) scene.Outline {
	var o scene.Outline
	slant := width * math.Sqrt2
	cut := func(c float64) [2]scene.Point { // the points of r's edge with x+y = c, relative to its corner
		return [2]scene.Point{
			{X: r.X + math.Max(0, c-r.H), Y: r.Y + math.Min(c, r.H)},
			{X: r.X + math.Min(c, r.W), Y: r.Y + math.Max(0, c-r.W)},
		}
	}
	for c := every; c < r.W+r.H; c += every {
		a, b := cut(c), cut(math.Min(c+slant, r.W+r.H))
		o = append(o, scene.Polygon(a[0], a[1], b[1], b[0])...)
	}
	return o
}

// scramble are cells in four shades, drawn from numbers that depend on nothing but the mark's id.
func scramble(id string, r scene.Rect, cell float64) [4]scene.Outline {
	h := fnv.New64a()
	_, _ = h.Write([]byte(id))
	random := rand.New(rand.NewPCG(h.Sum64(), 12))
	across, down := math.Max(1, math.Round(r.W/cell)), math.Max(1, math.Round(r.H/cell))
	for across*down > 1500 {
		across, down = math.Max(1, math.Round(across/1.5)), math.Max(1, math.Round(down/1.5))
	}
	w, d := r.W/across, r.H/down
	var cells [4]scene.Outline
	for y := range int(down) {
		for x := range int(across) {
			if shade := random.IntN(5); shade < 4 {
				cells[shade] = append(cells[shade], scene.Rounded(scene.Rect{X: r.X + float64(x)*w, Y: r.Y + float64(y)*d, W: w, H: d}, 0)...)
			}
		}
	}
	return cells
}

// Scene is the finished figure, its top left corner at the origin, in pixels of the shot; first is the
// number of its first marker.
func (f Figure) Scene(shot Size, first int) scene.Scene {
	g := f.Geometry(shot)
	var l Layouter
	var items []scene.Item
	for _, p := range l.Layout(f, shot, first) {
		items = append(items, p.Items...)
	}
	s := scene.Scene{W: g.Frame.W, H: g.Frame.H}
	s.Items = scene.MovedAll(items, 1, scene.Point{X: -g.Frame.X, Y: -g.Frame.Y})
	return s
}

package figure

import (
	"hash/fnv"
	"math"
	"math/rand/v2"

	"raconte/core/scene"
)

// groundShape is that of a mark that changes the picture itself: it is drawn with the picture, under all others.
func groundShape(name string) shape {
	return shape{
		name: name, least: 2, most: 2, corners: true, framed: true, ground: true, about: aboutCorners,
		pulled: pulledToCorner, finished: finishedFrame,
		area: cornersArea, grips: cornersGrips, hits: cornersHit, edge: aroundArea(3), cost: plain(usualMark), draw: func(*drawing) {}, inMiddle: boxInMiddle,
	}
}

func concealmentShape() shape {
	s := groundShape("Concealment")
	s.usual, s.covers = Style{Ink: "dark"}, true
	s.cost = func(m Mark) int {
		switch m.Look {
		case "hatched":
			r := m.corners()
			return perCell * int(math.Min(20_000, (r.W+r.H)/9))
		case "scrambled":
			return perCell * 1500
		}
		return perCell
	}
	return s
}

func patchShape() shape {
	s := groundShape("Patch")
	s.covers, s.matches = true, true
	return s
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
		f.inset(&s, m, r, unit)
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

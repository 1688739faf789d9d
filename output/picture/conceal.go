package picture

import (
	"image"
	"image/draw"
	"maps"

	"raconte/core/figure"
	"raconte/core/scene"
)

// concealed are a figure's shots with what is concealed painted over in their own pixels, before anything is
// scaled, turned or enlarged: a filter that mixes neighbours would carry colours out from under a cover that is
// only laid on top (rule 12). The shots that are given stay as they are.
func concealed(f figure.Shown, shots map[string]*image.RGBA) map[string]*image.RGBA {
	own := shots[f.Shot].Bounds().Size()
	g := f.Geometry(figure.Size{W: own.X, H: own.Y})
	out := maps.Clone(shots)
	paint := func(shot string, r scene.Rect, m figure.Mark) {
		r = r.Outward()
		area := image.Rect(int(r.X), int(r.Y), int(r.X+r.W), int(r.Y+r.H))
		if area.Intersect(shots[shot].Rect).Empty() {
			return
		}
		if out[shot] == shots[shot] {
			whole := *shots[shot]
			whole.Pix = append([]uint8(nil), whole.Pix...)
			out[shot] = &whole
		}
		c := m.CoverColor()
		draw.Draw(out[shot], area, image.NewUniform(c.RGBA()), image.Point{}, draw.Src)
	}
	for _, m := range f.Marks {
		if !m.Kind.Covers() {
			continue
		}
		paint(f.Shot, scene.Between(m.Points[0], m.Points[1]), m)
		covered := f.Covered(m, g)
		for _, inset := range f.Marks {
			if inset.Kind != figure.Inset {
				continue
			}
			shown := g.ShowMark(inset)
			r := scene.Between(shown.Points[0], shown.Points[1])
			under := covered.Intersect(r)
			if under.Empty() {
				continue
			}
			size := shots[inset.Shot].Bounds().Size()
			kx, ky := float64(size.X)/r.W, float64(size.Y)/r.H
			paint(inset.Shot, scene.Rect{X: (under.X - r.X) * kx, Y: (under.Y - r.Y) * ky, W: under.W * kx, H: under.H * ky}, m)
		}
	}
	return out
}

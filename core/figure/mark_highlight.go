package figure

import (
	"raconte/core/scene"
)

func highlightShape() shape {
	return shape{
		name: "Highlight", least: 2, most: 2, corners: true, framed: true, tints: true, about: aboutCorners, usual: Style{Ink: "amber"},
		pulled: pulledToCorner, ties: tiesEdge, finished: func(m Mark, p Pull) (Mark, bool) {
			if p.Moved && p.Words != nil {
				r := p.Words(m.corners())
				m.Points = []scene.Point{{X: r.X, Y: r.Y}, {X: r.X + r.W, Y: r.Y + r.H}}
			}
			return finishedFrame(m, p)
		},
		area: cornersArea, grips: cornersGrips, hits: cornersHit, edge: aroundArea(3), cost: plain(usualMark),
		draw: (*drawing).highlight, inMiddle: boxInMiddle,
	}
}

// highlight colours what it covers so that letters stay readable: light ground is darkened to a tint of the
// ink, dark ground lightened to a shade of it.
func (d *drawing) highlight() {
	r := scene.Between(d.Points[0], d.Points[1])
	mix := func(to scene.Color, k float64) scene.Color {
		v := func(a, b uint8) uint8 { return uint8(float64(a)*(1-k) + float64(b)*k) }
		return scene.Color{R: v(d.ink.R, to.R), G: v(d.ink.G, to.G), B: v(d.ink.B, to.B), A: 255}
	}
	d.s.Fill(scene.Rounded(r, 2*d.unit), mix(lightInk, 0.5))
	blend := scene.Multiply
	if d.Ground == "dark" {
		d.s.Items[len(d.s.Items)-1].Path.Fill = mix(darkInk, 0.45)
		blend = scene.Screen
	}
	d.s.Items[len(d.s.Items)-1].Path.Blend = blend
}

package figure

import (
	"raconte/core/scene"
)

func pointerShape() shape {
	return shape{
		name: "Mouse pointer", least: 1, most: 1, edge: aroundArea(3), cost: plain(usualMark), inMiddle: inMiddle([2]float64{}),
		pulled: pulledAlong, finished: finishedAtOnce,
		area: func(m Mark, unit float64) scene.Rect {
			size := pointerSize(m.Weight) * unit
			return scene.Rect{X: m.Points[0].X, Y: m.Points[0].Y, W: size * 0.7, H: size}
		},
		draw: func(d *drawing) {
			for i, p := range PointerShape(d.Points[0], pointerSize(d.Weight)*d.unit) {
				d.s.Fill(p, []scene.Color{darkInk, lightInk}[i])
			}
		},
	}
}

// PointerShape is a mouse pointer with its tip at a place: its dark edge and its light inside. It is size high.
func PointerShape(tip scene.Point, size float64) [2]scene.Outline {
	shape := make([]scene.Point, 0, 4)
	for _, p := range []scene.Point{{X: 0, Y: 0}, {X: 0.68, Y: 0.66}, {X: 0.3, Y: 0.7}, {X: 0.06, Y: 1}} {
		shape = append(shape, tip.Plus(p.Times(size)))
	}
	return [2]scene.Outline{append(scene.Stroke(shape, size*0.13, true), scene.Polygon(shape...)...), scene.Polygon(shape...)}
}

func pointerSize(w Weight) float64 { return w.pick(16, 24, 40) }

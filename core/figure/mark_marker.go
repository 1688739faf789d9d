package figure

import (
	"raconte/core/scene"
	"raconte/core/text"
)

func markerShape() shape {
	return shape{
		name: "Marker", least: 1, most: 1, usual: Style{Auto: true}, edge: aroundArea(3), weight: plain(usualMark),
		draw: (*drawing).marker, inMiddle: inMiddle([2]float64{}),
		area: func(m Mark, unit float64) scene.Rect {
			side := m.Weight.pick(22, 30, 40) * unit
			return scene.Rect{X: m.Points[0].X - side/2, Y: m.Points[0].Y - side/2, W: side, H: side}
		},
	}
}

func (d *drawing) marker() {
	label := d.label
	r := d.Area(d.unit)
	side := r.H
	size := side * 0.64
	width := text.Width(text.Bold, size, label)
	if over := width - side*0.7; over > 0 {
		r = scene.Rect{X: r.X - over/2, Y: r.Y, W: r.W + over, H: r.H}
	}
	d.s.Fill(scene.Rounded(r.Grow(d.edge), side*0.22+d.edge), d.keyline())
	d.s.Fill(scene.Rounded(r, side*0.22), d.ink)
	at := d.Points[0]
	d.letters(size, at.X-width/2, at.Y+size*text.CapTop/2, label, OnInk(d.ink))
}

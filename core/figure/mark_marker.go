package figure

import (
	"strings"
	"unicode/utf8"

	"raconte/core/scene"
	"raconte/core/text"
)

func markerShape() shape {
	return shape{
		name: "Marker", counts: true, inked: true, least: 1, most: 1, usual: Style{Auto: true}, edge: aroundArea(3),
		cost: func(m Mark) int { return usualMark + utf8.RuneCountInString(m.word())*perLetter },
		free: true, pulled: pulledAlong, finished: finishedAtOnce, ties: tiesOn,
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
	if word := d.word(); word != "" {
		d.beside(r, word)
	}
	d.letters(size, at.X-width/2, at.Y+size*text.CapTop/2, label, OnInk(d.ink))
}

// longestWord is the most letters of a marker's own word that stand beside it.
const longestWord = 60

// word is the marker's own word, in one line.
func (m Mark) word() string {
	r := []rune(strings.Join(strings.Fields(m.Text), " "))
	return string(r[:min(len(r), longestWord)])
}

// beside draws a marker's own word on a plate at its right, or at its left where it would not fit into the picture
// there.
func (d *drawing) beside(r scene.Rect, word string) {
	size, pad := r.H*0.5, 6*d.unit
	plate := scene.Rect{X: r.X + r.W + 3*d.unit, Y: r.Y + r.H*0.1, W: text.Width(text.Bold, size, word) + 2*pad, H: r.H * 0.8}
	if left := r.X - 3*d.unit - plate.W; plate.X+plate.W > d.frame.X+d.frame.W && left >= d.frame.X {
		plate.X = left
	}
	d.s.Fill(scene.Rounded(plate.Grow(d.edge), r.H*0.16+d.edge), d.keyline())
	d.s.Fill(scene.Rounded(plate, r.H*0.16), d.ink)
	d.letters(size, plate.X+pad, plate.Y+plate.H/2+size*text.CapTop/2, word, OnInk(d.ink))
}

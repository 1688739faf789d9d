package figure

import (
	"math"
	"strings"
	"unicode/utf8"

	"raconte/core/scene"
	"raconte/core/text"
)

func plateShape(name string) shape {
	return shape{
		name: name, least: 2, most: 2, speaks: true, inked: true, about: aboutNothing, usual: Style{Auto: true},
		pulled: pulledFreely, finished: finishedText, ties: tiesOn,
		edge: aroundArea(3), draw: (*drawing).text, inMiddle: inMiddle([2]float64{-130, -20}, [2]float64{130, -20}),
		area: func(m Mark, unit float64) scene.Rect {
			plate, _, _ := m.textPlate(unit)
			return plate
		},
		grips: func(m Mark, unit float64) []Grip {
			plate, _, _ := m.textPlate(unit)
			y := plate.Y + plate.H/2
			return []Grip{{"w", scene.Point{X: plate.X, Y: y}}, {"e", scene.Point{X: plate.X + plate.W, Y: y}}}
		},
		cost: func(m Mark) int {
			letters := utf8.RuneCountInString(m.Text)
			if m.Plate == "bare" && m.Kind == Text {
				return usualMark + letters*perBare
			}
			return usualMark + letters*perLetter
		},
	}
}

func textShape() shape { return plateShape("Text") }

func noteShape() shape {
	s := plateShape("Note")
	grips := s.grips
	s.least, s.most, s.stays, s.about, s.draw = 3, 3, []int{2}, 2, (*drawing).note
	s.pulled, s.finished = pulledFromTarget, finishedNote
	s.inMiddle = inMiddle([2]float64{40, -120}, [2]float64{260, -120}, [2]float64{})
	s.grips = func(m Mark, unit float64) []Grip { return append(grips(m, unit), Grip{"point", m.Points[2]}) }
	s.hits = func(m Mark, h hit) bool {
		plate, _, _ := m.textPlate(h.unit)
		return plate.Grow(h.tolerance).Contains(h.at) || scene.DistanceToSegment(h.at, plate.Center(), m.Points[2]) < 5*h.unit
	}
	return s
}

// finishedText is as wide as it was drawn, or as is usual where it was not drawn.
func finishedText(m Mark, p Pull) (Mark, bool) {
	left, right := math.Min(m.Points[0].X, m.Points[1].X), math.Max(m.Points[0].X, m.Points[1].X)
	if !p.Moved {
		right = left + textWidth*p.Unit
	}
	m.Points = []scene.Point{{X: left, Y: m.Points[0].Y}, {X: math.Max(right, left+2*narrowest*p.Unit), Y: m.Points[0].Y}}
	return m, true
}

// pulledFromTarget draws a note from what it points at to where its words stand.
func pulledFromTarget(m Mark, p Pull) []scene.Point {
	return []scene.Point{p.At, p.At.Plus(scene.Point{X: noteWidth * p.Unit}), m.Points[2]}
}

// finishedNote stands above what it points at where it was not drawn.
func finishedNote(m Mark, p Pull) (Mark, bool) {
	if !p.Moved {
		p.At = m.Points[2].Plus(scene.Point{X: 40 * p.Unit, Y: -90 * p.Unit})
		m.Points = pulledFromTarget(m, p)
	}
	return m, true
}

// Sizes of a text mark in units.
const (
	textSize   = 20.0
	textPad    = 8.0
	lineHeight = 1.3
	narrowest  = 40.0  // a text mark's width
	textWidth  = 260.0 // of one that was not drawn
	noteWidth  = 220.0
)

func (m Mark) textPlate(unit float64) (plate scene.Rect, lines []string, size float64) {
	size = m.Style.letters(unit)
	pad := textPad * unit
	left, top := math.Min(m.Points[0].X, m.Points[1].X), m.Points[0].Y
	room := math.Max(math.Abs(m.Points[1].X-m.Points[0].X), narrowest*unit) - 2*pad
	lines = text.Wrap(text.Bold, size, room, m.Text)
	return scene.Rect{X: left, Y: top, W: room + 2*pad, H: float64(len(lines))*size*lineHeight + 1.5*pad}, lines, size
}

func (d *drawing) text() {
	plate, lines, size := d.textPlate(d.unit)
	if d.Plate != "bare" {
		radius := d.corner(d.unit)
		d.s.Fill(scene.Rounded(plate.Grow(d.edge), radius+d.edge), d.keyline())
		d.s.Fill(scene.Rounded(plate, radius), d.ink)
		d.lines(plate, lines, size, OnInk(d.ink))
		return
	}
	// Bare letters read on any ground by the line around them.
	bare := drawing{Mark: d.Mark, unit: d.unit}
	bare.lines(plate, lines, size, d.ink)
	around := OnInk(d.ink)
	for _, it := range bare.s.Items {
		var o scene.Outline
		for _, contour := range it.Path.Outline.Contours() {
			o = append(o, scene.Stroke(contour, 2*d.edge, true)...)
		}
		d.s.Fill(o, around)
	}
	d.s.Items = append(d.s.Items, bare.s.Items...)
}

func (d *drawing) lines(plate scene.Rect, lines []string, size float64, fill scene.Color) {
	y := plate.Y + 0.75*textPad*d.unit + size*(lineHeight+text.CapTop)/2
	pad := textPad * d.unit
	for _, line := range lines {
		if line = strings.TrimRight(line, " "); strings.TrimSpace(line) != "" {
			x := plate.X + pad
			over := plate.W - 2*pad - text.Width(text.Bold, size, line)
			switch d.Align {
			case "middle":
				x += over / 2
			case "end":
				x += over
			}
			d.letters(size, x, y, line, fill)
		}
		y += size * lineHeight
	}
}

// note is a plate with a pointer that stays on its target while the plate is moved.
func (d *drawing) note() {
	plate, lines, size := d.textPlate(d.unit)
	radius := d.corner(d.unit)
	target := d.Points[2]
	inner := plate.Grow(-math.Min(14*d.unit, math.Min(plate.W, plate.H)*0.4))
	root := scene.Point{
		X: math.Max(inner.X, math.Min(inner.X+inner.W, target.X)), Y: math.Max(inner.Y, math.Min(inner.Y+inner.H, target.Y)),
	}
	around, inside := scene.Rounded(plate.Grow(d.edge), radius+d.edge), scene.Rounded(plate, radius)
	if along := target.Minus(root); !plate.Contains(target) && along.Length() > 1 {
		across := scene.Point{X: -along.Y, Y: along.X}.Times(9 * d.unit / along.Length())
		beak := scene.Polygon(root.Minus(across), target, root.Plus(across))
		around = append(append(around, scene.Stroke(beak.Ends(), 2*d.edge, true)...), beak...)
		inside = append(inside, beak...)
	}
	d.s.Fill(around, d.keyline())
	d.s.Fill(inside, d.ink)
	d.lines(plate, lines, size, OnInk(d.ink))
}

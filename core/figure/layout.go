package figure

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"raconte/core/scene"
	"raconte/core/text"
)

// Piece is what one mark looks like.
type Piece struct {
	Mark   string       // the mark's id
	Key    string       // changes whenever the looks change
	Items  []scene.Item // in pixels of the shot
	Bounds scene.Rect
}

// Layouter lays figures out and keeps the pieces it made, so that a drag lays out one mark only.
// The zero value is ready; it is not for use by several goroutines at once.
type Layouter struct {
	kept map[string]laid
	made int
}

// laid is a piece with all that went into it.
type laid struct {
	mark   Mark
	number int
	unit   float64
	piece  Piece
}

func (l laid) stillIs(m Mark, number int, unit float64) bool {
	return l.number == number && l.unit == unit && l.mark.Kind == m.Kind && l.mark.Ink == m.Ink &&
		l.mark.Weight == m.Weight && l.mark.Text == m.Text && slices.Equal(l.mark.Points, m.Points)
}

// Layout is the look of each mark in painting order; first is the number of the first marker.
func (l *Layouter) Layout(f Figure, shot Size, first int) []Piece {
	unit := Unit(f.Frame(shot))
	numbers := f.Numbers(first)
	next := make(map[string]laid, len(f.Marks))
	pieces := make([]Piece, 0, len(f.Marks))
	for _, m := range f.Marks {
		before, ok := l.kept[m.ID]
		if !ok || !before.stillIs(m, numbers[m.ID], unit) {
			l.made++
			p := Piece{Mark: m.ID, Key: strconv.Itoa(l.made), Items: m.draw(unit, numbers[m.ID])}
			p.Bounds = bounds(p.Items)
			m.Points = slices.Clone(m.Points)
			before = laid{m, numbers[m.ID], unit, p}
		}
		next[m.ID] = before
		pieces = append(pieces, before.piece)
	}
	l.kept = next
	return pieces
}

// Unit is the length, in pixels of the shot, that marks are drawn in. It follows the width of the
// frame, so that the marks of all pictures of a document come out alike in print; pictures that
// are never blown up (narrow frames) keep the plain size.
func Unit(frame scene.Rect) float64 { return math.Max(1, math.Min(8, frame.W/960)) }

// Scene is the finished figure: the framed part of the shot with its marks, the frame's top left
// corner at the origin, in pixels of the shot.
func (f Figure) Scene(shot Size, first int) scene.Scene {
	frame := f.Frame(shot)
	s := scene.Scene{W: frame.W, H: frame.H}
	s.Items = append(s.Items, scene.Item{Picture: &scene.Picture{
		Ref: f.Shot, Source: frame, Target: scene.Rect{W: frame.W, H: frame.H}, Alt: f.Alt,
	}})
	var l Layouter
	for _, p := range l.Layout(f, shot, first) {
		for _, item := range p.Items {
			s.Items = append(s.Items, scene.Item{Path: &scene.Path{
				Outline: item.Path.Outline.Moved(1, scene.Point{X: -frame.X, Y: -frame.Y}), Fill: item.Path.Fill,
			}})
		}
	}
	return s
}

var keyline = scene.Hex("#ffffff")

func (m Mark) draw(unit float64, number int) []scene.Item {
	var s scene.Scene
	ink := InkColor(m.Ink)
	w := m.Weight.of(unit)
	edge := 1.5 * unit
	switch m.Kind {
	case Arrow:
		shape := arrowShape(m.Points[0], m.Points[1], w)
		s.Fill(append(scene.Stroke(shape, 2*edge, true), scene.Polygon(shape...)...), keyline)
		s.Fill(scene.Polygon(shape...), ink)
	case Box:
		r := scene.Between(m.Points[0], m.Points[1])
		s.Fill(scene.Frame(r, 4*unit, w+2*edge), keyline)
		s.Fill(scene.Frame(r, 4*unit, w), ink)
	case Text:
		m.drawText(&s, unit, edge, ink)
	case Marker:
		side := markerSide(m.Weight) * unit
		at := m.Points[0]
		r := scene.Rect{X: at.X - side/2, Y: at.Y - side/2, W: side, H: side}
		label := strconv.Itoa(number)
		size := side * 0.64
		if over := text.Width(text.Bold, size, label) - side*0.7; over > 0 {
			r = scene.Rect{X: r.X - over/2, Y: r.Y, W: r.W + over, H: r.H}
		}
		s.Fill(scene.Rounded(r.Grow(edge), side*0.22+edge), keyline)
		s.Fill(scene.Rounded(r, side*0.22), ink)
		width := text.Width(text.Bold, size, label)
		sayAsOutline(&s, size, at.X-width/2, at.Y+size*text.CapTop/2, label, OnInk(ink))
	case Pointer:
		for i, p := range PointerShape(m.Points[0], pointerSize(m.Weight)*unit) {
			s.Fill(p, []scene.Color{scene.Hex("#16272d"), keyline}[i])
		}
	}
	return s.Items
}

// PointerShape is a mouse pointer with its tip at a place: its dark edge and its light inside. It is size high.
func PointerShape(tip scene.Point, size float64) [2]scene.Outline {
	shape := make([]scene.Point, 0, 4)
	for _, p := range []scene.Point{{X: 0, Y: 0}, {X: 0.68, Y: 0.66}, {X: 0.3, Y: 0.7}, {X: 0.06, Y: 1}} {
		shape = append(shape, tip.Plus(p.Times(size)))
	}
	return [2]scene.Outline{append(scene.Stroke(shape, size*0.13, true), scene.Polygon(shape...)...), scene.Polygon(shape...)}
}

func pointerSize(w Weight) float64 {
	switch w {
	case Fine:
		return 16
	case Strong:
		return 40
	}
	return 24
}

// Sizes of a text mark in units.
const (
	textSize   = 20.0
	textPad    = 8.0
	lineHeight = 1.3
	narrowest  = 40.0 // a text mark's width
)

func (m Mark) textPlate(unit float64) (plate scene.Rect, lines []string, size float64) {
	size = textSize * unit
	switch m.Weight {
	case Fine:
		size *= 0.8
	case Strong:
		size *= 1.4
	}
	pad := textPad * unit
	left, top := math.Min(m.Points[0].X, m.Points[1].X), m.Points[0].Y
	room := math.Max(math.Abs(m.Points[1].X-m.Points[0].X), narrowest*unit) - 2*pad
	lines = text.Wrap(text.Bold, size, room, m.Text)
	return scene.Rect{X: left, Y: top, W: room + 2*pad, H: float64(len(lines))*size*lineHeight + 1.5*pad}, lines, size
}

func (m Mark) drawText(s *scene.Scene, unit, edge float64, ink scene.Color) {
	plate, lines, size := m.textPlate(unit)
	s.Fill(scene.Rounded(plate.Grow(edge), 4*unit+edge), keyline)
	s.Fill(scene.Rounded(plate, 4*unit), ink)
	y := plate.Y + 0.75*textPad*unit + size*(lineHeight+text.CapTop)/2
	for _, line := range lines {
		if strings.TrimSpace(line) != "" {
			sayAsOutline(s, size, plate.X+textPad*unit, y, line, OnInk(ink))
		}
		y += size * lineHeight
	}
}

// sayAsOutline draws text as outlines: browsers and our own raster then agree on every pixel.
func sayAsOutline(s *scene.Scene, size, x, baseline float64, words string, fill scene.Color) {
	for _, w := range text.Line(text.Bold, size, x, baseline, words, fill) {
		s.Fill(text.Outline(w), fill)
	}
}

// OnInk is the colour of letters on a plate of ink: whichever of white and dark reads better.
func OnInk(ink scene.Color) scene.Color {
	dark := scene.Hex("#16272d")
	if scene.Contrast(ink, keyline) >= scene.Contrast(ink, dark) {
		return keyline
	}
	return dark
}

// arrowShape is the outline of a straight arrow whose tip is exactly at tip.
func arrowShape(tail, tip scene.Point, w float64) []scene.Point {
	d := tip.Minus(tail)
	l := d.Length()
	if l < 1 {
		d, l = scene.Point{X: 1}, 1
	}
	along := d.Times(1 / l)
	across := scene.Point{X: -along.Y, Y: along.X}
	head := math.Min(w*4.2, l*0.7)
	half := head * 0.48
	shaft := math.Min(w/2, half*0.5)
	neck := tip.Minus(along.Times(head))
	return []scene.Point{
		tail.Minus(across.Times(shaft)), neck.Minus(across.Times(shaft)), neck.Minus(across.Times(half)), tip,
		neck.Plus(across.Times(half)), neck.Plus(across.Times(shaft)), tail.Plus(across.Times(shaft)),
	}
}

func (w Weight) of(unit float64) float64 {
	switch w {
	case Fine:
		return 2.5 * unit
	case Strong:
		return 7 * unit
	}
	return 4.5 * unit
}

func markerSide(w Weight) float64 {
	switch w {
	case Fine:
		return 22
	case Strong:
		return 40
	}
	return 30
}

func bounds(items []scene.Item) scene.Rect {
	var r scene.Rect
	for _, item := range items {
		r = r.Union(item.Path.Outline.Bounds())
	}
	return r
}

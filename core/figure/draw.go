package figure

import (
	"math"
	"slices"
	"strings"

	"raconte/core/scene"
	"raconte/core/text"
)

// draw is the look of a mark that is not part of the picture itself; ground is what a loupe shows.
func (m Mark) draw(unit float64, label string, ground []scene.Item) []scene.Item {
	d := drawing{Mark: m, unit: unit, w: m.Weight.of(unit), edge: 1.5 * unit, ink: InkColor(m.Ink)}
	switch m.Kind {
	case Arrow, Line:
		d.arrow()
	case Box, Ellipse:
		d.box()
	case Pen:
		way := scene.Smooth(m.Points)
		d.line(way, false)
	case Text:
		d.text()
	case Note:
		d.note()
	case Marker:
		d.marker(label)
	case Highlight:
		d.highlight()
	case Loupe:
		d.loupe(ground)
	case Pointer:
		for i, p := range PointerShape(m.Points[0], pointerSize(m.Weight)*unit) {
			d.s.Fill(p, []scene.Color{darkInk, lightInk}[i])
		}
	}
	return d.finished()
}

// drawing is a mark being drawn.
type drawing struct {
	Mark
	s             scene.Scene
	unit, w, edge float64
	ink           scene.Color
}

// keyline is the colour of the line around a mark; transparent where it has none.
func (d *drawing) keyline() scene.Color {
	switch {
	case d.Keyline == "none" || (d.Opacity > 0 && d.Opacity < 100): // it would shine through
		return scene.Color{}
	case d.Keyline == "dark":
		return darkInk
	}
	return lightInk
}

// finished are the items with the mark's opacity and shadow.
func (d *drawing) finished() []scene.Item {
	items := d.s.Items
	if d.Opacity > 0 && d.Opacity < 100 {
		for i, it := range items {
			if it.Path != nil {
				p := *it.Path
				p.Fill.A = uint8(int(p.Fill.A) * d.Opacity / 100)
				items[i].Path = &p
			}
		}
	}
	if !d.Shadow || len(items) == 0 || items[0].Path == nil {
		return items
	}
	var s scene.Scene
	for i, alpha := range []uint8{16, 20, 26, 34} {
		shade := darkInk
		shade.A = alpha
		off := scene.Point{X: float64(4-i) * 0.5, Y: float64(4-i) * 1.3}.Times(d.unit)
		s.Fill(items[0].Path.Outline.Moved(1, off), shade)
	}
	return append(s.Items, items...)
}

// line draws a line with its keyline, in dashes where the mark wants them.
func (d *drawing) line(pts []scene.Point, closed bool) {
	stroke := func(width float64) scene.Outline {
		switch d.Dash {
		case "dashed":
			return scene.Dashed(pts, width, 3*d.w, 2.6*d.w, closed)
		case "dotted":
			return scene.Dashed(pts, width, 0.1*d.w, 2.2*d.w, closed)
		}
		return scene.Stroke(pts, width, closed)
	}
	d.s.Fill(stroke(d.w+2*d.edge), d.keyline())
	d.s.Fill(stroke(d.w), d.ink)
}

func (d *drawing) box() {
	r := scene.Between(d.Points[0], d.Points[1])
	radius := d.corner(d.unit)
	inside := scene.Rounded(r, radius)
	if d.Kind == Ellipse {
		inside = scene.Ellipse(r)
	}
	if d.Fill != "" {
		tint := d.ink
		if d.Fill == "tint" {
			tint.A = 46
		}
		d.s.Fill(inside, tint)
	}
	switch {
	case d.Kind == Ellipse:
		d.line(scene.AroundEllipse(r), true)
	case d.Dash != "":
		d.line(scene.Around(r, radius), true)
	default:
		d.s.Fill(scene.Frame(r, radius, d.w+2*d.edge), d.keyline())
		d.s.Fill(scene.Frame(r, radius, d.w), d.ink)
	}
}

// Way is the line of an arrow or line from its tail to its tip.
func (m Mark) way() []scene.Point {
	tail, tip := m.Points[0], m.Points[1]
	switch m.Way {
	case "bent":
		return []scene.Point{tail, m.bend(), tip}
	case "curved":
		// The curve goes through the bend at its middle.
		c := m.bend().Times(2).Minus(tail.Plus(tip).Times(0.5))
		return scene.Curve(tail, c, tip)
	}
	return []scene.Point{tail, tip}
}

// bend is where an arrow turns; where none was chosen, a corner, or a fifth of its length aside.
func (m Mark) bend() scene.Point {
	if len(m.Points) > 2 {
		return m.Points[2]
	}
	tail, tip := m.Points[0], m.Points[1]
	if m.Way == "bent" {
		return scene.Point{X: tip.X, Y: tail.Y}
	}
	d := tip.Minus(tail)
	return tail.Plus(tip).Times(0.5).Plus(scene.Point{X: d.Y, Y: -d.X}.Times(0.2))
}

func (d *drawing) arrow() {
	way := d.way()
	length := 0.0
	for i := 1; i < len(way); i++ {
		length += way[i].Minus(way[i-1]).Length()
	}
	if d.Kind == Line {
		d.line(way, false)
		return
	}
	if length < 1 {
		tip := d.Points[1]
		way, length = []scene.Point{tip.Minus(scene.Point{X: 1}), tip}, 1
	}
	ends := 1.0
	if d.Heads == "both" {
		ends = 2
	}
	head := math.Min(d.w*4.2, length*0.7/ends)
	d.w = math.Min(d.w, head*0.48)
	heads := []scene.Outline{headAt(way, head)}
	shaft := shortened(way, head*0.9)
	if ends == 2 {
		slices.Reverse(shaft)
		slices.Reverse(way)
		heads = append(heads, headAt(way, head))
		shaft = shortened(shaft, head*0.9)
	}
	stroke := func(width float64) scene.Outline {
		if d.Dash == "" {
			return scene.Stroke(shaft, width, false)
		}
		off := map[string]float64{"dashed": 3, "dotted": 0.1}[d.Dash]
		return scene.Dashed(shaft, width, off*d.w, 2.4*d.w, false)
	}
	around, inside := stroke(d.w+2*d.edge), stroke(d.w)
	for _, h := range heads {
		corners := h.Ends()
		around = append(append(around, scene.Stroke(corners, 2*d.edge, true)...), h...)
		inside = append(inside, h...)
	}
	d.s.Fill(around, d.keyline())
	d.s.Fill(inside, d.ink)
}

// headAt is the head at the end of a way.
func headAt(way []scene.Point, head float64) scene.Outline {
	tip := way[len(way)-1]
	back := shortened(way, head)
	along := tip.Minus(back[len(back)-1])
	if l := along.Length(); l > 0 {
		along = along.Times(1 / l)
	}
	across := scene.Point{X: -along.Y, Y: along.X}.Times(head * 0.48)
	neck := tip.Minus(along.Times(head))
	return scene.Polygon(neck.Minus(across), tip, neck.Plus(across))
}

// shortened is a way without the last length of it.
func shortened(way []scene.Point, length float64) []scene.Point {
	out := slices.Clone(way)
	for len(out) > 1 {
		a, b := out[len(out)-2], out[len(out)-1]
		l := b.Minus(a).Length()
		if l > length {
			out[len(out)-1] = b.Minus(b.Minus(a).Times(length / l))
			return out
		}
		length -= l
		out = out[:len(out)-1]
	}
	return out
}

func (d *drawing) marker(label string) {
	r := d.area(d.unit)
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

// lens is where a loupe's enlargement lies.
func (m Mark) lens() scene.Rect {
	r := scene.Between(m.Points[0], m.Points[1])
	k := float64(m.zoom()) / 100
	c := m.Points[2]
	return scene.Rect{X: c.X - r.W*k/2, Y: c.Y - r.H*k/2, W: r.W * k, H: r.H * k}
}

func (m Mark) zoom() int {
	if m.Zoom == 0 {
		return 200
	}
	return m.Zoom
}

func (d *drawing) loupe(ground []scene.Item) {
	src := scene.Between(d.Points[0], d.Points[1])
	src = scene.Rect{X: math.Round(src.X), Y: math.Round(src.Y), W: math.Max(1, math.Round(src.W)), H: math.Max(1, math.Round(src.H))}
	lens := d.lens()
	k := lens.W / src.W
	radius := d.corner(d.unit)
	shape, source := scene.Rounded(lens, radius), scene.Frame(src, 2*d.unit, d.w*0.5)
	around, ring := scene.Frame(lens, radius, d.w+2*d.edge), scene.Frame(lens, radius, d.w)
	if d.Look == "round" {
		shape = scene.Ellipse(lens)
		ringOf := func(w float64) scene.Outline {
			return scene.Ring(scene.Ellipse(lens.Grow(w/2)), scene.Ellipse(lens.Grow(-w/2)))
		}
		around, ring = ringOf(d.w+2*d.edge), ringOf(d.w)
	}
	// The tie runs from the detail's edge to the lens, where they are apart.
	a, b := onEdge(src, lens.Center()), onEdge(lens, src.Center())
	if src.Intersect(lens).Empty() {
		d.s.Fill(scene.Stroke([]scene.Point{a, b}, d.w*0.5+2*d.edge, false), d.keyline())
		d.s.Fill(scene.Stroke([]scene.Point{a, b}, d.w*0.5, false), d.ink)
	}
	d.s.Fill(scene.Frame(src, 2*d.unit, d.w*0.5+2*d.edge), d.keyline())
	d.s.Fill(source, d.ink)
	detail := append([]scene.Item{{Path: &scene.Path{Outline: scene.Rounded(src, 0), Fill: lightInk}}}, Detail(ground, src)...)
	move := scene.Point{X: lens.X - src.X*k, Y: lens.Y - src.Y*k}
	d.s.Items = append(d.s.Items, scene.Item{Clip: &scene.Clip{Outline: shape, Items: scene.MovedAll(detail, k, move)}})
	d.s.Fill(around, d.keyline())
	d.s.Fill(ring, d.ink)
}

// Detail is what lies in r of some items: pictures are cut to it, the rest is taken whole.
func Detail(items []scene.Item, r scene.Rect) []scene.Item {
	var out []scene.Item
	for _, it := range items {
		if it.Picture == nil {
			if it.Path == nil || !it.Path.Outline.Bounds().Intersect(r).Empty() {
				out = append(out, it)
			}
			continue
		}
		p := *it.Picture
		target := p.Target.Intersect(r)
		if target.Empty() {
			continue
		}
		if p.Matrix == nil && !p.Source.Empty() {
			k := p.Source.W / p.Target.W
			p.Source = scene.Rect{
				X: p.Source.X + (target.X-p.Target.X)*k, Y: p.Source.Y + (target.Y-p.Target.Y)*k, W: target.W * k, H: target.H * k,
			}
			p.Target = target
		} else if p.Matrix != nil {
			p.Target = target
		}
		out = append(out, scene.Item{Picture: &p})
	}
	return out
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

// Sizes of a text mark in units.
const (
	textSize   = 20.0
	textPad    = 8.0
	lineHeight = 1.3
	narrowest  = 40.0 // a text mark's width
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

// letters draws text as outlines: browsers and our own raster then agree on every pixel.
func (d *drawing) letters(size, x, baseline float64, words string, fill scene.Color) {
	for _, w := range text.Line(text.Bold, size, x, baseline, words, fill) {
		d.s.Fill(text.Outline(w), fill)
	}
}

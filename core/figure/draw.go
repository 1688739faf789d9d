package figure

import (
	"raconte/core/scene"
	"raconte/core/text"
)

// draw is the look of a mark that is not part of the picture itself; ground is what a detail shows.
func (m Mark) draw(unit float64, label string, ground []scene.Item, frame scene.Rect) []scene.Item {
	d := drawing{Mark: m, label: label, ground: ground, frame: frame, unit: unit, w: m.Weight.of(unit), edge: 1.5 * unit, ink: InkColor(m.Ink)}
	if draw := shapes[m.Kind].draw; draw != nil {
		draw(&d)
	}
	return d.finished()
}

// drawing is a mark being drawn.
type drawing struct {
	Mark
	s             scene.Scene
	label         string       // of a marker
	frame         scene.Rect   // that the picture is shown in
	ground        []scene.Item // what a detail shows
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

// letters draws text as outlines: browsers and our own raster then agree on every pixel.
func (d *drawing) letters(size, x, baseline float64, words string, fill scene.Color) {
	for _, w := range text.Line(text.Bold, size, x, baseline, words, fill) {
		d.s.Fill(text.Outline(w), fill)
	}
}

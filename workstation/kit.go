// Package workstation is the simulated screen that ships with Raconte: Lotroom, a made-up program
// that books lots of fruit into cold rooms. It draws its windows with the core's own primitives and
// tells its elements as a desktop's accessibility layer would, so that shots of it are real shots.
package workstation

import (
	"image"

	"raconte/core/scene"
	"raconte/core/text"
	"raconte/raster"
)

// Element is one thing on the screen that a person can name and use.
type Element struct {
	Name string
	Role string // button, field, choice, row, menu item, label
	Rect scene.Rect
}

// Screen is one frame of the workstation.
type Screen struct {
	Title    string
	Elements []Element
	drawn    scene.Scene
}

// Width and Height of the workstation's window, in pixels.
const (
	Width  = 1440
	Height = 810
)

// Image is the frame's pixels.
func (s *Screen) Image() *image.RGBA { return raster.Draw(s.drawn, 1, nil) }

// Find is the first element of a name; an empty rectangle where there is none.
func (s *Screen) Find(name string) scene.Rect {
	for _, e := range s.Elements {
		if e.Name == name {
			return e.Rect
		}
	}
	return scene.Rect{}
}

var (
	green     = scene.Hex("#2f6b52")
	deepGreen = scene.Hex("#24533f")
	pale      = scene.Hex("#edf2ec")
	paleLine  = scene.Hex("#d5dfd6")
	white     = scene.Hex("#ffffff")
	dark      = scene.Hex("#1d2b25")
	gray      = scene.Hex("#5d6b64")
	edge      = scene.Hex("#aebab3")
	cold      = scene.Hex("#2b6d9b")
	warn      = scene.Hex("#b4471f")
	warnPale  = scene.Hex("#fbeae2")
	chosen    = scene.Hex("#dcebe2")
)

func (s *Screen) element(role, name string, r scene.Rect) {
	s.Elements = append(s.Elements, Element{name, role, r})
}

func (s *Screen) box(r scene.Rect, radius float64, fill scene.Color) {
	s.drawn.Fill(scene.Rounded(r, radius), fill)
}

func (s *Screen) frame(r scene.Rect, radius, width float64, c scene.Color) {
	s.drawn.Fill(scene.Frame(r.Grow(-width/2), radius, width), c)
}

func (s *Screen) say(face string, size, x, baseline float64, words string, c scene.Color) {
	text.Set(&s.drawn, face, size, x, baseline, words, c)
}

func (s *Screen) sayRight(face string, size, right, baseline float64, words string, c scene.Color) {
	s.say(face, size, right-text.Width(face, size, words), baseline, words, c)
}

func (s *Screen) sayCenter(face string, size float64, r scene.Rect, words string, c scene.Color) {
	s.say(face, size, r.X+(r.W-text.Width(face, size, words))/2, r.Y+r.H/2+size*text.CapTop/2, words, c)
}

// button draws a button; the main one of a screen is filled.
func (s *Screen) button(name string, x, y float64, main bool) {
	r := scene.Rect{X: x, Y: y, W: text.Width(text.Bold, 16, name) + 44, H: 42}
	if main {
		s.box(r, 4, green)
		s.sayCenter(text.Bold, 16, r, name, white)
	} else {
		s.box(r, 4, white)
		s.frame(r, 4, 1.5, green)
		s.sayCenter(text.Bold, 16, r, name, green)
	}
	s.element("button", name, r)
}

// field draws a labelled field; a focused one has a heavier frame and a caret.
func (s *Screen) field(name, value, hint string, x, y, w float64, focused bool) {
	s.say(text.Regular, 15, x, y+27, name, gray)
	r := scene.Rect{X: x + 130, Y: y, W: w, H: 40}
	s.box(r, 3, white)
	if focused {
		s.frame(r, 3, 2.5, green)
	} else {
		s.frame(r, 3, 1.2, edge)
	}
	s.say(text.Regular, 16, r.X+12, y+26, value, dark)
	if focused {
		s.box(scene.Rect{X: r.X + 13 + text.Width(text.Regular, 16, value), Y: y + 10, W: 2, H: 20}, 0, dark)
	}
	if hint != "" {
		s.say(text.Regular, 14, r.X+w+14, y+26, hint, gray)
	}
	s.element("field", name, r)
}

// choice draws a field that opens a list.
func (s *Screen) choice(name, value string, x, y, w float64) {
	s.field(name, value, "", x, y, w, false)
	r := s.Elements[len(s.Elements)-1].Rect
	s.Elements[len(s.Elements)-1].Role = "choice"
	cx, cy := r.X+r.W-20, r.Y+18
	s.drawn.Fill(scene.Stroke([]scene.Point{{X: cx - 5, Y: cy}, {X: cx, Y: cy + 5}, {X: cx + 5, Y: cy}}, 1.8, false), gray)
}

// list draws the open list of a choice below its field.
func (s *Screen) list(of string, items []string, marked int) {
	f := s.Find(of)
	r := scene.Rect{X: f.X, Y: f.Y + f.H + 3, W: f.W + 60, H: float64(len(items))*38 + 10}
	s.box(r.Grow(1), 5, edge)
	s.box(r, 4, white)
	for i, item := range items {
		row := scene.Rect{X: r.X + 5, Y: r.Y + 5 + float64(i)*38, W: r.W - 10, H: 38}
		if i == marked {
			s.box(row, 3, chosen)
		}
		s.say(text.Regular, 16, row.X+10, row.Y+25, item, dark)
		s.element("menu item", item, row)
	}
}

// message draws a strip that tells what happened.
func (s *Screen) message(name string, x, y, w float64, bad bool) {
	r := scene.Rect{X: x, Y: y, W: w, H: 46}
	fill, c := chosen, deepGreen
	if bad {
		fill, c = warnPale, warn
	}
	s.box(r, 4, fill)
	s.box(scene.Rect{X: x, Y: y, W: 5, H: 46}, 0, c)
	s.say(text.Bold, 16, x+20, y+29, name, c)
	s.element("label", name, r)
}

// table draws a table; the cells of a row are as wide as its heads. A row named in marked is lit.
func (s *Screen) table(x, y float64, heads []string, widths []float64, rows [][]string, marked string) {
	total := 0.0
	for _, w := range widths {
		total += w
	}
	s.box(scene.Rect{X: x, Y: y, W: total, H: 40}, 0, pale)
	cx := x
	for i, h := range heads {
		s.say(text.Bold, 14, cx+12, y+26, h, gray)
		cx += widths[i]
	}
	for i, row := range rows {
		ry := y + 40 + float64(i)*44
		r := scene.Rect{X: x, Y: ry, W: total, H: 44}
		if row[0] == marked {
			s.box(r, 0, chosen)
		}
		s.box(scene.Rect{X: x, Y: ry + 43.2, W: total, H: 0.8}, 0, paleLine)
		cx = x
		for j, cell := range row {
			face, c := text.Regular, dark
			if j == 0 {
				face = text.Bold
			}
			if len(cell) > 1 && cell[0] == '!' {
				cell, c, face = cell[1:], warn, text.Bold
			}
			s.say(face, 16, cx+12, ry+28, cell, c)
			s.element("cell", heads[j]+" of "+row[0], scene.Rect{X: cx, Y: ry, W: widths[j], H: 44})
			cx += widths[j]
		}
		s.element("row", row[0], r)
	}
	s.frame(scene.Rect{X: x, Y: y, W: total, H: 40 + float64(len(rows))*44}, 0, 1, paleLine)
}

// Scene is the frame as drawing primitives.
func (s *Screen) Scene() scene.Scene { return s.drawn }

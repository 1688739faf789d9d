package film

import (
	"math"

	"raconte/core/page"
	"raconte/core/scene"
	"raconte/core/style"
	"raconte/core/text"
)

// Frame is one picture of a film: what is drawn, and in it the place of the finished picture or clip, of which Source
// is seen, as shares of it.
type Frame struct {
	Scene  scene.Scene
	Area   scene.Rect // nothing of a card
	Source scene.Rect
}

// Sizes of what is drawn, as shares of the shorter side of the film.
const (
	marginShare  = 0.045
	barShare     = 0.075
	letterShare  = 0.034
	captionShare = 0.04
	titleShare   = 0.085
)

// Look draws frames in a house style.
type Look struct {
	Style style.Style
	House string // at the foot of the title
	Meta  string // under it
	W, H  float64
}

// At draws the picture of a segment at a share of its time. Picture is the size of the finished picture, nothing of a
// card.
func (l Look) At(s Scene, one Segment, t float64, picture scene.Rect) Frame {
	c := l.colors()
	f := Frame{Scene: scene.Scene{W: l.W, H: l.H}, Source: one.Between(t)}
	f.Scene.Fill(scene.Rounded(scene.Rect{W: l.W, H: l.H}, 0), c.paper)
	unit := math.Min(l.W, l.H)
	margin := unit * marginShare
	switch {
	case s.Kind == Title || s.Kind == Section:
		l.heading(&f.Scene, s, margin, unit, c)
	default:
		foot := l.H - margin
		if one.Caption != "" {
			foot = l.caption(&f.Scene, one.Caption, margin, unit, c)
		}
		top := l.bar(&f.Scene, s, margin, unit, c)
		room := scene.Rect{X: margin, Y: top, W: l.W - 2*margin, H: foot - top - margin/2}
		if one.Figure == "" {
			l.card(&f.Scene, s, room, unit, c)
			break
		}
		f.Area = fitted(picture, room)
		f.Scene.Fill(scene.Frame(f.Area.Grow(1), 0, 2), c.line)
	}
	return f
}

// fitted is where a picture lies in a room: as large as it fits, in its middle, and blown up no more than twice.
func fitted(picture, room scene.Rect) scene.Rect {
	if picture.Empty() {
		return room
	}
	k := math.Min(math.Min(room.W/picture.W, room.H/picture.H), 2)
	w, h := math.Round(picture.W*k), math.Round(picture.H*k)
	return scene.Rect{X: math.Round(room.X + (room.W-w)/2), Y: math.Round(room.Y + (room.H-h)/2), W: w, H: h}
}

type colors struct{ paper, text, soft, line, accent scene.Color }

func (l Look) colors() colors {
	c := l.Style.Colors
	return colors{scene.Hex("#ffffff"), scene.Hex(c.Text), scene.Hex(c.Soft), scene.Hex(c.Line), scene.Hex(c.Accent)}
}

// say draws a line of text; its letters are outlines, so that the browser and the server draw the same.
func say(s *scene.Scene, face string, size, x, baseline float64, words string, fill scene.Color) {
	for _, w := range text.Line(face, size, x, baseline, words, fill) {
		s.Fill(text.Outline(w), fill)
	}
}

// bar is what stands above a picture: the step's number, the section, and a signal word; the answer is where it ends.
func (l Look) bar(s *scene.Scene, of Scene, margin, unit float64, c colors) float64 {
	size, high := unit*letterShare, unit*barShare
	x := margin
	if of.Number != "" {
		w := math.Max(high*0.8, text.Width(text.Bold, size*1.1, of.Number)+size)
		badge := scene.Rect{X: x, Y: margin, W: w, H: high * 0.8}
		s.Fill(scene.Rounded(badge, 4*unit/1080), c.accent)
		say(s, text.Bold, size*1.1, x+(w-text.Width(text.Bold, size*1.1, of.Number))/2, margin+high*0.4+size*0.38, of.Number, scene.Hex("#ffffff"))
		x += w + size*0.7
	}
	right := l.W - margin
	if of.Signal != "" {
		pair := page.SignalColors[of.Signal]
		word := l.Style.Said(string(of.Signal))
		w := text.Width(text.Bold, size, word) + size*1.4
		s.Fill(scene.Rounded(scene.Rect{X: right - w, Y: margin, W: w, H: high * 0.8}, 4*unit/1080), pair[0])
		say(s, text.Bold, size, right-w+size*0.7, margin+high*0.4+size*0.36, word, pair[1])
		right -= w + size
	}
	say(s, text.Regular, size, x, margin+high*0.4+size*0.36, text.Shorten(text.Regular, size, right-x, of.Heading), c.soft)
	return margin + high
}

// caption is a band with what is said; the answer is where it begins.
func (l Look) caption(s *scene.Scene, said string, margin, unit float64, c colors) float64 {
	size := unit * captionShare
	all := text.Wrap(text.Regular, size, l.W-4*margin, said)
	if len(all) > 3 {
		all = all[:3]
	}
	high := float64(len(all))*size*1.35 + size*0.8
	top := l.H - high
	s.Fill(scene.Rounded(scene.Rect{Y: top, W: l.W, H: high}, 0), c.text)
	for i, line := range all {
		say(s, text.Regular, size, (l.W-text.Width(text.Regular, size, line))/2, top+size*1.2+float64(i)*size*1.35, line, scene.Hex("#ffffff"))
	}
	return top - margin/2
}

// heading is a title or the name of a section, in the middle.
func (l Look) heading(s *scene.Scene, of Scene, margin, unit float64, c colors) {
	size := unit * titleShare
	if of.Kind == Section {
		size *= 0.8
	}
	lines := text.Wrap(text.Bold, size, l.W-4*margin, of.Heading)
	if len(lines) > 4 {
		lines = lines[:4]
	}
	high := float64(len(lines)) * size * 1.2
	y := (l.H - high) / 2
	s.Fill(scene.Rounded(scene.Rect{X: 2 * margin, Y: y - size*0.5, W: size * 1.4, H: size * 0.12}, 0), c.accent)
	if of.Number != "" && of.Kind == Section {
		say(s, text.Bold, size*0.6, 2*margin, y-size*0.7, of.Number, c.accent)
	}
	for i, line := range lines {
		say(s, text.Bold, size, 2*margin, y+size*0.95+float64(i)*size*1.2, line, c.text)
	}
	if of.Kind != Title {
		return
	}
	small := unit * letterShare
	y += high + small*1.4
	for _, line := range text.Wrap(text.Regular, small, l.W-4*margin, l.Meta) {
		say(s, text.Regular, small, 2*margin, y, line, c.soft)
		y += small * 1.35
	}
	if l.House != "" {
		say(s, text.Regular, small, 2*margin, l.H-1.6*margin, text.Shorten(text.Regular, small, l.W-4*margin, l.House), c.soft)
	}
}

// card is a step without a picture: its words, large.
func (l Look) card(s *scene.Scene, of Scene, room scene.Rect, unit float64, c colors) {
	size := unit * 0.05
	lines := text.Wrap(text.Regular, size, room.W*0.86, of.Words)
	most := int(room.H / (size * 1.35))
	if len(lines) > most {
		lines = lines[:most]
	}
	y := room.Y + (room.H-float64(len(lines))*size*1.35)/2 + size
	if of.Kind == Card {
		s.Fill(scene.Frame(scene.Rect{X: room.X + room.W*0.03, Y: y - size*1.8, W: room.W * 0.94, H: float64(len(lines))*size*1.35 + size*1.6}, 4*unit/1080, 3*unit/1080), c.accent)
	}
	for i, line := range lines {
		say(s, text.Regular, size, room.X+room.W*0.07, y+float64(i)*size*1.35, line, c.text)
	}
}

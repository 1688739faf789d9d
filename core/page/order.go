package page

import (
	"strings"
	"unicode/utf8"

	"raconte/core/text"
)

// placed is a piece with its place on a line: all of it is written in one direction.
type placed struct {
	piece
	x     float64
	level uint8 // odd: from right to left (UAX #9)
}

// ordered gives the pieces of a line their places. They stay in the order in which they are read; a line of a paragraph
// that reads from right to left ends at the right.
func (l *look) ordered(row []piece, x, width float64, rtl bool) []placed {
	out := make([]placed, 0, len(row))
	if len(row) == 0 {
		return out
	}
	var line strings.Builder
	for _, p := range row {
		if p.size == 0 {
			line.WriteString(stand)
		} else {
			line.WriteString(p.text)
		}
	}
	if !rtl && !text.Turned(line.String()) {
		for _, p := range row {
			out = append(out, placed{piece: p, x: x})
			x += p.width
		}
		return out
	}
	levels := text.Levels(line.String(), rtl)
	var orders []uint8
	used := 0.0
	add := func(p piece, level uint8) {
		out, orders = append(out, placed{piece: p, level: level}), append(orders, level)
		used += p.width
	}
	at := 0
	for _, p := range row {
		if p.size == 0 {
			add(p, levels[at])
			at++
			continue
		}
		n := utf8.RuneCountInString(p.text)
		face := l.face(faceOf(p.span))
		for _, s := range text.Stretches(p.text, levels[at:at+n]) {
			one := p
			one.text = s.Text
			if n := len(out) - 1; n >= 0 && s.Level%2 == 1 && out[n].level == s.Level && out[n].size == p.size && out[n].span == p.span {
				// What follows on in the same style is one: readers find the spaces of it then.
				used -= out[n].width
				one.text = out[n].text + s.Text
				out, orders = out[:n], orders[:n]
			}
			one.width = text.StretchWidth(face, p.size, one.text, s.Level%2 == 1)
			add(one, s.Level)
		}
		at += n
	}
	if rtl {
		x += width - used // the space after the last letter stands at its left
	}
	for _, i := range text.Visual(orders) {
		out[i].x = x
		x += out[i].width
	}
	return out
}

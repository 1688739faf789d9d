package workstation

import (
	"strings"

	"raconte/core/capture"
	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/core/text"
)

// Heights of letters as shares of their size: above the baseline, and below it.
const (
	above = 0.72
	below = 0.2
)

// Words are the words that a cut of the desktop shows, in pixels of the cut: what reading its text would find at best.
// What a layer above covers, and what stands in a secret field, is not among them.
func (d *Desk) Words(c capture.Cut) []sight.Word {
	layers := d.layers()
	out := []sight.Word{}
	for i, l := range layers {
		for _, item := range l.drawn.Items {
			if item.Words == nil {
				continue
			}
			for _, w := range apart(*item.Words) {
				w.Rect.X, w.Rect.Y = w.Rect.X+l.rect.X, w.Rect.Y+l.rect.Y
				if covered(w.Rect, layers[i+1:]) || secret(w.Rect, c.About.Elements, c.Rect) || !within(w.Rect, c.Rect) {
					continue
				}
				w.Rect.X, w.Rect.Y = w.Rect.X-c.Rect.X, w.Rect.Y-c.Rect.Y
				out = append(out, w)
			}
		}
	}
	return out
}

// apart are the words of a line.
func apart(line scene.Words) []sight.Word {
	var out []sight.Word
	at := line.X
	for _, part := range strings.SplitAfter(line.Text, " ") {
		width := text.Width(line.Face, line.Size, part)
		if word := strings.TrimSpace(part); word != "" {
			r := scene.Rect{X: at, Y: line.Baseline - above*line.Size, W: text.Width(line.Face, line.Size, word), H: (above + below) * line.Size}
			out = append(out, sight.Word{Text: word, Rect: r, Sure: 100})
		}
		at += width
	}
	return out
}

func within(r, of scene.Rect) bool {
	of = of.Grow(0.5)
	return r.X >= of.X && r.Y >= of.Y && r.X+r.W <= of.X+of.W && r.Y+r.H <= of.Y+of.H
}

func covered(r scene.Rect, by []layer) bool {
	for _, l := range by {
		if !l.rect.Intersect(r).Empty() {
			return true
		}
	}
	return false
}

func secret(r scene.Rect, elements []capture.Element, cut scene.Rect) bool {
	for _, e := range elements {
		at := e.Rect
		at.X, at.Y = at.X+cut.X, at.Y+cut.Y
		if e.Secret && !at.Intersect(r).Empty() {
			return true
		}
	}
	return false
}

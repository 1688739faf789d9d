package text

import "raconte/core/scene"

// Glyph is a placed letter form.
type Glyph struct {
	ID   uint16
	X, Y float64 // in ems from the start of the words
	Text string  // what it stands for; empty of all but the first glyph of those that stand together for some letters
}

// Glyphs are those of placed words, as they were measured.
func Glyphs(w scene.Words) []Glyph {
	f := lookup(w.Face)
	if f == nil {
		return nil
	}
	letters := []rune(w.Text)
	shaped := f.shape(w.Text, w.RTL).glyphs
	out := make([]Glyph, len(shaped))
	before := len(letters) // where the letters end that the glyphs at the left stand for
	for i := 0; i < len(shaped); {
		first, next := i, i
		for next < len(shaped) && shaped[next].letter == shaped[first].letter {
			out[next] = Glyph{ID: uint16(shaped[next].id), X: shaped[next].x, Y: shaped[next].y}
			next++
		}
		end := len(letters)
		if w.RTL {
			end = before
		} else if next < len(shaped) {
			end = shaped[next].letter
		}
		before = shaped[first].letter
		out[first].Text = string(letters[before:end])
		i = next
	}
	return out
}

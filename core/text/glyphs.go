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
	shaped := f.shape(w.Text).glyphs
	out := make([]Glyph, len(shaped))
	end := len(letters)
	for i := len(shaped) - 1; i >= 0; i-- {
		g := shaped[i]
		out[i] = Glyph{ID: uint16(g.id), X: g.x, Y: g.y}
		if i > 0 && shaped[i-1].letter == g.letter {
			continue // the first of them stands for all
		}
		out[i].Text = string(letters[g.letter:end])
		end = g.letter
	}
	return out
}

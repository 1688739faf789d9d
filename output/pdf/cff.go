package pdf

import (
	"encoding/binary"
	"math"

	"raconte/core/scene"
)

// form is a glyph with PostScript outlines: how wide it is and how it looks, in thousandths of an em, upwards.
type form struct {
	width   float64
	outline scene.Outline
}

// compact is a face of some glyphs in the Compact Font Format (Adobe Technical Note 5176), whose characters are
// identified by their place in it; the first stands for what there is no glyph for.
func compact(name string, box [4]int, forms []form) []byte {
	const fullName, identity = 391, 392 // the first strings of one's own: a registry and an ordering
	names := index([][]byte{[]byte(name)})
	strings := index([][]byte{[]byte("Adobe"), []byte("Identity")})
	charset := []byte{2, 0, 1} // one range, from 1 on
	charset = binary.BigEndian.AppendUint16(charset, uint16(max(0, len(forms)-2)))
	if len(forms) < 2 {
		charset = []byte{0}
	}
	choice := []byte{3, 0, 1, 0, 0, 0} // all are of the one font that there is
	choice = binary.BigEndian.AppendUint16(choice, uint16(len(forms)))
	var drawn [][]byte
	for _, f := range forms {
		drawn = append(drawn, charstring(f))
	}
	chars := index(drawn)
	private := op(dict(nil, 0), 20) // glyphs say how wide they are
	top := func(at map[string]int) []byte {
		b := op(dict(nil, fullName, identity, 0), 12, 30)
		b = op(dict(b, box[0], box[1], box[2], box[3]), 5)
		b = op(dict(b, at["charset"]), 15)
		b = op(dict(b, at["chars"]), 17)
		b = op(dict(b, len(forms)), 12, 34)
		b = op(dict(b, at["fonts"]), 12, 36)
		return op(dict(b, at["choice"]), 12, 37)
	}
	fonts := func(private int, size int) []byte { return index([][]byte{op(dict(nil, size, private), 18)}) }
	none := []byte{0, 0} // of subroutines
	head := []byte{1, 0, 4, 4}
	// All numbers have five bytes, so that places are known before what stands there.
	at := map[string]int{}
	place := len(head) + len(names) + len(index([][]byte{top(at)})) + len(strings) + len(none)
	for _, part := range []struct {
		name string
		size int
	}{{"charset", len(charset)}, {"choice", len(choice)}, {"chars", len(chars)}, {"fonts", len(fonts(0, 0))}, {"private", len(private)}} {
		at[part.name] = place
		place += part.size
	}
	var out []byte
	for _, part := range [][]byte{head, names, index([][]byte{top(at)}), strings, none, charset, choice, chars, fonts(at["private"], len(private)), private} {
		out = append(out, part...)
	}
	return out
}

// index is an INDEX of the format: things of different lengths after each other.
func index(things [][]byte) []byte {
	out := binary.BigEndian.AppendUint16(nil, uint16(len(things)))
	out = append(out, 4) // bytes of a place
	at := uint32(1)
	out = binary.BigEndian.AppendUint32(out, at)
	for _, t := range things {
		at += uint32(len(t))
		out = binary.BigEndian.AppendUint32(out, at)
	}
	for _, t := range things {
		out = append(out, t...)
	}
	return out
}

// dict appends whole numbers as a DICT has them.
func dict(b []byte, numbers ...int) []byte {
	for _, n := range numbers {
		b = binary.BigEndian.AppendUint32(append(b, 29), uint32(int32(n)))
	}
	return b
}

func op(b []byte, operator ...byte) []byte { return append(b, operator...) }

// charstring draws a glyph (Adobe Technical Note 5177): each place is told from the one before.
func charstring(f form) []byte {
	const moveTo, lineTo, curveTo, end = 21, 5, 8, 14
	var out []byte
	say := func(v float64) {
		n := int(math.Round(v))
		switch {
		case n >= -107 && n <= 107:
			out = append(out, byte(n+139))
		default:
			n = max(math.MinInt16, min(n, math.MaxInt16))
			out = append(out, 28, byte(n>>8), byte(n))
		}
	}
	say(f.width)
	var last scene.Point // as it is written, so that rounding does not add up
	toward := func(p scene.Point) {
		now := scene.Point{X: math.Round(p.X), Y: math.Round(p.Y)}
		say(now.X - last.X)
		say(now.Y - last.Y)
		last = now
	}
	for _, s := range f.outline {
		switch s.Op {
		case 'M':
			toward(s.P[0])
			out = append(out, moveTo)
		case 'L':
			toward(s.P[0])
			out = append(out, lineTo)
		case 'Q':
			from, c, to := last, s.P[0], s.P[1]
			toward(from.Plus(c.Minus(from).Times(2.0 / 3)))
			toward(to.Plus(c.Minus(to).Times(2.0 / 3)))
			toward(to)
			out = append(out, curveTo)
		case 'C':
			for _, p := range s.P {
				toward(p)
			}
			out = append(out, curveTo)
		}
	}
	return append(out, end)
}

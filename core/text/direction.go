package text

import (
	"slices"
	"strings"

	"golang.org/x/text/unicode/bidi"
)

// Turned tells whether a text has letters that are written from right to left: most have none, and need no ordering.
func Turned(s string) bool {
	for _, r := range s {
		if r < 0x590 {
			continue
		}
		switch classOf(r) {
		case bidi.R, bidi.AL, bidi.AN:
			return true
		}
	}
	return false
}

// RightToLeft tells whether a text reads from right to left: whether its first letter of a direction does (UAX #9, P2
// and P3).
func RightToLeft(s string) bool {
	for _, r := range s {
		switch classOf(r) {
		case bidi.L:
			return false
		case bidi.R, bidi.AL:
			return true
		}
	}
	return false
}

func classOf(r rune) bidi.Class {
	p, _ := bidi.LookupRune(r)
	return p.Class()
}

// Levels are the embedding levels of the letters of a line, by the bidirectional algorithm (UAX #9): odd ones are
// written from right to left. Characters that embed or override are not looked at: text that is set shows them as what
// they are.
func Levels(line string, rightToLeft bool) []uint8 {
	letters := []rune(line)
	base := uint8(0)
	outer := bidi.L
	if rightToLeft {
		base, outer = 1, bidi.R
	}
	kinds := make([]bidi.Class, len(letters))
	for i, r := range letters {
		kinds[i] = classOf(r)
	}
	given := slices.Clone(kinds)
	weak(kinds, outer)
	brackets(letters, kinds, outer)
	neutral(kinds, outer)
	levels := make([]uint8, len(letters))
	for i, k := range kinds { // I1 and I2
		switch {
		case k == bidi.R && base == 0, k == bidi.L && base == 1:
			levels[i] = base + 1
		case k == bidi.AN || k == bidi.EN:
			levels[i] = 2
		default:
			levels[i] = base
		}
	}
	ended := true // L1
	for i := len(levels) - 1; i >= 0; i-- {
		switch given[i] {
		case bidi.S, bidi.B:
			levels[i], ended = base, true
		case bidi.WS, bidi.BN:
			if ended {
				levels[i] = base
			}
		default:
			ended = false
		}
	}
	return levels
}

// weak resolves weak types, W1 to W7.
func weak(kinds []bidi.Class, outer bidi.Class) {
	before, strong := outer, outer
	for i, k := range kinds {
		if k == bidi.NSM || k == bidi.BN { // W1; what joins letters goes with them
			kinds[i] = before
			k = before
		}
		switch k { // W2
		case bidi.L, bidi.R, bidi.AL:
			strong = k
		case bidi.EN:
			if strong == bidi.AL {
				kinds[i] = bidi.AN
			}
		}
		before = kinds[i]
	}
	at := func(i int) bidi.Class {
		if i < 0 || i >= len(kinds) {
			return bidi.ON
		}
		return kinds[i]
	}
	for i, k := range kinds { // W3 and W4
		switch {
		case k == bidi.AL:
			kinds[i] = bidi.R
		case k == bidi.ES && at(i-1) == bidi.EN && at(i+1) == bidi.EN:
			kinds[i] = bidi.EN
		case k == bidi.CS && at(i-1) == at(i+1) && (at(i-1) == bidi.EN || at(i-1) == bidi.AN):
			kinds[i] = at(i - 1)
		}
	}
	for i := 0; i < len(kinds); i++ { // W5 and W6
		if kinds[i] != bidi.ET {
			if kinds[i] == bidi.ES || kinds[i] == bidi.CS {
				kinds[i] = bidi.ON
			}
			continue
		}
		end := i
		for at(end) == bidi.ET {
			end++
		}
		becomes := bidi.ON
		if at(i-1) == bidi.EN || at(end) == bidi.EN {
			becomes = bidi.EN
		}
		for ; i < end; i++ {
			kinds[i] = becomes
		}
		i--
	}
	strong = outer
	for i, k := range kinds { // W7
		switch k {
		case bidi.L, bidi.R:
			strong = k
		case bidi.EN:
			if strong == bidi.L {
				kinds[i] = bidi.L
			}
		}
	}
}

const (
	opening = "([{⁽₍⌈⌊⟦⟨⟪〈《「『【〔（［｛"
	closing = ")]}⁾₎⌉⌋⟧⟩⟫〉》」』】〕）］｝"
)

// side is what a type counts as among neutral ones: numbers are written where letters from right to left are.
func side(k bidi.Class) bidi.Class {
	if k == bidi.EN || k == bidi.AN {
		return bidi.R
	}
	return k
}

// brackets resolves pairs of brackets, N0.
func brackets(letters []rune, kinds []bidi.Class, outer bidi.Class) {
	type pair struct{ from, to int }
	var pairs []pair
	type open struct {
		close rune
		at    int
	}
	var stack []open
	closes := []rune(closing)
	for i, r := range letters {
		if kinds[i] != bidi.ON {
			continue
		}
		if at := strings.IndexRune(opening, r); at >= 0 {
			if len(stack) == 63 {
				break // as the algorithm has it
			}
			stack = append(stack, open{closes[len([]rune(opening[:at]))], i})
			continue
		}
		for n := len(stack) - 1; n >= 0; n-- {
			if stack[n].close == r {
				pairs = append(pairs, pair{stack[n].at, i})
				stack = stack[:n]
				break
			}
		}
	}
	slices.SortFunc(pairs, func(a, b pair) int { return a.from - b.from })
	for _, p := range pairs {
		found := bidi.ON
		for _, k := range kinds[p.from+1 : p.to] {
			if k = side(k); k == outer {
				found = outer
				break
			} else if k == bidi.L || k == bidi.R {
				found = k
			}
		}
		if found == bidi.ON {
			continue
		}
		if found != outer {
			context := outer
			for i := p.from - 1; i >= 0; i-- {
				if k := side(kinds[i]); k == bidi.L || k == bidi.R {
					context = k
					break
				}
			}
			if context == outer {
				found = outer
			}
		}
		kinds[p.from], kinds[p.to] = found, found
	}
}

// neutral resolves neutral types, N1 and N2.
func neutral(kinds []bidi.Class, outer bidi.Class) {
	is := func(k bidi.Class) bool { return k == bidi.ON || k == bidi.WS || k == bidi.S || k == bidi.B }
	for i := 0; i < len(kinds); i++ {
		if !is(kinds[i]) {
			continue
		}
		end := i
		for end < len(kinds) && is(kinds[end]) {
			end++
		}
		before, after := outer, outer
		if i > 0 {
			before = side(kinds[i-1])
		}
		if end < len(kinds) {
			after = side(kinds[end])
		}
		becomes := outer
		if before == after {
			becomes = before
		}
		for ; i < end; i++ {
			kinds[i] = becomes
		}
	}
}

// Visual is the order, from left to right, of pieces of a line that each have one level (L2).
func Visual(levels []uint8) []int {
	order := make([]int, len(levels))
	highest := uint8(0)
	for i, l := range levels {
		order[i] = i
		highest = max(highest, l)
	}
	for level := highest; level > 0; level-- {
		for i := 0; i < len(order); i++ {
			end := i
			for end < len(order) && levels[order[end]] >= level {
				end++
			}
			if end > i {
				slices.Reverse(order[i:end])
				i = end
			}
		}
	}
	return order
}

// Part is a part of a text of one level.
type Part struct {
	Text  string
	Level uint8
}

// Stretches cuts a text where its levels change.
func Stretches(s string, levels []uint8) []Part {
	var all []Part
	n, start := 0, 0
	for i := range s {
		if n > 0 && levels[n] != levels[n-1] {
			all = append(all, Part{s[start:i], levels[n-1]})
			start = i
		}
		n++
	}
	if n > 0 {
		all = append(all, Part{s[start:], levels[n-1]})
	}
	return all
}

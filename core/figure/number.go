package figure

import (
	"slices"
	"strconv"
	"strings"

	"raconte/core/scene"
)

// Number is what a marker counts as, and how it is written.
type Number struct {
	N     int
	Label string
}

// Numbers gives each marker of the figure its number, the first being first. A marker may begin anew at
// a number of its own, or share the number of the marker before it.
func (f Figure) Numbers(first int) map[string]Number {
	numbers, _ := f.count(first)
	return numbers
}

func (f Figure) count(next int) (map[string]Number, int) {
	markers := f.Markers()
	numbers := make(map[string]Number, len(markers))
	for i, m := range markers {
		switch {
		case m.Start > 0:
			next = m.Start
		case m.Shares && i > 0:
			next--
		}
		numbers[m.ID] = Number{next, Written(next, m.Count)}
		next++
	}
	return numbers, next
}

// Markers are the figure's markers in the order of their turns.
func (f Figure) Markers() []Mark {
	var markers []Mark
	for _, m := range f.Marks {
		if m.Kind == Marker {
			markers = append(markers, m)
		}
	}
	slices.SortStableFunc(markers, func(a, b Mark) int { return a.Turn - b.Turn })
	return markers
}

// Written is n as a marker shows it: in digits, capitals, small letters or small Roman numerals.
func Written(n int, count string) string {
	switch count {
	case "A":
		return letters(n, 'A')
	case "a":
		return letters(n, 'a')
	case "i":
		return roman(n)
	}
	return strconv.Itoa(n)
}

// letters counts A to Z, then AA, AB and so on.
func letters(n int, first rune) string {
	s := ""
	for ; n > 0; n = (n - 1) / 26 {
		s = string(first+rune((n-1)%26)) + s
	}
	return s
}

func roman(n int) string {
	if n < 1 || n > 3999 {
		return strconv.Itoa(n)
	}
	var b strings.Builder
	for _, r := range []struct {
		v int
		s string
	}{
		{1000, "m"}, {900, "cm"}, {500, "d"}, {400, "cd"}, {100, "c"}, {90, "xc"}, {50, "l"}, {40, "xl"},
		{10, "x"}, {9, "ix"}, {5, "v"}, {4, "iv"}, {1, "i"},
	} {
		for ; n >= r.v; n -= r.v {
			b.WriteString(r.s)
		}
	}
	return b.String()
}

// Firsts are the numbers that the first marker of each of a step's figures has or would have. Markers
// count on from one picture of the step to the next, so that "1" in the step's words means one marker
// only. A step begins at 1, or, where its first marker counts on, after the last number of the steps
// before it.
func Firsts(figures []Figure, last int) []int {
	firsts, next := make([]int, len(figures)), 1
	begun := false
	for i, f := range figures {
		markers := f.Markers()
		if !begun && len(markers) > 0 {
			begun = true
			if markers[0].Onward {
				next = last + 1
			}
		}
		firsts[i] = next
		_, next = f.count(next)
	}
	return firsts
}

// Last is the last number that a step's markers reach; where it has none, that of the steps before it.
func Last(figures []Figure, last int) int {
	firsts := Firsts(figures, last)
	for i := len(figures) - 1; i >= 0; i-- {
		if len(figures[i].Markers()) > 0 {
			_, next := figures[i].count(firsts[i])
			return next - 1
		}
	}
	return last
}

// Tag is how a marker looks where words refer to it.
type Tag struct {
	Number int         `json:"number"`
	Label  string      `json:"label"`
	Ink    scene.Color `json:"ink"`
	On     scene.Color `json:"on"` // of the number on the ink
}

// Tags are the tags of the markers of figures, by the markers' ids; firsts are the numbers of the figures' first
// markers, by the figures' ids.
func Tags(figures []Figure, firsts map[string]int) map[string]Tag {
	tags := map[string]Tag{}
	for _, f := range figures {
		numbers := f.Numbers(firsts[f.ID])
		for _, m := range f.Marks {
			if n, ok := numbers[m.ID]; ok {
				ink := InkColor(m.Ink)
				tags[m.ID] = Tag{n.N, n.Label, ink, OnInk(ink)}
			}
		}
	}
	return tags
}

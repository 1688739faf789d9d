package sight

import (
	"cmp"
	"math"
	"slices"
	"sort"
	"strings"

	"raconte/core/scene"
)

// Word is a word that was found in a picture, in pixels.
type Word struct {
	Text string     `json:"text"`
	Rect scene.Rect `json:"rect"`
	Sure float64    `json:"sure"` // 0 to 100
}

// TextHeight is the usual height of text in a picture, in pixels from its lowest to its highest point: the
// median of the words of which one can be sure. It is 0 where there are too few.
func TextHeight(words []Word) float64 {
	var heights []float64
	for _, w := range words {
		if w.Sure >= 60 && len([]rune(w.Text)) > 2 {
			heights = append(heights, w.Rect.H)
		}
	}
	if len(heights) < 5 {
		return 0
	}
	sort.Float64s(heights)
	return heights[len(heights)/2]
}

// beside tells whether two places stand on one level: most of the lower of them is beside the other.
func beside(a, b scene.Rect) bool {
	return math.Min(a.Y+a.H, b.Y+b.H)-math.Max(a.Y, b.Y) > 0.5*math.Min(a.H, b.H)
}

// Rows puts words that stand on one level and near each other together, from left to right.
func Rows(words []Word) [][]Word {
	rest := slices.Clone(words)
	slices.SortStableFunc(rest, func(a, b Word) int { return int(math.Round(a.Rect.X - b.Rect.X)) })
	var rows [][]Word
	for _, w := range rest {
		at := slices.IndexFunc(rows, func(row []Word) bool {
			last := row[len(row)-1].Rect
			gap := w.Rect.X - last.X - last.W
			return beside(last, w.Rect) && gap < 2.5*math.Max(last.H, w.Rect.H) && gap > -w.Rect.H
		})
		if at < 0 {
			rows = append(rows, []Word{w})
		} else {
			rows[at] = append(rows[at], w)
		}
	}
	return rows
}

// row is words that stand together, and where.
type row struct {
	said string
	rect scene.Rect
}

// rows are what Rows finds, from the top down.
func rows(words []Word) []row {
	var all []row
	for _, r := range Rows(words) {
		one := row{rect: r[0].Rect}
		var said []string
		for _, w := range r {
			said, one.rect = append(said, w.Text), one.rect.Union(w.Rect)
		}
		one.said = strings.Join(said, " ")
		all = append(all, one)
	}
	slices.SortStableFunc(all, func(a, b row) int { return cmp.Compare(a.rect.Y+a.rect.H/2, b.rect.Y+b.rect.H/2) })
	return all
}

// Lines are what words say that stand together, from the top down; those beside each other are lines of their own.
func Lines(words []Word) []string {
	var lines []string
	for _, r := range rows(words) {
		lines = append(lines, r.said)
	}
	return lines
}

// Text is what words say, line by line from the top; rows that stand beside each other, as in tables, are parted by a
// tab.
func Text(words []Word) string {
	var lines []string
	for left := rows(words); len(left) > 0; {
		n := 1
		for n < len(left) && beside(left[0].rect, left[n].rect) {
			n++
		}
		line := left[:n]
		slices.SortStableFunc(line, func(a, b row) int { return cmp.Compare(a.rect.X, b.rect.X) })
		var said []string
		for _, r := range line {
			said = append(said, r.said)
		}
		lines, left = append(lines, strings.Join(said, "\t")), left[n:]
	}
	return strings.Join(lines, "\n")
}

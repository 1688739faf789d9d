package text

import (
	"strings"
	"unicode/utf8"

	"raconte/core/scene"

	"github.com/go-text/typesetting/segmenter"
)

// Breaks splits text where a line may end, by UAX #14. Spaces stay at the end of their piece.
func Breaks(text string) []string {
	if text == "" {
		return nil
	}
	var seg segmenter.Segmenter
	seg.Init([]rune(text))
	var pieces []string
	for it := seg.LineIterator(); it.Next(); {
		pieces = append(pieces, string(it.Line().Text))
	}
	return pieces
}

// Wrap breaks text into lines no wider than width. A word wider than a line is cut between
// characters rather than left to run out of its cell. Line feeds in the text end a line.
func Wrap(name string, size, width float64, text string) []string {
	var lines []string
	for _, paragraph := range strings.Split(text, "\n") {
		line := ""
		for _, piece := range Breaks(paragraph) {
			if line != "" && Width(name, size, strings.TrimRight(line+piece, " ")) > width {
				lines, line = append(lines, strings.TrimRight(line, " ")), ""
			}
			for line == "" {
				head, tail := Cut(name, size, width, piece)
				if strings.TrimRight(tail, " ") == "" {
					break
				}
				lines, piece = append(lines, head), tail
			}
			line += piece
		}
		lines = append(lines, strings.TrimRight(line, " "))
	}
	return lines
}

// Cut splits text at the last character that still fits width; the head has at least one. It measures no more of the
// text than a line or two, so that cutting a long word line by line takes time in proportion to its length.
func Cut(name string, size, width float64, text string) (head, tail string) {
	ends := make([]int, 1, 64) // where each character ends, as far as was looked
	ahead := func(n int) bool {
		for len(ends) <= n {
			last := ends[len(ends)-1]
			if last == len(text) {
				return false
			}
			_, bytes := utf8.DecodeRuneInString(text[last:])
			ends = append(ends, last+bytes)
		}
		return true
	}
	fits := func(n int) bool { return Width(name, size, text[:ends[n]]) <= width }
	fit, over := 1, 16
	for ahead(over) && fits(over) {
		fit, over = over, over*2
	}
	if over = min(over, len(ends)-1); over <= fit || fits(over) {
		return text[:ends[max(over, 0)]], text[ends[max(over, 0)]:]
	}
	for over-fit > 1 {
		if middle := (fit + over) / 2; fits(middle) {
			fit = middle
		} else {
			over = middle
		}
	}
	return text[:ends[fit]], text[ends[fit]:]
}

// Shorten is text on one line no wider than width, with an ellipsis where it was cut.
func Shorten(name string, size, width float64, text string) string {
	if Width(name, size, text) <= width {
		return text
	}
	head, _ := Cut(name, size, width-Width(name, size, "…"), text)
	return strings.TrimRight(head, " ") + "…"
}

// Set places one line of text and adds it to s.
func Set(s *scene.Scene, name string, size, x, baseline float64, text string, fill scene.Color) {
	for _, w := range Line(name, size, x, baseline, text, fill) {
		s.Say(w)
	}
}

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
	n := 16 + int(2*max(0, width)/size) // characters that are looked at: the usual ones are half as wide as high
	part := first(text, n)
	for len(part) < len(text) && Width(name, size, part) <= width {
		n *= 2
		part = first(text, n)
	}
	at := max(1, lettersWithin(name, size, width, part))
	for at > 1 && Width(name, size, first(text, at)) > width {
		at-- // the letter that follows has moved the last one
	}
	head = first(text, at)
	return head, text[len(head):]
}

// first are the first n characters of text.
func first(text string, n int) string {
	if len(text) <= n {
		return text
	}
	for i := range text {
		if n == 0 {
			return text[:i]
		}
		n--
	}
	return text
}

// lettersWithin is about how many of a text's first letters fit a width.
func lettersWithin(name string, size, width float64, text string) int {
	letters := 0
	rtl := RightToLeft(text)
	for _, run := range Runs(name, text) {
		s := lookup(run.Face).shape(run.Text, rtl)
		if s.width*size > width {
			fit := 0
			for _, g := range s.glyphs {
				if g.before*size <= width {
					fit = max(fit, g.letter)
				}
			}
			return letters + fit
		}
		letters += utf8.RuneCountInString(run.Text)
		width -= s.width * size
	}
	return letters
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

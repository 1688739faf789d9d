// Package search understands what people look for: its words, words that were misspelt by one letter, and where they
// stand in what was found. It knows no database.
package search

import (
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/cases"
	"golang.org/x/text/unicode/norm"
)

// Limits of a question.
const (
	MostWords   = 12
	LongestWord = 40 // characters; longer ones are cut
)

// Folded is a text as it is compared: composed and in small letters.
func Folded(s string) string { return cases.Fold().String(norm.NFC.String(s)) }

// Words are the words of a text, folded, in their order: runs of letters and digits.
func Words(s string) []string {
	var out []string
	for _, w := range strings.FieldsFunc(Folded(s), func(r rune) bool { return !wordly(r) }) {
		if n := utf8.RuneCountInString(w); n > LongestWord {
			w = string([]rune(w)[:LongestWord])
		}
		out = append(out, w)
	}
	return out
}

func wordly(r rune) bool { return unicode.IsLetter(r) || unicode.IsDigit(r) || unicode.IsMark(r) }

// Asked are the words of a question, each once.
func Asked(question string) []string {
	var out []string
	for _, w := range Words(question) {
		if !slices.Contains(out, w) && len(out) < MostWords {
			out = append(out, w)
		}
	}
	return out
}

// Near are the words of a vocabulary that a misspelt one may have meant: those one letter off, one too many, too few,
// or two swapped. The vocabulary is folded.
func Near(word string, vocabulary []string) []string {
	if utf8.RuneCountInString(word) < 3 {
		return nil // nearly everything is near to it
	}
	var out []string
	w := []rune(word)
	for _, v := range vocabulary {
		if d := len(v) - len(word); d > 4 || d < -4 {
			continue // one letter is at most four bytes
		}
		if v != word && oneOff(w, []rune(v)) {
			out = append(out, v)
		}
	}
	return out
}

// oneOff tells whether one edit leads from a word to another.
func oneOff(a, b []rune) bool {
	if len(a) > len(b) {
		a, b = b, a
	}
	if len(b)-len(a) > 1 {
		return false
	}
	i := 0
	for i < len(a) && a[i] == b[i] {
		i++
	}
	if len(a) < len(b) {
		return slices.Equal(a[i:], b[i+1:])
	}
	if i == len(a) || slices.Equal(a[i+1:], b[i+1:]) {
		return true
	}
	return i+1 < len(a) && a[i] == b[i+1] && a[i+1] == b[i] && slices.Equal(a[i+2:], b[i+2:])
}

// Part is a stretch of what was found; Hit where it is what was looked for.
type Part struct {
	Text string `json:"text"`
	Hit  bool   `json:"hit,omitempty"`
}

const (
	before  = 60  // characters before the first hit
	longest = 220 // of what is shown
)

// Shown is a text, cut to what surrounds the first hit, with the words marked that begin with one of those looked for.
func Shown(s string, asked []string) []Part {
	runes := []rune(strings.Join(strings.Fields(s), " "))
	type span struct{ from, to int }
	var hits []span
	for i := 0; i < len(runes); {
		if !wordly(runes[i]) {
			i++
			continue
		}
		from := i
		for i < len(runes) && wordly(runes[i]) {
			i++
		}
		word := Folded(string(runes[from:i]))
		if slices.ContainsFunc(asked, func(a string) bool { return strings.HasPrefix(word, a) }) {
			hits = append(hits, span{from, i})
		}
	}
	from := 0
	if len(hits) > 0 && hits[0].from > before {
		for from = hits[0].from - before; from < hits[0].from && runes[from-1] != ' '; from++ {
		}
	}
	to := min(len(runes), from+longest)
	for to < len(runes) && to > from+longest/2 && runes[to] != ' ' {
		to--
	}
	var out []Part
	add := func(text string, hit bool) {
		if text != "" {
			out = append(out, Part{text, hit})
		}
	}
	at := from
	if from > 0 {
		add("… ", false)
	}
	for _, h := range hits {
		if h.to > to {
			break
		}
		add(string(runes[at:h.from]), false)
		add(string(runes[h.from:h.to]), true)
		at = h.to
	}
	add(string(runes[at:to]), false)
	if to < len(runes) {
		add(" …", false)
	}
	return out
}

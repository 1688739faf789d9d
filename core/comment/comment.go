// Package comment says what comments hang on, and finds the words again that one is about after they were reworded.
package comment

import (
	"errors"
	"strings"
	"unicode"
	"unicode/utf8"

	"raconte/core/id"
)

// Longest are the most characters that a comment has, and the most that one can be about.
const (
	Longest      = 4000
	LongestQuote = 600
	around       = 30 // characters before and after the words that are kept with them
)

// Place is what a comment is about: the whole document where nothing is named, or a block, words of it, or a picture.
type Place struct {
	Block  string `json:"block,omitempty"`
	Figure string `json:"figure,omitempty"` // in the block
	Words  *Quote `json:"words,omitempty"`  // of the block
	Pin    *Pin   `json:"pin,omitempty"`    // a place in the picture
}

// Quote are words of a text, with what stood around them.
type Quote struct {
	Text   string `json:"text"`
	Before string `json:"before,omitempty"`
	After  string `json:"after,omitempty"`
}

// Check tells what is wrong with a place that came from outside; nil where nothing is.
func (p Place) Check() error {
	switch {
	case p.Block != "" && !id.Valid(p.Block), p.Figure != "" && !id.Valid(p.Figure):
		return errors.New("what the comment is about has no usable id")
	case p.Block == "" && (p.Figure != "" || p.Words != nil), p.Figure != "" && p.Words != nil:
		return errors.New("a comment is about words or a picture of a step")
	case p.Pin != nil && (p.Figure == "" || !p.Pin.usable()):
		return errors.New("a place in a picture is none")
	case p.Words == nil:
		return nil
	}
	long := func(s string, most int) bool { return utf8.RuneCountInString(s) > most }
	if q := p.Words; strings.TrimSpace(q.Text) == "" || long(q.Text, LongestQuote) || long(q.Before, 2*around) || long(q.After, 2*around) {
		return errors.New("the words that the comment is about are none, or too many")
	}
	return nil
}

// QuoteOf are the words from one place in a text to another, in characters.
func QuoteOf(text string, from, to int) Quote {
	letters := []rune(text)
	from, to = max(0, min(from, len(letters))), max(0, min(to, len(letters)))
	if to < from {
		from, to = to, from
	}
	return Quote{
		Text: string(letters[from:to]), Before: string(letters[max(0, from-around):from]), After: string(letters[to:min(len(letters), to+around)]),
	}
}

// likeEnough is the share of the words that must still be there, in their order, for a passage to be the one.
const likeEnough = 0.6

// In finds the words in a text as it is now, in characters: as they were, where what stands around them is most like it
// was; else the passage that still has most of them. False where they can't be found any more.
func (q Quote) In(text string) (from, to int, ok bool) {
	letters, quote := []rune(text), []rune(q.Text)
	if len(quote) == 0 || len(letters) == 0 {
		return 0, 0, false
	}
	best := -1
	for at := 0; at+len(quote) <= len(letters); at++ {
		if !same(letters[at:at+len(quote)], quote) {
			continue
		}
		like := 1 + tail(letters[:at], []rune(q.Before)) + head(letters[at+len(quote):], []rune(q.After))
		if like > best {
			best, from, to = like, at, at+len(quote)
		}
	}
	if best >= 0 {
		return from, to, true
	}
	return q.reworded(letters)
}

// same tells whether two texts are the same but for the kind of white space and capitals.
func same(a, b []rune) bool {
	for i, r := range a {
		s := b[i]
		if r != s && unicode.ToLower(r) != unicode.ToLower(s) && (!unicode.IsSpace(r) || !unicode.IsSpace(s)) {
			return false
		}
	}
	return true
}

func tail(a, b []rune) int {
	n := 0
	for n < len(a) && n < len(b) && a[len(a)-1-n] == b[len(b)-1-n] {
		n++
	}
	return n
}

func head(a, b []rune) int {
	n := 0
	for n < len(a) && n < len(b) && a[n] == b[n] {
		n++
	}
	return n
}

// token is a word and where it stands.
type token struct {
	word     string
	from, to int
}

func tokens(letters []rune) []token {
	var all []token
	for i := 0; i < len(letters); {
		is := func(r rune) bool { return unicode.IsLetter(r) || unicode.IsDigit(r) || unicode.IsMark(r) }
		if !is(letters[i]) {
			i++
			continue
		}
		from := i
		for i < len(letters) && is(letters[i]) {
			i++
		}
		all = append(all, token{strings.ToLower(string(letters[from:i])), from, i})
	}
	return all
}

// reworded finds the passage that has most of the words, in their order: the longest common part of both.
func (q Quote) reworded(letters []rune) (from, to int, ok bool) {
	want, have := tokens([]rune(q.Text)), tokens(letters)
	if len(want) < 2 || len(have) == 0 || len(want)*len(have) > 2_000_000 {
		return 0, 0, false
	}
	best, most := 0.0, len(want)*2 // no passage is much longer than the words were
	for start := range have {
		end := min(len(have), start+most)
		if have[start].word != want[0].word && !contains(want, have[start].word) {
			continue
		}
		row := make([]int, len(want)+1)
		for i := start; i < end; i++ {
			corner := 0
			for j, w := range want {
				over := row[j+1]
				if have[i].word == w.word {
					row[j+1] = corner + 1
				} else {
					row[j+1] = max(row[j+1], row[j])
				}
				corner = over
			}
			share := 2 * float64(row[len(want)]) / float64(len(want)+i-start+1)
			if share > best {
				best, from, to = share, have[start].from, have[i].to
			}
		}
		if len(have)*len(want) > 20_000 && best == 1 {
			break
		}
	}
	return from, to, best >= likeEnough
}

func contains(all []token, word string) bool {
	for _, t := range all {
		if t.word == word {
			return true
		}
	}
	return false
}

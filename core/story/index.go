package story

import (
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Entry is a line of an index: a term, and the blocks that name it, in their order.
type Entry struct {
	Term   string
	Blocks []string
}

// Index lists the names of controls in the story, and the words that were chosen for it, by the alphabet.
func (s Story) Index() []Entry {
	entries := map[string]*Entry{} // by the term in small letters
	add := func(term, block string) {
		term = strings.TrimSpace(term)
		if term == "" {
			return
		}
		key := strings.ToLower(term)
		e := entries[key]
		if e == nil {
			e = &Entry{Term: term}
			entries[key] = e
		}
		if !slices.Contains(e.Blocks, block) {
			e.Blocks = append(e.Blocks, block)
		}
	}
	for _, b := range s.Blocks {
		if b.Heads() {
			continue
		}
		for _, p := range b.Words.Paragraphs() {
			for _, span := range p.Spans {
				if span.Control {
					add(span.Text, b.ID)
				}
			}
		}
		said := strings.ToLower(b.Words.Reading(nil))
		for _, term := range s.Indexed {
			if within(said, strings.ToLower(strings.TrimSpace(term))) {
				add(term, b.ID)
			}
		}
	}
	out := make([]Entry, 0, len(entries))
	for _, e := range entries {
		out = append(out, *e)
	}
	slices.SortFunc(out, func(a, b Entry) int {
		return strings.Compare(strings.ToLower(a.Term)+a.Term, strings.ToLower(b.Term)+b.Term)
	})
	return out
}

// within tells whether a term stands in a text as a word of its own.
func within(text, term string) bool {
	if term == "" {
		return false
	}
	for at := 0; ; {
		i := strings.Index(text[at:], term)
		if i < 0 {
			return false
		}
		from, to := at+i, at+i+len(term)
		before, _ := utf8.DecodeLastRuneInString(text[:from])
		after, _ := utf8.DecodeRuneInString(text[to:])
		if !letter(before) && !letter(after) {
			return true
		}
		at = to
	}
}

func letter(r rune) bool { return unicode.IsLetter(r) || unicode.IsDigit(r) }

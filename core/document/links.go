package document

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"raconte/core/id"
	"raconte/core/words"
)

// WebLink leads to a page or a film somewhere else. It is checked in form only; nothing is fetched.
type WebLink struct {
	Address string `json:"address"`
	Title   string `json:"title,omitempty"`
	Film    bool   `json:"film,omitempty"`
}

// MostBeside is how many web links stand beside one block.
const MostBeside = 10

// Said is what the link reads as: its title, or its address.
func (l WebLink) Said() string {
	if t := strings.TrimSpace(l.Title); t != "" {
		return t
	}
	return l.Address
}

// checkLinks tells what is wrong with where a block leads.
func (b Block) checkLinks() error {
	switch {
	case b.Document != "" && (!id.Valid(b.Document) || b.Type != Step && b.Type != Chapter):
		return errors.New("it leads to a procedure, which steps and chapters do")
	case b.Type == Chapter && b.Document == "":
		return errors.New("a chapter names no procedure")
	case b.Revision < 0 || b.Revision > 0 && b.Type != Chapter:
		return errors.New("it names a revision, which chapters do")
	case b.Type == Chapter && len(b.Figures) > 0:
		return errors.New("a chapter has pictures of its own")
	case len(b.Beside) > MostBeside || len(b.Beside) > 0 && b.Type != Step && b.Type != Passage:
		return fmt.Errorf("at most %d web links stand beside a step or a passage", MostBeside)
	}
	for _, l := range b.Beside {
		if !words.SafeLink(l.Address) {
			return errors.New("a web link starts with https, http or mailto")
		}
		if utf8.RuneCountInString(l.Title) > LongestTitle || strings.ContainsAny(l.Title, "\n\r\x00") {
			return errors.New("the title of a web link is too long, or no line")
		}
	}
	return nil
}

// How says how a document leads to another.
type How string

// How documents lead to others. What a step does and what a chapter is may not lead back to itself.
const (
	Does   How = "does"   // a step hands over to it
	Holds  How = "holds"  // it is a chapter
	Refers How = "refers" // words name it
)

// Lead is where a document leads.
type Lead struct {
	Block string
	To    string
	How   How
}

// Leads are all places of a block that lead to other documents, each of them once.
func (b Block) Leads() []Lead {
	var out []Lead
	add := func(to string, how How) {
		if l := (Lead{b.ID, to, how}); to != "" && !slices.Contains(out, l) {
			out = append(out, l)
		}
	}
	if b.Type == Chapter {
		add(b.Document, Holds)
	} else {
		add(b.Document, Does)
	}
	for _, r := range b.Words.Refers() {
		if r.Kind == words.ToDocument {
			add(r.To, Refers)
		}
	}
	return out
}

// Leads are all places that lead to other documents.
func (d Document) Leads() []Lead {
	var out []Lead
	for _, b := range d.Blocks {
		out = append(out, b.Leads()...)
	}
	return out
}

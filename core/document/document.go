// Package document is what people write: blocks in order, each with its words and its figures, and the facts of the
// whole. It knows the kinds of documents, how they count and how they come to be ready.
package document

import (
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"

	"raconte/core/figure"
	"raconte/core/id"
	"raconte/core/style"
)

// Document is one document, whole.
type Document struct {
	ID     string  `json:"id"`
	Kind   Kind    `json:"kind"`
	Facts  Facts   `json:"facts"`
	Blocks []Block `json:"blocks"`
}

// Facts are what a document is apart from its blocks.
type Facts struct {
	Title    string   `json:"title"`
	Counting Counting `json:"counting,omitempty"`
	Seconds  int      `json:"seconds,omitempty"` // that it takes, where the author says; else its steps tell
	Notice   *Notice  `json:"notice,omitempty"`  // of the whole document
	// Style is the house style by its id, Layout the layout that it is written for: "" is the house's, and the style's.
	Style  string       `json:"style,omitempty"`
	Layout style.Layout `json:"layout,omitempty"`
	File   *File        `json:"file,omitempty"` // of a filed PDF
	// Indexed are words that a manual's index lists besides the names of controls.
	Indexed []string `json:"indexed,omitempty"`
	Film    *Film    `json:"film,omitempty"` // how it is told as a film; nil as usual
	Control
}

// File is a filed PDF.
type File struct {
	SHA256 string `json:"sha256"`
	Name   string `json:"name"` // that it came with
	Bytes  int64  `json:"bytes"`
	Pages  int    `json:"pages"`
}

const mostIndexed = 500

var isSHA = regexp.MustCompile(`^[0-9a-f]{64}$`)

// Limits of a document. Whatever is kept is within them, so that what is exported can be imported again.
const (
	MostBlocks   = 2000
	MostFigures  = 20 // in one block
	LongestTitle = 200
	MostShots    = 4000      // different ones in a document, insets included
	MostBlock    = 2 << 20   // bytes of a block's stored content
	MostContent  = 12 << 20  // bytes of all its blocks
	MostPictures = 900 << 20 // bytes of the files of its shots
)

// Overflow tells, for people, which limit a document of such a size is beyond; "" where it is within all of them.
// Content and pictures are in bytes.
func Overflow(blocks, shots int, content, pictures int64) string {
	switch {
	case blocks > MostBlocks:
		return fmt.Sprintf("A document can have at most %d steps.", MostBlocks)
	case shots > MostShots:
		return fmt.Sprintf("A document can show at most %d different shots.", MostShots)
	case content > MostContent:
		return fmt.Sprintf("The words and marks of a document take at most %d MB. Make two documents of it.", MostContent>>20)
	case pictures > MostPictures:
		return fmt.Sprintf("The pictures of a document take at most %d MB. Make two documents of it.", MostPictures>>20)
	}
	return ""
}

// CheckTitle tells what is wrong with a title; nil where nothing is.
func CheckTitle(title string) error {
	switch n := utf8.RuneCountInString(strings.TrimSpace(title)); {
	case n == 0:
		return errors.New("a document needs a title")
	case n > LongestTitle:
		return fmt.Errorf("the title is longer than %d characters", LongestTitle)
	case strings.ContainsAny(title, "\n\r\x00"):
		return errors.New("the title has more than one line")
	case !utf8.ValidString(title):
		return errors.New("the title holds bytes that are no characters")
	}
	return nil
}

// Check tells what is wrong with facts that came from outside; nil where nothing is.
func (f Facts) Check() error {
	if err := f.Film.Check(); err != nil {
		return err
	}
	if f.Counting != Through && f.Counting != Anew {
		return fmt.Errorf("there is no such way of counting steps as %q", f.Counting)
	}
	if f.Seconds < 0 || f.Seconds > LongestStep {
		return errors.New("the document takes no time or more than a day")
	}
	if f.Notice != nil {
		if err := f.Notice.Check(); err != nil {
			return err
		}
	}
	if f.Layout != style.Own && !f.Layout.Known() {
		return fmt.Errorf("there is no layout %q", f.Layout)
	}
	if utf8.RuneCountInString(f.Style) > longestName {
		return errors.New("there is no such house style")
	}
	if len(f.Indexed) > mostIndexed {
		return fmt.Errorf("more than %d words are chosen for the index", mostIndexed)
	}
	for _, s := range f.Indexed {
		if utf8.RuneCountInString(s) > longestName {
			return fmt.Errorf("a word for the index is longer than %d characters", longestName)
		}
	}
	if f.File != nil && (!isSHA.MatchString(f.File.SHA256) || f.File.Pages < 1 || utf8.RuneCountInString(f.File.Name) > 255) {
		return errors.New("what is said of the PDF is not in order")
	}
	if err := f.Control.Check(); err != nil {
		return err
	}
	return CheckTitle(f.Title)
}

// Check tells what is wrong with a whole document that came from outside; nil where nothing is.
func (d Document) Check() error {
	if !d.Kind.Known() {
		return fmt.Errorf("the document is of the unknown kind %q", d.Kind)
	}
	if err := d.Facts.Check(); err != nil {
		return err
	}
	if len(d.Blocks) > MostBlocks {
		return fmt.Errorf("the document has more than %d blocks", MostBlocks)
	}
	if len(d.Shots()) > MostShots {
		return errors.New("the document shows more different shots than is allowed")
	}
	seen := map[string]bool{}
	once := func(id string) error {
		if seen[id] {
			return fmt.Errorf("the id %s is used twice", id)
		}
		seen[id] = true
		return nil
	}
	for _, b := range d.Blocks {
		if err := errors.Join(b.Check(), once(b.ID)); err != nil {
			return err
		}
		if !d.Kind.Has(b.Type) {
			return fmt.Errorf("a %s has no blocks of the type %q", d.Kind, b.Type)
		}
		if b.Asks != "" && !slices.Contains(d.Kind.Asks(), b.Asks) {
			return fmt.Errorf("a %s does not ask %q", d.Kind, b.Asks)
		}
		for _, f := range b.Figures {
			if err := once(f.ID); err != nil {
				return err
			}
		}
	}
	return nil
}

// Figure finds a figure of the document and the block that shows it.
func (d Document) Figure(id string) (f figure.Figure, in Block, ok bool) {
	for _, b := range d.Blocks {
		for _, f := range b.Figures {
			if f.ID == id {
				return f, b, true
			}
		}
	}
	return figure.Figure{}, Block{}, false
}

// Shots are the shots that the document uses, each once, in the order of their first use.
func (d Document) Shots() []string {
	var shots []string
	seen := map[string]bool{}
	for _, b := range d.Blocks {
		for _, f := range b.Figures {
			for _, shot := range f.Shots() {
				if !seen[shot] {
					seen[shot] = true
					shots = append(shots, shot)
				}
			}
		}
	}
	return shots
}

// WithShots is the document with its shots named otherwise.
func (d Document) WithShots(name func(shot string) string) Document {
	d.Blocks = slices.Clone(d.Blocks)
	for i, b := range d.Blocks {
		d.Blocks[i].Figures = slices.Clone(b.Figures)
		for j, f := range b.Figures {
			d.Blocks[i].Figures[j] = f.WithShots(name)
		}
	}
	return d
}

// Apart is the document with ids that are used twice made different, as those of a time when that was not checked.
func (d Document) Apart() Document {
	seen := map[string]bool{}
	d.Blocks = slices.Clone(d.Blocks)
	for i, b := range d.Blocks {
		d.Blocks[i].Figures = slices.Clone(b.Figures)
		for j := range b.Figures {
			f := &d.Blocks[i].Figures[j]
			if seen[f.ID] {
				f.ID = id.Mended(fmt.Sprint("again ", b.ID, " ", j, " ", f.ID))
			}
			seen[f.ID] = true
		}
	}
	return d
}

// Package document is what people write: steps in order, each with its words and its figures.
package document

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"

	"raconte/core/figure"
	"raconte/core/id"
	"raconte/core/words"
)

// Kind says what a document is.
type Kind string

// Procedure is the one kind there is so far.
const Procedure Kind = "procedure"

// State says how far a document has come.
type State string

// The states of a document.
const (
	Draft State = "draft"
	Ready State = "ready"
)

// Document is one document, whole.
type Document struct {
	ID    string `json:"id"`
	Kind  Kind   `json:"kind"`
	Title string `json:"title"`
	Steps []Step `json:"steps"`
}

// Step is one step: its words and the figures that show it.
type Step struct {
	ID      string          `json:"id"`
	Words   words.Node      `json:"words"`
	Figures []figure.Figure `json:"figures"`
}

// Limits of a document. Whatever is kept is within them, so that what is exported can be imported again.
const (
	MostSteps    = 2000
	MostFigures  = 20 // in one step
	LongestTitle = 200
	MostShots    = 4000      // different ones in a document, insets included
	MostStep     = 2 << 20   // bytes of a step's stored content
	MostContent  = 12 << 20  // bytes of all its steps
	MostPictures = 900 << 20 // bytes of the files of its shots
)

// Overflow tells, for people, which limit a document of such a size is beyond; "" where it is within all of them.
// Content and pictures are in bytes.
func Overflow(steps, shots int, content, pictures int64) string {
	switch {
	case steps > MostSteps:
		return fmt.Sprintf("A document can have at most %d steps.", MostSteps)
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

// Check tells what is wrong with a step that came from outside; nil where nothing is.
func (s Step) Check() error {
	if !id.Valid(s.ID) {
		return errors.New("a step has no usable id")
	}
	if err := s.Words.Check(); err != nil {
		return fmt.Errorf("step %s: %w", s.ID, err)
	}
	if len(s.Figures) > MostFigures {
		return fmt.Errorf("step %s has more than %d pictures", s.ID, MostFigures)
	}
	for _, f := range s.Figures {
		if err := f.Check(); err != nil {
			return fmt.Errorf("step %s: %w", s.ID, err)
		}
	}
	return nil
}

// Check tells what is wrong with a whole document that came from outside; nil where nothing is.
func (d Document) Check() error {
	if d.Kind != Procedure {
		return fmt.Errorf("the document is of the unknown kind %q", d.Kind)
	}
	if err := CheckTitle(d.Title); err != nil {
		return err
	}
	if len(d.Steps) > MostSteps {
		return fmt.Errorf("the document has more than %d steps", MostSteps)
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
	for _, s := range d.Steps {
		if err := errors.Join(s.Check(), once(s.ID)); err != nil {
			return err
		}
		for _, f := range s.Figures {
			if err := once(f.ID); err != nil {
				return err
			}
		}
	}
	return nil
}

// Label is the step in one short line: its first sentence.
func (s Step) Label() string {
	if label := s.Words.Label(); label != "" {
		return label
	}
	return "No words yet"
}

// Alt is what stands for a figure where it can't be seen: its own text, or the step's first sentence.
func (s Step) Alt(f figure.Figure) string {
	if f.Alt != "" {
		return f.Alt
	}
	return "Picture: " + s.Label()
}

// Alts are what stands for each of the step's figures, by the figure's id.
func (s Step) Alts() map[string]string {
	alts := make(map[string]string, len(s.Figures))
	for _, f := range s.Figures {
		alts[f.ID] = s.Alt(f)
	}
	return alts
}

// Figure finds a figure of the document: its step's index and the number of its first marker.
func (d Document) Figure(id string) (f figure.Figure, step, first int, ok bool) {
	lasts := d.Lasts()
	for i, s := range d.Steps {
		for j, first := range figure.Firsts(s.Figures, lasts[i]) {
			if s.Figures[j].ID == id {
				return s.Figures[j], i, first, true
			}
		}
	}
	return figure.Figure{}, 0, 0, false
}

// Lasts are, for each step, the last number that markers reach before it.
func (d Document) Lasts() []int {
	steps := make([][]figure.Figure, len(d.Steps))
	for i, s := range d.Steps {
		steps[i] = s.Figures
	}
	return figure.Lasts(steps)
}

// Shots are the shots that the document uses, each once, in the order of their first use.
func (d Document) Shots() []string {
	var shots []string
	seen := map[string]bool{}
	for _, s := range d.Steps {
		for _, f := range s.Figures {
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

// Apart is the document with ids that are used twice made different, as those of a time when that was not checked.
func (d Document) Apart() Document {
	seen := map[string]bool{}
	d.Steps = slices.Clone(d.Steps)
	for i, s := range d.Steps {
		d.Steps[i].Figures = slices.Clone(s.Figures)
		for j := range s.Figures {
			f := &d.Steps[i].Figures[j]
			if seen[f.ID] {
				f.ID = id.Mended(fmt.Sprint("again ", s.ID, " ", j, " ", f.ID))
			}
			seen[f.ID] = true
		}
	}
	return d
}

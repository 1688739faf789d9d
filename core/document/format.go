package document

import (
	"encoding/json"
	"fmt"

	"raconte/core/figure"
	"raconte/core/id"
	"raconte/core/words"
)

// Format is the number that stored JSON carries: rows, revisions, bundles and what browsers keep. What carries none is
// of format 2 or older, which are read alike.
//
//	1  steps of words and figures; marks are arrows, boxes, texts, markers and pointers
//	2  pictures are turned, folded, framed and concealed; all marks of the pad
//	3  ids are those of core/id; places lie within figure.Farthest; words carry no style twice
const Format = 3

// stepUpgrades lead a step from each format to the next. One that is here is never changed: what it makes is stored.
var stepUpgrades = map[int]func(Step) Step{
	1: func(s Step) Step { return s }, // format 2 only adds
	2: mended,
}

// Upgraded is a step of an older format in today's.
func Upgraded(s Step, from int) Step {
	for f := max(1, from); f < Format; f++ {
		s = stepUpgrades[f](s)
	}
	return s
}

// Stored is what a step says and shows, as it is stored.
type Stored struct {
	Format  int             `json:"format"`
	Words   words.Node      `json:"words"`
	Figures []figure.Figure `json:"figures"`
}

// Store is a step's content in today's format; empty lists are written as lists.
func Store(s Step) Stored {
	out := Stored{Format, s.Words, withLists(s.Figures)}
	if out.Words.Type == "" {
		out.Words = words.Plain("")
	}
	return out
}

// ReadStep reads a step's stored content of any format there ever was. Its id is left to the caller.
func ReadStep(raw []byte) (Step, error) {
	var s Stored
	if err := json.Unmarshal(raw, &s); err != nil {
		return Step{}, fmt.Errorf("reading a step: %w", err)
	}
	if s.Format > Format {
		return Step{}, fmt.Errorf("the step is of format %d; this Raconte reads up to %d", s.Format, Format)
	}
	step := Step{Words: s.Words, Figures: withLists(s.Figures)}
	if s.Format == 0 {
		s.Format = 2
	}
	return Upgraded(step, s.Format), nil
}

// withLists are figures whose lists are lists, empty ones too.
func withLists(figures []figure.Figure) []figure.Figure {
	out := make([]figure.Figure, len(figures))
	for i, f := range figures {
		if f.Marks == nil {
			f.Marks = []figure.Mark{}
		}
		out[i] = f
	}
	return out
}

// plain is a document without methods of its own to read and write it.
type plain Document

// MarshalJSON writes the document with its format.
func (d Document) MarshalJSON() ([]byte, error) {
	if d.Steps == nil {
		d.Steps = []Step{}
	}
	return json.Marshal(struct {
		Format int `json:"format"`
		plain
	}{Format, plain(d)})
}

// UnmarshalJSON reads a document of any format there ever was.
func (d *Document) UnmarshalJSON(raw []byte) error {
	in := struct {
		Format int `json:"format"`
		*plain
	}{plain: (*plain)(d)}
	if err := json.Unmarshal(raw, &in); err != nil {
		return fmt.Errorf("reading a document: %w", err)
	}
	if in.Format > Format {
		return fmt.Errorf("the document is of format %d; this Raconte reads up to %d", in.Format, Format)
	}
	if in.Format == 0 {
		in.Format = 2
	}
	if in.Format < Format {
		d.ID = id.Mended(d.ID)
		for i, s := range d.Steps {
			d.Steps[i] = Upgraded(s, in.Format)
		}
	}
	return nil
}

// mended leads a step from format 2 to 3.
func mended(s Step) Step {
	s.ID = mendedID(s.ID)
	s.Words = s.Words.Mended()
	figures := make([]figure.Figure, len(s.Figures))
	for i, f := range s.Figures {
		figures[i] = f.Mended()
	}
	s.Figures = figures
	return s
}

func mendedID(s string) string {
	if s == "" {
		return s // of a step whose id is stored beside it
	}
	return id.Mended(s)
}

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
//	4  documents are facts and blocks with a type, where there were a title and steps; a "loupe" is a "detail"
//	5  sections have levels, steps a time and a notice, facts a notice and how steps are counted
//	6  passages, chapters, tables and references; steps link to procedures and to the web; facts control the document
//	7  layouts have names, where steps to a page were counted; a document may have a house style
//	8  bug reports and support requests, whose passages answer questions
//	9  pictures may stand for clips, marks have times; documents are told as films
//	10 the form that a clip goes out in is chosen; colours of a picture become others
const Format = 10

// upgrades lead a block from each format to the next. One that is here is never changed: what it makes is stored.
var upgrades = map[int]func(Block) Block{
	1: func(b Block) Block { return b }, // format 2 only adds
	2: mended,
	3: typed,
	4: func(b Block) Block { return b }, // format 5 only adds
	5: func(b Block) Block { return b }, // format 6 only adds
	6: func(b Block) Block { return b }, // style.Layout reads how layouts were called before
	7: func(b Block) Block { return b }, // format 8 only adds
	8: func(b Block) Block { return b }, // format 9 only adds
	9: func(b Block) Block { return b }, // format 10 only adds
}

// Upgraded is a block of an older format in today's.
func Upgraded(b Block, from int) Block {
	for f := max(1, from); f < Format; f++ {
		b = upgrades[f](b)
	}
	return b
}

// Stored is what a block is, says and shows, as it is stored.
type Stored struct {
	Format int `json:"format"`
	Content
}

// Store is a block's content in today's format; empty lists are written as lists.
func Store(c Content) Stored {
	c.Figures = withLists(c.Figures)
	if c.Words.Type == "" {
		c.Words = words.Plain("")
	}
	return Stored{Format, c}
}

// ReadContent reads a block's stored content of any format there ever was.
func ReadContent(raw []byte) (Content, error) {
	var s Stored
	if err := json.Unmarshal(raw, &s); err != nil {
		return Content{}, fmt.Errorf("reading a block: %w", err)
	}
	if s.Format > Format {
		return Content{}, fmt.Errorf("the block is of format %d; this Raconte reads up to %d", s.Format, Format)
	}
	s.Figures = withLists(s.Figures)
	if s.Format == 0 {
		s.Format = 2
	}
	return Upgraded(Block{Content: s.Content}, s.Format).Content, nil
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
	blocks := make([]Block, len(d.Blocks))
	for i, b := range d.Blocks {
		b.Figures = withLists(b.Figures)
		blocks[i] = b
	}
	d.Blocks = blocks
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
		// of formats up to 3
		Title string  `json:"title"`
		Steps []Block `json:"steps"`
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
	if in.Format <= 3 {
		d.Facts, d.Blocks = Facts{Title: in.Title}, in.Steps
	}
	if in.Format <= 2 {
		d.ID = id.Mended(d.ID)
	}
	for i, b := range d.Blocks {
		d.Blocks[i] = Upgraded(b, in.Format)
	}
	return nil
}

// mended leads a block from format 2 to 3.
func mended(b Block) Block {
	b.ID = mendedID(b.ID)
	b.Words = b.Words.Mended()
	figures := make([]figure.Figure, len(b.Figures))
	for i, f := range b.Figures {
		figures[i] = f.Mended()
	}
	b.Figures = figures
	return b
}

// typed leads a step from format 3 to 4.
func typed(b Block) Block {
	b.Type = Step
	figures := make([]figure.Figure, len(b.Figures))
	for i, f := range b.Figures {
		f = f.Clone()
		for j, m := range f.Marks {
			if m.Kind == "loupe" {
				f.Marks[j].Kind = figure.Detail
			}
		}
		figures[i] = f
	}
	b.Figures = figures
	return b
}

func mendedID(s string) string {
	if s == "" {
		return s // of a block whose id is stored beside it
	}
	return id.Mended(s)
}

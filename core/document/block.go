package document

import (
	"errors"
	"fmt"

	"raconte/core/figure"
	"raconte/core/id"
	"raconte/core/words"
)

// Block is one block of a document.
type Block struct {
	ID string `json:"id"`
	Content
}

// Content is what a block is, says and shows. The words of a section are its heading.
type Content struct {
	Type    Type    `json:"type"`
	Level   int     `json:"level,omitempty"`   // of a section: 0 or 1, or 2 of one within another
	Seconds int     `json:"seconds,omitempty"` // that a step takes; 0 where nobody has said
	Notice  *Notice `json:"notice,omitempty"`  // that stands before a step
	// Critical says that a step asks for a deliberate press to go past it.
	Critical bool `json:"critical,omitempty"`
	// Document is the procedure that a step hands over to, or that a chapter is; Revision is the one of it that a
	// chapter shows, 0 for the valid one.
	Document string          `json:"document,omitempty"`
	Revision int             `json:"revision,omitempty"`
	Beside   []WebLink       `json:"beside,omitempty"` // web links and films beside a step or passage
	Asks     Question        `json:"asks,omitempty"`   // of a passage: the question that it answers
	Words    words.Node      `json:"words"`
	Figures  []figure.Figure `json:"figures"`
	Film     *Told           `json:"film,omitempty"` // how it is told in a film
}

// NewStep is a step.
func NewStep(id string, w words.Node, figures ...figure.Figure) Block {
	return Block{id, Content{Type: Step, Words: w, Figures: append([]figure.Figure{}, figures...)}}
}

// NewSection is the heading of a section; level is 1, or 2 of one within another.
func NewSection(id string, level int, heading words.Node) Block {
	return Block{id, Content{Type: Section, Level: level, Words: heading, Figures: []figure.Figure{}}}
}

// NewPassage is words and pictures between steps.
func NewPassage(id string, w words.Node, figures ...figure.Figure) Block {
	b := NewStep(id, w, figures...)
	b.Type = Passage
	return b
}

// LongestStep is the most that a step takes, in seconds.
const LongestStep = 24 * 60 * 60

// Depth is how deep a section lies: 1, or 2 of one within another.
func (c Content) Depth() int { return max(1, c.Level) }

// Check tells what is wrong with a block that came from outside; nil where nothing is.
func (b Block) Check() error {
	if err := b.Film.check(); err != nil {
		return fmt.Errorf("%s %s: %w", b.Type, b.ID, err)
	}
	if !id.Valid(b.ID) {
		return errors.New("a block has no usable id")
	}
	if !b.Type.known() {
		return fmt.Errorf("block %s is of the unknown type %q", b.ID, b.Type)
	}
	if err := b.Words.Check(); err != nil {
		return fmt.Errorf("%s %s: %w", b.Type, b.ID, err)
	}
	if len(b.Figures) > MostFigures {
		return fmt.Errorf("%s %s has more than %d pictures", b.Type, b.ID, MostFigures)
	}
	switch {
	case b.Level < 0 || b.Level > 2 || b.Level > 0 && b.Type != Section:
		return fmt.Errorf("%s %s: sections are in two levels", b.Type, b.ID)
	case b.Type == Section && len(b.Figures) > 0:
		return fmt.Errorf("section %s has pictures", b.ID)
	case (b.Notice != nil || b.Critical) && b.Type != Step:
		return fmt.Errorf("%s %s warns of something, which steps do", b.Type, b.ID)
	case b.Asks != "" && (b.Asks.Said() == "" || b.Type != Passage):
		return fmt.Errorf("%s %s answers a question that nobody asks", b.Type, b.ID)
	case b.Seconds < 0 || b.Seconds > LongestStep:
		return fmt.Errorf("%s %s takes no time or more than a day", b.Type, b.ID)
	}
	if err := b.checkLinks(); err != nil {
		return fmt.Errorf("%s %s: %w", b.Type, b.ID, err)
	}
	if b.Notice != nil {
		if err := b.Notice.Check(); err != nil {
			return fmt.Errorf("%s %s: %w", b.Type, b.ID, err)
		}
	}
	for _, f := range b.Figures {
		if err := f.Check(); err != nil {
			return fmt.Errorf("%s %s: %w", b.Type, b.ID, err)
		}
	}
	return nil
}

// Label is the block in one short line: its first sentence.
func (c Content) Label() string { return c.LabelIn(nil) }

// Alt is what stands for a figure where it can't be seen: its own text, or the block's first sentence.
func (c Content) Alt(f figure.Figure) string { return c.AltIn(f, nil) }

// Alts are what stands for each of the block's figures, by the figure's id.
func (c Content) Alts() map[string]string {
	alts := make(map[string]string, len(c.Figures))
	for _, f := range c.Figures {
		alts[f.ID] = c.Alt(f)
	}
	return alts
}

// Shots are the shots that the block shows, each once, in the order of their first use.
func (c Content) Shots() []string { return Document{Blocks: []Block{{Content: c}}}.Shots() }

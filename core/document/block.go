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
	Type    Type            `json:"type"`
	Words   words.Node      `json:"words"`
	Figures []figure.Figure `json:"figures"`
}

// NewStep is a step.
func NewStep(id string, w words.Node, figures ...figure.Figure) Block {
	return Block{id, Content{Step, w, append([]figure.Figure{}, figures...)}}
}

// Check tells what is wrong with a block that came from outside; nil where nothing is.
func (b Block) Check() error {
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
	for _, f := range b.Figures {
		if err := f.Check(); err != nil {
			return fmt.Errorf("%s %s: %w", b.Type, b.ID, err)
		}
	}
	return nil
}

// Label is the block in one short line: its first sentence.
func (c Content) Label() string {
	if label := c.Words.Label(); label != "" {
		return label
	}
	return "No words yet"
}

// Alt is what stands for a figure where it can't be seen: its own text, or the block's first sentence.
func (c Content) Alt(f figure.Figure) string {
	if f.Alt != "" {
		return f.Alt
	}
	return "Picture: " + c.Label()
}

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

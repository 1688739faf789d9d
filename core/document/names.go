package document

import (
	"strconv"

	"raconte/core/figure"
	"raconte/core/style"
)

// Said is how a word is put in the language that a document goes out in, by its key; values are what its placeholders
// stand for, by turns a name and a value.
type Said func(key string, values ...string) string

// Put is a word by its key, in English where said is nil.
func Put(said Said, key string) string { return said.or()(key) }

// or is English where nothing else is chosen.
func (said Said) or() Said {
	if said == nil {
		return style.Style{Language: style.English}.Said
	}
	return said
}

// Names are what references in the document read as, by the ids of what they refer to, in English where said is nil.
// Titles are those of other documents, by their ids.
func (d Document) Names(titles map[string]string, said Said) map[string]string {
	said = said.or()
	n := d.Numbers()
	names := make(map[string]string, len(titles)+len(d.Blocks))
	for id, title := range titles {
		names[id] = title
	}
	for _, b := range d.Blocks {
		if number := n.Blocks[b.ID]; number != "" {
			names[b.ID] = said("to "+string(b.Type), "n", number)
		}
		tags := n.Tags(b.Figures)
		for _, f := range b.Figures {
			picture := said("to picture", "n", strconv.Itoa(n.Figures[f.ID]))
			names[f.ID] = picture
			for _, m := range f.Marks {
				what := tags[m.ID].Label
				if !m.Kind.Counts() {
					what = said("mark " + string(m.Kind))
				}
				names[m.ID] = said("to mark", "mark", what, "picture", picture)
			}
		}
	}
	for _, b := range d.Blocks { // they may refer to what comes after them
		if b.Type == Passage {
			names[b.ID] = b.Named(names).LabelIn(said)
		}
	}
	return names
}

// Named is the block's content with the references in its words written out.
func (c Content) Named(names map[string]string) Content {
	c.Words = c.Words.Named(names)
	return c
}

// LabelIn is Label in another language.
func (c Content) LabelIn(said Said) string {
	said = said.or()
	if label := c.Words.Label(); label != "" {
		return label
	}
	switch c.Type {
	case Section:
		return said("no heading")
	case Chapter:
		return said("procedure")
	}
	return said("no words")
}

// AltIn is Alt in another language.
func (c Content) AltIn(f figure.Figure, said Said) string {
	if f.Alt != "" {
		return f.Alt
	}
	return said.or()("picture") + ": " + c.LabelIn(said)
}

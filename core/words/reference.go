package words

import "slices"

// Kind says what a reference refers to.
type Kind string

// What references refer to. A marker of the same block is referred to by a node of its own, which shows as the marker
// does; Mark is one of another block.
const (
	ToStep     Kind = "step"
	ToSection  Kind = "section"
	ToFigure   Kind = "figure"
	ToMark     Kind = "mark"
	ToDocument Kind = "document"
)

func (k Kind) known() bool {
	return k == ToStep || k == ToSection || k == ToFigure || k == ToMark || k == ToDocument
}

// unknown is what a reference reads as while nobody has named it, or what it refers to is gone.
const unknown = "?"

// Reference is what some words refer to.
type Reference struct {
	Kind Kind
	To   string
}

// Refers are all that the text refers to but markers, in the order of the text.
func (n Node) Refers() []Reference {
	var out []Reference
	for _, p := range n.Paragraphs() {
		for _, s := range p.Spans {
			if s.To != "" {
				out = append(out, Reference{s.Kind, s.To})
			}
		}
	}
	return out
}

// Named is the text with its references written out, by the ids of what they refer to; what has no name reads as "?".
func (n Node) Named(names map[string]string) Node {
	if n.Type == "reference" && n.Attrs != nil {
		n.Text = names[n.Attrs.To]
	}
	return n.each(func(c Node) Node { return c.Named(names) })
}

// Renamed is the text with the ids that it refers to changed.
func (n Node) Renamed(name func(id string) string) Node {
	if n.Attrs != nil && (n.Attrs.To != "" || n.Attrs.Mark != "") {
		a := *n.Attrs
		if a.To != "" {
			a.To = name(a.To)
		}
		if a.Mark != "" {
			a.Mark = name(a.Mark)
		}
		n.Attrs = &a
	}
	return n.each(func(c Node) Node { return c.Renamed(name) })
}

func (n Node) each(change func(Node) Node) Node {
	if len(n.Content) == 0 {
		return n
	}
	n.Content = slices.Clone(n.Content)
	for i, c := range n.Content {
		n.Content[i] = change(c)
	}
	return n
}

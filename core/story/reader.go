package story

import (
	"raconte/core/document"
	"raconte/core/words"
)

// Reader tells the words of a story's blocks with what stands for their markers, and where their references lead. That
// of no story finds nothing.
type Reader struct {
	where  map[string]string
	others document.Around
}

// Reader reads the story as it is: what was left out of it is led to no more.
func (s Story) Reader() Reader { return Reader{s.Where(), s.Others} }

// Inside is the block where something stands that can be referred to; "" where it is not in the story.
func (r Reader) Inside(id string) string { return r.where[id] }

// Walk tells a visitor the words of a block.
func (r Reader) Walk(b Block, v words.Visitor) {
	b.Words.Walk(v, func(s words.Span) words.Span {
		switch {
		case s.Marker != "":
			if s.Text = "?"; b.Tags[s.Marker].Label != "" {
				s.Text = b.Tags[s.Marker].Label
			}
		case s.To != "" && s.Link == "":
			if s.Inside = r.where[s.To]; s.Inside == "" {
				s.Link = r.others[s.To].Address
			}
		}
		return s
	})
}

package document

import (
	"fmt"

	"raconte/core/figure"
)

// Names are what references in the document read as, by the ids of what they refer to. Titles are those of other
// documents, by their ids.
func (d Document) Names(titles map[string]string) map[string]string {
	n := d.Numbers()
	names := make(map[string]string, len(titles)+len(d.Blocks))
	for id, title := range titles {
		names[id] = title
	}
	for _, b := range d.Blocks {
		if number := n.Blocks[b.ID]; number != "" {
			names[b.ID] = fmt.Sprintf("%s %s", b.Type, number)
		} else if b.Type == Passage {
			names[b.ID] = b.Label()
		}
		tags := n.Tags(b.Figures)
		for _, f := range b.Figures {
			picture := fmt.Sprintf("picture %d", n.Figures[f.ID])
			names[f.ID] = picture
			for _, m := range f.Marks {
				what := "the " + m.Kind.Word()
				if m.Kind == figure.Marker {
					what = tags[m.ID].Label
				}
				names[m.ID] = what + " in " + picture
			}
		}
	}
	return names
}

package document

import (
	"fmt"
	"slices"

	"raconte/core/id"
	"raconte/core/words"
)

// Composed is a manual with its chapters read in: behind the heading of each, which bears the procedure's title, stands
// what the procedure holds, its sections one level deeper. Chapter finds the procedure of a chapter; where it has none,
// the chapter stays empty. An id that several procedures use is changed in all but the first.
func (d Document) Composed(chapter func(Block) (Document, bool)) Document {
	if d.Kind != Manual {
		return d
	}
	seen := map[string]bool{}
	for _, b := range d.Blocks {
		seen[b.ID] = true
		for _, f := range b.Figures {
			seen[f.ID] = true
			for _, m := range f.Marks {
				seen[m.ID] = true
			}
		}
	}
	blocks := d.Blocks
	d.Blocks = make([]Block, 0, len(blocks))
	for _, b := range blocks {
		if b.Type != Chapter {
			d.Blocks = append(d.Blocks, b)
			continue
		}
		p, ok := chapter(b)
		if ok {
			b.Words = words.Plain(p.Facts.Title)
			b.Seconds = p.Facts.Seconds // as its author says; else as its steps do
		}
		d.Blocks = append(d.Blocks, b)
		if !ok {
			continue
		}
		p = p.apartFrom(seen, b.ID)
		if p.Facts.Notice != nil {
			warns := NewPassage(id.Mended(fmt.Sprint("notice of ", b.ID)), words.Plain(""))
			warns.Notice = p.Facts.Notice
			d.Blocks = append(d.Blocks, warns)
		}
		for _, in := range p.Blocks {
			if in.Type == Section {
				in.Level = in.Depth() + 1
			}
			d.Blocks = append(d.Blocks, in)
		}
	}
	return d
}

// apartFrom is the document with ids changed that were seen before, in its words too; it adds its own to them.
func (d Document) apartFrom(seen map[string]bool, within string) Document {
	changed := map[string]string{}
	once := func(old string) {
		if seen[old] {
			changed[old] = id.Mended(fmt.Sprint("in ", within, " ", old))
		}
		seen[old] = true
	}
	for _, b := range d.Blocks {
		once(b.ID)
		for _, f := range b.Figures {
			once(f.ID)
			for _, m := range f.Marks {
				once(m.ID)
			}
		}
	}
	name := func(old string) string {
		if now, ok := changed[old]; ok {
			return now
		}
		return old
	}
	if len(changed) == 0 {
		return d
	}
	d.Blocks = slices.Clone(d.Blocks)
	for i, b := range d.Blocks {
		d.Blocks[i].ID, d.Blocks[i].Words = name(b.ID), b.Words.Renamed(name)
		d.Blocks[i].Figures = slices.Clone(b.Figures)
		for j, f := range b.Figures {
			f = f.Clone()
			f.ID = name(f.ID)
			for k, m := range f.Marks {
				f.Marks[k].ID, f.Marks[k].From, f.Marks[k].To = name(m.ID), name(m.From), name(m.To)
			}
			d.Blocks[i].Figures[j] = f
		}
	}
	return d
}

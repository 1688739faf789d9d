package story

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"raconte/core/document"
)

// Only is the story with some of its blocks, by their ids; headings stay above what is left of them. Numbers stay as
// they are in the whole.
func (s Story) Only(ids []string) Story {
	out := s
	out.Blocks, out.Steps, out.Time = nil, 0, document.Time{}
	var heads []Block
	for _, b := range s.Blocks {
		if b.Heads() {
			heads = slices.DeleteFunc(heads, func(h Block) bool { return h.Depth >= b.Depth })
			heads = append(heads, b)
			if slices.Contains(ids, b.ID) {
				out.Blocks, heads = append(out.Blocks, heads...), nil
			}
			continue
		}
		if !slices.Contains(ids, b.ID) {
			continue
		}
		out.Blocks, heads = append(out.Blocks, heads...), nil
		out.Blocks = append(out.Blocks, b)
		if b.Type == document.Step {
			out.Steps++
			out.Time.Seconds += b.Seconds
			out.Time.Least = out.Time.Least || b.Seconds == 0
		}
	}
	return out
}

// Numbered are the ids of the steps that a person names by their numbers, as in "1-3, 7": through the document,
// whichever way they are counted. The error says what could not be read, or is not there.
func (s Story) Numbered(list string) ([]string, error) {
	var steps []string
	for _, b := range s.Blocks {
		if b.Type == document.Step {
			steps = append(steps, b.ID)
		}
	}
	var ids []string
	for _, part := range strings.Split(list, ",") {
		first, last, ranged := strings.Cut(strings.TrimSpace(part), "-")
		from, err := strconv.Atoi(strings.TrimSpace(first))
		to := from
		if ranged && err == nil {
			to, err = strconv.Atoi(strings.TrimSpace(last))
		}
		if err != nil {
			return nil, fmt.Errorf("steps are named as in 1-3,7, not %q", part)
		}
		if from < 1 || to < from || to > len(steps) {
			return nil, fmt.Errorf("there are no steps %s: the document has %d", strings.TrimSpace(part), len(steps))
		}
		ids = append(ids, steps[from-1:to]...)
	}
	return ids, nil
}

// Where is in which block all stands that can be referred to, by its id: blocks, pictures, marks, and documents that
// are chapters.
func (s Story) Where() map[string]string {
	where := map[string]string{}
	for _, b := range s.Blocks {
		where[b.ID] = b.ID
		if b.Type == document.Chapter {
			where[b.Document] = b.ID
		}
		for _, f := range b.Figures {
			where[f.ID] = b.ID
			for _, m := range f.Marks {
				where[m.ID] = b.ID
			}
		}
	}
	return where
}

// HasPictures tells whether any block shows a picture.
func (s Story) HasPictures() bool {
	return slices.ContainsFunc(s.Blocks, func(b Block) bool { return len(b.Figures) > 0 })
}

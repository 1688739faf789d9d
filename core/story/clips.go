package story

import (
	"fmt"
	"slices"

	"raconte/core/document"
)

// Clips tells whether something moves in the story.
func (s Story) Clips() bool {
	return slices.ContainsFunc(s.Blocks, func(b Block) bool { return slices.ContainsFunc(b.Figures, Figure.Moves) })
}

// Moves tells whether a figure stands for a clip.
func (f Figure) Moves() bool { return f.Clip != nil }

// Lasts is how long a figure's clip is, as people read it: "0:12".
func (f Figure) Lasts() string {
	if f.Clip == nil {
		return ""
	}
	seconds := (f.Clip.Length() + 500) / 1000
	return fmt.Sprintf("%d:%02d", seconds/60, seconds%60)
}

// Leading is the story where nothing moves: beside each picture of a clip stands where it plays, below the address at
// which the document is read. Without an address nothing can lead there.
func (s Story) Leading(address string, said func(key string, values ...string) string) Story {
	if address == "" || !s.Clips() {
		return s
	}
	s.Blocks = slices.Clone(s.Blocks)
	for i, b := range s.Blocks {
		for _, f := range b.Figures {
			if !f.Moves() {
				continue
			}
			title := said("clip", "time", f.Lasts())
			s.Blocks[i].Beside = append(slices.Clone(s.Blocks[i].Beside), document.WebLink{Address: address + "#" + b.ID, Title: title, Film: true})
		}
	}
	return s
}

package document

import (
	"slices"

	"raconte/core/figure"
	"raconte/core/words"
)

// Join makes one step of two that follow each other; why says in words what stands in the way, or is "".
func Join(above, below Content) (c Content, why string) {
	switch {
	case above.Type != Step || below.Type != Step:
		return c, "Only steps can be joined."
	case above.Notice != nil && below.Notice != nil:
		return c, "Both steps warn of something. Put what is said in one notice first."
	case len(above.Figures)+len(below.Figures) > MostFigures:
		return c, "Together they would have too many pictures."
	}
	c = above
	c.Words = words.Joined(above.Words, below.Words)
	c.Figures = append(slices.Clone(above.Figures), below.Figures...)
	c.Seconds = min(above.Seconds+below.Seconds, LongestStep)
	if c.Notice == nil {
		c.Notice = below.Notice
	}
	if c.Words.Check() != nil {
		return Content{}, "Together their words would be too long."
	}
	return c, ""
}

// EachLine makes a step of each line of a step's words; the first keeps its pictures, its notice and its time.
func EachLine(c Content) []Content {
	lines := c.Words.Lines()
	if c.Type != Step || len(lines) < 2 {
		return []Content{c}
	}
	out := StepsOf(lines)
	first := out[0].Words
	out[0] = c
	out[0].Words = first
	return out
}

// StepsOf makes a step of each text.
func StepsOf(lines []words.Node) []Content {
	out := []Content{}
	for _, l := range lines[:min(len(lines), MostBlocks)] {
		out = append(out, Content{Type: Step, Words: l, Figures: []figure.Figure{}})
	}
	return out
}

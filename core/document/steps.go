package document

import (
	"cmp"
	"slices"
	"strings"
	"unicode/utf8"

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
	case len(above.Beside)+len(below.Beside) > MostBeside:
		return c, "Together they would have too many web links beside them."
	case above.Document != "" && below.Document != "":
		return c, "Both steps hand over to a procedure. Take one of the two away first."
	}
	film, why := joinedTold(above, below)
	if why != "" {
		return c, why
	}
	c = above
	c.Words = words.Joined(above.Words, below.Words)
	c.Figures = append(slices.Clone(above.Figures), below.Figures...)
	c.Beside = append(slices.Clone(above.Beside), below.Beside...)
	c.Critical = above.Critical || below.Critical
	if c.Document == "" {
		c.Document, c.Revision = below.Document, below.Revision
	}
	c.Film = film
	c.Seconds = min(above.Seconds+below.Seconds, LongestStep)
	if c.Notice == nil {
		c.Notice = below.Notice
	}
	if c.Words.Check() != nil {
		return Content{}, "Together their words would be too long."
	}
	return c, ""
}

// joinedTold is how two joined steps are told in a film, or why not.
func joinedTold(above, below Content) (t *Told, why string) {
	if above.Film == nil && below.Film == nil {
		return nil, ""
	}
	told := func(c Content) Told {
		if c.Film == nil {
			return Told{}
		}
		return *c.Film
	}
	a, b := told(above), told(below)
	if a.Voice != nil || b.Voice != nil {
		return nil, "What is said of one of the steps in the film was recorded. Take the recording away first."
	}
	both := Told{Show: a.Show}
	if a.Show != b.Show {
		both.Show = "in" // what was told stays told
	}
	if a.Said != "" || b.Said != "" {
		said := func(c Content, t Told) string { return cmp.Or(t.Said, c.Words.Reading(nil)) }
		both.Said = strings.TrimSpace(said(above, a) + "\n" + said(below, b))
		if utf8.RuneCountInString(both.Said) > longestSaid {
			return nil, "Together what is said of them in the film would be too long."
		}
	}
	return &both, ""
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

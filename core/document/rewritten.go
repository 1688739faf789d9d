package document

import (
	"regexp"
	"strings"
	"unicode/utf8"

	"raconte/core/figure"
	"raconte/core/words"
)

var (
	numberedLine = regexp.MustCompile(`^\s*(?:[Ss]tep\s+)?\d{1,3}[.):]\s+(\S.*)$`)
	headingLine  = regexp.MustCompile(`^\s*\d{1,2}(?:\.\d{1,2})?\s{1,4}(\p{Lu}[^.!?;:]{2,70})$`)
)

const longestParagraph = 15_000 // characters

// Rewritten makes blocks of the pages of a PDF: a line that begins with "1." or "Step 1:" becomes a step, with the
// lines that go on with it; one like "2 Preparing" a heading; what stands before, between and behind becomes passages.
// The first block of each page shows the page's picture. Shots are the pictures' ids, page by page; newID makes ids.
func Rewritten(texts, shots []string, newID func() string) []Block {
	var blocks []Block
	for page, text := range texts {
		from := len(blocks)
		for paragraph := range strings.SplitSeq(text, "\n\n") {
			begins := true // a paragraph goes on with a step, but with no passage
			for line := range strings.Lines(paragraph) {
				if line = strings.TrimSpace(line); line == "" {
					continue
				}
				last := len(blocks) - 1
				if m := numberedLine.FindStringSubmatch(line); m != nil {
					blocks = append(blocks, NewStep(newID(), words.Plain(m[1])))
				} else if m := headingLine.FindStringSubmatch(line); m != nil {
					blocks = append(blocks, NewSection(newID(), 1, words.Plain(m[1])))
				} else if last >= from && takes(blocks[last], begins) {
					blocks[last].Words = words.Plain(strings.TrimSpace(blocks[last].Words.Reading(nil) + " " + line))
				} else {
					blocks = append(blocks, NewPassage(newID(), words.Plain(line)))
				}
				begins = false
			}
		}
		if page >= len(shots) {
			continue
		}
		shown := from
		for shown < len(blocks) && blocks[shown].Type == Section {
			shown++
		}
		if shown == len(blocks) {
			blocks = append(blocks, NewPassage(newID(), words.Plain("")))
		}
		blocks[shown].Figures = append(blocks[shown].Figures, figure.Figure{ID: newID(), Shot: shots[page], Marks: []figure.Mark{}})
	}
	return blocks[:min(len(blocks), MostBlocks)]
}

// takes tells whether a line goes on with what a block says.
func takes(b Block, begins bool) bool {
	short := utf8.RuneCountInString(b.Words.Reading(nil)) < longestParagraph
	return short && (b.Type == Step || b.Type == Passage && !begins)
}

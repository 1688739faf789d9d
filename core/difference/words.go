package difference

import (
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"

	"raconte/core/document"
	"raconte/core/figure"

	"github.com/sergi/go-diff/diffmatchpatch"
)

// Piece is a piece of a text that both states have, or one.
type Piece struct {
	Kind string `json:"kind"` // "same", "added" or "removed"
	Text string `json:"text"`
}

// longestDiff bounds how long two texts are held against each other; what is not done then is told as replaced.
const longestDiff = 200 * time.Millisecond

// apart holds two texts against each other word by word.
func apart(before, after string) []Piece {
	signs := map[string]rune{}
	var tokens []string
	// Each word is a letter of another text, which is compared letter by letter.
	written := func(text string) string {
		var out strings.Builder
		for _, t := range split(text) {
			sign, known := signs[t]
			if !known {
				sign = rune(0x100 + len(tokens))
				if sign >= 0xd800 { // what stands for halves of others is no letter
					sign += 0x800
				}
				signs[t] = sign
				tokens = append(tokens, t)
			}
			out.WriteRune(sign)
		}
		return out.String()
	}
	word := func(sign rune) string {
		if sign >= 0xe000 {
			sign -= 0x800
		}
		return tokens[sign-0x100]
	}
	differ := diffmatchpatch.New()
	differ.DiffTimeout = longestDiff
	out := []Piece{}
	for _, d := range differ.DiffCleanupSemantic(differ.DiffMain(written(before), written(after), false)) {
		var text strings.Builder
		for _, sign := range d.Text {
			text.WriteString(word(sign))
		}
		kind := map[diffmatchpatch.Operation]string{diffmatchpatch.DiffEqual: "same", diffmatchpatch.DiffInsert: "added", diffmatchpatch.DiffDelete: "removed"}[d.Type]
		if n := len(out); n > 0 && out[n-1].Kind == kind {
			out[n-1].Text += text.String()
			continue
		}
		out = append(out, Piece{kind, text.String()})
	}
	return out
}

// split cuts a text into words, and what stands between them.
func split(text string) []string {
	var all []string
	start, letters := 0, false
	for i, r := range text {
		is := unicode.IsLetter(r) || unicode.IsDigit(r) || unicode.IsMark(r)
		if i > start && (is != letters || !is) {
			all = append(all, text[start:i])
			start = i
		}
		letters = is
	}
	if start < len(text) {
		all = append(all, text[start:])
	}
	return all
}

// film is how a document is told as a film, in words.
func film(f *document.Film) string {
	if f == nil {
		return ""
	}
	w, h := f.Pixels()
	all := []string{fmt.Sprintf("%d × %d", w, h)}
	for _, one := range []struct {
		is   bool
		said string
	}{
		{f.Captions != "", "captions: " + f.Captions}, {f.Pace != 0, fmt.Sprintf("pace %d %%", f.Pace)}, {f.Pause != 0, fmt.Sprintf("pauses of %d ms", f.Pause)},
		{f.Still, "nothing moves"}, {f.Silent, "no synthetic voice"}, {f.Within, "linked procedures within"}, {f.Offered, "offered to readers"},
	} {
		if one.is {
			all = append(all, one.said)
		}
	}
	return strings.Join(all, ", ")
}

// told is how a block is told in a film, in words.
func told(t *document.Told) string {
	if t == nil {
		return ""
	}
	var all []string
	if t.Show != "" {
		all = append(all, t.Show)
	}
	if t.Said != "" {
		all = append(all, "“"+t.Said+"”")
	}
	if t.Voice != nil {
		all = append(all, fmt.Sprintf("own voice, %d s (%.8s)", (t.Voice.Ms+500)/1000, t.Voice.SHA256))
	}
	return strings.Join(all, ", ")
}

// facts are those of a document that are others.
func facts(before, after document.Facts) []Fact {
	out := []Fact{}
	for _, f := range []Fact{
		{"title", before.Title, after.Title}, {"number", before.Number, after.Number}, {"owner", before.Owner, after.Owner},
		{"author", before.Author, after.Author}, {"approver", before.Approver, after.Approver}, {"reason", before.Reason, after.Reason},
		{"effective", before.Effective, after.Effective}, {"review", before.Review, after.Review}, {"every", count(before.Every), count(after.Every)},
		{"classification", before.Classification, after.Classification}, {"keywords", strings.Join(before.Keywords, ", "), strings.Join(after.Keywords, ", ")},
		{"indexed", strings.Join(before.Indexed, ", "), strings.Join(after.Indexed, ", ")}, {"notice", said(before.Notice), said(after.Notice)},
		{"time", seconds(before.Seconds), seconds(after.Seconds)}, {"style", before.Style, after.Style}, {"layout", string(before.Layout), string(after.Layout)},
		{"counting", string(before.Counting), string(after.Counting)}, {"file", file(before.File), file(after.File)},
		{"film", film(before.Film), film(after.Film)},
	} {
		if f.Before != f.After {
			out = append(out, f)
		}
	}
	return out
}

func said(n *document.Notice) string {
	if n == nil {
		return ""
	}
	return strings.ToUpper(string(n.Signal)) + ": " + strings.Join(n.Lines(), " ")
}

func seconds(n int) string {
	if n == 0 {
		return ""
	}
	return document.SayTime(n)
}

func count(n int) string {
	if n == 0 {
		return ""
	}
	return strconv.Itoa(n)
}

func revision(n int) string { return count(n) }

func yes(b bool) string {
	if b {
		return "yes"
	}
	return ""
}

func level(b document.Block) string {
	if b.Type != document.Section {
		return ""
	}
	return strconv.Itoa(b.Depth())
}

func links(all []document.WebLink) string {
	var out []string
	for _, l := range all {
		out = append(out, strings.TrimSpace(l.Title+" "+l.Address))
	}
	return strings.Join(out, "; ")
}

func file(f *document.File) string {
	if f == nil {
		return ""
	}
	return fmt.Sprintf("%s, %d pages (%.8s)", f.Name, f.Pages, f.SHA256)
}

// looks tells whether two pictures of the same shot look the same: as they are kept, but for what stands for them.
func looks(a, b figure.Figure) bool {
	kept := func(f figure.Figure) []byte {
		f.ID, f.Alt = "", ""
		f.Marks = slices.Clone(f.Marks)
		raw, err := json.Marshal(f)
		if err != nil {
			return nil
		}
		return raw
	}
	return slices.Equal(kept(a), kept(b))
}

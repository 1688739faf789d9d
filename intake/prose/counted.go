package prose

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"raconte/core/document"
	"raconte/core/words"
)

// counted is how the steps of a text count.
type counted struct {
	here  int  // steps since the last section
	all   int  // steps before it
	again bool // a list began again at 1
	on    bool // one went on over a heading
}

func (c *counted) section() { c.all, c.here = c.all+c.here, 0 }

// step counts a step; true where it begins again amid a section, and is not counted.
func (c *counted) step(begins bool) bool {
	if begins && c.here > 0 {
		c.again = true
		return true
	}
	if c.here == 0 && c.all > 0 {
		c.again, c.on = c.again || begins, c.on || !begins
	}
	c.here++
	return false
}

const longestLead = 120 // characters of a line that leads to a list

// divide begins a section amid another, for a list that begins again: headed by the line that leads to it, or as the
// one that it is in.
func (m *maker) divide() {
	level, heading := 2, m.head
	if heading == "" {
		level, heading = 1, m.made.Document.Facts.Title
	}
	m.part++
	m.unwarned()
	section := document.NewSection(m.newID(), level, words.Plain(cut(fmt.Sprintf("%s (%d)", heading, m.part+1), document.LongestTitle)))
	b, there := m.last()
	if there && b.Type == document.Passage && len(b.Figures) == 0 && len(b.Words.Content) == 1 && b.Words.Content[0].Type == "paragraph" {
		if lead := strings.TrimRight(plain(b.Words.Content[0].Content), ":： "); lead != "" && utf8.RuneCountInString(lead) <= longestLead {
			section.Words = words.Plain(lead)
			*b = section
			m.grownAt = 0
			return
		}
	}
	m.add(section)
}

// counting is how the steps of the document count.
func (m *maker) counting() {
	if !m.counted.again {
		return
	}
	m.made.Document.Facts.Counting = document.Anew
	if m.counted.on {
		m.leave("Lists that went on counting after a heading: steps count from 1 in each section.")
	}
}

var typed = regexp.MustCompile(`^(\d{1,2}(?:\.\d{1,2})*)([.)]?)[\s\x{a0}]+(?:[–—-][\s\x{a0}]+)?(\S.*)$`)

// unnumbered takes from headings the numbers that were typed into them, where they count: sections count by themselves.
// A number alone, as in "2 scales", counts where another one does.
func unnumbered(pieces []piece) {
	type found struct {
		at   int
		rest string
		bare bool
	}
	var all []found
	var last []int
	for i, p := range pieces {
		if p.heading == 0 {
			continue
		}
		m := typed.FindStringSubmatch(plain(p.inline))
		if m == nil {
			continue
		}
		var n []int
		for part := range strings.SplitSeq(m[1], ".") {
			v, _ := strconv.Atoi(part) // digits
			n = append(n, v)
		}
		if follows(last, n) {
			last = n
			all = append(all, found{i, m[3], m[2] == "" && len(n) == 1})
		}
	}
	if len(all) == 1 && all[0].bare {
		return
	}
	for _, f := range all {
		pieces[f.at].inline = []words.Node{{Type: "text", Text: f.rest}}
	}
}

// follows tells whether a number of parts counts on from the last: the next beside it or above it, or the first below
// it.
func follows(last, n []int) bool {
	k := len(n) - 1
	if last == nil {
		for _, v := range n {
			if v != 1 {
				return false
			}
		}
		return true
	}
	if len(n) > len(last) {
		return len(n) == len(last)+1 && slices.Equal(n[:k], last) && n[k] == 1
	}
	return slices.Equal(n[:k], last[:k]) && n[k] == last[k]+1
}

package docx

import (
	"fmt"
	"strconv"
	"strings"
)

// numbering are the lists of the document: headings, steps and lists of words count by themselves in the word
// processor, and read as they do in Raconte. Where a count does not go on from the one before, a list of its own begins
// there.
type numbering struct {
	lists  []list
	heads  [2]int // the numbers of the last headings
	head   int    // the list that headings are in, from 1
	last   int    // the number of the last step
	steps  int    // the list that steps are in, from 1
	orders [9]int // the lists of numbered words by their depth, from 1
	dots   int    // the list of bullets

	// Those of the house's own template come first: abstract lists from 0, and lists from 1.
	abstractFrom, listFrom int
	styled                 bool // the template's headings count by themselves
}

// list is one list: of an abstract one, and what its levels begin with where that is not 1.
type list struct {
	abstract int
	begins   map[int]int
}

// The abstract lists.
const (
	headings = iota
	steps
	bullets
	ordereds
)

func (n *numbering) begin(l list) int {
	n.lists = append(n.lists, l)
	return n.listFrom + len(n.lists)
}

func in(list, level int) string {
	return fmt.Sprintf(`<w:numPr><w:ilvl w:val="%d"/><w:numId w:val="%d"/></w:numPr>`, level, list)
}

// heading numbers a heading.
func (n *numbering) heading(number string) string {
	if n.styled {
		return ""
	}
	var at [2]int
	for i, part := range strings.SplitN(number, ".", 3) {
		v, err := strconv.Atoi(part)
		if err != nil || i > 1 {
			return "" // it stands as it is
		}
		at[i] = v
	}
	level := 0
	if at[1] > 0 {
		level = 1
	}
	goes := n.head > 0 && (level == 0 && at[0] == n.heads[0]+1 || level == 1 && at[0] == n.heads[0] && at[1] == n.heads[1]+1)
	if !goes {
		n.head = n.begin(list{headings, map[int]int{0: at[0], 1: max(at[1], 1)}})
	}
	n.heads = at
	return in(n.head, level)
}

// step numbers a step; "" where its number is none that counts.
func (n *numbering) step(number string) string {
	v, err := strconv.Atoi(number)
	if err != nil {
		return ""
	}
	if n.steps == 0 || v != n.last+1 {
		n.steps = n.begin(list{steps, map[int]int{0: v}})
	}
	n.last = v
	return in(n.steps, 0)
}

func (n *numbering) bullet(level int) string {
	if n.dots == 0 {
		n.dots = n.begin(list{bullets, nil})
	}
	return in(n.dots, min(level, 8))
}

func (n *numbering) ordered(bullet string, level int) string {
	level = min(level, 8)
	if bullet == "1." || n.orders[level] == 0 {
		n.orders[level] = n.begin(list{ordereds, map[int]int{level: 1}})
	}
	return in(n.orders[level], level)
}

func (n *numbering) xml() string {
	var out strings.Builder
	out.WriteString(`<w:numbering ` + spaces + `>`)
	level := func(i int, format, text, style, left, hanging, more string) {
		if style != "" {
			style = `<w:pStyle w:val="` + style + `"/>`
		}
		fmt.Fprintf(&out, `<w:lvl w:ilvl="%d"><w:start w:val="1"/><w:numFmt w:val="%s"/>%s<w:lvlText w:val="%s"/><w:lvlJc w:val="left"/><w:pPr><w:ind w:left="%s" w:hanging="%s"/></w:pPr>%s</w:lvl>`, i, format, style, text, left, hanging, more)
	}
	abstract := func(id int) {
		fmt.Fprintf(&out, `<w:abstractNum w:abstractNumId="%d"><w:multiLevelType w:val="multilevel"/>`, n.abstractFrom+id)
	}
	in := strconv.Itoa(twips(indentOf))
	abstract(headings)
	level(0, "decimal", "%1", "", in, in, "")
	level(1, "decimal", "%1.%2", "", in, in, "")
	out.WriteString(`</w:abstractNum>`)
	abstract(steps)
	level(0, "decimal", "%1", "", in, in, "<w:rPr><w:b/></w:rPr>")
	out.WriteString(`</w:abstractNum>`)
	for _, id := range []int{bullets, ordereds} {
		abstract(id)
		for i := range 9 {
			left := strconv.Itoa(twips(indentOf + 18*float64(i+1)))
			if id == bullets {
				level(i, "bullet", "•", "", left, "280", "")
			} else {
				level(i, "decimal", fmt.Sprintf("%%%d.", i+1), "", left, "320", "")
			}
		}
		out.WriteString(`</w:abstractNum>`)
	}
	for i, l := range n.lists {
		fmt.Fprintf(&out, `<w:num w:numId="%d"><w:abstractNumId w:val="%d"/>`, n.listFrom+i+1, n.abstractFrom+l.abstract)
		for at := range 9 {
			if v, there := l.begins[at]; there {
				fmt.Fprintf(&out, `<w:lvlOverride w:ilvl="%d"><w:startOverride w:val="%d"/></w:lvlOverride>`, at, v)
			}
		}
		out.WriteString(`</w:num>`)
	}
	out.WriteString(`</w:numbering>`)
	return out.String()
}

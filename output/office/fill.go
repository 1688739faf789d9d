package office

import (
	"regexp"
	"strings"

	"github.com/beevik/etree"
)

// Dialect is how a kind of document names the parts of a paragraph: in WordprocessingML and in DrawingML they are named
// alike but for their prefix.
type Dialect string

// The two that there are.
const (
	Word    Dialect = "w"
	Drawing Dialect = "a"
)

var placeholder = regexp.MustCompile(`\{\s*(\pL[\pL ]{0,40}?)\s*\}`)

// Name is a placeholder's name as it is compared: small letters, single spaces.
func Name(s string) string { return strings.ToLower(strings.Join(strings.Fields(s), " ")) }

// segment is a piece of the text of a paragraph.
type segment struct {
	run, text  *etree.Element
	start, end int
}

// segments are the pieces of a paragraph's text, each in a run of its own, and the text.
func (d Dialect) segments(p *etree.Element) ([]segment, string) {
	var all []segment
	var said strings.Builder
	var walk func(e *etree.Element)
	walk = func(e *etree.Element) {
		for _, c := range e.ChildElements() {
			switch {
			case c.Space != string(d):
			case c.Tag == "r":
				d.split(c)
			}
		}
		for _, c := range e.ChildElements() {
			if c.Space != string(d) {
				continue
			}
			switch c.Tag {
			case "r":
				for _, t := range c.ChildElements() {
					if t.Tag == "t" && t.Space == string(d) {
						start := said.Len()
						said.WriteString(t.Text())
						all = append(all, segment{c, t, start, said.Len()})
					} else if t.Tag == "tab" || t.Tag == "br" {
						said.WriteByte('\n')
					}
				}
			case "hyperlink", "ins", "smartTag":
				walk(c)
			}
		}
	}
	walk(p)
	return all, said.String()
}

// split makes several runs of one that holds several things, so that each can be replaced alone.
func (d Dialect) split(run *etree.Element) {
	var properties *etree.Element
	var things []*etree.Element
	for _, c := range run.ChildElements() {
		if c.Tag == "rPr" {
			properties = c
		} else {
			things = append(things, c)
		}
	}
	if len(things) < 2 {
		return
	}
	at := run.Index() + 1
	for i, t := range things[1:] {
		run.RemoveChild(t)
		one := etree.NewElement(string(d) + ":r")
		if properties != nil {
			one.AddChild(properties.Copy())
		}
		one.AddChild(t)
		run.Parent().InsertChildAt(at+i, one)
	}
}

// Text is what a paragraph reads.
func (d Dialect) Text(p *etree.Element) string {
	_, said := d.segments(p)
	return said
}

// Alone is the name of the placeholder that is all there is in a paragraph; "" where there is more, or less.
func (d Dialect) Alone(p *etree.Element) string {
	said := strings.TrimSpace(d.Text(p))
	if m := placeholder.FindStringSubmatch(said); m != nil && m[0] == said {
		return Name(m[1])
	}
	return ""
}

// Names are the placeholders in a text.
func Names(text string) []string {
	var all []string
	for _, m := range placeholder.FindAllStringSubmatch(text, -1) {
		all = append(all, Name(m[1]))
	}
	return all
}

// Value are the runs that stand for a placeholder, after the properties of the run that it stands in (nil where that
// has none); false leaves it as it is.
type Value func(name string, properties *etree.Element) ([]*etree.Element, bool)

// Fill puts values in the place of placeholders in a paragraph, also where one is split over runs.
func (d Dialect) Fill(p *etree.Element, value Value) {
	all, said := d.segments(p)
	found := placeholder.FindAllStringSubmatchIndex(said, -1)
	for i := len(found) - 1; i >= 0; i-- {
		m := found[i]
		first, last := -1, -1
		for at, s := range all {
			if s.start <= m[0] && m[0] < s.end {
				first = at
			}
			if s.start < m[1] && m[1] <= s.end {
				last = at
			}
		}
		if first < 0 || last < 0 {
			continue
		}
		f, l := all[first], all[last]
		properties := f.run.SelectElement(string(d) + ":rPr")
		runs, known := value(Name(said[m[2]:m[3]]), properties)
		if !known {
			continue
		}
		after := said[m[1]:l.end]
		set(f.text, said[f.start:m[0]])
		for at := first + 1; at < last; at++ {
			set(all[at].text, "")
		}
		if first != last {
			set(l.text, after)
		} else if after != "" {
			runs = append(runs, d.Run(properties, after))
		}
		all[first].end = m[0] // what stands before is looked at next
		for n, r := range runs {
			f.run.Parent().InsertChildAt(f.run.Index()+1+n, r)
		}
	}
}

func set(t *etree.Element, text string) {
	t.SetText(text)
	if t.Space == string(Word) {
		t.CreateAttr("xml:space", "preserve")
	}
}

// Run is a run with a text, after the properties of another; line feeds are breaks.
func (d Dialect) Run(properties *etree.Element, text string) *etree.Element {
	run := etree.NewElement(string(d) + ":r")
	if properties != nil {
		run.AddChild(properties.Copy())
	}
	if d == Drawing {
		run.CreateElement("a:t").SetText(strings.ReplaceAll(text, "\n", " "))
		return run
	}
	for i, line := range strings.Split(text, "\n") {
		if i > 0 {
			run.CreateElement("w:br")
		}
		if line != "" {
			set(run.CreateElement("w:t"), line)
		}
	}
	return run
}

package words

import (
	"regexp"
	"slices"
)

// place is a part of a text that is filled in when it is used: a name in braces.
var place = regexp.MustCompile(`\{([\pL][\pL\pN _-]{0,39})\}`)

// Places are the names of the places to fill in, each once, in their order.
func (n Node) Places() []string {
	var names []string
	for _, m := range place.FindAllStringSubmatch(n.Text, -1) {
		if !slices.Contains(names, m[1]) {
			names = append(names, m[1])
		}
	}
	for _, c := range n.Content {
		for _, name := range c.Places() {
			if !slices.Contains(names, name) {
				names = append(names, name)
			}
		}
	}
	return names
}

// Filled is the text with its places filled in; one for which there is nothing stays as it is. What is filled in is not
// looked at again.
func (n Node) Filled(values map[string]string) Node {
	if n.Text != "" {
		n.Text = place.ReplaceAllStringFunc(n.Text, func(s string) string {
			if v, known := values[s[1:len(s)-1]]; known && v != "" {
				return v
			}
			return s
		})
	}
	return n.each(func(c Node) Node { return c.Filled(values) })
}

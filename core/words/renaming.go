package words

import "strings"

// Reworded is the text with a name of a control, or what else is bold, written otherwise.
func (n Node) Reworded(from, to string) Node {
	if n.Type == "text" {
		for _, s := range n.Marks {
			if s.Type == "bold" || s.Type == "control" {
				n.Text = strings.ReplaceAll(n.Text, from, to)
				break
			}
		}
	}
	return n.each(func(c Node) Node { return c.Reworded(from, to) })
}

// Naming is the text with the name of a control added at its end.
func (n Node) Naming(name string) Node {
	control := Node{Type: "text", Text: name, Marks: []Style{{Type: "control"}}}
	if n.Empty() {
		return Node{Type: "doc", Content: []Node{{Type: "paragraph", Content: []Node{control}}}}
	}
	n.Content = append(n.Content[:len(n.Content):len(n.Content)], Node{Type: "paragraph", Content: []Node{control}})
	return n
}

package words

import (
	"regexp"
	"slices"
	"strings"
)

// Lines are the paragraphs and list items of a text, each as a text of its own; what is within an item stays with it.
// Those without words are left out.
func (n Node) Lines() []Node {
	var lines []Node
	add := func(content ...Node) {
		if line := (Node{Type: "doc", Content: content}); !line.Empty() {
			lines = append(lines, line)
		}
	}
	for _, b := range n.Content {
		if b.Type == "paragraph" || b.Type == "table" {
			add(b)
			continue
		}
		for _, item := range b.Content {
			add(item.Content...)
		}
	}
	return lines
}

var bullet = regexp.MustCompile(`^\s*(?:[-*•–—▪◦‣]|\(?\d{1,3}[.)]|\(?[a-zA-Z][.)])\s+`)

// Written are the lines of plain text, each as a text of its own, without the bullets and numbers before them.
func Written(text string) []Node {
	var lines []Node
	for line := range strings.Lines(text) {
		if line = strings.TrimSpace(bullet.ReplaceAllString(line, "")); line != "" {
			lines = append(lines, Plain(line))
		}
	}
	return lines
}

// Joined is a text followed by another.
func Joined(a, b Node) Node {
	switch {
	case a.Empty():
		return b
	case b.Empty():
		return a
	}
	return Node{Type: "doc", Content: append(slices.Clone(a.Content), b.Content...)}
}

// Growing is a text that others are joined to, counted as it grows: a joining costs what is added and not what there
// is.
type Growing struct {
	Node  Node
	count checker
	full  bool
}

// Grow begins with a text, which is left as it is.
func Grow(n Node) Growing {
	g := Growing{Node: Node{Type: "doc", Content: slices.Clone(n.Content)}}
	if n.Empty() {
		g.Node.Content = nil
	}
	g.full = g.count.blocks(g.Node.Content, 0) != nil
	return g
}

// Join adds a text; false, and nothing is added, where it would be more than a text may hold (Node.Check).
func (g *Growing) Join(n Node) bool {
	then := g.count
	if n.Empty() {
		return !g.full
	}
	if g.full || then.blocks(n.Content, 0) != nil {
		return false
	}
	g.Node.Content, g.count = append(g.Node.Content, n.Content...), then
	return true
}

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

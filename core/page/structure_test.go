package page

import (
	"strings"
	"testing"

	"raconte/core/scene"
	"raconte/core/story"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
)

// outline is the structure of a scene, with what is said in it.
func outline(s scene.Scene) string {
	var out strings.Builder
	depth := 0
	for _, item := range s.Items {
		switch {
		case item.Tag != nil && item.Tag.Role == "":
			out.WriteString(")")
			depth--
		case item.Tag != nil:
			out.WriteString(" " + item.Tag.Role + "(")
			depth++
		case item.Words != nil:
			out.WriteString(strings.TrimSpace(item.Words.Text))
		}
	}
	if depth != 0 {
		out.WriteString(" UNBALANCED")
	}
	return strings.TrimSpace(out.String())
}

func TestListsAndTablesHaveTheStructureThatTheyShow(t *testing.T) {
	text := func(s string, styles ...words.Style) words.Node {
		return words.Node{Type: "text", Text: s, Marks: styles}
	}
	paragraph := func(content ...words.Node) words.Node { return words.Node{Type: "paragraph", Content: content} }
	holds := func(kind string, content ...words.Node) words.Node { return words.Node{Type: kind, Content: content} }
	item := func(content ...words.Node) words.Node { return holds("listItem", content...) }
	for want, content := range map[string][]words.Node{
		"P(Before.) L( LI( Lbl(1.) LBody( P(a) P(more) L( LI( Lbl(•) LBody( P(deep)))))) LI( Lbl(2.) LBody( P(b)))) P(After.)": {
			paragraph(text("Before.")),
			holds("orderedList", item(paragraph(text("a")), paragraph(text("more")), holds("bulletList", item(paragraph(text("deep"))))), item(paragraph(text("b")))),
			paragraph(text("After.")),
		},
		"Table( TR( TH( P(Tool)) TH( P())) TR( TD( P(one) P(two)) TD( L( LI( Lbl(•) LBody( P(x)))))))": {
			holds("table",
				holds("tableRow", holds("tableHeader", paragraph(text("Tool"))), holds("tableHeader")),
				holds("tableRow", holds("tableCell", paragraph(text("one")), paragraph(text("two"))), holds("tableCell", holds("bulletList", item(paragraph(text("x")))))),
			),
		},
		"P( Span(Ctrl) Link(here))": {
			paragraph(text("Ctrl", words.Style{Type: "keycap"}), text("here", words.Style{Type: "link", Attrs: &words.Attrs{Href: "https://pellworth.example/"}})),
		},
	} {
		step := story.Block{ID: "s", Words: words.Node{Type: "doc", Content: content}}
		set := a4.setWords(step, 300, 1)
		assert.Equal(t, want, outline(set.drawn))
		for _, item := range set.drawn.Items {
			if w := item.Words; w != nil {
				assert.Greater(t, w.Baseline, 0.0)
				assert.Less(t, w.Baseline, set.height, "%q lies within what the words take", w.Text)
			}
		}
	}
}

package text_test

import (
	"testing"

	"raconte/core/document"
	"raconte/core/words"
	"raconte/output/outputtest"
	"raconte/output/text"

	"github.com/stretchr/testify/assert"
)

func TestPlainTextIsAFormat(t *testing.T) {
	// Pictures are not made, so that nothing fails of them.
	d := outputtest.Document(2, "Scan the card")
	p := func(s string) words.Node { return words.Plain(s).Content[0] }
	cell := func(s string) words.Node { return words.Node{Type: "tableCell", Content: []words.Node{p(s)}} }
	d.Blocks[0].Words = words.Node{Type: "doc", Content: []words.Node{
		{Type: "paragraph", Content: []words.Node{{Type: "text", Text: "Take"}, {Type: "hardBreak"}, {Type: "markerRef", Attrs: &words.Attrs{Mark: "m0"}}}},
		{Type: "orderedList", Content: []words.Node{{Type: "listItem", Content: []words.Node{p("one"), {Type: "bulletList", Content: []words.Node{{Type: "listItem", Content: []words.Node{p("two")}}}}}}}},
		{Type: "table", Content: []words.Node{{Type: "tableRow", Content: []words.Node{cell("a"), cell("b")}}, {Type: "tableRow", Content: []words.Node{cell("c"), cell("d")}}}},
	}}
	d.Blocks[1].Notice = &document.Notice{Signal: document.Danger, Hazard: "Gas."}
	said := string(outputtest.Write(t, text.Format{}, d))
	for _, part := range []string{"Lots & rooms\n====", "Procedure. Draft, 2 steps.", "1. Take\n1\n1. one\n  • two\na\tb\nc\td\n[Picture: Take", "! DANGER\n! Gas.\n2. Scan the card 2.\n"} {
		assert.Contains(t, said, part)
	}
}

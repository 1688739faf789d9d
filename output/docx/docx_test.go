package docx_test

import (
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/words"
	"raconte/output/docx"
	"raconte/output/outputtest"

	"github.com/beevik/etree"
	"github.com/stretchr/testify/assert"
)

// read is the text of a file by its paragraphs, in order; each picture that is shown is there, once.
func read(t *testing.T, data []byte) string {
	pictures := 0
	for _, name := range outputtest.Names(t, data) {
		if strings.HasPrefix(name, "word/media/") {
			pictures++
		}
		if strings.HasSuffix(name, ".xml") || strings.HasSuffix(name, ".rels") {
			outputtest.Part(t, data, name)
		}
	}
	doc := outputtest.Part(t, data, "word/document.xml")
	var out strings.Builder
	var walk func(e *etree.Element)
	walk = func(e *etree.Element) {
		for _, c := range e.ChildElements() {
			if c.Tag == "t" {
				out.WriteString(c.Text())
			}
			if walk(c); c.Tag == "p" {
				out.WriteByte('\n')
			}
		}
	}
	walk(doc.Root())
	shown := doc.FindElements("//pic:pic")
	assert.Len(t, shown, pictures)
	for _, described := range doc.FindElements("//wp:docPr") {
		assert.NotEmpty(t, described.SelectAttrValue("descr", ""))
	}
	return out.String()
}

func TestDOCXIsAFormat(t *testing.T) { outputtest.Run(t, docx.Format{}, read) }

// TestAWordProcessorReadsAllOfIt has LibreOffice print a document of everything.
func TestAWordProcessorReadsAllOfIt(t *testing.T) {
	d := outputtest.Document(5, "Scan & <b>")
	d.Facts.Counting = document.Anew
	list := func(kind string, items ...words.Node) words.Node { return words.Node{Type: kind, Content: items} }
	item := func(s string, more ...words.Node) words.Node {
		return words.Node{Type: "listItem", Content: append(words.Plain(s).Content, more...)}
	}
	cell := func(kind, s string) words.Node { return words.Node{Type: kind, Content: words.Plain(s).Content} }
	d.Blocks[1].Words = words.Node{Type: "doc", Content: []words.Node{
		{Type: "paragraph", Content: []words.Node{{Type: "text", Text: "See "}, {Type: "reference", Attrs: &words.Attrs{Kind: words.ToStep, To: "s0"}}, {Type: "markerRef", Attrs: &words.Attrs{Mark: "m1"}}}},
		list("orderedList", item("alpha", list("bulletList", item("beta"))), item("gamma")), list("orderedList", item("delta")),
		{Type: "table", Content: []words.Node{{Type: "tableRow", Content: []words.Node{cell("tableHeader", "Fruit"), cell("tableHeader", "Most")}}, {Type: "tableRow", Content: []words.Node{cell("tableCell", "Pears")}}}},
	}}
	d.Blocks[2].Notice = &document.Notice{Signal: document.Danger, Hazard: "Ammonia.", Avoid: "Wear the mask."}
	d.Blocks = append([]document.Block{document.NewSection("one", 1, words.Plain("First part"))}, d.Blocks...)
	d.Blocks = append(d.Blocks[:4], append([]document.Block{document.NewSection("two", 2, words.Plain("Below")), document.NewSection("three", 1, words.Plain("Second part"))}, d.Blocks[4:]...)...)
	got, _ := outputtest.Printed(t, "all.docx", outputtest.Write(t, docx.Format{}, d))
	outputtest.InOrder(t, got,
		"Lots & rooms", "1 First part", "1.1 Below", "2 Second part", // the contents
		"1 First part", "1 Scan & <b> 1.", "2 See step 1", "1. alpha", "• beta", "2. gamma", "1. delta", "Fruit Most", "Pears",
		"DANGER", "Ammonia.", "3 Scan & <b> 3.", "1.1 Below", "2 Second part", "1 Scan & <b> 4.", "2 Scan & <b> 5.",
	)
}

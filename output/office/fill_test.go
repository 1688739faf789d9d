package office

import (
	"strings"
	"testing"

	"github.com/beevik/etree"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// paragraph is one whose runs have the texts.
func paragraph(t *testing.T, d Dialect, inner string) *etree.Element {
	t.Helper()
	doc := etree.NewDocument()
	spaces := ` xmlns:w="urn:w" xmlns:a="urn:a"`
	require.NoError(t, doc.ReadFromString("<"+string(d)+":p"+spaces+">"+strings.ReplaceAll(strings.ReplaceAll(inner, "<", "<"+string(d)+":"), "<"+string(d)+":/", "</"+string(d)+":")+"</"+string(d)+":p>"))
	return doc.Root()
}

func values(d Dialect) Value {
	known := map[string]string{"title": "Receive {number}", "number": "7", "two lines": "a\nb"}
	return func(name string, properties *etree.Element) ([]*etree.Element, bool) {
		said, is := known[name]
		return []*etree.Element{d.Run(properties, said)}, is
	}
}

func TestPlaceholdersAreFilledWhereverTheyWereTornApart(t *testing.T) {
	for _, d := range []Dialect{Word, Drawing} {
		for inner, want := range map[string]string{
			"<r><t>No. {number} of {title}!</t></r>":                                        "No. 7 of Receive {number}!",
			"<r><t>{ti</t></r><r><t>t</t></r><r><t>le}</t></r><r><t>.</t></r>":              "Receive {number}.",
			"<r><t>{number}{number}</t></r>":                                                "77",
			"<hyperlink><r><t>see { Number }</t></r></hyperlink><r><t> {unknown} {</t></r>": "see 7 {unknown} {",
			"<r><t>{tit</t><tab/><t>le}</t></r>":                                            "{tit\nle}",
			"<r><t>{number</t></r>":                                                         "{number",
		} {
			p := paragraph(t, d, inner)
			d.Fill(p, values(d))
			assert.Equal(t, want, d.Text(p), "%s: %s", d, inner)
		}
	}
}

func TestWhatIsFilledInLooksAsItsPlaceholder(t *testing.T) {
	p := paragraph(t, Word, "<r><rPr><b/></rPr><t>a {two lines} z</t></r>")
	Word.Fill(p, values(Word))
	runs := p.SelectElements("w:r")
	require.Len(t, runs, 3)
	for _, r := range runs {
		assert.NotNil(t, r.FindElement("w:rPr/w:b"), "all of it is bold")
	}
	assert.Equal(t, "a a\nb z", Word.Text(p))
	assert.Len(t, p.FindElements(".//w:br"), 1, "a line of its own")
	assert.Equal(t, "preserve", runs[0].SelectElement("w:t").SelectAttrValue("xml:space", ""), "the space before it stays")

	assert.Equal(t, "two lines", Word.Alone(paragraph(t, Word, "<r><t> {Two</t></r><r><t>  Lines} </t></r>")))
	assert.Empty(t, Word.Alone(paragraph(t, Word, "<r><t>{title} more</t></r>")))
	assert.Equal(t, []string{"title", "two lines"}, Names("{Title} {1} {} {two  lines} {tit\u202ele}"))
}

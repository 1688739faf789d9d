package prose

import (
	"encoding/base64"
	"fmt"
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// outline is a document in lines: how its sections and steps count, what they say and warn of, and what their pictures
// are described as.
func outline(m Made) []string {
	numbers := m.Document.Numbers()
	out := []string{m.Document.Facts.Title}
	if n := m.Document.Facts.Notice; n != nil {
		out = append(out, "all: "+string(n.Signal)+" "+strings.Join(n.Lines(), " / "))
	}
	for _, b := range m.Document.Blocks {
		if b.Notice != nil {
			out = append(out, "! "+string(b.Notice.Signal)+" "+strings.Join(b.Notice.Lines(), " / "))
		}
		line := strings.Join(strings.Fields(string(b.Type[:2])+" "+numbers.Blocks[b.ID]+" "+b.Words.Reading(nil)), " ")
		for _, f := range b.Figures {
			line += fmt.Sprintf(" [%s]", f.Alt)
		}
		out = append(out, line)
	}
	return out
}

func TestAWordProcessorsFileComesOver(t *testing.T) {
	p := func(properties, said string) string {
		return `<w:p><w:pPr>` + properties + `</w:pPr><w:r><w:t>` + said + `</w:t></w:r></w:p>`
	}
	style := func(id string) string { return `<w:pStyle w:val="` + id + `"/>` }
	list := func(id int) string {
		return fmt.Sprintf(`<w:numPr><w:ilvl w:val="0"/><w:numId w:val="%d"/></w:numPr>`, id)
	}
	drawing := func(descr string) string {
		return `<w:p><w:r><w:drawing><wp:inline><wp:docPr descr="` + descr + `"/><pic:blipFill><a:blip r:embed="rId1"/></pic:blipFill></wp:inline></w:drawing></w:r></w:p>`
	}
	cell := func(properties, said string) string {
		return `<w:tc><w:tcPr>` + properties + `</w:tcPr>` + p("", said) + `</w:tc>`
	}
	made := read(t, "x.docx", File("x.docx", wordFile(t, strings.Join([]string{
		p(style("Toc1"), "1 Weigh 3"),
		p("", "Warning: The platform moves. Keep your feet off."),
		p(style("H1"), "1. Weigh"),
		p(list(1), "Put it on."), drawing("The platform"), p(style("Caption"), "Figure 1"),
		p(list(1), "Read it."), drawing("image3.png"), p(style("Caption"), "Figure 2: The scale’s display"),
		p("", "CAUTION"), p("", "It is hot."),
		p(list(1), `Note it.</w:t></w:r><w:r><w:footnoteReference w:id="2"/></w:r><w:r><w:t xml:space="preserve"> Always.`),
		p("", "To take it off:"),
		p(list(2), "Lift."),
		p("", "DANGER: It falls."),
		p(style("H1"), "2. Limits"),
		`<w:tbl><w:tr>` + cell("", "WARNING") + `</w:tr><w:tr>` + cell("", "Mind the belt.") + `</w:tr></w:tbl>`,
		p(list(3), "Stop the belt."),
		p(list(3), "3 bins may wait."),
		`<w:tbl><w:tr>` + cell(`<w:gridSpan w:val="2"/>`, "Fruit") + cell("", "Most") + `</w:tr><w:tr>` + cell("", "Apples") + cell("", "red") + cell("", "400") + `</w:tr></w:tbl>`,
		p("", "Achtung: Immer zu zweit."),
	}, ""), map[string]string{
		"docProps/core.xml": `<dc:title>Weighing bins</dc:title>`,
		"word/styles.xml": `<w:style w:styleId="H1"><w:name w:val="heading 1"/></w:style><w:style w:styleId="Caption"><w:name w:val="caption"/></w:style>` +
			`<w:style w:styleId="Toc1"><w:name w:val="toc 1"/></w:style>`,
		"word/footnotes.xml": `<w:footnote w:id="2"><w:p><w:r><w:t>In the log.</w:t></w:r></w:p></w:footnote>`,
		"word/numbering.xml": `<w:abstractNum w:abstractNumId="0"><w:lvl w:ilvl="0"><w:start w:val="1"/><w:numFmt w:val="decimal"/></w:lvl></w:abstractNum>` +
			`<w:num w:numId="1"><w:abstractNumId w:val="0"/></w:num>` +
			`<w:num w:numId="2"><w:abstractNumId w:val="0"/><w:lvlOverride w:ilvl="0"><w:startOverride w:val="1"/></w:lvlOverride></w:num>` +
			`<w:num w:numId="3"><w:abstractNumId w:val="0"/><w:lvlOverride w:ilvl="0"><w:startOverride w:val="1"/></w:lvlOverride></w:num>`,
	})))
	assert.Equal(t, []string{
		"Weighing bins",
		"all: warning The platform moves. Keep your feet off.",
		"se 1 Weigh",
		"st 1 Put it on. [The platform]",
		"st 2 Read it. [The scale’s display]",
		"! caution It is hot.",
		"st 3 Note it. [1] Always.",
		"se 1.1 To take it off",
		"st 1 Lift. DANGER: It falls.",
		"se 2 Limits",
		"! warning Mind the belt.",
		"st 1 Stop the belt.",
		"st 2 3 bins may wait.",
		"pa Fruit Most Apples red 400 CAUTION: Immer zu zweit. [1] In the log.",
	}, outline(made))
	assert.Equal(t, []string{mergedCells}, made.Left)
	assert.Equal(t, 3, tableOf(made.Document.Blocks[len(made.Document.Blocks)-1].Words).Columns, "columns stay where they are")
	assert.Equal(t, document.Anew, made.Document.Facts.Counting)
}

func TestPagesAndMarkdownComeOver(t *testing.T) {
	picture := "data:image/png;base64," + base64.StdEncoding.EncodeToString(striped(t))
	for name, c := range map[string]struct {
		file, said string
		want       []string
	}{
		"descriptions and captions": {"a.html", `<h1>A</h1><ol><li>Go <figure><img src="` + picture + `"><figcaption>Figure 1. The gate</figcaption></figure><li>Wait</ol>
			<figure><img src="` + picture + `" alt="The belt"><figcaption>Seen from above</figcaption></figure>`,
			[]string{"A", "st 1 Go [The gate]", "st 2 Wait [The belt]", "pa Seen from above"}},
		"a list that goes on": {"a.html", `<h1>A</h1><ol><li>One</ol><p>Wait.<ol start="2"><li>Two</ol>`, []string{"A", "st 1 One Wait.", "st 2 Two"}},
		"one that begins again": {"a.html", `<h1>A</h1><h2>In</h2><ol><li>One</ol><h2>Out</h2><ol><li>Two</ol><ol><li>Three</ol>`,
			[]string{"A", "se 1 In", "st 1 One", "se 2 Out", "st 1 Two", "se 2.1 Out (2)", "st 1 Three"}},
		"typed numbers": {"a.md", "# A\n\n## 1 Open\n\n### 1.1 Doors\n\n1. x\n\n## 2 Close\n\n## 3.5 mm plugs\n\nx\n",
			[]string{"A", "se 1 Open", "se 1.1 Doors", "st 1 x", "se 2 Close", "se 3 3.5 mm plugs", "pa x"}},
		"a number that counts nothing": {"a.md", "# A\n\n## 1 day before\n\nx\n", []string{"A", "se 1 1 day before", "pa x"}},
		"pictures as HTML, and notes": {"a.md", "# A\n\n1. Go[^n] <img src=\"" + picture + "\" alt=\"The gate\">\n2. **Warning:** hot.\n\n   Wait.\n\n[^n]: Slowly.\n",
			[]string{"A", "st 1 Go [1] [The gate]", "! warning hot.", "st 2 Wait.", "pa [1] Slowly."}},
		"what only tells": {"a.md", "# A\n\nNotice: the shop is open.\n\nNOTICE: the glass breaks.\n\n1. x\n", []string{"A", "all: notice the glass breaks.", "pa Notice: the shop is open.", "st 1 x"}},
	} {
		made := read(t, c.file, File(c.file, []byte(c.said)))
		assert.Equal(t, c.want, outline(made), name)
		for _, p := range made.Pictures {
			assert.Less(t, len(p.Name), 20, "a picture in a page has no name")
		}
	}
	made := read(t, "a.html", File("a.html", []byte(`<h1>A</h1><table><tr><td rowspan=2>a<td>b<tr><td>c</table>`)))
	require.Contains(t, made.Left, mergedCells)
	row := tableOf(made.Document.Blocks[0].Words).Rows[1]
	require.Len(t, row, 2)
	assert.Equal(t, "c", row[1].Paragraphs()[0].Reading(), "below a cell of two rows stands the second column")
}

// lastTable keeps the last table of a text.
type lastTable struct {
	words.Flat
	table words.Table
}

func (*lastTable) Paragraph(words.Paragraph) {}
func (t *lastTable) Table(of words.Table)    { t.table = of }

func tableOf(n words.Node) words.Table {
	var last lastTable
	n.Walk(&last, nil)
	return last.table
}

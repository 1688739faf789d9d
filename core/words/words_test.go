package words

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const sample = `{"type":"doc","content":[
 {"type":"paragraph","content":[{"type":"text","text":"Choose a room "},{"type":"markerRef","attrs":{"mark":"m1"}},
  {"type":"text","text":". Then press "},{"type":"text","text":"F8","marks":[{"type":"keycap"}]},{"type":"hardBreak"},{"type":"text","text":"now"}]},
 {"type":"orderedList","content":[
  {"type":"listItem","content":[{"type":"paragraph","content":[{"type":"text","text":"one"}]},
   {"type":"bulletList","content":[{"type":"listItem","content":[{"type":"paragraph","content":[{"type":"text","text":"deep","marks":[{"type":"link","attrs":{"href":"https://a.example"}}]}]}]}]}]},
  {"type":"listItem","content":[{"type":"paragraph"}]}]}]}`

func TestParagraphsFlattenListsAndStyles(t *testing.T) {
	n, err := Parse([]byte(sample))
	require.NoError(t, err)
	ps := n.Paragraphs()
	require.Len(t, ps, 4)
	assert.Equal(t, "m1", ps[0].Spans[1].Marker)
	assert.True(t, ps[0].Spans[3].Keycap)
	assert.Equal(t, "\n", ps[0].Spans[4].Text)
	assert.Equal(t, []any{1, "1."}, []any{ps[1].Depth, ps[1].Bullet})
	assert.Equal(t, []any{2, "•", "https://a.example"}, []any{ps[2].Depth, ps[2].Bullet, ps[2].Spans[0].Link})
	assert.Equal(t, []string{"m1"}, n.References())
	assert.Equal(t, "Choose a room", n.Label())
	assert.Equal(t, "Choose a room 7. Then press F8\nnow\n1. one\n• deep\n2.", n.Reading(map[string]int{"m1": 7}))
	assert.Contains(t, n.Reading(nil), "room ?.")
}

func TestLabel(t *testing.T) {
	for in, want := range map[string]string{
		"":                                "",
		"Press Go. Wait.":                 "Press Go",
		"Version 1.2 is shown":            "Version 1.2 is shown",
		"No. 5 first":                     "No. 5 first",
		"Öffnen Sie z. B. die Tür. Dann":  "Öffnen Sie z. B. die Tür",
		"Siehe Abb. Drucker links. Gut":   "Siehe Abb. Drucker links",
		"Wählen: Raum. Dann":              "Wählen: Raum",
		"打开房间。然后等待。":                      "打开房间",
		"Ready?":                          "Ready",
		strings.Repeat("long words ", 20): "long words long words long words long words long words long…",
	} {
		assert.Equal(t, want, Plain(in).Label(), in)
	}
}

func TestEmpty(t *testing.T) {
	assert.True(t, Node{}.Empty())
	assert.True(t, Plain("  \u00a0").Empty())
	assert.False(t, Plain("x").Empty())
	ref := Node{Type: "doc", Content: []Node{{Type: "paragraph", Content: []Node{{Type: "markerRef", Attrs: &Attrs{Mark: "m"}}}}}}
	assert.False(t, ref.Empty())
}

func TestParseRefusesWhatIsNotInTheModel(t *testing.T) {
	deep := `{"type":"paragraph"}`
	for range deepestList + 1 {
		deep = `{"type":"bulletList","content":[{"type":"listItem","content":[` + deep + `]}]}`
	}
	long, _ := json.Marshal(strings.Repeat("x", mostText+1))
	inline := func(s string) string { return `{"type":"doc","content":[{"type":"paragraph","content":[` + s + `]}]}` }
	link := func(href string) string {
		return inline(`{"type":"text","text":"x","marks":[{"type":"link","attrs":{"href":"` + href + `"}}]}`)
	}
	table := func(in string) string {
		return `{"type":"doc","content":[{"type":"table","content":[{"type":"tableRow","content":[{"type":"tableCell","content":[` + in + `]}]}]}]}`
	}
	for name, raw := range map[string]string{
		"no JSON":              `{`,
		"not a doc":            `{"type":"paragraph","content":[{"type":"text","text":"x"}]}`,
		"unknown block":        `{"type":"doc","content":[{"type":"iframe"}]}`,
		"unknown inline":       inline(`{"type":"image"}`),
		"unknown style":        inline(`{"type":"text","text":"x","marks":[{"type":"blink"}]}`),
		"reference to nothing": inline(`{"type":"markerRef"}`),
		"script link":          link("javascript:alert(1)"),
		"data link":            link("data:text/html,x"),
		"link without host":    link("https://"),
		"relative link":        link("/etc"),
		"reference to oddity":  inline(`{"type":"reference","attrs":{"to":"x","kind":"planet"}}`),
		"reference nowhere":    inline(`{"type":"reference","attrs":{"kind":"step"}}`),
		"a table in a table":   table(`{"type":"table","content":[{"type":"tableRow","content":[{"type":"tableCell"}]}]}`),
		"a table of no rows":   `{"type":"doc","content":[{"type":"table"}]}`,
		"a wide table":         `{"type":"doc","content":[{"type":"table","content":[{"type":"tableRow","content":[` + strings.TrimSuffix(strings.Repeat(`{"type":"tableCell"},`, mostColumns+1), ",") + `]}]}]}`,
		"a long table":         `{"type":"doc","content":[{"type":"table","content":[` + strings.TrimSuffix(strings.Repeat(`{"type":"tableRow","content":[{"type":"tableCell"}]},`, mostRows+1), ",") + `]}]}`,
		"a row of text":        `{"type":"doc","content":[{"type":"table","content":[{"type":"tableRow","content":[{"type":"paragraph"}]}]}]}`,
		"deep lists":           `{"type":"doc","content":[` + deep + `]}`,
		"long text":            inline(`{"type":"text","text":` + string(long) + `}`),
	} {
		t.Run(name, func(t *testing.T) {
			_, err := Parse([]byte(raw))
			assert.Error(t, err)
		})
	}
	for _, href := range []string{"https://a.example/b?c#d", "http://127.0.0.1:8420/d/1", "mailto:a@b.example", "HTTPS://A.example"} {
		_, err := Parse([]byte(link(href)))
		assert.NoError(t, err, href)
	}
}

func FuzzParse(f *testing.F) {
	f.Add([]byte(sample))
	f.Add([]byte(`{"type":"doc","content":[{"type":"paragraph","content":[{"type":"text","text":"a","marks":[{"type":"link","attrs":{"href":"https://x"}}]}]}]}`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		n, err := Parse(raw)
		if err != nil {
			return
		}
		// What passes the check can be read, labelled and flattened, and is in order when it is mended.
		_, _, _ = n.Reading(nil), n.Label(), n.References()
		require.NoError(t, n.Mended().Check())
	})
}

// told writes down what a visitor is told.
type told []string

func (all *told) add(format string, args ...any) { *all = append(*all, fmt.Sprintf(format, args...)) }
func (all *told) Open(l List)                    { all.add("open %v", l) }
func (all *told) Close(l List)                   { all.add("close %v", l) }
func (all *told) Paragraph(p Paragraph)          { all.add("%s %s", p.Bullet, p.Reading()) }
func (all *told) Table(t Table) {
	all.add("table %d", t.Columns)
	for _, row := range t.Rows {
		all.add("row %v", Head(row))
		for _, c := range row {
			all.add("cell %d", len(c.Paragraphs()))
			c.Walk(all)
		}
	}
}

func TestAVisitorIsToldAllInItsOrder(t *testing.T) {
	item := func(content ...Node) Node { return Node{Type: "listItem", Content: content} }
	say := func(s string) Node { return Plain(s).Content[0] }
	cell := func(of string, content ...Node) Node { return Node{Type: of, Content: content} }
	n := Node{Type: "doc", Content: []Node{
		say("Before."),
		{Type: "orderedList", Content: []Node{item(say("a"), say("more"), Node{Type: "bulletList", Content: []Node{item(say("in a"))}}), item(say("b"))}},
		{Type: "table", Content: []Node{
			{Type: "tableRow", Content: []Node{cell("tableHeader", say("Tool"))}},
			{Type: "tableRow", Content: []Node{cell("tableHeader", say("x"), say("y")), cell("tableCell")}},
		}},
	}}
	var all told
	n.Walk(&all, func(s Span) Span { s.Text = strings.ToUpper(s.Text); return s })
	assert.Equal(t, told{
		" BEFORE.", "open {true false}",
		"open {true true}", "1. A", " MORE", "open {false false}", "open {false true}", "• IN A", "close {false true}", "close {false false}", "close {true true}",
		"open {true true}", "2. B", "close {true true}", "close {true false}",
		"table 2", "row true", "cell 1", " TOOL", "row false", "cell 2", " X", " Y", "cell 1",
	}, all)
}

func TestTablesAndReferencesAreRead(t *testing.T) {
	n, err := Parse([]byte(`{"type":"doc","content":[
	 {"type":"table","content":[
	  {"type":"tableRow","content":[{"type":"tableHeader","content":[{"type":"paragraph","content":[{"type":"text","text":"Tool"}]}]},{"type":"tableHeader"}]},
	  {"type":"tableRow","content":[{"type":"tableCell","content":[{"type":"bulletList","content":[{"type":"listItem","content":[{"type":"paragraph","content":[{"type":"text","text":"pliers"}]}]}]}]}]}]},
	 {"type":"table","content":[{"type":"tableRow","content":[{"type":"tableCell"}]}]},
	 {"type":"paragraph","content":[{"type":"text","text":"See "},{"type":"reference","attrs":{"kind":"section","to":"s1"}},{"type":"reference","attrs":{"kind":"document","to":"d1"}}]}]}`))
	require.NoError(t, err)
	assert.Equal(t, []Reference{{ToSection, "s1"}, {ToDocument, "d1"}}, n.Refers())
	assert.Equal(t, "Tool\n\n• pliers\n\nSee section 2?", n.Named(map[string]string{"s1": "section 2"}).Reading(nil))
	renamed := n.Renamed(func(id string) string { return "new-" + id })
	assert.Equal(t, []Reference{{ToSection, "new-s1"}, {ToDocument, "new-d1"}}, renamed.Refers())
	assert.Equal(t, []Reference{{ToSection, "s1"}, {ToDocument, "d1"}}, n.Refers(), "what it was made of stays")
	assert.False(t, n.Empty())
	assert.Len(t, n.Lines(), 2, "a table is one line of its own; one that says nothing is none")
}

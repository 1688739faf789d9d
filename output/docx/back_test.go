package docx_test

import (
	"fmt"
	"testing"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/words"
	"raconte/intake/prose"
	"raconte/output/docx"
	"raconte/output/outputtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestAFileOfOursComesBackAsItWas writes a document, reads it again as any file that is brought in, and after a word
// processor has saved it.
func TestAFileOfOursComesBackAsItWas(t *testing.T) {
	said := func(s string, style words.Style) words.Node {
		return words.Node{Type: "text", Text: s, Marks: []words.Style{style}}
	}
	list := func(items ...string) words.Node {
		l := words.Node{Type: "bulletList"}
		for _, s := range items {
			l.Content = append(l.Content, words.Node{Type: "listItem", Content: words.Plain(s).Content})
		}
		return l
	}
	doc := func(blocks ...words.Node) words.Node { return words.Node{Type: "doc", Content: blocks} }
	text := func(s string) words.Node { return words.Plain(s).Content[0] }
	row := func(kind string, cells ...string) words.Node {
		r := words.Node{Type: "tableRow"}
		for _, c := range cells {
			r.Content = append(r.Content, words.Node{Type: kind, Content: words.Plain(c).Content})
		}
		return r
	}
	shown := func(id string) figure.Figure {
		return figure.Figure{ID: id, Shot: outputtest.Sum(), Alt: "Picture " + id, Marks: []figure.Mark{}}
	}
	d := outputtest.Document(1, "x")
	d.Facts = document.Facts{Title: "Weigh a bin", Notice: &document.Notice{Signal: document.Danger, Hazard: "High voltage.", Consequence: "It kills.", Avoid: "Keep out."}}
	first := document.NewStep("s1", doc(words.Node{Type: "paragraph", Content: []words.Node{
		{Type: "text", Text: "Press "}, said("Weigh", words.Style{Type: "control"}), {Type: "text", Text: ", then "}, said("F8", words.Style{Type: "keycap"}), {Type: "text", Text: "."},
	}}, text("It takes a moment."), list("red", "green")), shown("f1"), shown("f2"))
	first.Notice = &document.Notice{Signal: document.Caution, Hazard: "It moves.", Consequence: "It may pinch.", Avoid: "Stand clear."}
	first.Seconds, first.Critical = 90, true
	second := document.NewStep("s2", doc(words.Node{Type: "paragraph", Content: []words.Node{
		{Type: "text", Text: "See "}, {Type: "reference", Attrs: &words.Attrs{To: "s1", Kind: words.ToStep}}, {Type: "text", Text: "."},
	}}))
	second.Beside = []document.WebLink{{Address: "https://help.example/scale", Title: "The scale"}}
	d.Blocks = []document.Block{
		document.NewPassage("p0", doc(text("For the dock."))),
		first, second,
		document.NewSection("a", 1, words.Plain("After")),
		document.NewPassage("p1", doc(list("one", "two"))),
		document.NewPassage("p2", doc(words.Node{Type: "table", Content: []words.Node{row("tableHeader", "Fruit", "Most"), row("tableCell", "Apples", "400")}})),
		document.NewPassage("p3", words.Plain(""), shown("f3")),
		document.NewSection("b", 2, words.Plain("Later")),
		document.NewStep("s3", words.Plain("Sweep.")),
	}
	require.NoError(t, d.Check())
	data := outputtest.Write(t, docx.Format{}, d)
	for how, data := range map[string][]byte{"as it was written": data, "saved by a word processor": outputtest.Converted(t, t.TempDir(), "x.odt", outputtest.Converted(t, t.TempDir(), "x.docx", data, "odt"), "docx")} {
		n := 0
		made, err := prose.Read(t.Context(), "x.docx", prose.File("x.docx", data), func() string { n++; return fmt.Sprint("new", n) })
		require.NoError(t, err)
		assert.Equal(t, d.Facts, made.Document.Facts, how)
		require.Len(t, made.Document.Blocks, len(d.Blocks), how)
		to := map[string]string{}
		for i, b := range made.Document.Blocks {
			to[d.Blocks[i].ID] = b.ID
		}
		for i, got := range made.Document.Blocks {
			want := d.Blocks[i]
			want.Words = want.Words.Renamed(func(id string) string { return to[id] })
			assert.Equal(t, want.Type, got.Type, "%s: %d", how, i)
			assert.Equal(t, want.Words, got.Words, "%s: %d", how, i)
			assert.Equal(t, want.Notice, got.Notice, "%s: %d", how, i)
			assert.Equal(t, []any{want.Level, want.Seconds, want.Critical, want.Beside}, []any{got.Level, got.Seconds, got.Critical, got.Beside}, "%s: %d", how, i)
			require.Len(t, got.Figures, len(want.Figures), "%s: %d", how, i)
			for j, f := range want.Figures {
				assert.Equal(t, f.Alt, got.Figures[j].Alt)
			}
		}
		assert.Empty(t, made.Left, how)
	}
}

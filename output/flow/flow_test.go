package flow_test

import (
	"archive/zip"
	"bytes"
	"encoding/xml"
	"io"
	"strings"
	"testing"
	"time"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/words"
	"raconte/output"
	"raconte/output/flow"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// writes is what a text becomes as HTML, without its line feeds.
func writes(t *testing.T, b story.Block, content ...words.Node) string {
	t.Helper()
	b.Words = words.Node{Type: "doc", Content: content}
	elsewhere := document.Around{"d2": {Address: `http://house.example/d/"2"`}}
	s := story.Story{Blocks: []story.Block{b, {ID: "other", Figures: []story.Figure{{Figure: figure.Figure{ID: "f"}}}}}, Others: elsewhere}
	said := string(flow.HTML(s.Reader(), b))
	read := xml.NewDecoder(strings.NewReader("<all>" + said + "</all>"))
	for {
		if _, err := read.Token(); err == io.EOF {
			break
		} else {
			require.NoError(t, err, "it is XML too: %s", said)
		}
	}
	return strings.ReplaceAll(said, "\n", "")
}

func TestWordsAreHTMLThatIsXMLToo(t *testing.T) {
	text := func(s string, styles ...string) words.Node {
		n := words.Node{Type: "text", Text: s}
		for _, style := range styles {
			n.Marks = append(n.Marks, words.Style{Type: style})
		}
		return n
	}
	link := func(to string) words.Node {
		return words.Node{Type: "text", Text: "x", Marks: []words.Style{{Type: "link", Attrs: &words.Attrs{Href: to}}}}
	}
	refers := func(kind words.Kind, to string) words.Node {
		return words.Node{Type: "reference", Text: "it", Attrs: &words.Attrs{Kind: kind, To: to}}
	}
	marker := func(id string) words.Node { return words.Node{Type: "markerRef", Attrs: &words.Attrs{Mark: id}} }
	holds := func(kind string, content ...words.Node) words.Node { return words.Node{Type: kind, Content: content} }
	p := func(content ...words.Node) words.Node { return holds("paragraph", content...) }
	b := story.Block{ID: "b", Tags: map[string]figure.Tag{"m": {Label: "<1>", Ink: scene.Hex("#c62828"), On: scene.Hex("#ffffff")}}}
	for want, content := range map[string]words.Node{
		`<p dir="auto">a &lt;b&gt; &amp; &#34;c&#34;<br/>d‹U+0000›</p>`:                                                                 p(text("a <b> & \"c\""), words.Node{Type: "hardBreak"}, text("d\x00")),
		`<p dir="auto"><strong><em><code>x</code></em></strong><strong class="control">Save</strong><kbd>F5</kbd></p>`:                  p(text("x", "code", "bold", "italic"), text("Save", "control"), text("F5", "keycap")),
		`<p dir="auto"><a href="https://a.example/?b=c&amp;d=%22">x</a></p>`:                                                            p(link("https://a.example/?b=c&d=%22")),
		`<p dir="auto"><a href="#b-other">it</a><a href="http://house.example/d/&#34;2&#34;">it</a>it</p>`:                              p(refers(words.ToFigure, "f"), refers(words.ToDocument, "d2"), refers(words.ToStep, "gone")),
		`<p dir="auto"><span class="marker" style="background:#c62828;color:#ffffff">&lt;1&gt;</span><span class="marker">?</span></p>`: p(marker("m"), marker("gone")),
		`<ol><li dir="auto"><p dir="auto">a</p><ul><li dir="auto"><p dir="auto">b</p></li></ul></li></ol>`:                              holds("orderedList", holds("listItem", p(text("a")), holds("bulletList", holds("listItem", p(text("b")))))),
		`<table><tbody><tr><th><p dir="auto">h</p></th></tr><tr><td></td></tr></tbody></table>`:                                         holds("table", holds("tableRow", holds("tableHeader", p(text("h")))), holds("tableRow", holds("tableCell"))),
		``: p(text("  ")),
	} {
		assert.Equal(t, want, writes(t, b, content))
	}
}

func TestADocumentIsReadyForWhatFlows(t *testing.T) {
	in := flow.Sample()
	d := flow.Read(t.Context(), in, output.Options{})
	assert.Equal(t, []string{"Procedure", "en", "danger", "notice"}, []string{d.Kind, d.Language, strings.ToLower(d.Signal), d.Notice.Signal})
	assert.NotEmpty(t, d.Draft)
	var chain []string
	for _, b := range d.Blocks {
		chain = append(chain, strings.Join([]string{b.Type, b.Under, b.Before, b.After}, "|"))
	}
	assert.Equal(t, []string{"passage|||b-a", "section|||", "step|1 At the dock|b-p|b-b", "section|||", "step|1.1 In the cold room|b-a|"}, chain, "headings are stepped over")
	last := d.Blocks[4]
	assert.NotEmpty(t, last.Critical)
	assert.NotEmpty(t, last.Time)
	assert.Equal(t, "https://films.example/valve", last.Links[0].Address)
	assert.Contains(t, last.Links[0].Said, "The valve")

	var parts []string
	for _, p := range d.Parts() {
		parts = append(parts, p.Head.Title+strings.Repeat("*", len(p.Under)))
	}
	assert.Equal(t, []string{"*", "At the dock*", "In the cold room*"}, parts)

	in.Edition.Style.Contents = style.ListSteps
	var contents []string
	for _, e := range flow.Read(t.Context(), in, output.Options{}).Contents {
		contents = append(contents, strings.Repeat(">", e.Depth)+e.Number)
	}
	assert.Equal(t, []string{">1", ">>1", ">>1.1", ">>>2"}, contents)
	in.Edition.Style.Contents = style.ListNothing
	assert.Empty(t, flow.Read(t.Context(), in, output.Options{}).Contents)
}

func TestTheSameFilesMakeTheSameFolder(t *testing.T) {
	made := time.Date(2026, 11, 23, 10, 42, 0, 0, time.UTC)
	write := func() []byte {
		var out bytes.Buffer
		f := flow.NewFolder(&out, made)
		d := flow.Read(t.Context(), flow.Sample(), output.Options{})
		require.NoError(t, f.Pictures(t.Context(), d, "my pictures/", "my%20pictures/"))
		assert.Equal(t, "my%20pictures/001.png", d.All()[0].Name)
		require.NoError(t, f.Put("a.txt", []byte("words"), false))
		require.NoError(t, f.Close())
		return out.Bytes()
	}
	one := write()
	assert.Equal(t, one, write())
	z, err := zip.NewReader(bytes.NewReader(one), int64(len(one)))
	require.NoError(t, err)
	require.Len(t, z.File, 2)
	assert.Equal(t, "my pictures/001.png", z.File[0].Name)
	assert.Equal(t, zip.Store, z.File[0].Method, "pictures are packed already")
	assert.Equal(t, zip.Deflate, z.File[1].Method)
	assert.True(t, z.File[0].Modified.Equal(made))
}

func TestWhatNoFormatCanHoldIsLeftOut(t *testing.T) {
	assert.Equal(t, "a\tb\nc‹U+0001›😀", flow.Clean("a\tb\nc\x01😀\uFFFE"), "what steers is seen as what it is; what XML does not have is left out")
	assert.Equal(t, "a\uFFFDb", flow.Clean("a\xffb"))
	assert.NotContains(t, flow.Clean("safe\u202etxt.exe"), "\u202e", "what turns the reading around is seen as what it is")
}

package markdown_test

import (
	"archive/zip"
	"bytes"
	"io"
	"strings"
	"testing"

	"raconte/core/words"
	"raconte/output/markdown"
	"raconte/output/outputtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/extension"
	parse "golang.org/x/net/html"
)

// read is the document as a reader of CommonMark has it: its text, and the pictures that it shows.
func read(t *testing.T, data []byte) (text string, shows []string) {
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	f, err := z.Open("document.md")
	require.NoError(t, err)
	raw, err := io.ReadAll(f)
	require.NoError(t, err)
	var page bytes.Buffer
	require.NoError(t, goldmark.New(goldmark.WithExtensions(extension.Table)).Convert(raw, &page))
	root, err := parse.Parse(&page)
	require.NoError(t, err)
	var out strings.Builder
	for n := range root.Descendants() {
		if n.Type == parse.TextNode {
			out.WriteString(n.Data)
		}
		for _, a := range n.Attr {
			if a.Key == "src" {
				shows = append(shows, a.Val)
			}
		}
	}
	for i, name := range shows {
		assert.Equal(t, z.File[i].Name, name)
	}
	assert.Len(t, z.File, len(shows)+1, "each picture once")
	return out.String(), shows
}

func TestMarkdownIsAFormat(t *testing.T) {
	outputtest.Run(t, markdown.Format{}, func(t *testing.T, data []byte) string { text, _ := read(t, data); return text })
}

func TestWordsReadInMarkdownAsTheyWereWritten(t *testing.T) {
	style := func(kind, text string) words.Node {
		return words.Node{Type: "text", Text: text, Marks: []words.Style{{Type: kind}}}
	}
	d := outputtest.Document(1, "x")
	item := func(nodes ...words.Node) words.Node { return words.Node{Type: "listItem", Content: nodes} }
	p := func(s string) words.Node { return words.Plain(s).Content[0] }
	d.Blocks[0].Words = words.Node{Type: "doc", Content: []words.Node{
		{Type: "paragraph", Content: []words.Node{{Type: "text", Text: "1. Press"}, style("bold", " *Save* "), {Type: "text", Text: "or "}, style("keycap", "F8"), {Type: "hardBreak"}, style("code", "a_b")}},
		{Type: "orderedList", Content: []words.Node{item(p("first"), p("more of it"), words.Node{Type: "bulletList", Content: []words.Node{item(p("inner"))}}), item(p("second"))}},
	}}
	text, _ := read(t, outputtest.Write(t, markdown.Format{}, d))
	assert.Contains(t, text, "1. Press *Save* or F8\na_b", "signs of Markdown in words are words")
	z, err := zip.NewReader(bytes.NewReader(outputtest.Write(t, markdown.Format{}, d)), int64(len(outputtest.Write(t, markdown.Format{}, d))))
	require.NoError(t, err)
	f, err := z.Open("document.md")
	require.NoError(t, err)
	raw, _ := io.ReadAll(f)
	var page bytes.Buffer
	require.NoError(t, goldmark.Convert(raw, &page))
	got := strings.Join(strings.Fields(page.String()), " ")
	assert.Contains(t, got, "<strong>*Save*</strong> or", "marks stand at words")
	assert.Contains(t, got, "<p>more of it</p> <ul> <li>inner</li> </ul>", "lists nest")
	assert.Contains(t, got, "<li> <p>second</p> </li>")
}

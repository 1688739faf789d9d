package html_test

import (
	"archive/zip"
	"bytes"
	"context"
	"io"
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/output"
	"raconte/output/html"
	"raconte/output/outputtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	parse "golang.org/x/net/html"
)

// read is the text of a page as a browser has it, and the addresses that it asks for when it is opened.
func read(t *testing.T, page io.Reader) (text string, asks []string) {
	root, err := parse.Parse(page)
	require.NoError(t, err)
	var out strings.Builder
	for n := range root.Descendants() {
		if n.Type == parse.TextNode && n.Parent.Data != "style" {
			out.WriteString(n.Data)
		}
		for _, a := range n.Attr {
			if a.Key == "src" || a.Key == "href" && n.Data == "link" {
				asks = append(asks, a.Val)
			}
		}
		assert.NotEqual(t, "script", n.Data)
	}
	return out.String(), asks
}

func TestAPageIsAFormatInEachTemplate(t *testing.T) {
	for _, template := range html.Templates {
		t.Run(template.Name, func(t *testing.T) {
			outputtest.Options.Template = template.Name
			defer func() { outputtest.Options.Template = "" }()
			outputtest.Run(t, html.Format{}, func(t *testing.T, data []byte) string {
				text, asks := read(t, bytes.NewReader(data))
				for _, a := range asks {
					assert.True(t, strings.HasPrefix(a, "data:image/"), "nothing is asked of anyone: %.60s", a)
				}
				return text
			})
		})
	}
}

func TestAFolderHoldsThePageAndEachPictureOnce(t *testing.T) {
	outputtest.Run(t, html.Format{Folder: true}, func(t *testing.T, data []byte) string {
		z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
		require.NoError(t, err)
		page, err := z.Open("index.html")
		require.NoError(t, err)
		text, asks := read(t, page)
		assert.Len(t, z.File, len(asks)+1)
		for i, name := range asks {
			assert.Equal(t, z.File[i].Name, name, "in the order of the page")
		}
		return text
	})
}

func TestATemplateThatIsNotThereIsRefused(t *testing.T) {
	err := html.Format{}.Write(context.Background(), io.Discard, outputtest.Input(outputtest.Document(1, "x")), output.Options{Template: "../../secret"})
	assert.ErrorContains(t, err, "no template")
}

func TestLinksStayInsideAndLeadOut(t *testing.T) {
	d := outputtest.Document(2, "Go on")
	d.Blocks[0].Beside = []document.WebLink{{Address: "https://films.example/a?b=1&c=2", Title: "A film", Film: true}}
	d.Blocks[1].Document = "other"
	data := string(outputtest.Write(t, html.Format{}, d))
	assert.Contains(t, data, `<a href="https://films.example/a?b=1&amp;c=2">Film: A film</a>`)
	assert.Contains(t, data, `<a href="#b-s0">`, "the contents lead to the steps")
}

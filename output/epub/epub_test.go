package epub_test

import (
	"archive/zip"
	"bytes"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/words"
	"raconte/output/epub"
	"raconte/output/outputtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	parse "golang.org/x/net/html"
)

func read(t *testing.T, data []byte) string {
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	assert.Equal(t, "mimetype", z.File[0].Name)
	var out strings.Builder
	pictures, shown := 0, 0
	for _, f := range z.File {
		if strings.Contains(f.Name, "/pictures/") {
			pictures++
		}
		if !strings.Contains(f.Name, "/part") {
			continue
		}
		r, err := f.Open()
		require.NoError(t, err)
		page, err := io.ReadAll(r)
		require.NoError(t, err)
		shown += bytes.Count(page, []byte("<img "))
		root, err := parse.Parse(bytes.NewReader(page))
		require.NoError(t, err)
		for n := range root.Descendants() {
			if n.Type == parse.TextNode {
				out.WriteString(n.Data)
			}
		}
	}
	assert.Equal(t, pictures, shown)
	return out.String()
}

func TestEPUBIsAFormat(t *testing.T) { outputtest.Run(t, epub.Format{}, read) }

func TestABookOfEverythingIsValid(t *testing.T) {
	checker, err := filepath.EvalSymlinks("/usr/bin/epubcheck") // Debian's is a JAR
	if err != nil {
		t.Skip("epubcheck is not installed")
	}
	d := outputtest.Document(5, "Scan & <b>")
	for i := range d.Blocks {
		d.Blocks[i].ID = string(rune('1'+i)) + "-4f" // ids begin with digits, as UUIDs do
	}
	d.Blocks[0].Notice = &document.Notice{Signal: document.Warning, Hazard: "Hot."}
	d.Blocks[1].Words = words.Node{Type: "doc", Content: []words.Node{
		{Type: "paragraph", Content: []words.Node{{Type: "text", Text: "Back to "}, {Type: "reference", Attrs: &words.Attrs{Kind: words.ToStep, To: d.Blocks[0].ID}}, {Type: "markerRef", Attrs: &words.Attrs{Mark: "m1"}}}},
		{Type: "bulletList", Content: []words.Node{{Type: "listItem", Content: words.Plain("a\u0001\u202e").Content}}},
		{Type: "table", Content: []words.Node{{Type: "tableRow", Content: []words.Node{{Type: "tableHeader", Content: words.Plain("h").Content}}}, {Type: "tableRow"}}},
	}}
	d.Blocks = append([]document.Block{document.NewSection("deep", 2, words.Plain("First a deep one"))}, d.Blocks...)
	d.Blocks = append(d.Blocks, document.NewSection("last", 1, words.Plain("Last")), document.NewPassage("p", words.Plain("Words")))
	file := filepath.Join(t.TempDir(), "book.epub")
	require.NoError(t, os.WriteFile(file, outputtest.Write(t, epub.Format{}, d), 0o600))
	said, err := exec.Command("java", "-jar", checker, "--failonwarnings", file).CombinedOutput()
	require.NoError(t, err, string(said))
}

package prose

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"

	"raconte/core/refusal"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func read(t *testing.T, name string, files fs.FS) Made {
	n := 0
	made, err := Read(t.Context(), name, files, func() string { n++; return fmt.Sprint("id", n) })
	require.NoError(t, err)
	require.NoError(t, made.Document.Check())
	return made
}

func data(t *testing.T, p Picture) []byte {
	data, err := p.Data()
	require.NoError(t, err)
	return data
}

// told is a document in short: a line for each block, with how many pictures it shows.
func told(m Made) []string {
	var out []string
	for _, b := range m.Document.Blocks {
		line := fmt.Sprintf("%s %s", b.Type, strings.Join(strings.Fields(b.Words.Reading(nil)), " "))
		if len(b.Figures) > 0 {
			line += fmt.Sprintf(" [%d]", len(b.Figures))
		}
		out = append(out, line)
	}
	return out
}

// weigh is what the files in testdata tell, which LibreOffice wrote.
var weigh = []string{
	"passage Do this at the dock, with the scanner in your hand. • The scale shows 0 • Nobody stands on it",
	"section Weigh",
	"step Put the bin on the platform. [1]",
	"step Press Weigh and wait. See the help.",
	"step Read the weight.",
	"section Book it",
	"step Type the weight in Weight. [1]",
	"step Press Book. [1]",
	"section Limits",
	"passage Fruit Most Apples 400 kg Ask quality where a bin is heavier.",
}

func TestWhatLibreOfficeWroteIsRead(t *testing.T) {
	docx, err := os.ReadFile("testdata/libreoffice.docx")
	require.NoError(t, err)
	for name, files := range map[string]fs.FS{"libreoffice.docx": File("libreoffice.docx", docx), "page": os.DirFS("testdata/page")} {
		made := read(t, name, files)
		assert.Equal(t, "Weigh a bin", made.Document.Facts.Title, name)
		assert.Equal(t, weigh, told(made), name)
		require.Len(t, made.Pictures, 2, "%s: a picture that is shown twice is brought in once", name)
		for _, p := range made.Pictures {
			assert.True(t, bytes.HasPrefix(data(t, p), []byte("\x89PNG")), name)
		}
		styles := map[string]string{}
		for _, b := range made.Document.Blocks {
			for _, p := range b.Words.Paragraphs() {
				for _, s := range p.Spans {
					if s.Bold || s.Italic || s.Link != "" {
						styles[strings.TrimSpace(s.Text)] = strings.TrimSpace(fmt.Sprintf("%t %t %s", s.Bold, s.Italic, s.Link))
					}
				}
			}
		}
		assert.Equal(t, "true false", styles["Weigh"], name)
		assert.Equal(t, "false true", styles["Weight"], name)
		assert.Equal(t, "false false https://help.example/scale", styles["the help"], name)
		assert.Empty(t, made.Left, name)
	}
}

func TestMarkdownAndFoldersOfIt(t *testing.T) {
	files := fstest.MapFS{
		"intro.md":         {Data: []byte("# Dock handbook\n\nWelcome.\n")},
		"2 close/close.md": {Data: []byte("# Close\n\n1. Sweep.\n2. Lock. ![key](../img/key.png)\n")},
		"1 open/open.md":   {Data: []byte("# Open\n\n1. Unlock.\n   ![far](https://elsewhere.example/x.png)\n   - twice\n\n## Later\n\nWait.\n")},
		"img/key.png":      {Data: []byte("\x89PNG")},
	}
	made := read(t, "handbook", files)
	assert.Equal(t, "Dock handbook", made.Document.Facts.Title)
	assert.Equal(t, []string{
		"passage Welcome.", "section Open", "step Unlock. • twice", "section Later", "passage Wait.", "section Close", "step Sweep.", "step Lock. [1]",
	}, told(made), "sub-folders become sections, in natural order")
	assert.Equal(t, []string{"The picture https://elsewhere.example/x.png is not there, or can't be read."}, made.Left, "nothing is fetched")
}

func TestWhatCanNotBeTakenIsListed(t *testing.T) {
	made := read(t, "a.html", File("a.html", []byte(`<h1>A</h1><ol><li>Go<script>alert(1)</script><svg/></ol><video></video>
		<a href="javascript:alert(1)">press</a><img src="../../etc/passwd"><table>`+strings.Repeat("<tr><td>x</td></tr>", 80)+`</table>`)))
	assert.Contains(t, strings.Join(made.Left, "\n"), "A drawing or a formula.")
	assert.Contains(t, strings.Join(made.Left, "\n"), "A film or a sound.")
	assert.Contains(t, strings.Join(made.Left, "\n"), "etc/passwd is not there")
	assert.Contains(t, strings.Join(made.Left, "\n"), "A table of 80 rows")
	raw := fmt.Sprint(made.Document)
	assert.NotContains(t, raw, "alert")
}

func TestWhatIsNoTextIsRefused(t *testing.T) {
	bomb := func() []byte {
		var out bytes.Buffer
		z := zip.NewWriter(&out)
		w, err := z.Create("word/document.xml")
		require.NoError(t, err)
		_, err = w.Write(bytes.Repeat([]byte(" "), mostXML+1))
		require.NoError(t, err)
		require.NoError(t, z.Close())
		return out.Bytes()
	}
	docx, err := os.ReadFile("testdata/libreoffice.docx")
	require.NoError(t, err)
	for name, data := range map[string][]byte{
		"no.docx": []byte("hello"), "half.docx": docx[:len(docx)/2], "bomb.docx": bomb(), "empty.md": nil, "blank.html": []byte("<p> </p>"), "photo.png": []byte("\x89PNG"),
		"quoted.md": bytes.Repeat([]byte(">"), 300_000), "listed.md": bytes.Repeat([]byte("1. "), 100_000), "linked.md": bytes.Repeat([]byte("[a]("), 80_000),
		"starred.md": bytes.Repeat([]byte("*a"), 150_000),
	} {
		_, err := Read(t.Context(), name, File(name, data), func() string { return "id" })
		_, refused := refusal.Reason(err)
		assert.True(t, refused, "%s: %v", name, err)
	}
	_, err = Unzip(bytes.NewReader([]byte("PK")), 2)
	_, refused := refusal.Reason(err)
	assert.True(t, refused)
}

func FuzzRead(f *testing.F) {
	page, err := os.ReadFile(filepath.Join("testdata", "page", "libreoffice.html"))
	require.NoError(f, err)
	docx, err := os.ReadFile("testdata/libreoffice.docx")
	require.NoError(f, err)
	f.Add("a.html", page)
	f.Add("a.docx", docx)
	f.Add("a.md", []byte("# A\n\n1. b\n   - c\n\n| x | y |\n|---|---|\n| 1 | 2 |\n"))
	f.Fuzz(func(t *testing.T, name string, data []byte) {
		if !Readable(name) || !fs.ValidPath(name) || len(data) > 1<<20 {
			return
		}
		n := 0
		made, err := Read(t.Context(), name, File(name, data), func() string { n++; return fmt.Sprint("id", n) })
		if err == nil {
			require.NoError(t, made.Document.Check())
			return
		}
		_, refused := refusal.Reason(err)
		require.True(t, refused, err)
	})
}

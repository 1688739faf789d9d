package docx_test

import (
	"archive/zip"
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/words"
	"raconte/output/docx"
	"raconte/output/outputtest"

	"github.com/beevik/etree"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// read is the text of a file by its paragraphs; each picture that is shown is there, once.
func read(t *testing.T, data []byte) string {
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	pictures := 0
	var doc etree.Document
	for _, f := range z.File {
		if strings.HasPrefix(f.Name, "word/media/") {
			pictures++
		}
		if !strings.HasSuffix(f.Name, ".xml") && !strings.HasSuffix(f.Name, ".rels") {
			continue
		}
		r, err := f.Open()
		require.NoError(t, err)
		var part etree.Document
		_, err = part.ReadFrom(r)
		require.NoError(t, err, f.Name)
		if f.Name == "word/document.xml" {
			doc = part
		}
	}
	var out strings.Builder
	for _, p := range doc.FindElements("//w:p") {
		for _, text := range p.FindElements(".//w:t") {
			out.WriteString(text.Text())
		}
		out.WriteByte('\n')
	}
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
	if _, err := exec.LookPath("soffice"); err != nil {
		t.Skip("LibreOffice is not installed")
	}
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
	dir := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(dir, "all.docx"), outputtest.Write(t, docx.Format{}, d), 0o600))
	said, err := exec.Command("soffice", "-env:UserInstallation=file://"+dir+"/profile", "--headless", "--convert-to", "pdf", "--outdir", dir, filepath.Join(dir, "all.docx")).CombinedOutput()
	require.NoError(t, err, string(said))
	text, err := exec.Command("pdftotext", "-layout", filepath.Join(dir, "all.pdf"), "-").Output()
	require.NoError(t, err)
	got := strings.Join(strings.Fields(string(text)), " ")
	at := 0
	for _, want := range []string{
		"Lots & rooms", "1 First part", "1.1 Below", "2 Second part", // the contents
		"1 First part", "1 Scan & <b> 1.", "2 See step 1", "1. alpha", "• beta", "2. gamma", "1. delta", "Fruit Most", "Pears",
		"DANGER", "Ammonia.", "3 Scan & <b> 3.", "1.1 Below", "2 Second part", "1 Scan & <b> 4.", "2 Scan & <b> 5.",
	} {
		found := strings.Index(got[at:], want)
		require.GreaterOrEqual(t, found, 0, "%q after %.80q in %s", want, got[max(0, at-80):at], got)
		at += found + len(want)
	}
}

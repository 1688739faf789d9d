package dita_test

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
	"raconte/output/dita"
	"raconte/output/outputtest"

	"github.com/beevik/etree"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// read is the text of the topics in the order of the map; what the map and the topics lead to is there.
func read(t *testing.T, data []byte) string {
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	part := func(name string) *etree.Document {
		f, err := z.Open(name)
		require.NoError(t, err, name)
		doc := etree.NewDocument()
		_, err = doc.ReadFrom(f)
		require.NoError(t, err, name)
		return doc
	}
	var out strings.Builder
	var say func(e *etree.Element)
	say = func(e *etree.Element) {
		for _, c := range e.Child {
			switch c := c.(type) {
			case *etree.CharData:
				out.WriteString(c.Data)
			case *etree.Element:
				say(c)
			}
		}
	}
	shown := 0
	for _, ref := range part("document.ditamap").FindElements("//topicref") {
		topic := part(ref.SelectAttrValue("href", ""))
		say(topic.Root())
		for _, image := range topic.FindElements("//image") {
			_, err := z.Open("topics/" + image.SelectAttrValue("href", ""))
			require.NoError(t, err)
			shown++
		}
		for _, x := range topic.FindElements("//xref") {
			file, at, inside := strings.Cut(x.SelectAttrValue("href", ""), "#")
			if x.SelectAttrValue("scope", "") == "external" {
				continue
			}
			require.True(t, inside)
			id, element, deeper := strings.Cut(at, "/")
			to := part("topics/" + file)
			assert.Equal(t, id, to.Root().SelectAttrValue("id", ""))
			if deeper {
				assert.NotNil(t, to.FindElement("//*[@id='"+element+"']"))
			}
		}
	}
	pictures := 0
	for _, f := range z.File {
		if strings.Contains(f.Name, "/pictures/") {
			pictures++
		}
	}
	assert.Equal(t, pictures, shown)
	return out.String()
}

func TestDITAIsAFormat(t *testing.T) { outputtest.Run(t, dita.Format{}, read) }

func TestTopicsAreValid(t *testing.T) {
	d := outputtest.Document(4, "Scan & <b>")
	d.Facts.Notice = &document.Notice{Signal: document.Caution, Hazard: "Cold."}
	d.Blocks[1].Notice, d.Blocks[1].Critical = &document.Notice{Signal: document.Danger, Hazard: "Gas."}, true
	d.Blocks[1].Words = words.Node{Type: "doc", Content: []words.Node{
		{Type: "paragraph", Content: []words.Node{{Type: "text", Text: "See "}, {Type: "reference", Attrs: &words.Attrs{Kind: words.ToStep, To: "s3"}}, {Type: "reference", Attrs: &words.Attrs{Kind: words.ToSection, To: "h"}}}},
		{Type: "bulletList", Content: []words.Node{{Type: "listItem", Content: words.Plain("a").Content}}},
		{Type: "table", Content: []words.Node{{Type: "tableRow", Content: []words.Node{{Type: "tableHeader", Content: words.Plain("h").Content}}}, {Type: "tableRow"}}},
	}}
	d.Blocks = append([]document.Block{document.NewPassage("before", words.Plain("Before")), d.Blocks[0], d.Blocks[1], document.NewPassage("between", words.Plain("Between")), d.Blocks[2],
		document.NewPassage("after", words.Plain("After")), document.NewSection("h", 1, words.Plain("Words")), document.NewPassage("only", words.Plain("Only")),
		document.NewSection("deep", 2, words.Plain("Deep"))}, d.Blocks[3])
	data := outputtest.Write(t, dita.Format{}, d)
	said := read(t, data)
	for _, part := range []string{"Before", "Between", "After", "Only", "Gas.", "Cold."} {
		assert.Contains(t, said, part)
	}
	if _, err := exec.LookPath("xmllint"); err != nil {
		t.Skip("xmllint is not installed")
	}
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	dir := t.TempDir()
	for _, f := range z.File {
		grammar, checked := "testdata/task.dtd", strings.HasSuffix(f.Name, ".dita")
		if strings.HasSuffix(f.Name, ".ditamap") {
			grammar, checked = "testdata/map.dtd", true
		}
		if !checked {
			continue
		}
		r, err := f.Open()
		require.NoError(t, err)
		raw, err := io.ReadAll(r)
		require.NoError(t, err)
		file := filepath.Join(dir, filepath.Base(f.Name))
		require.NoError(t, os.WriteFile(file, raw, 0o600))
		out, err := exec.Command("xmllint", "--noout", "--nonet", "--dtdvalid", grammar, file).CombinedOutput()
		assert.NoError(t, err, "%s\n%s", out, raw)
	}
}

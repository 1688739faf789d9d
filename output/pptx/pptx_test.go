package pptx_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/words"
	"raconte/output/outputtest"
	"raconte/output/pptx"

	"github.com/beevik/etree"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// read is the text of the slides with their notes, in order.
func read(t *testing.T, data []byte) string {
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	part := func(name string) *etree.Document {
		r, err := z.Open(name)
		if err != nil {
			return nil
		}
		doc := etree.NewDocument()
		_, err = doc.ReadFrom(r)
		require.NoError(t, err, name)
		return doc
	}
	var out strings.Builder
	shown, pictures := 0, 0
	for n := 1; ; n++ {
		slide := part(fmt.Sprintf("ppt/slides/slide%d.xml", n))
		if slide == nil {
			break
		}
		shown += len(slide.FindElements("//p:pic"))
		for _, doc := range []*etree.Document{slide, part(fmt.Sprintf("ppt/notesSlides/notesSlide%d.xml", n))} {
			for _, p := range doc.FindElements("//a:t") {
				out.WriteString(p.Text() + "\n")
			}
		}
	}
	for _, f := range z.File {
		if strings.HasPrefix(f.Name, "ppt/media/") {
			pictures++
		}
	}
	assert.Equal(t, pictures, shown, "each picture once")
	return out.String()
}

func TestPPTXIsAFormat(t *testing.T) { outputtest.Run(t, pptx.Format{}, read) }

// TestAPresentationIsShown has LibreOffice show one, and counts its slides.
func TestAPresentationIsShown(t *testing.T) {
	if _, err := exec.LookPath("soffice"); err != nil {
		t.Skip("LibreOffice is not installed")
	}
	d := outputtest.Document(3, "Scan & <b>")
	d.Blocks[1].Notice = &document.Notice{Signal: document.Danger, Hazard: "Ammonia."}
	d.Blocks = append(d.Blocks, document.NewSection("s", 1, words.Plain("The end")), document.NewPassage("p", words.Plain("Words alone")))
	dir := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(dir, "all.pptx"), outputtest.Write(t, pptx.Format{}, d), 0o600))
	said, err := exec.Command("soffice", "-env:UserInstallation=file://"+dir+"/profile", "--headless", "--convert-to", "pdf", "--outdir", dir, filepath.Join(dir, "all.pptx")).CombinedOutput()
	require.NoError(t, err, string(said))
	info, err := exec.Command("pdfinfo", filepath.Join(dir, "all.pdf")).Output()
	require.NoError(t, err)
	assert.Regexp(t, `Pages:\s+6`, string(info))
	text, err := exec.Command("pdftotext", filepath.Join(dir, "all.pdf"), "-").Output()
	require.NoError(t, err)
	for _, want := range []string{"Lots & rooms", "2 Scan & <b> 2", "DANGER", "Ammonia.", "1 The end", "Words alone"} {
		assert.Contains(t, strings.Join(strings.Fields(string(text)), " "), want)
	}
}

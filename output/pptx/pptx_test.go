package pptx_test

import (
	"fmt"
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/words"
	"raconte/output/outputtest"
	"raconte/output/pptx"

	"github.com/beevik/etree"
	"github.com/stretchr/testify/assert"
)

// read is the text of the slides with their notes, in order.
func read(t *testing.T, data []byte) string {
	part := func(name string) *etree.Document { return outputtest.Part(t, data, name) }
	var out strings.Builder
	shown, pictures := 0, 0
	for n := 1; ; n++ {
		slide := part(fmt.Sprintf("ppt/slides/slide%d.xml", n))
		if slide == nil {
			break
		}
		shown += len(slide.FindElements("//p:pic"))
		for _, doc := range []*etree.Document{slide, part(fmt.Sprintf("ppt/notesSlides/slide%d.xml", n))} {
			for _, p := range doc.FindElements("//a:t") {
				out.WriteString(p.Text() + "\n")
			}
		}
	}
	for _, name := range outputtest.Names(t, data) {
		if strings.HasPrefix(name, "ppt/media/") {
			pictures++
		}
	}
	assert.Equal(t, pictures, shown, "each picture once")
	return out.String()
}

func TestPPTXIsAFormat(t *testing.T) { outputtest.Run(t, pptx.Format{}, read) }

// TestAPresentationIsShown has LibreOffice show one, and counts its slides.
func TestAPresentationIsShown(t *testing.T) {
	d := outputtest.Document(3, "Scan & <b>")
	d.Blocks[1].Notice = &document.Notice{Signal: document.Danger, Hazard: "Ammonia."}
	d.Blocks = append(d.Blocks, document.NewSection("s", 1, words.Plain("The end")), document.NewPassage("p", words.Plain("Words alone")))
	text, pages := outputtest.Printed(t, "all.pptx", outputtest.Write(t, pptx.Format{}, d))
	assert.Equal(t, 6, pages)
	outputtest.InOrder(t, text, "Lots & rooms", "2 Scan & <b> 2", "DANGER", "Ammonia.", "1 The end", "Words alone")
}

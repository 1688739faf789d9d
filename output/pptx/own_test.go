package pptx_test

import (
	"bytes"
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/refusal"
	"raconte/core/words"
	"raconte/output"
	"raconte/output/outputtest"
	"raconte/output/pptx"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestAPresentationIsMadeByTheLayoutsOfTheHouse takes a presentation that LibreOffice has written, puts words of the
// house on a layout, and has LibreOffice show what becomes of it.
func TestAPresentationIsMadeByTheLayoutsOfTheHouse(t *testing.T) {
	data, err := pptx.Format{}.Example()
	require.NoError(t, err)
	theirs := outputtest.Converted(t, t.TempDir(), "example.pptx", data, "potx")
	const layout = "ppt/slideMasters/slideMaster1.xml"
	doc := outputtest.Part(t, theirs, layout)
	box := doc.FindElement("//p:sp").Copy() // a place becomes a box with words of its own
	ph := box.FindElement(".//p:ph")
	ph.Parent().RemoveChild(ph)
	text := box.FindElement(".//a:p")
	for _, c := range text.ChildElements() {
		text.RemoveChild(c)
	}
	text.CreateElement("a:r").CreateElement("a:t").SetText("House copy of {ti")
	text.CreateElement("a:r").CreateElement("a:t").SetText("tle} {foo}")
	doc.FindElement("//p:spTree").AddChild(box)
	changed, err := doc.WriteToString()
	require.NoError(t, err)
	theirs = outputtest.Repacked(t, theirs, map[string]string{layout: changed})

	notes, err := pptx.Format{}.Check(t.Context(), output.Own{Data: theirs})
	require.NoError(t, err)
	require.NotEmpty(t, notes)
	assert.Contains(t, notes[0].Text, "{foo} stands for nothing")

	d := outputtest.Document(2, "Carry bin")
	d.Blocks = append(d.Blocks, document.NewSection("s", 1, words.Plain("The end")), document.NewPassage("p", words.Plain("Words alone")))
	var buf bytes.Buffer
	require.NoError(t, pptx.Format{}.Write(t.Context(), &buf, outputtest.Input(d), output.Options{Own: &output.Own{Data: theirs}}))
	said, pages := outputtest.Printed(t, "filled.pptx", buf.Bytes())
	assert.Equal(t, 5, pages)
	assert.NotContains(t, said, "A document to try", "the slides of the template are not those of the document")
	outputtest.InOrder(t, said, "Lots & rooms", "1 Carry bin 1", "2 Carry bin 2", "1 The end", "Words alone")
	assert.True(t, strings.Contains(said, "House copy of Lots & rooms {foo}"), said)
}

func TestBadPresentationsAreRefused(t *testing.T) {
	data, err := pptx.Format{}.Example()
	require.NoError(t, err)
	for name, c := range outputtest.BadTemplates(t, data, "ppt/presentation.xml") {
		_, err := pptx.Format{}.Check(t.Context(), output.Own{Data: c.Data})
		reason, refused := refusal.Reason(err)
		assert.True(t, refused, "%s: %v", name, err)
		assert.Contains(t, reason, c.Why, name)
	}
}

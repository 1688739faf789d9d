package docx_test

import (
	"bytes"
	"context"
	"fmt"
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/refusal"
	"raconte/core/words"
	"raconte/output"
	"raconte/output/docx"
	"raconte/output/outputtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func example(t *testing.T) []byte {
	data, err := docx.Format{}.Example()
	require.NoError(t, err)
	return data
}

// saying is a template with another text.
func saying(t *testing.T, text string) []byte {
	return outputtest.Repacked(t, example(t), map[string]string{"word/document.xml": `<w:document xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><w:body>` + text + `</w:body></w:document>`})
}

func p(text string) string { return "<w:p><w:r><w:t>" + text + "</w:t></w:r></w:p>" }

func control(tag, inside string) string {
	return `<w:sdt><w:sdtPr><w:tag w:val="` + tag + `"/></w:sdtPr><w:sdtContent>` + inside + `</w:sdtContent></w:sdt>`
}

func filled(t *testing.T, template []byte, d document.Document) []byte {
	var buf bytes.Buffer
	require.NoError(t, docx.Format{}.Write(t.Context(), &buf, outputtest.Input(d), output.Options{Own: &output.Own{Data: template}}))
	return buf.Bytes()
}

// sections is a document of two sections, with a passage before them and a notice.
func sections() document.Document {
	d := outputtest.Document(3, "Carry bin")
	d.Facts.Number = "P-7"
	d.Facts.Notice = &document.Notice{Signal: document.Damage, Hazard: "Labels tear."}
	d.Blocks = append([]document.Block{document.NewPassage("p", words.Plain("Read this first.")), document.NewSection("one", 1, words.Plain("Dock"))}, d.Blocks...)
	d.Blocks = append(d.Blocks[:4], append([]document.Block{document.NewSection("two", 1, words.Plain("Room"))}, d.Blocks[4:]...)...)
	d.Blocks[3].Notice = &document.Notice{Signal: document.Danger, Hazard: "It falls."}
	return d
}

func TestATemplateOfTheHouseIsFilledIn(t *testing.T) {
	for name, c := range map[string]struct {
		text  string
		wants []string
	}{
		"runs split by a word processor": {
			`<w:p><w:r><w:t>Of {ti</w:t></w:r><w:proofErr w:type="spellStart"/><w:r><w:rPr><w:b/></w:rPr><w:t>t</w:t></w:r><w:r><w:t>le} and </w:t><w:tab/><w:t>{ NUM</w:t></w:r><w:r><w:t>BER }, {step</w:t></w:r></w:p>` + p("{document}"),
			[]string{"Of Lots & rooms and P-7, {step", "Read this first.", "Dock", "Carry bin 1.", "DANGER", "It falls.", "Carry bin 2.", "Room", "Carry bin 3."},
		},
		"parts that repeat": {
			p("{each section}") + p("§ {section title}.") + p("{each step}") + p("{step number}) {step title}") + p("{step words}") + p("{step pictures}") + p("{end}") + p("—") + p("{end}") + p("Over."),
			[]string{") Read this first", "Read this first.", "—", "§ Dock.", "1) Carry bin 1", "Carry bin 1.", "2) Carry bin 2", "—", "§ Room.", "3) Carry bin 3", "Carry bin 3.", "—", "Over."},
		},
		"a row for each step": {
			`<w:tbl><w:tr><w:tc>` + p("No.") + `</w:tc><w:tc>` + p("What") + `</w:tc></w:tr><w:tr><w:tc>` + p("{step number}") + `</w:tc><w:tc>` + p("{step notice}") + p("{step words}") + p("{step pictures}") + `</w:tc></w:tr></w:tbl>`,
			[]string{"No.", "What", "Read this first.", "1", "Carry bin 1.", "2", "DANGER", "It falls.", "Carry bin 2.", "3", "Carry bin 3."},
		},
		"content controls": {
			"<w:p>" + control("title", "<w:r><w:t>Click here</w:t></w:r>") + "</w:p>" + control("each_step", p("Do: {step words}")+control("step pictures", p("here"))) +
				`<w:tbl>` + control("each section", `<w:tr><w:tc>`+p("{section title} it was")+`</w:tc></w:tr>`) + `</w:tbl>`,
			[]string{"Lots & rooms", "Do: Read this first.", "Do: Carry bin 1.", "Do: Carry bin 3.", "Dock it was", "Room it was"},
		},
		"no place for the steps": {p("Letter of the house"), []string{"Letter of the house", "Lots & rooms", "Read this first.", "Carry bin 1.", "Carry bin 3."}},
	} {
		t.Run(name, func(t *testing.T) {
			got := filled(t, saying(t, c.text), sections())
			text := read(t, got)
			outputtest.InOrder(t, strings.Join(strings.Fields(text), " "), c.wants...)
			assert.Contains(t, text, "Labels tear.", "a warning is there, whether the template has a place for it or not")
			assert.NotContains(t, text, "{each")
			assert.NotContains(t, text, "Click here")
			assert.Contains(t, part(t, got, "word/header1.xml"), "P-7")
		})
	}
}

func part(t *testing.T, data []byte, name string) string {
	s, err := outputtest.Part(t, data, name).WriteToString()
	require.NoError(t, err)
	return s
}

// TestATemplateThatAWordProcessorWroteKeepsItsStyles takes one that LibreOffice has written, with names of its own for
// styles, and has LibreOffice print what becomes of it.
func TestATemplateThatAWordProcessorWroteKeepsItsStyles(t *testing.T) {
	theirs := outputtest.Converted(t, t.TempDir(), "example.docx", example(t), "dotx")
	style := strings.NewReplacer(`w:styleId="Heading1"`, `w:styleId="berschrift1"`, `w:val="Heading1"`, `w:val="berschrift1"`)
	theirs = outputtest.Repacked(t, theirs, map[string]string{
		"word/styles.xml": style.Replace(part(t, theirs, "word/styles.xml")), "word/document.xml": style.Replace(strings.Replace(part(t, theirs, "word/document.xml"), "{meta}", "{document}", 1)),
	})
	got := filled(t, theirs, sections())
	assert.NotContains(t, part(t, got, "word/document.xml"), `w:val="Heading1"`, "headings are in the style of that name, whatever its id")
	assert.Contains(t, part(t, got, "[Content_Types].xml"), "document.main+xml", "a document, and no template")
	text, _ := outputtest.Printed(t, "filled.docx", got)
	outputtest.InOrder(t, text, "Lots & rooms", "Read this first.", "Dock", "1 Carry bin 1.", "Room", "3 Carry bin 3.", "Dock", "1 Carry bin 1.", "DANGER", "3 Carry bin 3.")
}

func TestWhatATemplateAsksForInVainIsListed(t *testing.T) {
	notes, err := docx.Format{}.Check(t.Context(), output.Own{Data: saying(t, p("{titel} {step words}")+p("{each step}")+p("lost")+control("odd tag", p("x")))})
	require.NoError(t, err)
	var said []string
	for _, n := range notes {
		said = append(said, n.Where+": "+n.Text)
	}
	all := strings.Join(said, "\n")
	for _, want := range []string{"in the text: {titel} stands for nothing", "{step words} has nothing to stand for here", "{each step} has no {end}", `in a content control: The tag "odd tag"`} {
		assert.Contains(t, all, want)
	}
}

func TestBadTemplatesAreRefused(t *testing.T) {
	bad := outputtest.BadTemplates(t, example(t), "word/document.xml")
	bad["a field that fetches"] = struct {
		Data []byte
		Why  string
	}{saying(t, `<w:p><w:r><w:instrText>DDE</w:instrText></w:r><w:r><w:instrText>AUTO c:\\x</w:instrText></w:r></w:p>`), "fetches something"}
	for name, body := range map[string]string{
		"a field in small letters":   `<w:p><w:r><w:instrText> includepicture "http://192.0.2.1/x" </w:instrText></w:r></w:p>`,
		"a simple field":             `<w:p><w:fldSimple w:instr=" DATABASE \\d x "/></w:p>`,
		"one with another prefix":    `<x:p xmlns:x="http://schemas.openxmlformats.org/wordprocessingml/2006/main"><x:fldSimple x:instr="LINK Excel.Sheet c"/></x:p>`,
		"one that was deleted":       `<w:p><w:del><w:r><w:delInstrText>DDEAUTO</w:delInstrText></w:r></w:del></w:p>`,
		"a field in parts":           `<w:p><w:r><w:instrText>INCLUDE</w:instrText></w:r><w:r><w:instrText>TEXT x</w:instrText></w:r></w:p>`,
		"a document of another kind": `<w:altChunk r:id="rId9" xmlns:r="r"/>`,
		"four million elements":      `<w:p>` + strings.Repeat("<w:r/>", 1_500_000) + `</w:p>`,
	} {
		why := "fetches something"
		switch {
		case strings.Contains(body, "altChunk"):
			why = "of another program"
		case len(body) > 1<<20:
			why = "elements"
		}
		bad[name] = struct {
			Data []byte
			Why  string
		}{saying(t, body), why}
	}
	rels := func(rel string) []byte {
		return outputtest.Repacked(t, example(t), map[string]string{"word/_rels/document.xml.rels": `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">` + rel + `</Relationships>`})
	}
	for name, rel := range map[string]string{
		"a mode with a blank":     `<Relationship Id="r1" Type="x/image" Target="http://192.0.2.1/x.png" TargetMode=" external "/>`,
		"a mode in other letters": `<Relationship Id="r1" Type="x/image" Target="http://192.0.2.1/x.png" targetMode="EXTERNAL"/>`,
		"no mode at all":          `<Relationship Id="r1" Type="x/image" Target="\\\\192.0.2.1\x.png"/>`,
	} {
		bad[name] = struct {
			Data []byte
			Why  string
		}{rels(rel), "fetch something from elsewhere"}
	}
	for name, c := range bad {
		_, err := docx.Format{}.Check(t.Context(), output.Own{Data: c.Data})
		reason, refused := refusal.Reason(err)
		assert.True(t, refused, "%s: %v", name, err)
		assert.Contains(t, reason, c.Why, name)
	}
	huge := saying(t, p("{each step}")+strings.Repeat(p("again and again"), 2000)+p("{end}"))
	err := docx.Format{}.Write(t.Context(), &bytes.Buffer{}, outputtest.Input(outputtest.Document(300, "x")), output.Options{Own: &output.Own{Data: huge}})
	assert.ErrorContains(t, err, "too large", fmt.Sprint("a template that multiplies: ", err))
	gone, cancel := context.WithCancel(t.Context())
	cancel()
	assert.ErrorIs(t, docx.Format{}.Write(gone, &bytes.Buffer{}, outputtest.Input(sections()), output.Options{Own: &output.Own{Data: example(t)}}), context.Canceled)
}

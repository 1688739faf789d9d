package prose

import (
	"archive/zip"
	"bytes"
	"encoding/base64"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"strings"
	"testing"

	"raconte/intake"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// striped is a picture whose left half is white and whose right half is black.
func striped(t *testing.T) []byte {
	img := image.NewRGBA(image.Rect(0, 0, 100, 60))
	for i := range img.Pix {
		img.Pix[i] = 255
	}
	for y := range 60 {
		for x := 50; x < 100; x++ {
			img.SetRGBA(x, y, color.RGBA{A: 255})
		}
	}
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, img))
	return out.Bytes()
}

// wordFile is a DOCX file of a body and the insides of other parts, with a picture under the relation rId1.
func wordFile(t *testing.T, body string, parts map[string]string) []byte {
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	put := func(name, data string) {
		f, err := z.Create(name)
		require.NoError(t, err)
		_, err = f.Write([]byte(data))
		require.NoError(t, err)
	}
	const spaces = ` xmlns:w="w" xmlns:a="a" xmlns:r="r" xmlns:wp="wp" xmlns:pic="pic" xmlns:dc="dc"`
	put("word/document.xml", `<w:document`+spaces+`><w:body>`+body+`</w:body></w:document>`)
	for name, inner := range parts {
		put(name, `<w:part`+spaces+`>`+inner+`</w:part>`)
	}
	put("word/_rels/document.xml.rels", `<Relationships><Relationship Id="rId1" Target="media/a.png"/></Relationships>`)
	put("word/media/a.png", string(striped(t)))
	require.NoError(t, z.Close())
	return out.Bytes()
}

func TestWhatAnAuthorHidDeletedOrCroppedStaysOut(t *testing.T) {
	drawing := func(of, crop string) string {
		return `<w:p><w:r><w:drawing><wp:inline><wp:docPr ` + of + `/><pic:blipFill><a:blip r:embed="rId1"/>` + crop + `</pic:blipFill></wp:inline></w:drawing></w:r></w:p>`
	}
	docx := func(body string) []byte {
		return wordFile(t, body, map[string]string{
			"word/styles.xml": `<w:style w:styleId="base"><w:name w:val="base"/><w:rPr><w:vanish/></w:rPr></w:style><w:style w:styleId="gone"><w:name w:val="gone"/><w:basedOn w:val="base"/></w:style>`,
		})
	}
	page := "data:image/png;base64," + base64.StdEncoding.EncodeToString(striped(t))
	for name, c := range map[string]struct {
		file string
		data []byte
	}{
		"a run that vanishes":     {"a.docx", docx(`<w:p><w:r><w:t>kept</w:t></w:r><w:r><w:rPr><w:vanish/></w:rPr><w:t>SECRET</w:t></w:r></w:p>`)},
		"one that was deleted":    {"a.docx", docx(`<w:p><w:r><w:t>kept</w:t></w:r><w:del><w:r><w:t>SECRET</w:t><w:delText>SECRET</w:delText></w:r></w:del></w:p>`)},
		"one that was moved away": {"a.docx", docx(`<w:p><w:moveFrom><w:r><w:t>SECRET</w:t></w:r></w:moveFrom><w:moveTo><w:r><w:t>kept</w:t></w:r></w:moveTo></w:p>`)},
		"a style that vanishes":   {"a.docx", docx(`<w:p><w:r><w:t>kept</w:t></w:r></w:p><w:p><w:pPr><w:pStyle w:val="gone"/></w:pPr><w:r><w:t>SECRET</w:t></w:r></w:p><w:p><w:r><w:rPr><w:rStyle w:val="gone"/></w:rPr><w:t>SECRET</w:t></w:r></w:p>`)},
		"a deleted row":           {"a.docx", docx(`<w:p><w:r><w:t>kept</w:t></w:r></w:p><w:tbl><w:tr><w:tc><w:p><w:r><w:t>x</w:t></w:r></w:p></w:tc></w:tr><w:tr><w:trPr><w:del/></w:trPr><w:tc><w:p><w:r><w:t>SECRET</w:t></w:r></w:p></w:tc></w:tr></w:tbl>`)},
		"a hidden drawing":        {"a.docx", docx(`<w:p><w:r><w:t>kept</w:t></w:r></w:p>` + drawing(`hidden="1"`, ""))},
		"deleted words of a page": {"a.html", []byte(`<p>kept <del>SECRET</del>`)},
		"hidden ones":             {"a.html", []byte(`<p>kept <span hidden>SECRET</span><b style="color:red; Display : NONE !important">SECRET</b><i style="visibility:hidden">SECRET</i><i style="font-size:0">SECRET</i>`)},
		"by a rule of the page":   {"a.html", []byte(`<style>.a, div > .off:not(.on) { color: red; display: none }</style><p>kept<p class="a">SECRET<div><p class="off">SECRET<img src="` + page + `"></div>`)},
		"struck words":            {"a.md", []byte("kept ~~SECRET~~ <!-- SECRET -->\n")},
	} {
		made := read(t, c.file, File(c.file, c.data))
		all := fmt.Sprint(made.Document)
		assert.Contains(t, all, "kept", name)
		assert.NotContains(t, all, "SECRET", name)
		assert.Empty(t, made.Pictures, name)
		if !strings.Contains(name, "row") && c.file != "a.md" {
			assert.Contains(t, made.Left, "What was hidden or deleted.", name)
		}
	}
	shown := read(t, "a.html", File("a.html", []byte(`<style>@media print { p { display: none } } p::before { display: none } .b { display: block }</style><p class="b">kept <s>struck</s>`)))
	assert.Equal(t, []string{"passage kept struck"}, told(shown), "what shows stays")

	for name, crop := range map[string]string{"by shares": `<a:srcRect r="60000" t="10000"/>`, "by percents": `<a:srcRect r="60%" t="10%"/>`} {
		made := read(t, "a.docx", File("a.docx", docx(drawing("", "")+drawing("", crop))))
		require.Len(t, made.Pictures, 2, "%s: the same picture whole, and cropped", name)
		img, err := intake.Decode(t.Context(), data(t, made.Pictures[1]))
		require.NoError(t, err)
		assert.Equal(t, image.Pt(40, 54), img.Rect.Size(), name)
		for x := range 40 {
			assert.EqualValues(t, 255, img.RGBAAt(x, 10).R, "%s: nothing of what was cut off, at %d", name, x)
		}
	}
	made := read(t, "a.docx", File("a.docx", docx(`<w:p><w:r><w:t>kept</w:t></w:r></w:p>`+drawing("", `<a:srcRect l="60000" r="60000"/>`))))
	assert.Empty(t, made.Pictures, "a picture of which nothing shows")
}

package pdf_test

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"raconte/core/scene"
	"raconte/core/text"
	"raconte/output/pdf"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// read is what a tool of poppler's says of a PDF.
func read(t *testing.T, data []byte, tool string, args ...string) string {
	path := filepath.Join(t.TempDir(), "it.pdf")
	require.NoError(t, os.WriteFile(path, data, 0o600))
	out, err := exec.Command(tool, append(args, path)...).CombinedOutput()
	require.NoError(t, err, string(out))
	return string(out)
}

func TestAPictureAloneHasAPageOfItsSizeAndItsWords(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 480, 320))
	draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{200, 30, 30, 255}), image.Point{}, draw.Src)
	file, err := pdf.Picture(t.Context(), img, "The room is too warm")
	require.NoError(t, err)
	assert.Equal(t, "application/pdf", file.Type)
	about := read(t, file.Data, "pdfinfo")
	assert.Regexp(t, `Page size: +360 x 240 pts`, about, "96 pixels to an inch")
	assert.Regexp(t, `Tagged: +yes`, about)
	assert.Contains(t, read(t, file.Data, "pdfinfo", "-struct-text"), "Figure")
	assert.Regexp(t, `480 +320`, read(t, file.Data, "pdfimages", "-list"), "every pixel is in it")

	large, err := pdf.Picture(t.Context(), image.NewRGBA(image.Rect(0, 0, 8000, 400)), "")
	require.NoError(t, err)
	assert.Regexp(t, `Page size: +1190 x`, read(t, large.Data, "pdfinfo"), "no page is larger than A3 across")
}

func TestSheetsThatWereDrawnByHandAreReadInTheirOrder(t *testing.T) {
	var sheets []scene.Scene
	for _, said := range []string{"First sheet", "Zweites Blatt"} {
		s := scene.Scene{W: 300, H: 200}
		s.Open("P")
		text.Set(&s, text.Regular, 12, 20, 40, said, scene.Color{A: 255})
		s.Close(1)
		sheets = append(sheets, s)
	}
	var out bytes.Buffer
	require.NoError(t, pdf.Scenes(t.Context(), &out, "Two sheets", time.Date(2019, 3, 4, 8, 0, 0, 0, time.UTC), sheets, nil))
	assert.Regexp(t, `(?s)First sheet.*\f.*Zweites Blatt`, texts(t, out.Bytes()))
	about := read(t, out.Bytes(), "pdfinfo")
	assert.Regexp(t, `Title: +Two sheets`, about)
	assert.Regexp(t, `Pages: +2`, about)
}

// texts are the words of a PDF, a form feed after each page.
func texts(t *testing.T, data []byte) string {
	path := filepath.Join(t.TempDir(), "it.pdf")
	require.NoError(t, os.WriteFile(path, data, 0o600))
	out, err := exec.Command("pdftotext", path, "-").Output()
	require.NoError(t, err)
	return string(out)
}

package pdf

import (
	"bytes"
	"context"
	"fmt"
	"image/png"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"raconte/core/refusal"

	"codeberg.org/go-pdf/fpdf"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// made is a PDF file that says something on each of its pages.
func made(t *testing.T, change func(*fpdf.Fpdf), pages ...string) string {
	pdf := fpdf.New("P", "pt", "A4", "")
	pdf.SetTitle("A title", true)
	if change != nil {
		change(pdf)
	}
	for _, said := range pages {
		pdf.AddPage()
		pdf.SetFont("Helvetica", "", 12)
		for i, line := range strings.Split(said, "\n") {
			pdf.Text(60, 80+float64(i)*20, line)
		}
	}
	var out bytes.Buffer
	require.NoError(t, pdf.Output(&out))
	return kept(t, out.Bytes())
}

func kept(t *testing.T, data []byte) string {
	path := filepath.Join(t.TempDir(), "a.pdf")
	require.NoError(t, os.WriteFile(path, data, 0o600))
	return path
}

func TestAnAddressIsNoTitle(t *testing.T) {
	for title, want := range map[string]string{"about:blank": "", "file:///home/a/b.html": "", "Note: read me": "Note: read me"} {
		about, err := Check(t.Context(), made(t, func(pdf *fpdf.Fpdf) { pdf.SetTitle(title, true) }, "x"))
		require.NoError(t, err)
		assert.Equal(t, want, about.Title)
	}
}

func TestAPDFIsRead(t *testing.T) {
	file := made(t, nil, "First page\n1. Go", "Second")
	about, err := Check(t.Context(), file)
	require.NoError(t, err)
	assert.Equal(t, About{Title: "A title", Pages: 2}, about)
	texts, err := Texts(t.Context(), file, 2)
	require.NoError(t, err)
	assert.Contains(t, texts[0], "1. Go")
	assert.Equal(t, "Second", strings.TrimSpace(texts[1]))
	data, err := Page(t.Context(), file, 2)
	require.NoError(t, err)
	img, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	assert.Equal(t, pageSide, max(img.Bounds().Dx(), img.Bounds().Dy()))
}

func TestWhatCanNotBeFiledIsRefusedInWords(t *testing.T) {
	good, err := os.ReadFile(made(t, nil, "x"))
	require.NoError(t, err)
	many := make([]string, MostPages+1)
	for name, c := range map[string]struct{ file, says string }{
		"a picture":       {kept(t, []byte("\x89PNG\r\n")), "not a PDF"},
		"nothing":         {kept(t, nil), "not a PDF"},
		"a promise alone": {kept(t, []byte("%PDF-1.7\n")), "broken"},
		"half":            {kept(t, good[:len(good)/2]), "broken"},
		"locked":          {made(t, func(p *fpdf.Fpdf) { p.SetProtection(0, "open", "own") }, "x"), "locked by a password"},
		"no copies":       {made(t, func(p *fpdf.Fpdf) { p.SetProtection(0, "", "own") }, "x"), "forbids to take its text"},
		"too many pages":  {made(t, nil, many...), fmt.Sprint("at most ", MostPages)},
	} {
		_, err := Check(t.Context(), c.file)
		reason, refused := refusal.Reason(err)
		assert.True(t, refused, "%s: %v", name, err)
		assert.Contains(t, reason, c.says, name)
	}
	_, err = Page(t.Context(), made(t, nil, "x"), 9)
	_, refused := refusal.Reason(err)
	assert.True(t, refused, err)
}

func TestReadingStopsWhenNobodyWaits(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	_, err := Texts(ctx, made(t, nil, "x"), 1)
	assert.Error(t, err)
}

func TestWhatAnAuthorCroppedOffAPageIsNotRead(t *testing.T) {
	file := made(t, func(f *fpdf.Fpdf) { f.SetPageBox("crop", 0, 300, 595, 300) }, "SECRET", "SECRET\n\n\n\n\n\n\n\n\n\n\n\nkept")
	texts, err := Texts(t.Context(), file, 2)
	require.NoError(t, err)
	assert.NotContains(t, texts[0]+texts[1], "SECRET")
	assert.Contains(t, texts[1], "kept")
	data, err := Page(t.Context(), file, 1)
	require.NoError(t, err)
	size, err := png.DecodeConfig(bytes.NewReader(data))
	require.NoError(t, err)
	assert.Greater(t, size.Width, size.Height, "the page is as it was cropped")
}

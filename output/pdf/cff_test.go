package pdf

import (
	"bytes"
	"context"
	"image"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"raconte/core/figure"
	"raconte/core/page"
	"raconte/core/style"
	"raconte/core/text"
	"raconte/intake/face"
	"raconte/output/outputtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// postScript is a face that ships with its outlines as PostScript has them.
func postScript(t *testing.T) []byte {
	f, err := newFont(text.Regular, "F0", text.TTF(text.Regular))
	require.NoError(t, err)
	n := int(f.tables["maxp"][4])<<8 | int(f.tables["maxp"][5])
	for id := 1; id < n; id++ {
		f.code([]text.Glyph{{ID: uint16(id), Text: "x"}})
	}
	tables := map[string][]byte{"CFF ": compact("Test", [4]int{-500, -500, 2000, 1200}, f.forms())}
	for _, name := range []string{"head", "hhea", "hmtx", "maxp", "cmap", "OS/2", "name", "post"} {
		tables[name] = f.tables[name]
	}
	otf := assembled(tables)
	copy(otf, "OTTO")
	return otf
}

// TestAFaceOfPostScriptOutlinesLooksAsItsTrueTypeDoes sets a page in a face of the house with PostScript outlines and
// looks at it in two programs.
func TestAFaceOfPostScriptOutlinesLooksAsItsTrueTypeDoes(t *testing.T) {
	otf := postScript(t)
	about, err := face.Check(t.Context(), otf)
	require.NoError(t, err)
	assert.Equal(t, "font/otf", about.Media)
	require.NoError(t, text.Register(text.House(text.Regular, "otf"), otf))
	require.NoError(t, text.Register(text.House(text.Regular, "ttf"), text.TTF(text.Regular)))
	dir := t.TempDir()
	shown := map[string]image.Image{}
	for _, name := range []string{"ttf", "otf"} {
		in := outputtest.Input(outputtest.Document(3, "Grüße & scale 5.5 fi"))
		in.Edition.Style.Faces.Regular = name
		in.Pages = func(ctx context.Context, layout style.Layout) (page.Pages, error) {
			return in.Edition.Pages(ctx, in.Story, map[string]figure.Size{outputtest.Sum(): {W: 160, H: 90}}, layout)
		}
		var buf bytes.Buffer
		require.NoError(t, Format{}.Write(t.Context(), &buf, in, outputtest.Options))
		path := filepath.Join(dir, name+".pdf")
		require.NoError(t, os.WriteFile(path, buf.Bytes(), 0o600))
		said, err := exec.Command("pdftotext", path, "-").Output()
		require.NoError(t, err)
		assert.Contains(t, string(said), "Grüße & scale 5.5 fi 2.")
		checked, err := exec.Command("qpdf", "--check", path).CombinedOutput()
		require.NoError(t, err, string(checked))
		raw, err := exec.Command("pdftoppm", "-png", "-r", "60", "-singlefile", path, filepath.Join(dir, name)).CombinedOutput()
		require.NoError(t, err, string(raw))
		picture, err := os.ReadFile(filepath.Join(dir, name+".png"))
		require.NoError(t, err)
		shown[name], err = png.Decode(bytes.NewReader(picture))
		require.NoError(t, err)
	}
	fonts, err := exec.Command("pdffonts", filepath.Join(dir, "otf.pdf")).Output()
	require.NoError(t, err)
	assert.Contains(t, string(fonts), "CID Type 0C")
	a, b := shown["ttf"], shown["otf"]
	require.Equal(t, a.Bounds(), b.Bounds())
	dark, apart := 0, 0
	for y := range a.Bounds().Dy() {
		for x := range a.Bounds().Dx() {
			v, _, _, _ := a.At(x, y).RGBA()
			w, _, _, _ := b.At(x, y).RGBA()
			if v < 0x8000 {
				dark++
			}
			if max(v, w)-min(v, w) > 0x8000 {
				apart++
			}
		}
	}
	assert.Greater(t, dark, 300)
	assert.Less(t, apart, dark/20)
}

package pdf_test

import (
	"context"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"raconte/core/page"
	"raconte/core/scene"
	"raconte/core/style"
	"raconte/output/outputtest"
	"raconte/output/pdf"
	"raconte/output/picture"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func poppler(t *testing.T, tool string, data []byte, args ...string) string {
	if _, err := exec.LookPath(tool); err != nil {
		t.Skip(tool + " is not installed: run make test")
	}
	path := filepath.Join(t.TempDir(), "in.pdf")
	require.NoError(t, os.WriteFile(path, data, 0o600))
	args = append(args, path)
	if tool == "pdftotext" {
		args = append(args, "-")
	}
	out, err := exec.Command(tool, args...).CombinedOutput()
	require.NoError(t, err, string(out))
	return string(out)
}

func TestPDFIsAFormat(t *testing.T) {
	outputtest.Run(t, pdf.Format{}, func(t *testing.T, data []byte) string { return poppler(t, "pdftotext", data) })
}

func TestPagesPicturesAndTextAreThere(t *testing.T) {
	data := outputtest.Write(t, pdf.Format{}, outputtest.Document(9, "Scan the bin card"))
	info := poppler(t, "pdfinfo", data)
	assert.Regexp(t, `Title:\s+Lots & rooms`, info)
	assert.Regexp(t, `Pages:\s+2`, info)
	assert.Regexp(t, `Page size:\s+595.28 x 841.89 pts \(A4\)`, info)
	assert.Equal(t, 9, strings.Count(poppler(t, "pdfimages", data, "-list"), "jpeg"))
	assert.Contains(t, poppler(t, "pdftotext", data), "Scan the bin card 9.")
}

func TestAPictureIsAsSharpAsItsWidestUseNeeds(t *testing.T) {
	d := outputtest.Document(1, "x")
	in := outputtest.Input(d)
	pages := in.Pages
	in.Pages = func(ctx context.Context, layout style.Layout) (page.Pages, error) {
		p, err := pages(ctx, layout)
		sheet := &p.Sheets[0]
		ref := page.FigureRef("f0")
		sheet.Items = append(sheet.Items, scene.Item{Picture: &scene.Picture{Ref: ref, Target: scene.Rect{W: 500, H: 280}}})
		return p, err
	}
	asked := 0
	make1 := in.Picture
	in.Picture = func(ctx context.Context, id string, width int) (picture.File, error) {
		asked = width
		return make1(ctx, id, width)
	}
	require.NoError(t, pdf.Format{}.Write(t.Context(), io.Discard, in, outputtest.Options))
	assert.Equal(t, 500*style.Usual/72, asked)
}

package pdf_test

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/page"
	"raconte/core/scene"
	"raconte/core/style"
	"raconte/output"
	"raconte/output/bundle"
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

// writing is a PDF with what is chosen of it.
func writing(t *testing.T, d document.Document, o output.PDF) []byte {
	var buf bytes.Buffer
	options := outputtest.Options
	options.PDF = o
	require.NoError(t, pdf.Format{}.Write(t.Context(), &buf, outputtest.Input(d), options))
	return buf.Bytes()
}

func TestAPasswordClosesAFileAndWhatIsForbiddenIsSaid(t *testing.T) {
	d := outputtest.Document(3, "Scan the bin card")
	closed := writing(t, d, output.PDF{Seal: output.Seal{Password: "gehéim (1", NoPrint: true, NoCopy: true}})
	assert.NotContains(t, string(closed), "Lots & rooms")
	path := filepath.Join(t.TempDir(), "closed.pdf")
	require.NoError(t, os.WriteFile(path, closed, 0o600))
	assert.Error(t, exec.Command("pdftotext", path, "-").Run())
	assert.Contains(t, poppler(t, "pdftotext", closed, "-upw", "gehéim (1"), "Scan the bin card 3.")
	info := poppler(t, "pdfinfo", closed, "-upw", "gehéim (1")
	assert.Regexp(t, `Title:\s+Lots & rooms`, info)
	assert.Contains(t, info, "print:no copy:no change:no")
	assert.Contains(t, info, "AES-256")
	said := poppler(t, "qpdf", closed, "--check", "--password=gehéim (1")
	assert.Contains(t, said, "No syntax or stream encoding errors")
	assert.Contains(t, said, "extract for accessibility: allowed", "it can be read out")
	open := poppler(t, "pdfinfo", writing(t, d, output.PDF{Seal: output.Seal{NoPrint: true}}))
	assert.Contains(t, open, "print:no copy:yes")
}

func TestABookletIsInTheOrderInWhichItIsFolded(t *testing.T) {
	d := outputtest.Document(30, "Carry bin")
	sheets := poppler(t, "pdftotext", outputtest.Write(t, pdf.Format{}, d))
	pages := strings.Count(sheets, "\f")
	require.Greater(t, pages, 4)
	booklet := writing(t, d, output.PDF{Booklet: true})
	info := poppler(t, "pdfinfo", booklet)
	assert.Regexp(t, `Page size:\s+1190.56 x 841.89 pts`, info)
	assert.Regexp(t, `Tagged:\s+yes`, info)
	assert.Contains(t, poppler(t, "qpdf", booklet, "--check"), "No syntax or stream encoding errors")
	sides := strings.Split(poppler(t, "pdftotext", booklet, "-layout"), "\f")
	whole := (pages + 3) / 4 * 4
	assert.Len(t, sides, whole/2+1)
	on := func(side string, page int) int { return strings.Index(side, fmt.Sprintf("Page %d of %d", page, pages)) }
	for side := range whole / 2 {
		left, right := whole-side, side+1
		if side%2 == 1 {
			left, right = right, left
		}
		for _, page := range []int{left, right} {
			assert.Equal(t, page <= pages, on(sides[side], page) >= 0, "page %d on side %d", page, side)
		}
		if left <= pages && right <= pages {
			assert.Less(t, on(sides[side], left), on(sides[side], right))
		}
	}
}

func TestTheBundleIsInTheFile(t *testing.T) {
	data := writing(t, outputtest.Document(2, "x"), output.PDF{Attached: true})
	assert.Contains(t, poppler(t, "qpdf", data, "--check"), "No syntax or stream encoding errors")
	dir := t.TempDir()
	path := filepath.Join(dir, "in.pdf")
	require.NoError(t, os.WriteFile(path, data, 0o600))
	out, err := exec.Command("pdfdetach", "-saveall", "-o", dir, path).CombinedOutput()
	require.NoError(t, err, string(out))
	file, err := os.Open(filepath.Join(dir, "document.bundle"))
	require.NoError(t, err)
	defer file.Close()
	info, err := file.Stat()
	require.NoError(t, err)
	b, err := bundle.Open(t.Context(), file, info.Size())
	require.NoError(t, err)
	assert.Len(t, b.Document.Blocks, 2)
}

package pdf_test

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/draw"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/page"
	"raconte/core/words"
	"raconte/fonts"
	"raconte/output"
	"raconte/output/pdf"
	"raconte/output/picture"
	"raconte/raster"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func job(t *testing.T, n int, text string) pdf.Job {
	fonts.Register()
	d := document.Document{ID: "d", Kind: document.Procedure, Title: "Lots & rooms"}
	for i := range n {
		d.Steps = append(d.Steps, document.Step{ID: fmt.Sprint(i), Words: words.Plain(fmt.Sprintf("%s %d.", text, i+1)),
			Figures: []figure.Figure{{ID: fmt.Sprint("f", i), Shot: "s"}}})
	}
	pages, err := output.Pages(t.Context(), d, map[string]figure.Size{"s": {W: 1600, H: 900}}, output.Edition{Layout: page.FourSteps, State: "Draft", Address: "http://127.0.0.1:1/d/d"})
	require.NoError(t, err)
	return pdf.Job{Pages: pages, Title: d.Title, Made: time.Unix(1_800_000_000, 0), Picture: func(_ context.Context, _ string, width int) (picture.File, error) {
		img := image.NewRGBA(image.Rect(0, 0, width, width*9/16))
		draw.Draw(img, img.Rect, image.White, image.Point{}, draw.Src)
		return picture.Encode(img, "image/jpeg", raster.Quick)
	}}
}

func write(t *testing.T, j pdf.Job) []byte {
	var buf bytes.Buffer
	require.NoError(t, pdf.Write(context.Background(), &buf, j))
	return buf.Bytes()
}

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

func TestPagesPicturesAndTextAreThere(t *testing.T) {
	data := write(t, job(t, 9, "Scan the bin card"))
	info := poppler(t, "pdfinfo", data)
	assert.Regexp(t, `Title:\s+Lots & rooms`, info)
	assert.Regexp(t, `Pages:\s+3`, info)
	assert.Regexp(t, `Page size:\s+595.28 x 841.89 pts \(A4\)`, info)
	assert.Equal(t, 9, strings.Count(poppler(t, "pdfimages", data, "-list"), "jpeg"))
	assert.Contains(t, poppler(t, "pdftotext", data), "Scan the bin card 9.")
}

func TestTheSameDocumentGivesTheSameBytes(t *testing.T) {
	assert.True(t, bytes.Equal(write(t, job(t, 3, "x")), write(t, job(t, 3, "x"))))
}

func TestTextBeyondTheBasicPlaneDoesNotBreakThePDF(t *testing.T) {
	out := poppler(t, "pdftotext", write(t, job(t, 1, "Well done 😀 温度")))
	assert.Contains(t, out, "Well done")
	assert.Contains(t, out, "温度")
}

func TestProgressIsToldAndACancelEndsTheWork(t *testing.T) {
	j := job(t, 12, "x")
	var most atomic.Int64
	j.Progress = func(done, all int) {
		assert.Equal(t, 12, all)
		most.Store(max(most.Load(), int64(done)))
	}
	write(t, j)
	assert.EqualValues(t, 12, most.Load())

	ctx, cancel := context.WithCancel(context.Background())
	j.Picture = func(ctx context.Context, _ string, _ int) (picture.File, error) {
		cancel()
		return picture.File{}, ctx.Err()
	}
	assert.ErrorIs(t, pdf.Write(ctx, &bytes.Buffer{}, j), context.Canceled)
	broken := errors.New("the disk is gone")
	j.Picture = func(context.Context, string, int) (picture.File, error) { return picture.File{}, broken }
	assert.ErrorIs(t, pdf.Write(context.Background(), &bytes.Buffer{}, j), broken)
}

// Package outputtest is the suite that every format must pass.
package outputtest

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"image"
	"image/draw"
	"io"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"raconte/core/capture"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/page"
	"raconte/core/scene"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/words"
	"raconte/engines/fonts"
	"raconte/engines/raster"
	"raconte/output"
	"raconte/output/picture"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Options are those that the suite writes with.
var Options = output.Options{Layout: style.Running}

// Shot is the file of the one shot that the suite's documents show: 160 by 90 white pixels.
var Shot = func() []byte {
	var buf bytes.Buffer
	if err := raster.EncodePNG(&buf, white(160, 90), raster.Quick); err != nil {
		panic(err)
	}
	return buf.Bytes()
}()

// Sum is the SHA-256 of Shot.
func Sum() string {
	sum := sha256.Sum256(Shot)
	return hex.EncodeToString(sum[:])
}

func white(w, h int) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, max(w, 1), max(h, 1)))
	draw.Draw(img, img.Rect, image.White, image.Point{}, draw.Src)
	return img
}

var made sync.Map

// finished is a white picture, made once for each width.
func finished(width int) (picture.File, error) {
	if f, there := made.Load(width); there {
		return f.(picture.File), nil
	}
	f, err := picture.Encode(white(width, width*9/16), "image/jpeg", raster.Quick)
	made.Store(width, f)
	return f, err
}

// Document is a procedure of n steps that say text and their number; each shows a picture with a marker.
func Document(n int, text string) document.Document {
	d := document.Document{ID: "d", Kind: document.Procedure, Facts: document.Facts{Title: "Lots & rooms"}, Blocks: []document.Block{}}
	for i := range n {
		marker := figure.Mark{ID: fmt.Sprint("m", i), Kind: figure.Marker, Points: []scene.Point{{X: 20, Y: 20}}, Style: figure.Style{Ink: "red", Weight: figure.Medium}}
		d.Blocks = append(d.Blocks, document.NewStep(fmt.Sprint("s", i), words.Plain(fmt.Sprintf("%s %d.", text, i+1)),
			figure.Figure{ID: fmt.Sprint("f", i), Shot: Sum(), Marks: []figure.Mark{marker}}))
	}
	return d
}

func titled(title string) document.Document {
	d := Document(1, "Scan")
	d.Facts.Title = title
	return d
}

// Input is what a format is given of a document.
func Input(d document.Document) output.Input {
	told := story.Of(d, nil, nil)
	e := output.Edition{Style: style.Default(), Address: "http://127.0.0.1:1/d/d"}
	return output.Input{
		Story: told, Edition: e, Made: time.Unix(1_800_000_000, 0), Progress: func(int, int) {},
		Pages: func(ctx context.Context, layout style.Layout) (page.Pages, error) {
			return e.Pages(ctx, told, map[string]figure.Size{Sum(): {W: 160, H: 90}}, layout)
		},
		Picture: func(_ context.Context, _ string, width int) (picture.File, error) {
			return finished(width)
		},
		Whole: output.Whole{Document: d, Shot: func(context.Context, string) (output.Shot, error) {
			about := &capture.About{Source: "practice"}
			return output.Shot{Data: io.NopCloser(bytes.NewReader(Shot)), Type: "image/png", Name: "a.png", About: about}, nil
		}},
	}
}

// Write is the file that a format makes of a document.
func Write(t testing.TB, f output.Format, d document.Document) []byte {
	t.Helper()
	var buf bytes.Buffer
	require.NoError(t, f.Write(context.Background(), &buf, Input(d), Options))
	return buf.Bytes()
}

// Run checks a format; said is the text of one of its files, as a second program reads it.
func Run(t *testing.T, f output.Format, said func(t *testing.T, data []byte) string) {
	fonts.Register()
	t.Run("it says what it is", func(t *testing.T) {
		about := f.About()
		for _, s := range []string{about.Name, about.Title, about.Extension, about.MediaType} {
			assert.NotEmpty(t, s)
		}
		assert.Contains(t, about.MediaType, "/")
	})
	t.Run("nasty documents", func(t *testing.T) {
		odd := words.Node{Type: "doc", Content: []words.Node{
			{Type: "bulletList", Content: []words.Node{{Type: "listItem", Content: []words.Node{{Type: "paragraph"}}}}},
			{Type: "paragraph", Content: []words.Node{{Type: "markerRef", Attrs: &words.Attrs{Mark: "gone"}}, {Type: "text", Text: "odd", Marks: []words.Style{{Type: "keycap"}}}}},
		}}
		parts := Document(3, "Scan the card")
		parts.Facts.Counting = document.Anew
		parts.Blocks = slices.Insert(parts.Blocks, 1, document.NewSection("part2", 2, words.Plain("In the cold room")), document.NewSection("part1", 1, words.Plain("")))
		warned := Document(2, "Open the valve")
		warned.Facts.Notice = &document.Notice{Signal: document.Damage, Hazard: "Labels tear when wet.", Avoid: "Dry your hands."}
		warned.Blocks[1].Notice = &document.Notice{Signal: document.Danger, Hazard: "Ammonia is poisonous.", Consequence: strings.Repeat("It burns the lungs. ", 10), Avoid: "Wear the mask."}
		leading := Document(2, "Lift the bin")
		leading.Blocks[0].Document, leading.Blocks[0].Critical = "other", true
		leading.Blocks[0].Beside = []document.WebLink{{Address: "https://films.example/lift?a=1&b=2", Title: "Lifting <b>", Film: true}}
		leading.Blocks[1].Words = words.Node{Type: "doc", Content: []words.Node{
			{Type: "paragraph", Content: []words.Node{{Type: "text", Text: "Back to "}, {Type: "reference", Attrs: &words.Attrs{Kind: words.ToStep, To: "s0"}}}},
			{Type: "paragraph", Content: []words.Node{{Type: "reference", Attrs: &words.Attrs{Kind: words.ToDocument, To: "gone"}}}},
		}}
		cell := func(kind, said string) words.Node {
			return words.Node{Type: kind, Content: words.Plain(said).Content}
		}
		tabled := Document(1, "Weigh it")
		tabled.Blocks = slices.Insert(tabled.Blocks, 0, document.NewPassage("p", words.Node{Type: "doc", Content: []words.Node{{Type: "table", Content: []words.Node{
			{Type: "tableRow", Content: []words.Node{cell("tableHeader", "Fruit"), cell("tableHeader", "Most")}},
			{Type: "tableRow", Content: []words.Node{cell("tableCell", strings.Repeat("Apples and pears ", 30)), cell("tableCell", "400 kg"), cell("tableCell", "")}},
			{Type: "tableRow", Content: []words.Node{{Type: "tableCell"}}},
		}}}}))
		manual := document.Document{ID: "m", Kind: document.Manual, Facts: document.Facts{Title: "Lots & rooms"}, Blocks: []document.Block{
			document.NewPassage("p", words.Plain("Welcome to the dock")), {ID: "c", Content: document.Content{Type: document.Chapter, Document: "other", Words: words.Plain("Receive")}},
		}}
		bare := Document(1, "x")
		bare.Blocks = []document.Block{document.NewStep("a", odd), document.NewStep("b", words.Plain(""))}
		for name, c := range map[string]struct {
			d     document.Document
			wants string
		}{
			"nothing in it":             {Document(0, ""), "Lots & rooms"},
			"what leads elsewhere":      {leading, "Lift the bin 1."},
			"tables in passages":        {tabled, "400 kg"},
			"a manual":                  {manual, "Welcome to the dock"},
			"notices":                   {warned, "Ammonia is poisonous."},
			"sections":                  {parts, "In the cold room"},
			"one step":                  {Document(1, "Scan the card"), "Scan the card 1."},
			"many steps":                {Document(130, "Scan the card"), "Scan the card 130."},
			"no picture, odd words":     {bare, "odd"},
			"markup in the words":       {Document(1, `<b>&amp;</b> ]]> \ % "`), "<b>&amp;</b>"},
			"a word without end":        {Document(1, strings.Repeat("W", 5000)), "WWW"},
			"other scripts":             {Document(1, "Grüße 温度"), "温度"},
			"beyond the basic plane":    {Document(1, "Well done 😀"), "Well done"},
			"characters without a look": {Document(1, "a\u200bb\u202ec\ufffe\x01"), "Lots"},
			"right to left":             {Document(2, "امسح البطاقة ثم اضغط Enter"), "البطاقة"},
			"a title of odd parts":      {titled(`--- "# 1. <i>`), "Scan"},
		} {
			t.Run(name, func(t *testing.T) {
				data := Write(t, f, c.d)
				assert.Contains(t, said(t, data), c.wants)
				assert.Equal(t, data, Write(t, f, c.d), "the same document gives the same bytes")
			})
		}
	})
	t.Run("every step once and in order", func(t *testing.T) {
		text, at := said(t, Write(t, f, Document(40, "Carry bin"))), 0
		if f.About().Name == "pictures" {
			return // what steps say stands shortened there
		}
		for i := range 40 {
			want := fmt.Sprintf("Carry bin %d.", i+1)
			found := strings.LastIndex(text, want) // where there are contents, these come first
			require.GreaterOrEqual(t, found, at, want)
			at = found
		}
	})
	t.Run("progress grows to the end", func(t *testing.T) {
		in := Input(Document(12, "x"))
		var most, all atomic.Int64
		in.Progress = func(done, of int) {
			most.Store(max(most.Load(), int64(done)))
			all.Store(int64(of))
		}
		require.NoError(t, f.Write(t.Context(), io.Discard, in, Options))
		assert.Equal(t, all.Load(), most.Load())
		assert.Positive(t, all.Load())
	})
	t.Run("it ends soon after nobody waits any more", func(t *testing.T) {
		ctx, cancel := context.WithCancel(t.Context())
		in := Input(Document(400, "x"))
		got := atomic.Int64{}
		finish, shot := in.Picture, in.Whole.Shot
		in.Picture = func(ctx context.Context, id string, width int) (picture.File, error) {
			if got.Add(1) == 3 {
				cancel()
			}
			return finish(ctx, id, width)
		}
		in.Whole.Shot = func(ctx context.Context, sha string) (output.Shot, error) {
			cancel()
			return shot(ctx, sha)
		}
		assert.ErrorIs(t, f.Write(ctx, io.Discard, in, Options), context.Canceled)
		assert.Less(t, got.Load(), int64(20))
	})
	t.Run("what fails is said, and not written around", func(t *testing.T) {
		broken := errors.New("the disk is gone")
		in := Input(Document(3, "x"))
		in.Picture = func(context.Context, string, int) (picture.File, error) { return picture.File{}, broken }
		in.Whole.Shot = func(context.Context, string) (output.Shot, error) { return output.Shot{}, broken }
		assert.ErrorIs(t, f.Write(t.Context(), io.Discard, in, Options), broken)
		assert.ErrorIs(t, f.Write(t.Context(), failing{broken}, Input(Document(3, "x")), Options), broken)
	})
}

// failing is a place that can't be written to.
type failing struct{ err error }

func (f failing) Write([]byte) (int, error) { return 0, f.err }

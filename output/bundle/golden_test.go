package bundle

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"strings"
	"testing"

	"raconte/core/capture"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/id"
	"raconte/core/scene"
	"raconte/core/words"
	"raconte/output"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestBundlesOfEveryEarlierVersionOpenWhole reads files that earlier Racontes have written.
func TestBundlesOfEveryEarlierVersionOpenWhole(t *testing.T) {
	for version := 1; version < Version; version++ {
		data, err := os.ReadFile(fmt.Sprintf("testdata/format%d.bundle", version))
		require.NoError(t, err)
		b, err := read(data)
		require.NoError(t, err, "version %d", version)
		d := b.Document
		assert.Equal(t, "Answer a temperature alarm", d.Facts.Title)
		require.Len(t, d.Blocks, 2)
		assert.Contains(t, d.Blocks[0].Words.Reading(nil), "When the siren sounds, open Alarms")
		marks := 0
		for _, s := range d.Blocks {
			assert.True(t, id.Valid(s.ID), "an id of any bytes has become one: %s", s.ID)
			require.Len(t, s.Figures, 1)
			assert.True(t, id.Valid(s.Figures[0].ID))
			marks += len(s.Figures[0].Marks)
			about := b.Shots[s.Figures[0].Shot].About
			require.NotNil(t, about, "what is known of the capture")
			assert.NotEmpty(t, about.Elements)
		}
		assert.Greater(t, marks, 2)
		for _, ref := range d.Blocks[0].Words.References() {
			assert.GreaterOrEqual(t, d.Blocks[0].Figures[0].Find(ref), 0, "words still refer to their markers")
		}
		again := export(t, b)
		b2, err := read(again)
		require.NoError(t, err)
		assert.Equal(t, d, b2.Document, "and it comes back from today's format")
		assert.Equal(t, b.Shots[d.Blocks[0].Figures[0].Shot].About, b2.Shots[d.Blocks[0].Figures[0].Shot].About)
	}
}

func export(t *testing.T, b *Bundle) []byte {
	var buf bytes.Buffer
	require.NoError(t, Format{}.Write(t.Context(), &buf, output.Input{
		Progress: func(int, int) {}, Whole: output.Whole{Document: b.Document, Shot: func(_ context.Context, sha string) (output.Shot, error) {
			data, err := b.Shot(sha)
			return output.Shot{Data: io.NopCloser(bytes.NewReader(data)), Type: "image/png", Name: b.Shots[sha].Name, About: b.Shots[sha].About}, err
		}},
	}, output.Options{}))
	return buf.Bytes()
}

// TestWhatIsAtItsLimitsComesBack exports documents that are as large as documents may be, and imports them.
func TestWhatIsAtItsLimitsComesBack(t *testing.T) {
	about := &capture.About{Source: "practice"}
	for i := range 20 {
		about.Elements = append(about.Elements, capture.Element{Name: fmt.Sprint("Element ", i), Role: "button", Rect: scene.Rect{W: 9, H: 9}})
	}
	bySum := map[string]string{}
	many := document.Document{ID: "many", Kind: document.Procedure, Facts: document.Facts{Title: strings.Repeat("T", document.LongestTitle)}}
	for i := range document.MostBlocks {
		s := document.NewStep(fmt.Sprint("s", i), words.Plain("Do it"))
		for j := range document.MostShots / document.MostBlocks {
			pixels := fmt.Sprint(i, "-", j)
			bySum[sum(pixels)] = pixels
			s.Figures = append(s.Figures, figure.Figure{ID: "f" + pixels, Shot: sum(pixels), Marks: []figure.Mark{}})
		}
		many.Blocks = append(many.Blocks, s)
	}
	heavy := document.Document{ID: "heavy", Kind: document.Procedure, Facts: document.Facts{Title: "Heavy"}}
	content := 0
	for n := 0; ; n++ {
		f := figure.Figure{ID: fmt.Sprint("f", n), Shot: sum("x"), Marks: []figure.Mark{}}
		for m := range 12 {
			pen := figure.Mark{ID: fmt.Sprint("m", m), Kind: figure.Pen, Style: figure.Style{Ink: "red", Weight: figure.Fine}}
			for i := range figure.MostPoints {
				pen.Points = append(pen.Points, scene.Point{X: float64(i%300) + 0.125, Y: float64(i%170) + 0.375})
			}
			f.Marks = append(f.Marks, pen)
		}
		s := document.NewStep(fmt.Sprint("s", n), words.Plain(strings.Repeat("wide ", 4000)), f)
		raw := stored(t, s.Content)
		require.Less(t, raw, document.MostBlock)
		if content += raw; content > document.MostContent {
			break
		}
		heavy.Blocks = append(heavy.Blocks, s)
	}
	for _, d := range []document.Document{many, heavy} {
		require.NoError(t, d.Check(), d.ID)
		var buf bytes.Buffer
		require.NoError(t, Format{}.Write(t.Context(), &buf, output.Input{
			Progress: func(int, int) {}, Whole: output.Whole{Document: d, Shot: func(_ context.Context, sha string) (output.Shot, error) {
				data, ok := bySum[sha]
				if !ok {
					data = "x"
				}
				return output.Shot{Data: io.NopCloser(strings.NewReader(data)), Type: "image/png", About: about}, nil
			}},
		}, output.Options{}))
		b, err := read(buf.Bytes())
		require.NoError(t, err, d.ID)
		assert.Equal(t, d, b.Document, d.ID)
	}
}

func stored(t *testing.T, c document.Content) int {
	raw, err := json.Marshal(document.Store(c))
	require.NoError(t, err)
	return len(raw)
}

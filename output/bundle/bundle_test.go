package bundle

import (
	"archive/zip"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"strings"
	"testing"

	"raconte/core/capture"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/words"
	"raconte/output"
	"raconte/output/outputtest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func sum(data string) string {
	h := sha256.Sum256([]byte(data))
	return hex.EncodeToString(h[:])
}

const pixels = "not really a picture, and the bundle does not mind"

func sample() document.Document {
	return document.Document{ID: "d", Kind: document.Procedure, Facts: document.Facts{Title: "Grüße"}, Blocks: []document.Block{
		document.NewStep("a", words.Plain("Do"), figure.Figure{
			ID: "f", Shot: sum(pixels), Alt: "x", Crop: &scene.Rect{X: 1, Y: 2, W: 3, H: 4},
			Marks: []figure.Mark{{ID: "m", Kind: figure.Marker, Points: []scene.Point{{X: 1, Y: 2}}, Style: figure.Style{Ink: "red", Weight: figure.Fine}, Turn: 3}},
		}),
		{ID: "b", Content: document.Content{Type: document.Step, Words: words.Plain(""), Figures: []figure.Figure{}}},
	}}
}

func written(t testing.TB) []byte {
	var buf bytes.Buffer
	require.NoError(t, Format{}.Write(context.Background(), &buf, output.Input{
		Progress: func(int, int) {}, Whole: output.Whole{Document: sample(), Shot: func(context.Context, string) (output.Shot, error) {
			about := &capture.About{Source: "practice", Action: &capture.Action{Kind: capture.Click}}
			return output.Shot{Data: io.NopCloser(strings.NewReader(pixels)), Type: "image/png", Name: "a.png", About: about}, nil
		}},
	}, output.Options{}))
	return buf.Bytes()
}

func TestBundleIsAFormat(t *testing.T) {
	outputtest.Run(t, Format{}, func(t *testing.T, data []byte) string {
		b, err := read(data)
		require.NoError(t, err)
		said := b.Document.Facts.Title
		for _, block := range b.Document.Blocks {
			if block.Notice != nil {
				said += "\n" + strings.Join(block.Notice.Lines(), "\n")
			}
			said += "\n" + block.Words.Reading(nil)
		}
		return said
	})
}

func read(data []byte) (*Bundle, error) {
	return Open(context.Background(), bytes.NewReader(data), int64(len(data)))
}

func TestABundleIsWholeAndTheSameEachTime(t *testing.T) {
	data := written(t)
	assert.Equal(t, data, written(t))
	b, err := read(data)
	require.NoError(t, err)
	assert.Equal(t, sample(), b.Document)
	got, err := b.Shot(sum(pixels))
	require.NoError(t, err)
	assert.Equal(t, pixels, string(got))
	assert.Equal(t, "a.png", b.Shots[sum(pixels)].Name)
}

// rebuilt is the sample's bundle with its files changed.
func rebuilt(t *testing.T, change func(files map[string]string)) []byte {
	z, err := zip.NewReader(bytes.NewReader(written(t)), int64(len(written(t))))
	require.NoError(t, err)
	files := map[string]string{}
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		data, err := io.ReadAll(r)
		require.NoError(t, err)
		files[f.Name] = string(data)
	}
	change(files)
	var buf bytes.Buffer
	w := zip.NewWriter(&buf)
	for name, data := range files {
		f, err := w.Create(name)
		require.NoError(t, err)
		_, err = f.Write([]byte(data))
		require.NoError(t, err)
	}
	require.NoError(t, w.Close())
	return buf.Bytes()
}

func TestAShotThatNoDocumentUsesStaysOut(t *testing.T) {
	other := sum("another")
	b, err := read(rebuilt(t, func(files map[string]string) {
		files["shots/"+other+".png"] = "another"
		var doc map[string]any
		require.NoError(t, json.Unmarshal([]byte(files["document.json"]), &doc))
		shots := doc["shots"].(map[string]any)
		shots[other] = shots[sum(pixels)]
		changed, err := json.Marshal(doc)
		require.NoError(t, err)
		files["document.json"] = string(changed)
	}))
	require.NoError(t, err)
	assert.Len(t, b.Shots, 1)
	assert.Contains(t, b.Shots, sum(pixels))
}

func TestOpenRefusesWithTheReason(t *testing.T) {
	shot := "shots/" + sum(pixels) + ".png"
	edit := func(change func(doc map[string]any)) func(map[string]string) {
		return func(files map[string]string) {
			var doc map[string]any
			require.NoError(t, json.Unmarshal([]byte(files["document.json"]), &doc))
			change(doc)
			raw, err := json.Marshal(doc)
			require.NoError(t, err)
			files["document.json"] = string(raw)
		}
	}
	inner := func(doc map[string]any) map[string]any { return doc["documents"].([]any)[0].(map[string]any) }
	for name, c := range map[string]struct {
		change func(map[string]string)
		says   string
	}{
		"newer version":       {edit(func(d map[string]any) { d["version"] = document.Format + 1 }), "a newer one is needed"},
		"another format":      {edit(func(d map[string]any) { d["format"] = "other" }), "not a bundle of Raconte"},
		"no document":         {func(f map[string]string) { delete(f, "document.json") }, "lacks"},
		"document is no JSON": {func(f map[string]string) { f["document.json"] = "{" }, "not a bundle of Raconte"},
		"shot missing":        {func(f map[string]string) { delete(f, shot) }, "lacks"},
		"shot changed":        {func(f map[string]string) { f[shot] = "other" }, "not what its name promises"},
		"path outside":        {func(f map[string]string) { f["../../etc/passwd"] = "x" }, "does not belong"},
		"path inside":         {func(f map[string]string) { f["shots/../document.json"] = "x" }, "does not belong"},
		"file too many":       {func(f map[string]string) { f["readme.txt"] = "x" }, "does not belong"},
		"countless files": {func(f map[string]string) {
			for i := range mostEntries + 1 {
				f[fmt.Sprintf("shots/%064x.png", i)] = ""
			}
		}, "at most"},
		"a bomb":          {func(f map[string]string) { f["document.json"] = strings.Repeat(" ", mostJSON+1) }, "more than is allowed"},
		"shot not listed": {edit(func(d map[string]any) { d["shots"] = map[string]any{} }), "does not list"},
		"shot under a name": {edit(func(d map[string]any) {
			d["shots"].(map[string]any)[sum(pixels)].(map[string]any)["file"] = "shots/" + strings.Repeat("0", 64) + ".png"
		}), "another name"},
		"shot outside":   {edit(func(d map[string]any) { d["shots"].(map[string]any)[sum(pixels)].(map[string]any)["file"] = "../x" }), "not in order"},
		"title missing":  {edit(func(d map[string]any) { delete(inner(d), "facts") }), "not in order at /documents/0"},
		"steps are text": {edit(func(d map[string]any) { inner(d)["blocks"] = "many" }), "not in order at /documents/0/blocks"},
		"unknown mark": {edit(func(d map[string]any) {
			f := inner(d)["blocks"].([]any)[0].(map[string]any)["figures"].([]any)[0].(map[string]any)
			f["marks"].([]any)[0].(map[string]any)["kind"] = "bomb"
		}), "not in order at /documents/0/blocks/0/figures/0/marks/0"},
		"unsafe link": {edit(func(d map[string]any) {
			w := inner(d)["blocks"].([]any)[0].(map[string]any)["words"].(map[string]any)
			text := w["content"].([]any)[0].(map[string]any)["content"].([]any)[0].(map[string]any)
			text["marks"] = []any{map[string]any{"type": "link", "attrs": map[string]any{"href": "javascript:x"}}}
		}), "a link leads somewhere other"},
		"a step twice": {edit(func(d map[string]any) {
			steps := inner(d)["blocks"].([]any)
			inner(d)["blocks"] = append(steps, steps[1])
		}), "used twice"},
	} {
		t.Run(name, func(t *testing.T) {
			_, err := read(rebuilt(t, c.change))
			var refusal Refusal
			require.ErrorAs(t, err, &refusal)
			assert.Contains(t, refusal.Reason, c.says)
		})
	}
	data := written(t)
	for _, bad := range [][]byte{nil, []byte("PK"), data[:len(data)/2]} {
		_, err := read(bad)
		assert.ErrorAs(t, err, new(Refusal))
	}
}

func FuzzOpen(f *testing.F) {
	f.Add(written(f))
	f.Fuzz(func(t *testing.T, data []byte) {
		b, err := read(data)
		if err != nil {
			var refusal Refusal
			require.ErrorAs(t, err, &refusal)
			return
		}
		require.NoError(t, b.Document.Check())
	})
}

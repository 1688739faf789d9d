package pictures_test

import (
	"bytes"
	"context"
	"image"
	"image/color"
	"image/png"
	"log/slog"
	"raconte/core/access"
	"sync"
	"testing"
	"time"

	"raconte/blobs"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/words"
	"raconte/pictures"
	"raconte/store"
	"raconte/store/storetest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

func picture(t *testing.T, w, h int, c color.RGBA) []byte {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for i := range w * h {
		copy(img.Pix[4*i:], []byte{c.R, c.G, c.B, 255})
	}
	var buf bytes.Buffer
	require.NoError(t, png.Encode(&buf, img))
	return buf.Bytes()
}

func start(t *testing.T) (*pictures.Maker, *store.Store, *blobs.Bucket, store.Account) {
	s := storetest.Open(t)
	b, err := blobs.Open(ctx, "mem://")
	require.NoError(t, err)
	return pictures.New(s, b, slog.New(slog.DiscardHandler)), s, b, storetest.Account(t, s, "ines", access.Author)
}

func TestFinishedPicturesAreMadeOnceAndShowWhatTheyShould(t *testing.T) {
	m, _, b, a := start(t)
	_, err := m.Keep(ctx, pictures.Arrival{ID: "shot", Name: "a.png", Data: picture(t, 2000, 1000, color.RGBA{10, 200, 10, 255}), By: a.ID})
	require.NoError(t, err)
	f := figure.Figure{ID: "f", Shot: "shot", Crop: &scene.Rect{X: 100, Y: 100, W: 1000, H: 500}, Marks: []figure.Mark{{
		ID: "m", Kind: figure.Box, Style: figure.Style{Ink: "blue", Weight: figure.Strong}, Points: []scene.Point{{X: 300, Y: 300}, {X: 600, Y: 500}}}}}
	var group sync.WaitGroup
	var keys sync.Map
	for range 8 {
		group.Go(func() {
			file, err := m.Finished(ctx, f, 1, 0)
			assert.NoError(t, err)
			keys.Store(file.Key, file.Data)
		})
	}
	group.Wait()
	count := 0
	keys.Range(func(_, data any) bool {
		count++
		img, err := png.Decode(bytes.NewReader(data.([]byte)))
		require.NoError(t, err)
		assert.Equal(t, image.Pt(1000, 500), img.Bounds().Size())
		red, _, blue, _ := img.At(200, 300).RGBA()
		assert.Greater(t, blue, 2*red, "the box's left side, moved with the crop")
		return true
	})
	assert.Equal(t, 1, count)
	kept := 0
	require.NoError(t, b.Each(ctx, "renditions/", func(string, time.Time) error { kept++; return nil }))
	assert.Equal(t, 1, kept)

	small, err := m.Preview(ctx, "shot")
	require.NoError(t, err)
	cfg, err := png.DecodeConfig(bytes.NewReader(small.Data))
	require.NoError(t, err)
	assert.Equal(t, pictures.PreviewWidth, cfg.Width)
}

func TestSweepRemovesWhatNothingUsesAndNothingElse(t *testing.T) {
	m, s, b, a := start(t)
	for id, c := range map[string]color.RGBA{"used": {1, 1, 1, 255}, "unused": {2, 2, 2, 255}, "undone": {3, 3, 3, 255}} {
		_, err := m.Keep(ctx, pictures.Arrival{ID: id, Name: "", Data: picture(t, 10, 10, c), By: a.ID})
		require.NoError(t, err)
	}
	require.NoError(t, b.Put(ctx, "shots/stray", []byte("left by a crash")))
	d, err := s.Create(ctx, "T", a.ID)
	require.NoError(t, err)
	use := func(step, shot string) store.StepEdit {
		return store.StepEdit{ID: step, OrderKey: "00A00" + step, Content: store.Content{
			Words: words.Plain("x"), Figures: []figure.Figure{{ID: step, Shot: shot, Marks: []figure.Mark{}}}}}
	}
	_, err = s.Apply(ctx, d.ID, store.Change{ID: "1", Steps: []store.StepEdit{use("a", "used"), use("b", "undone")}}, a.ID)
	require.NoError(t, err)
	gone := use("b", "undone")
	gone.Base, gone.Removed = 1, true
	_, err = s.Apply(ctx, d.ID, store.Change{ID: "2", Steps: []store.StepEdit{gone}}, a.ID)
	require.NoError(t, err)

	there := func() (keys int) {
		require.NoError(t, b.Each(ctx, "shots/", func(string, time.Time) error { keys++; return nil }))
		return keys
	}
	require.NoError(t, m.Sweep(ctx, time.Now()))
	assert.Equal(t, 4, there(), "what is fresh stays: it may be on its way, or be wanted back")
	require.NoError(t, m.Sweep(ctx, time.Now().Add(48*time.Hour)))
	assert.Equal(t, 3, there(), "a blob without a row goes after a day")
	_, err = m.Original(ctx, "undone")
	assert.NoError(t, err)
	require.NoError(t, m.Sweep(ctx, time.Now().Add(40*24*time.Hour)))
	assert.Equal(t, 1, there(), "unused shots and those of removed steps go after a month")
	_, err = m.Original(ctx, "used")
	assert.NoError(t, err)
}

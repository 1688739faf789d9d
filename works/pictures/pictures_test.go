package pictures_test

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/words"
	"raconte/platform/blobs"
	"raconte/store"
	"raconte/store/storetest"
	"raconte/works"
	"raconte/works/pictures"

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
	require.NoError(t, b.Put(ctx, "shots/stray", strings.NewReader("left by a crash")))
	d, err := s.Documents.Create(ctx, document.Procedure, "T", "", a.ID)
	require.NoError(t, err)
	use := func(step, shot string) store.BlockEdit {
		b := document.NewStep(step, words.Plain("x"), figure.Figure{ID: step, Shot: shot, Marks: []figure.Mark{}})
		return store.BlockEdit{ID: step, OrderKey: "00A00" + step, Content: b.Content}
	}
	_, err = s.Documents.Apply(ctx, d.ID, store.Change{ID: "1", Blocks: []store.BlockEdit{use("a", "used"), use("b", "undone")}}, a.Viewer())
	require.NoError(t, err)
	gone := use("b", "undone")
	gone.Base, gone.Removed = 1, true
	_, err = s.Documents.Apply(ctx, d.ID, store.Change{ID: "2", Blocks: []store.BlockEdit{gone}}, a.Viewer())
	require.NoError(t, err)

	there := func() (keys int) {
		require.NoError(t, b.Each(ctx, "shots/", func(string, time.Time) error { keys++; return nil }))
		return keys
	}
	sweep := func(now time.Time) {
		require.NoError(t, (&works.Works{Store: s, Pictures: m}).Sweep(ctx, now))
	}
	sweep(time.Now())
	assert.Equal(t, 4, there(), "what is fresh stays: it may be on its way, or be wanted back")
	sweep(time.Now().Add(48 * time.Hour))
	assert.Equal(t, 3, there(), "a blob without a row goes after a day")
	_, err = m.Original(ctx, "undone")
	assert.NoError(t, err)
	sweep(time.Now().Add(40 * 24 * time.Hour))
	assert.Equal(t, 1, there(), "unused shots and those of removed steps go after a month")
	_, err = m.Original(ctx, "used")
	assert.NoError(t, err)
}

func TestAFailedComparisonLosesNoShot(t *testing.T) {
	m, s, b, a := start(t)
	session := "session"
	_, err := s.Captures.BeginCapture(ctx, session, "S", a.ID)
	require.NoError(t, err)
	first, err := m.Keep(ctx, pictures.Arrival{ID: "1", Data: picture(t, 20, 10, color.RGBA{1, 1, 1, 255}), By: a.ID, Capture: &session})
	require.NoError(t, err)
	require.NoError(t, b.Put(ctx, "shots/"+first.SHA256, strings.NewReader("gone bad")))
	fresh := pictures.New(s, b, slog.New(slog.DiscardHandler)) // knows no pixels of before
	second, err := fresh.Keep(ctx, pictures.Arrival{ID: "2", Data: picture(t, 20, 10, color.RGBA{2, 2, 2, 255}), By: a.ID, Capture: &session})
	require.NoError(t, err, "what is kept is confirmed")
	assert.Empty(t, second.Verdict)
	third, err := fresh.Keep(ctx, pictures.Arrival{ID: "3", Data: picture(t, 20, 10, color.RGBA{2, 2, 2, 255}), By: a.ID, Capture: &session})
	require.NoError(t, err)
	assert.EqualValues(t, "same", third.Verdict, "and those behind it are compared again")
}

// TestSweepingAndKeepingAtOnceLosesNoBlob brings stray blobs back in while they are swept.
func TestSweepingAndKeepingAtOnceLosesNoBlob(t *testing.T) {
	_, s, _, a := start(t)
	dir := t.TempDir()
	b, err := blobs.OpenFolder(ctx, dir)
	require.NoError(t, err)
	m := pictures.New(s, b, slog.New(slog.DiscardHandler))
	data := make([][]byte, 5)
	old := time.Now().Add(-48 * time.Hour)
	for i := range data {
		data[i] = picture(t, 6, 6, color.RGBA{uint8(i), 9, 9, 255})
		shot, err := m.Keep(ctx, pictures.Arrival{ID: fmt.Sprint("old", i), Data: data[i], By: a.ID})
		require.NoError(t, err)
		require.NoError(t, os.Chtimes(filepath.Join(dir, "shots", shot.SHA256), old, old))
	}
	// The database is asked, and knows of nobody who uses them; then they are brought in anew; then they are swept.
	require.NoError(t, m.SweepBlobs(ctx, "shots/", time.Now(), func(ctx context.Context, names []string) (map[string]bool, error) {
		assert.Len(t, names, len(data))
		for i := range data {
			_, err := m.Keep(ctx, pictures.Arrival{ID: fmt.Sprint("new", i), Data: data[i], By: a.ID})
			assert.NoError(t, err)
		}
		return nil, nil
	}))
	for i := range data {
		_, err := m.Original(ctx, fmt.Sprint("new", i))
		assert.NoError(t, err, "what was brought in has its file")
	}
	require.NoError(t, b.Put(ctx, "deliveries/cancelled", strings.NewReader("a PDF whose job was cancelled")))
	require.NoError(t, (&works.Works{Store: s, Pictures: m}).Sweep(ctx, time.Now().Add(48*time.Hour)))
	_, err = b.Get(ctx, "deliveries/cancelled")
	assert.ErrorIs(t, err, blobs.ErrNotFound)
}

func TestAllShotsOfAFigureAreWeighedAndNobodyStandsInAnothersWay(t *testing.T) {
	m, s, _, a := start(t)
	_, err := m.Keep(ctx, pictures.Arrival{ID: "base", Data: picture(t, 100, 60, color.RGBA{1, 1, 1, 255}), By: a.ID})
	require.NoError(t, err)
	f := figure.Figure{ID: "f", Shot: "base", Marks: []figure.Mark{}}
	for i := range 4 {
		name := fmt.Sprint("inset", i)
		_, err := m.Keep(ctx, pictures.Arrival{ID: name, Data: picture(t, 100, 60, color.RGBA{uint8(i), 7, 7, 255}), By: a.ID})
		require.NoError(t, err)
		_, err = s.SQL().Exec("UPDATE shots SET width = 10000, height = 4000 WHERE id = ?", name)
		require.NoError(t, err)
		f.Marks = append(f.Marks, figure.Mark{ID: name, Kind: figure.Inset, Shot: name, Points: []scene.Point{{X: 1, Y: 1}, {X: 9, Y: 9}}, Style: figure.Style{Ink: "red", Weight: figure.Fine}})
	}
	_, err = m.Finished(ctx, f, 1, 0)
	assert.ErrorContains(t, err, "161 megapixels", "it is refused before any of them is decoded")
	// One person fills their own queue; another does not wait behind it.
	mine, theirs := pictures.For(ctx, "me"), pictures.For(ctx, "them")
	var group sync.WaitGroup
	busy, end := context.WithCancel(mine)
	large := picture(t, 4000, 4000, color.RGBA{3, 3, 3, 255})
	for range 12 {
		group.Go(func() {
			for i := 0; busy.Err() == nil; i++ {
				_, _ = m.Keep(busy, pictures.Arrival{ID: fmt.Sprint("mine", i), Data: large, By: a.ID})
			}
		})
	}
	time.Sleep(300 * time.Millisecond)
	soon, late := context.WithTimeout(theirs, 5*time.Minute)
	defer late()
	_, err = m.Keep(soon, pictures.Arrival{ID: "theirs", Data: picture(t, 10, 10, color.RGBA{4, 4, 4, 255}), By: a.ID})
	assert.NoError(t, err)
	end()
	group.Wait()
}

package picture

import (
	"bytes"
	"context"
	"image"
	"image/color"
	"image/draw"
	_ "image/gif"
	"math/rand/v2"
	"testing"

	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/engines/raster"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "golang.org/x/image/webp"
)

func screen(w, h int) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{230, 236, 234, 255}), image.Point{}, draw.Src)
	draw.Draw(img, image.Rect(w/4, h/4, w/2, h/2), image.NewUniform(color.RGBA{30, 90, 80, 255}), image.Point{}, draw.Src)
	return img
}

func flat(t *testing.T, f figure.Figure, shots map[string]*image.RGBA, first, width int) *image.RGBA {
	t.Helper()
	img, err := Flatten(t.Context(), f.Still(first), shots, first, width)
	require.NoError(t, err)
	return img
}

func TestEveryFormatIsReadBack(t *testing.T) {
	img := screen(320, 200)
	clear := screen(320, 200)
	clear.SetRGBA(0, 0, color.RGBA{})
	for _, format := range []string{"png", "jpeg", "webp", "gif"} {
		file, err := As(img, format, 90)
		require.NoError(t, err, format)
		assert.Equal(t, Types[format], file.Type)
		back, _, err := image.Decode(bytes.NewReader(file.Data))
		require.NoError(t, err, format)
		r, g, b, _ := back.At(100, 70).RGBA()
		assert.InDelta(t, 30, r>>8, 3, format)
		assert.InDelta(t, 90, g>>8, 3, format)
		assert.InDelta(t, 80, b>>8, 3, format)
		file, err = As(clear, format, 90)
		require.NoError(t, err)
		back, _, err = image.Decode(bytes.NewReader(file.Data))
		require.NoError(t, err)
		r, _, _, a := back.At(0, 0).RGBA()
		assert.True(t, a == 0 || r>>8 > 240, "what is clear stays clear or is white in %s, never black", format)
	}
	_, err := As(img, "bmp", 90)
	assert.Error(t, err)
}

// noise is a picture that no encoder makes small.
func noise(w, h int) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	random := rand.New(rand.NewPCG(1, 2))
	for i := range img.Pix {
		img.Pix[i] = uint8(random.IntN(256))
		if i%4 == 3 {
			img.Pix[i] = 255
		}
	}
	return img
}

func TestTheSharpestRenditionThatFits(t *testing.T) {
	drawn := 0
	at := func(share float64) (*image.RGBA, error) {
		drawn++
		return noise(int(200*share), int(150*share)), nil
	}
	whole, err := Fit(at, 1_000_000, 0)
	require.NoError(t, err)
	assert.Equal(t, 1.0, whole.Share)
	assert.Equal(t, "image/png", whole.Type, "nothing is lost where nothing must be")
	smaller, err := Fit(at, 8_000, 0)
	require.NoError(t, err)
	assert.LessOrEqual(t, len(smaller.Data), 8_000)
	assert.Less(t, smaller.Share, 1.0)
	larger, err := Fit(at, 15_000, 0)
	require.NoError(t, err)
	assert.Greater(t, larger.Share*float64(len(larger.Data)), smaller.Share*float64(len(smaller.Data)), "more room is used")
	for _, sharper := range shares {
		if img, _ := at(sharper); sharper > larger.Share {
			least, err := As(img, "jpeg", 70)
			require.NoError(t, err)
			assert.Greater(t, len(least.Data), 15_000, "at %v of its width it would not have fitted", sharper)
		}
	}
	drawn = 0
	_, err = Fit(at, 8_000, 0.9)
	assert.ErrorIs(t, err, ErrTooLarge, "smaller could not be read")
	_, err = Fit(at, 100, 0)
	assert.ErrorIs(t, err, ErrTooLarge)
	assert.Equal(t, 1+2, drawn, "what fits at no scale is found out at once")
}

func TestNothingConcealedIsInAnyPixelAtAnyScale(t *testing.T) {
	secret := color.RGBA{255, 0, 200, 255}
	shot := screen(1000, 600)
	draw.Draw(shot, image.Rect(420, 280, 580, 320), image.NewUniform(secret), image.Point{}, draw.Src)
	before := append([]uint8(nil), shot.Pix...)
	mark := func(id string, kind figure.Kind, pts ...scene.Point) figure.Mark {
		return figure.Mark{ID: id, Kind: kind, Points: pts, Style: figure.Style{Ink: "dark", Weight: figure.Fine}}
	}
	p := func(x, y float64) scene.Point { return scene.Point{X: x, Y: y} }
	f := figure.Figure{ID: "f", Shot: "s", Marks: []figure.Mark{
		mark("c", figure.Concealment, p(580, 320), p(420, 280)), mark("l", figure.Detail, p(400, 260), p(600, 340), p(200, 480)),
	}}
	for _, tilt := range []float64{0, 7} {
		for _, width := range []int{0, 200, 17} {
			f.Tilt = tilt
			img := flat(t, f, map[string]*image.RGBA{"s": shot}, 1, width)
			for i := 0; i < len(img.Pix); i += 4 {
				r, g, b := int(img.Pix[i]), int(img.Pix[i+1]), int(img.Pix[i+2])
				require.False(t, r-g > 12 && b-g > 12, "tilted %v, %d wide: %d %d %d", tilt, width, r, g, b)
			}
		}
	}
	assert.Equal(t, before, shot.Pix, "the shot itself stays as it is")
}

func TestColoursBecomeOthersAndWhatIsConcealedDoesNot(t *testing.T) {
	ground, ink, soft := color.RGBA{240, 240, 236, 255}, color.RGBA{20, 90, 200, 255}, color.RGBA{30, 100, 210, 255}
	shot := image.NewRGBA(image.Rect(0, 0, 100, 60))
	fill := func(r image.Rectangle, c color.RGBA) {
		draw.Draw(shot, r, image.NewUniform(c), image.Point{}, draw.Src)
	}
	fill(shot.Rect, ground)
	fill(image.Rect(10, 10, 90, 20), ink) // a bar, of which the middle is concealed
	fill(image.Rect(10, 12, 12, 14), soft)
	fill(image.Rect(10, 40, 30, 50), ink) // another
	cover := figure.Mark{ID: "c", Kind: figure.Concealment, Points: []scene.Point{{X: 40, Y: 5}, {X: 60, Y: 25}}, Style: figure.Style{Ink: "blue", Weight: figure.Fine}}
	for name, c := range map[string]struct {
		r    scene.Recolour
		want map[image.Point]color.RGBA
	}{
		"all over": {scene.Recolour{From: "#145ac8", Near: 5, To: "#c81e14"}, map[image.Point]color.RGBA{
			{X: 20, Y: 15}: {200, 30, 20, 255}, {X: 11, Y: 13}: {210, 40, 30, 255}, {X: 80, Y: 15}: {200, 30, 20, 255}, {X: 20, Y: 45}: {200, 30, 20, 255}, {X: 5, Y: 5}: ground}},
		"where it hangs together, and not across what is concealed": {scene.Recolour{From: "#145ac8", Near: 5, At: &scene.Point{X: 20, Y: 15}}, map[image.Point]color.RGBA{
			{X: 20, Y: 15}: {}, {X: 80, Y: 15}: ink, {X: 20, Y: 45}: ink}},
		"no nearer than is said": {scene.Recolour{From: "#145ac8", To: "#c81e14"}, map[image.Point]color.RGBA{{X: 11, Y: 13}: soft, {X: 20, Y: 15}: {200, 30, 20, 255}}},
	} {
		f := figure.Figure{ID: "f", Shot: "s", Marks: []figure.Mark{cover}, View: figure.View{Recolours: []scene.Recolour{c.r}}}
		require.NoError(t, f.Check(), name)
		img := flat(t, f, map[string]*image.RGBA{"s": shot}, 1, 0)
		for p, want := range c.want {
			assert.Equal(t, want, img.RGBAAt(p.X, p.Y), "%s: %v", name, p)
		}
		f.Recolours = nil
		plain := flat(t, f, map[string]*image.RGBA{"s": shot}, 1, 0)
		assert.Equal(t, plain.RGBAAt(50, 15), img.RGBAAt(50, 15), "%s: the cover stays as it was", name)
	}
	assert.Equal(t, ink, shot.RGBAAt(20, 15), "the shot itself stays as it is")
	gone, cancel := context.WithCancel(t.Context())
	cancel()
	_, err := raster.Recoloured(gone, shot, []scene.Recolour{{From: "#145ac8", To: "#c81e14"}}, nil, 1)
	assert.ErrorIs(t, err, context.Canceled, "nobody waits for it any more")
	for _, bad := range []scene.Recolour{{From: "red"}, {From: "#145ac8", Near: 101}, {From: "#145ac8", To: "#xyz"}} {
		assert.Error(t, figure.Figure{ID: "f", Shot: "s", View: figure.View{Recolours: []scene.Recolour{bad}}}.Check())
	}
}

func TestAHostileFigureTakesNoMoreThanItsPicture(t *testing.T) {
	far := []scene.Point{{X: -9e4, Y: -9e4}, {X: 9e4, Y: 9e4}}
	f := figure.Figure{ID: "f", Shot: "s", Marks: []figure.Mark{
		{ID: "i", Kind: figure.Inset, Shot: "s", Points: far, Style: figure.Style{Ink: "red", Weight: figure.Fine}},
		{ID: "l", Kind: figure.Detail, Points: append(far, scene.Point{}), Style: figure.Style{Ink: "red", Weight: figure.Fine, Zoom: 1000}},
	}}
	require.NoError(t, f.Check())
	img := flat(t, f, map[string]*image.RGBA{"s": screen(300, 200)}, 1, 0)
	assert.Equal(t, image.Pt(300, 200), img.Rect.Size())
	wide := figure.Figure{ID: "w", Shot: "s", View: figure.View{Width: 16384}}
	size := flat(t, wide, map[string]*image.RGBA{"s": screen(100, 300)}, 1, 0).Rect.Size()
	assert.Less(t, size.X*size.Y, 81_000_000)
}

func TestASecondShotIsSetIn(t *testing.T) {
	green := image.NewRGBA(image.Rect(0, 0, 50, 50))
	draw.Draw(green, green.Rect, image.NewUniform(color.RGBA{0, 200, 0, 255}), image.Point{}, draw.Src)
	f := figure.Figure{ID: "f", Shot: "s", View: figure.View{Margin: &figure.Margin{Right: 120}, Width: 840}, Marks: []figure.Mark{
		{ID: "i", Kind: figure.Inset, Shot: "other", Points: []scene.Point{{X: 310, Y: 10}, {X: 410, Y: 110}}, Style: figure.Style{Ink: "red", Weight: figure.Fine}},
	}}
	img := flat(t, f, map[string]*image.RGBA{"s": screen(300, 200), "other": green}, 1, 0)
	assert.Equal(t, image.Pt(840, 400), img.Rect.Size(), "as wide as was asked")
	assert.Equal(t, color.RGBA{0, 200, 0, 255}, img.RGBAAt(720, 120))
	assert.Equal(t, color.RGBA{255, 255, 255, 255}, img.RGBAAt(720, 390), "beside it the margin is white")
}

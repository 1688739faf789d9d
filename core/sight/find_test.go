package sight

import (
	"image"
	"image/color"
	"math/rand"
	"testing"

	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// thing draws strokes that look like no other thing's, from a seed, in a place of 120 by 50 pixels and a size.
func thing(img *image.RGBA, seed int64, at image.Point, k float64, ink color.RGBA) {
	random := rand.New(rand.NewSource(seed))
	scaled := func(v int) int { return int(float64(v) * k) }
	for range 14 {
		x, y := random.Intn(100), random.Intn(42)
		w, h := 4+random.Intn(18), 3+random.Intn(5)
		fill(img, image.Rect(at.X+scaled(x), at.Y+scaled(y), at.X+scaled(x+w), at.Y+scaled(y+h)), ink)
	}
}

var dark = color.RGBA{40, 50, 60, 255}

func ground(c color.RGBA) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, 900, 600))
	fill(img, img.Rect, c)
	return img
}

// part is the place of a thing in a size of 1.
func part(at image.Point) scene.Rect {
	return scene.Rect{X: float64(at.X) - 4, Y: float64(at.Y) - 4, W: 128, H: 58}
}

func TestAThingIsFoundWhereverAndHoweverItIsShown(t *testing.T) {
	light := color.RGBA{244, 245, 243, 255}
	was := image.Pt(150, 120)
	before := ground(light)
	thing(before, 1, was, 1, dark)
	thing(before, 2, image.Pt(600, 400), 1, dark)
	from := Look(before)
	for name, c := range map[string]struct {
		at     image.Point
		k      float64
		ground color.RGBA
		ink    color.RGBA
		same   bool
	}{
		"as it was":       {was, 1, light, dark, true},
		"elsewhere":       {image.Pt(431, 333), 1, light, dark, true},
		"at the edge":     {image.Pt(2, 3), 1, light, dark, true},
		"in other colour": {image.Pt(300, 250), 1, color.RGBA{30, 34, 40, 255}, color.RGBA{220, 225, 230, 255}, false},
		"larger by half":  {image.Pt(240, 200), 1.5, light, dark, false},
		"a quarter more":  {image.Pt(240, 200), 1.25, light, dark, false},
	} {
		after := ground(c.ground)
		thing(after, 1, c.at, c.k, c.ink)
		thing(after, 3, image.Pt(700, 100), c.k, c.ink)
		now := Look(after)
		assert.Equal(t, c.k, now.ScaleOf(from, []scene.Rect{part(was)}), "%s: its scale", name)
		found := now.Find(from, part(was), c.k)
		require.NotEmpty(t, found, name)
		middle := part(was).Center().Minus(scene.Point{X: float64(was.X), Y: float64(was.Y)}).Times(c.k)
		assert.InDelta(t, float64(c.at.X)+middle.X, found[0].Center.X, 3, name)
		assert.InDelta(t, float64(c.at.Y)+middle.Y, found[0].Center.Y, 3, name)
		assert.Equal(t, c.same, found[0].Same, "%s: whether its pixels are the very same", name)
		assert.Greater(t, found[0].Own, 0.7, name)
	}
}

func TestWhatIsGoneIsNotLikeAnythingElse(t *testing.T) {
	before, after := ground(white), ground(white)
	thing(before, 1, image.Pt(150, 120), 1, dark)
	thing(after, 4, image.Pt(150, 120), 1, dark)
	thing(after, 5, image.Pt(500, 300), 1, dark)
	for _, f := range Look(after).Find(Look(before), part(image.Pt(150, 120)), 1) {
		assert.Less(t, f.Own, 0.7)
		assert.False(t, f.Same)
	}
	assert.Empty(t, Look(after).Find(Look(before), scene.Rect{X: 600, Y: 400, W: 100, H: 60}, 1), "an empty place has no looks")
	assert.Empty(t, Look(after).Find(Look(before), scene.Rect{X: 899, Y: 599, W: 50, H: 50}, 1), "nor has one outside")
}

func TestTheBusiestPartsAreThoseWithMostInThem(t *testing.T) {
	img := ground(white)
	thing(img, 1, image.Pt(150, 120), 1, dark)
	full, empty := part(image.Pt(150, 120)), scene.Rect{X: 500, Y: 400, W: 120, H: 50}
	assert.Equal(t, []scene.Rect{full}, Look(img).Busiest([]scene.Rect{empty, full}, 1))
}

// frame draws a window: an edge, a title bar, a ground.
func frame(img *image.RGBA, r image.Rectangle) {
	fill(img, r, dark)
	fill(img, r.Inset(1), white)
	fill(img, image.Rect(r.Min.X+1, r.Min.Y+1, r.Max.X-1, r.Min.Y+28), green)
}

func TestWindowsAreGuessedFromTheirEdges(t *testing.T) {
	img := ground(color.RGBA{70, 100, 110, 255})
	one, two := image.Rect(60, 50, 520, 400), image.Rect(300, 200, 850, 560)
	frame(img, one)
	frame(img, two) // lies over the first
	found := GuessWindows(img)
	near := func(want image.Rectangle) bool {
		for _, r := range found {
			d := r.Min.Sub(want.Min)
			e := r.Max.Sub(want.Max)
			if max(d.X, -d.X, d.Y, -d.Y, e.X, -e.X, e.Y, -e.Y) <= 2 {
				return true
			}
		}
		return false
	}
	assert.True(t, near(two), "the one in front: %v", found)
	assert.LessOrEqual(t, len(found), mostWindows)
	assert.Empty(t, GuessWindows(ground(white)), "a plain screen has none")
	assert.Empty(t, GuessWindows(image.NewRGBA(image.Rect(0, 0, 1, 1))))
}

func TestMonitorsAreToldByBandsOrByWidth(t *testing.T) {
	busy := func(img *image.RGBA, r image.Rectangle) {
		fill(img, r, color.RGBA{90, 120, 130, 255})
		for i := range 40 {
			fill(img, image.Rect(r.Min.X+i*9, r.Min.Y+i*5, r.Min.X+i*9+30, r.Min.Y+i*5+9), dark)
		}
	}
	wide := image.NewRGBA(image.Rect(0, 0, 3840, 1080))
	busy(wide, wide.Rect)
	assert.Equal(t, []image.Rectangle{image.Rect(0, 0, 1920, 1080), image.Rect(1920, 0, 3840, 1080)}, Monitors(wide))

	uneven := image.NewRGBA(image.Rect(0, 0, 3200, 1080)) // a lower one at the right, with an empty band below
	fill(uneven, uneven.Rect, black)
	busy(uneven, image.Rect(0, 0, 1920, 1080))
	busy(uneven, image.Rect(1920, 0, 3200, 1024))
	assert.Equal(t, []image.Rectangle{image.Rect(0, 0, 1920, 1080), image.Rect(1920, 0, 3200, 1024)}, Monitors(uneven))

	single := image.NewRGBA(image.Rect(0, 0, 1920, 1080))
	busy(single, single.Rect)
	assert.Nil(t, Monitors(single))
	assert.Nil(t, Monitors(image.NewRGBA(image.Rect(0, 0, 1, 1))))
}

// view is 200 by 160 pixels of a list that is scrolled: a head of 20 and a foot of 12 that stay, and rows.
func view(scrolled int) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, 200, 160))
	fill(img, img.Rect, white)
	for y := 20; y < 148; y++ {
		row := y - 20 + scrolled
		fill(img, image.Rect(10+row*7%90, y, 40+row*7%90+row*13%50, y+1), dark)
	}
	fill(img, image.Rect(0, 0, 200, 20), green)
	fill(img, image.Rect(0, 148, 200, 160), black)
	return img
}

func TestAScrolledListIsJoinedWithItsHeadAndFootOnce(t *testing.T) {
	long, err := Stitch([]*image.RGBA{view(0), view(60), view(60), view(155)})
	require.NoError(t, err)
	require.Equal(t, image.Pt(200, 160+155), long.Rect.Size(), "a picture with nothing new is left out")
	for row := range 128 + 155 {
		assert.Equal(t, dark, long.RGBAAt(10+row*7%90, 20+row), "row %d", row)
		if t.Failed() {
			return
		}
	}
	assert.Equal(t, green, long.RGBAAt(5, 19))
	assert.NotEqual(t, green, long.RGBAAt(150, 25))
	assert.Equal(t, black, long.RGBAAt(5, 314))

	_, err = Stitch([]*image.RGBA{view(0), view(60), view(900)})
	assert.Equal(t, NoOverlap{3}, err)
	_, err = Stitch([]*image.RGBA{view(0), ground(white)})
	assert.ErrorContains(t, err, "another size")
	_, err = Stitch(nil)
	assert.Error(t, err)
}

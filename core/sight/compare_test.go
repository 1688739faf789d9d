package sight

import (
	"image"
	"image/color"
	"image/draw"
	"testing"

	"github.com/stretchr/testify/assert"
)

func screen() *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, 640, 360))
	draw.Draw(img, img.Bounds(), image.NewUniform(color.RGBA{240, 242, 244, 255}), image.Point{}, draw.Src)
	return img
}

func fill(img *image.RGBA, r image.Rectangle, c color.RGBA) {
	draw.Draw(img, r, image.NewUniform(c), image.Point{}, draw.Src)
}

var (
	black = color.RGBA{0, 0, 0, 255}
	white = color.RGBA{255, 255, 255, 255}
	green = color.RGBA{47, 107, 82, 255}
)

// arrow draws a mouse pointer: white with a black edge, leaning to one side.
func arrow(img *image.RGBA, at image.Point) {
	for y := range 19 {
		w := min(y*2/3+1, 12)
		for x := range w {
			c := white
			if x == 0 || x == w-1 || y == 18 {
				c = black
			}
			img.SetRGBA(at.X+x, at.Y+y, c)
		}
	}
}

func TestCompare(t *testing.T) {
	box := func(img *image.RGBA, x, y int) {
		fill(img, image.Rect(x, y, x+14, y+14), black)
		fill(img, image.Rect(x+1, y+1, x+13, y+13), white)
	}
	tick := func(img *image.RGBA, x, y int) {
		for i := range 5 {
			img.SetRGBA(x+3+i, y+5+i, black)
			img.SetRGBA(x+7+i/2, y+9-i, black)
		}
	}
	dot := func(img *image.RGBA, x, y int) {
		fill(img, image.Rect(x, y, x+14, y+14), white)
		fill(img, image.Rect(x+2, y+2, x+12, y+12), black)
	}
	for name, c := range map[string]struct {
		before, after func(img *image.RGBA)
		want          Verdict
	}{
		"nothing":                      {func(*image.RGBA) {}, func(*image.RGBA) {}, Same},
		"the pointer moved":            {func(i *image.RGBA) { arrow(i, image.Pt(100, 80)) }, func(i *image.RGBA) { arrow(i, image.Pt(300, 200)) }, Pointer},
		"the caret blinked":            {func(i *image.RGBA) { fill(i, image.Rect(200, 100, 202, 118), black) }, func(*image.RGBA) {}, Pointer},
		"a box was ticked":             {func(i *image.RGBA) { box(i, 50, 50) }, func(i *image.RGBA) { box(i, 50, 50); tick(i, 50, 50) }, Changed},
		"another choice was made":      {func(i *image.RGBA) { dot(i, 50, 50) }, func(i *image.RGBA) { dot(i, 50, 90) }, Changed},
		"a tick moved to another box":  {func(i *image.RGBA) { box(i, 50, 50); box(i, 50, 90); tick(i, 50, 50) }, func(i *image.RGBA) { box(i, 50, 50); box(i, 50, 90); tick(i, 50, 90) }, Changed},
		"a thin line came, too wide":   {func(*image.RGBA) {}, func(i *image.RGBA) { fill(i, image.Rect(10, 10, 100, 12), black) }, Changed},
		"one pixel":                    {func(*image.RGBA) {}, func(i *image.RGBA) { i.SetRGBA(639, 359, black) }, Changed},
		"pointer moved and text came":  {func(i *image.RGBA) { arrow(i, image.Pt(100, 80)) }, func(i *image.RGBA) { arrow(i, image.Pt(300, 200)); fill(i, image.Rect(10, 300, 60, 310), green) }, Changed},
		"a plain square moved its way": {func(i *image.RGBA) { fill(i, image.Rect(10, 10, 30, 30), green) }, func(i *image.RGBA) { fill(i, image.Rect(80, 10, 100, 30), green) }, Changed},
	} {
		a, b := screen(), screen()
		c.before(a)
		c.after(b)
		assert.Equal(t, c.want, Compare(a, b).Verdict, name)
	}
}

func TestRectanglesAreFewAndTight(t *testing.T) {
	a, b := screen(), screen()
	fill(b, image.Rect(33, 41, 90, 60), green)
	fill(b, image.Rect(400, 300, 401, 301), green)
	assert.ElementsMatch(t, []image.Rectangle{image.Rect(33, 41, 90, 60), image.Rect(400, 300, 401, 301)}, Compare(a, b).Rectangles)

	for i := range 60 {
		fill(b, image.Rect(i%10*64, i/10*60, i%10*64+5, i/10*60+5), black)
	}
	got := Compare(a, b).Rectangles
	assert.LessOrEqual(t, len(got), mostRectangles)
	for i := range 60 {
		covered := false
		for _, r := range got {
			covered = covered || image.Rect(i%10*64, i/10*60, i%10*64+5, i/10*60+5).In(r)
		}
		assert.True(t, covered, "every difference lies in a rectangle")
	}
	assert.Equal(t, Changed, Compare(a, image.NewRGBA(image.Rect(0, 0, 641, 360))).Verdict)
}

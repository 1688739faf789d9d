package raster

import (
	"image"
	"image/color"
	"image/draw"
	"testing"

	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
)

// corners is a picture of four colours, one in each quarter, 40×20.
func corners() *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, 40, 20))
	for i, c := range []color.RGBA{{200, 0, 0, 255}, {0, 180, 0, 255}, {0, 0, 220, 255}, {240, 240, 0, 255}} {
		at := image.Pt(i%2*20, i/2*10)
		draw.Draw(img, image.Rect(0, 0, 20, 10).Add(at), image.NewUniform(c), image.Point{}, draw.Src)
	}
	return img
}

// quarters names the colours of a picture's quarters, clockwise from the top left.
func quarters(img *image.RGBA) string {
	s, b := "", img.Bounds()
	for _, p := range []image.Point{{b.Dx() / 4, b.Dy() / 4}, {b.Dx() * 3 / 4, b.Dy() / 4}, {b.Dx() * 3 / 4, b.Dy() * 3 / 4}, {b.Dx() / 4, b.Dy() * 3 / 4}} {
		switch c := img.RGBAAt(p.X, p.Y); {
		case c.R > 150 && c.G > 150:
			s += "y"
		case c.R > 150:
			s += "r"
		case c.G > 150:
			s += "g"
		default:
			s += "b"
		}
	}
	return s
}

func shown(m scene.Matrix, w, h float64, scale float64) *image.RGBA {
	s := scene.Scene{W: w, H: h, Items: []scene.Item{{Picture: &scene.Picture{Ref: "p", Target: scene.Rect{W: w, H: h}, Matrix: &m}}}}
	return Draw(s, scale, func(string) *image.RGBA { return corners() })
}

func TestPicturesAreTurnedAndMirroredPixelByPixel(t *testing.T) {
	assert.Equal(t, "rgyb", quarters(corners()))
	for name, c := range map[string]struct {
		m    scene.Matrix
		w, h float64
		want string
	}{
		"a quarter clockwise": {scene.Matrix{B: 1, C: -1, E: 20}, 20, 40, "brgy"},
		"half a turn":         {scene.Matrix{A: -1, D: -1, E: 40, F: 20}, 40, 20, "ybrg"},
		"mirrored":            {scene.Matrix{A: -1, D: 1, E: 40}, 40, 20, "grby"},
	} {
		img := shown(c.m, c.w, c.h, 1)
		assert.Equal(t, c.want, quarters(img), name)
		counts := map[color.RGBA]int{}
		for i := 0; i < len(img.Pix); i += 4 {
			counts[color.RGBA{img.Pix[i], img.Pix[i+1], img.Pix[i+2], img.Pix[i+3]}]++
		}
		assert.Len(t, counts, 4, "no colour is mixed: %s", name)
		assert.Equal(t, c.want, quarters(shown(c.m, c.w, c.h, 2.5)), "larger, %s", name)
	}
}

func TestATiltedPictureTurnsAboutItsMiddleOnWhite(t *testing.T) {
	m := scene.Stretch(1, scene.Point{X: -20, Y: -10}).Then(scene.Rotation(0.3)).Then(scene.Stretch(1, scene.Point{X: 20, Y: 10}))
	img := shown(m, 40, 20, 4)
	assert.Equal(t, color.RGBA{255, 255, 255, 255}, img.RGBAAt(1, 78), "what it does not reach is white")
	assert.Equal(t, "rgyb", quarters(img))
}

func TestTonesOfPixelsAreThoseOfColours(t *testing.T) {
	for _, tone := range []scene.Tone{{Look: scene.Grey}, {Look: scene.Mono}, {Look: scene.Inverted, Light: 30}, {Light: -50}} {
		s := scene.Scene{W: 40, H: 20, Items: []scene.Item{{Picture: &scene.Picture{Ref: "p", Target: scene.Rect{W: 40, H: 20}, Tone: tone}}}}
		img := Draw(s, 1, func(string) *image.RGBA { return corners() })
		got, want := img.RGBAAt(30, 5), tone.Apply(scene.Color{G: 180, A: 255})
		assert.Equal(t, color.RGBA{want.R, want.G, want.B, want.A}, got)
	}
}

func TestAClipIsClearOutsideAndBlendsKeepLettersDark(t *testing.T) {
	disc := scene.Disc(scene.Point{X: 10, Y: 10}, 8)
	s := scene.Scene{W: 20, H: 20, Items: []scene.Item{{Clip: &scene.Clip{Outline: disc, Items: []scene.Item{
		{Path: &scene.Path{Outline: scene.Rounded(scene.Rect{W: 20, H: 20}, 0), Fill: scene.Hex("#334455")}},
	}}}}}
	img := Draw(s, 1, nil)
	assert.Equal(t, uint8(0), img.RGBAAt(0, 0).A)
	assert.Equal(t, color.RGBA{0x33, 0x44, 0x55, 255}, img.RGBAAt(10, 10))

	var page scene.Scene
	page.W, page.H = 20, 20
	all := scene.Rounded(scene.Rect{W: 20, H: 20}, 0)
	page.Fill(all, scene.Hex("#ffffff"))
	page.Fill(scene.Rounded(scene.Rect{X: 5, Y: 5, W: 5, H: 5}, 0), scene.Hex("#101010"))
	page.Items = append(page.Items, scene.Item{Path: &scene.Path{Outline: all, Fill: scene.Hex("#ffd060"), Blend: scene.Multiply}})
	img = Draw(page, 1, nil)
	assert.Equal(t, color.RGBA{0xff, 0xd0, 0x60, 255}, img.RGBAAt(1, 1))
	assert.Less(t, img.RGBAAt(7, 7).R, uint8(0x12), "what was dark stays dark")
	page.Items[2].Path.Blend = scene.Screen
	img = Draw(page, 1, nil)
	assert.Equal(t, uint8(255), img.RGBAAt(1, 1).B, "what was light stays light")
}

package sight

import (
	"image"
	"image/color"
	"image/draw"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const trained = "/usr/share/opencv4/haarcascades/haarcascade_frontalface_alt2.xml"

// portrait draws a made-up face, a unit being half as wide as its head.
func portrait(img *image.RGBA, cx, cy, unit float64) {
	ellipse := func(x, y, rx, ry float64, c color.RGBA) {
		x, y, rx, ry = cx+x*unit, cy+y*unit, rx*unit, ry*unit
		for py := int(y - ry); py <= int(y+ry); py++ {
			for px := int(x - rx); px <= int(x+rx); px++ {
				u, v := (float64(px)-x)/rx, (float64(py)-y)/ry
				if u*u+v*v <= 1 {
					img.SetRGBA(px, py, c)
				}
			}
		}
	}
	ellipse(0, -0.15, 0.95, 1.15, color.RGBA{70, 60, 50, 255}) // hair
	ellipse(0, 0, 0.78, 1, color.RGBA{215, 190, 170, 255})
	for _, side := range []float64{-1, 1} {
		ellipse(side*0.33, -0.22, 0.2, 0.1, color.RGBA{160, 135, 120, 255})
		ellipse(side*0.33, -0.2, 0.15, 0.07, color.RGBA{65, 60, 60, 255})
		ellipse(side*0.34, -0.4, 0.22, 0.05, color.RGBA{85, 75, 70, 255})
	}
	ellipse(0, 0.1, 0.1, 0.22, color.RGBA{228, 205, 185, 255})
	ellipse(0, 0.28, 0.16, 0.05, color.RGBA{170, 145, 130, 255})
	ellipse(0, 0.55, 0.3, 0.08, color.RGBA{140, 85, 90, 255})
}

func TestFacesAreFound(t *testing.T) {
	data, err := os.ReadFile(trained)
	require.NoError(t, err)
	c, err := ReadCascade(data)
	require.NoError(t, err)
	screen := func(w, h int) *image.RGBA {
		img := image.NewRGBA(image.Rect(0, 0, w, h))
		draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{230, 228, 225, 255}), image.Point{}, draw.Src)
		for y := 20; y < h; y += 24 { // rows of something like words
			for x := 20; x < w-60; x += 70 {
				draw.Draw(img, image.Rect(x, y, x+50, y+9), image.NewUniform(color.RGBA{60, 70, 80, 255}), image.Point{}, draw.Src)
			}
		}
		return img
	}
	assert.Empty(t, c.Find(screen(1280, 800)), "a screen of words has no face")
	for name, size := range map[string][2]int{"on a screen": {900, 600}, "on a large one": {3840, 2160}} {
		img := screen(size[0], size[1])
		unit := float64(size[1]) / 6
		draw.Draw(img, image.Rect(0, 0, size[0]/2, size[1]), image.NewUniform(color.RGBA{230, 228, 225, 255}), image.Point{}, draw.Src)
		portrait(img, float64(size[0])/4, float64(size[1])/2, unit)
		found := c.Find(img)
		require.Len(t, found, 1, name)
		// As OpenCV 4.6 finds it: about as wide as the head, its eyes in the upper half.
		middle := found[0].Min.Add(found[0].Max).Div(2)
		assert.InDelta(t, size[0]/4, middle.X, 0.15*unit, name)
		assert.InDelta(t, size[1]/2, middle.Y, 0.15*unit, name)
		assert.InDelta(t, 1.94*unit, found[0].Dx(), 0.35*unit, name)
	}
	assert.Empty(t, c.Find(image.NewRGBA(image.Rect(0, 0, 1, 1))))

	for name, bad := range map[string]string{
		"nothing": "", "another kind": strings.Replace(string(data), "HAAR", "LBP", 1), "a feature outside": strings.Replace(string(data), "2 7 16 4 -1.", "2 7 99 4 -1.", 1),
		"a child that is not there": strings.Replace(string(data), "0 1 0 4.3", "0 9 0 4.3", 1), "half of it": string(data[:len(data)/2]),
	} {
		_, err := ReadCascade([]byte(bad))
		assert.Error(t, err, name)
	}
}

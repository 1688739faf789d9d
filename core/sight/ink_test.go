package sight

import (
	"image"
	"image/color"
	"testing"

	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
)

func TestInkStandsOutFromWhatLiesUnderIt(t *testing.T) {
	inks := []scene.Color{scene.Hex("#c62828"), scene.Hex("#e0a100"), scene.Hex("#2a7d3f"), scene.Hex("#1768ac")}
	for name, c := range map[string]struct {
		ground color.RGBA
		want   int
	}{
		"white":      {white, 0},
		"light grey": {color.RGBA{240, 242, 244, 255}, 0},
		"a red bar":  {color.RGBA{190, 40, 40, 255}, 1},
		"dark":       {color.RGBA{20, 24, 28, 255}, 1},
		"yellow":     {color.RGBA{255, 220, 80, 255}, 3},
	} {
		img := screen()
		fill(img, image.Rect(0, 0, 640, 360), c.ground)
		fill(img, image.Rect(100, 100, 104, 200), black) // a hairline crosses the frame
		assert.Equal(t, c.want, Ink(img, scene.Rect{X: 50, Y: 50, W: 200, H: 100}, 6, inks), name)
	}
}

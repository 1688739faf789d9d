package sight

import (
	"image"
	"math"

	"raconte/core/scene"
)

// enough is the contrast from which an ink is taken to stand out as well as any: WCAG's for text.
const enough = 4.5

// Ink is the index of the ink that stands out best from the pixels under a frame of some thickness.
func Ink(img *image.RGBA, frame scene.Rect, thick float64, inks []scene.Color) int {
	var under []scene.Color
	outer := frame.Grow(thick / 2)
	inner := frame.Grow(-thick / 2)
	for y := int(math.Floor(outer.Y)); y < int(math.Ceil(outer.Y+outer.H)); y++ {
		for x := int(math.Floor(outer.X)); x < int(math.Ceil(outer.X+outer.W)); x++ {
			if inner.Contains(scene.Point{X: float64(x), Y: float64(y)}) || !(image.Point{X: x, Y: y}).In(img.Rect) {
				continue
			}
			p := img.RGBAAt(x, y)
			under = append(under, scene.Color{R: p.R, G: p.G, B: p.B, A: 255})
		}
	}
	best, _ := InkOn(under, inks)
	return best
}

// InkOn is the index of the ink that stands out best from some colours, and its contrast with them: the one
// whose smallest contrast is largest (rule 10). A tenth of the colours may do worse, since letters and
// hairlines cross every mark. Where several stand out well enough, the first of them is taken, so that the
// pictures of a document look alike.
func InkOn(colors, inks []scene.Color) (best int, contrast float64) {
	counts := map[scene.Color]int{}
	for _, c := range colors {
		counts[scene.Color{R: c.R &^ 7, G: c.G &^ 7, B: c.B &^ 7, A: 255}]++ // near enough: 32 steps a channel
	}
	contrast = -1
	bestCapped := -1.0
	for i, ink := range inks {
		c := least(counts, len(colors), ink)
		if capped := math.Min(c, enough); capped > bestCapped {
			best, bestCapped, contrast = i, capped, c
		}
	}
	return best, contrast
}

// MostlyLight tells whether more of the colours are light than dark.
func MostlyLight(colors []scene.Color) bool {
	light := 0
	for _, c := range colors {
		if c.Luminance() > 0.18 {
			light++
		}
	}
	return light*2 > len(colors)
}

// least is the contrast that an ink has at least against all but a tenth of the colours.
func least(counts map[scene.Color]int, all int, ink scene.Color) float64 {
	const steps, most = 21 * 16, 21
	var at [steps + 1]int
	for c, n := range counts {
		at[int(scene.Contrast(ink, c)/most*steps)] += n
	}
	worse := 0
	for i, n := range at {
		if worse += n; worse*10 > all {
			return float64(i) / steps * most
		}
	}
	return most
}

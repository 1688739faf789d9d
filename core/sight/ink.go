package sight

import (
	"image"
	"math"

	"raconte/core/scene"
)

// enough is the contrast from which an ink is taken to stand out as well as any: WCAG's for text.
const enough = 4.5

// Ink is the index of the ink that stands out best from the pixels under a frame of some thickness: the one whose
// smallest contrast is largest (rule 10). A twentieth of the pixels may do worse, since letters and
// hairlines cross every frame. Where several stand out well enough, the first of them is taken, so
// that the pictures of a document look alike.
func Ink(img *image.RGBA, frame scene.Rect, thick float64, inks []scene.Color) int {
	counts := map[scene.Color]int{}
	all := 0
	outer := frame.Grow(thick / 2)
	inner := frame.Grow(-thick / 2)
	for y := int(math.Floor(outer.Y)); y < int(math.Ceil(outer.Y+outer.H)); y++ {
		for x := int(math.Floor(outer.X)); x < int(math.Ceil(outer.X+outer.W)); x++ {
			if inner.Contains(scene.Point{X: float64(x), Y: float64(y)}) || !(image.Point{X: x, Y: y}).In(img.Rect) {
				continue
			}
			p := img.RGBAAt(x, y)
			counts[scene.Color{R: p.R &^ 7, G: p.G &^ 7, B: p.B &^ 7, A: 255}]++ // near enough: 32 steps a channel
			all++
		}
	}
	best, bestContrast := 0, -1.0
	for i, ink := range inks {
		if c := least(counts, all, ink); c > bestContrast {
			best, bestContrast = i, c
		}
	}
	return best
}

// least is the contrast that an ink has at least against all but a twentieth of the pixels, at most enough.
func least(counts map[scene.Color]int, all int, ink scene.Color) float64 {
	const steps = 64
	var at [steps + 1]int
	for c, n := range counts {
		at[int(math.Min(scene.Contrast(ink, c), enough)/enough*steps)] += n
	}
	worse := 0
	for i, n := range at {
		if worse += n; worse*20 > all {
			return float64(i) / steps * enough
		}
	}
	return enough
}

package raster

import (
	"image"
	"math"

	"raconte/core/scene"
)

// Recoloured is a picture with some of its colours become others, one after the other; the picture itself where there are
// none. What is closed is neither changed nor gone across: what hangs together does so without it, so that nothing of what is
// hidden shows in how far it reaches. Places are of the picture at its own size, of which src is a copy at a scale.
func Recoloured(src *image.RGBA, all []scene.Recolour, closed []scene.Rect, scale float64) *image.RGBA {
	if len(all) == 0 {
		return src
	}
	out := image.NewRGBA(src.Rect)
	copy(out.Pix, src.Pix)
	shut := make([]bool, len(out.Pix)/4)
	for _, r := range closed {
		r := pixels(r, scale).Intersect(out.Rect)
		for y := r.Min.Y; y < r.Max.Y; y++ {
			row := shut[out.PixOffset(r.Min.X, y)/4:][:r.Dx()]
			for x := range row {
				row[x] = true
			}
		}
	}
	for _, r := range all {
		if r.At == nil {
			everywhere(out, r.Ready(), shut)
		} else {
			connected(out, r.Ready(), r.At.Times(scale), shut)
		}
	}
	return out
}

func colorAt(pix []uint8, i int) scene.Color {
	return scene.Color{R: pix[4*i], G: pix[4*i+1], B: pix[4*i+2], A: pix[4*i+3]}
}

func put(pix []uint8, i int, c scene.Color) {
	pix[4*i], pix[4*i+1], pix[4*i+2], pix[4*i+3] = c.R, c.G, c.B, c.A
}

func everywhere(img *image.RGBA, r scene.Recolouring, shut []bool) {
	bands(len(shut), func(from, to int) {
		var was, made scene.Color
		known, counts := false, false
		for i := from; i < to; i++ {
			if shut[i] {
				continue
			}
			// Screens are areas of one colour: the last answer is often the next.
			if c := colorAt(img.Pix, i); !known || c != was {
				known, was, counts = true, c, r.Counts(c)
				if counts {
					made = r.Apply(c)
				}
			}
			if counts {
				put(img.Pix, i, made)
			}
		}
	})
}

// connected changes what hangs together with a place, over sides but not over corners, row by row.
func connected(img *image.RGBA, r scene.Recolouring, at scene.Point, shut []bool) {
	w, h := img.Rect.Dx(), img.Rect.Dy()
	x, y := int(math.Floor(at.X)), int(math.Floor(at.Y))
	if !(image.Point{X: x, Y: y}).In(image.Rect(0, 0, w, h)) {
		return
	}
	done := make([]bool, len(shut))
	open := func(i int) bool { return !shut[i] && !done[i] && r.Counts(colorAt(img.Pix, i)) }
	if !open(y*w + x) {
		return
	}
	type place struct{ x, y int }
	stack := []place{{x, y}}
	for len(stack) > 0 {
		p := stack[len(stack)-1]
		stack = stack[:len(stack)-1]
		row := p.y * w
		if !open(row + p.x) {
			continue
		}
		from, to := p.x, p.x
		for from > 0 && open(row+from-1) {
			from--
		}
		for to < w-1 && open(row+to+1) {
			to++
		}
		for x := from; x <= to; x++ {
			done[row+x] = true
		}
		for _, next := range []int{p.y - 1, p.y + 1} {
			if next < 0 || next >= h {
				continue
			}
			inside := false
			for x := from; x <= to; x++ {
				is := open(next*w + x)
				if is && !inside {
					stack = append(stack, place{x, next})
				}
				inside = is
			}
		}
	}
	for i, is := range done {
		if is {
			put(img.Pix, i, r.Apply(colorAt(img.Pix, i)))
		}
	}
}

package sight

import (
	"image"
	"image/color"
	"math"
)

// Monitors are the parts of a picture that seems to span several monitors side by side, left to right:
// found by the empty bands above or below a lower monitor or, where there are none, by the width alone.
// It is nil where the picture seems to be of one.
func Monitors(s *image.RGBA) []image.Rectangle {
	if parts := byBands(s); len(parts) > 1 {
		return parts
	}
	size := s.Bounds().Size()
	for _, n := range []int{2, 3} {
		if size.X%n == 0 && float64(size.X)/float64(size.Y) > 2.4 && common(size.X/n, size.Y) {
			parts := make([]image.Rectangle, n)
			for i := range parts {
				parts[i] = image.Rect(i*size.X/n, 0, (i+1)*size.X/n, size.Y)
			}
			return parts
		}
	}
	return nil
}

// common tells whether a monitor may have these proportions.
func common(w, h int) bool {
	for _, ratio := range []float64{16.0 / 9, 16.0 / 10, 4.0 / 3, 5.0 / 4, 3.0 / 2} {
		if math.Abs(float64(w)/float64(h)/ratio-1) < 0.02 {
			return true
		}
	}
	return false
}

// leastBand and leastPart are the least height of an empty band and width of a monitor, in pixels.
const (
	leastBand = 12
	leastPart = 480
)

func byBands(s *image.RGBA) []image.Rectangle {
	size := s.Bounds().Size()
	if size.X < 2*leastPart {
		return nil
	}
	type span struct{ x0, top, bottom int }
	var spans []span
	for x := range size.X {
		top, bottom := emptyRun(s, x, 0, 1), emptyRun(s, x, size.Y-1, -1)
		if top == size.Y {
			top, bottom = 0, 0
		}
		if len(spans) == 0 || spans[len(spans)-1].top != top || spans[len(spans)-1].bottom != bottom {
			spans = append(spans, span{x, top, bottom})
		}
	}
	var parts []image.Rectangle
	for i, sp := range spans {
		x1 := size.X
		if i+1 < len(spans) {
			x1 = spans[i+1].x0
		}
		if x1-sp.x0 < leastPart {
			return nil
		}
		parts = append(parts, image.Rect(sp.x0, sp.top, x1, size.Y-sp.bottom))
	}
	return parts
}

// emptyRun is how many pixels from one end of a column are black or transparent; less than a band is none.
func emptyRun(s *image.RGBA, x, y, step int) int {
	n := 0
	for ; y >= 0 && y < s.Rect.Dy(); y += step {
		if c := s.RGBAAt(x, y); c != (color.RGBA{A: 255}) && c.A != 0 {
			break
		}
		n++
	}
	if n < leastBand {
		return 0
	}
	return n
}

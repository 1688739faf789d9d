package sight

import "image"

// The size of things that come and go without a change, in pixels: wide enough for screens of
// double density.
const (
	caretWidth   = 4
	caretLowest  = 10
	caretTallest = 80
	pointerLeast = 8
	pointerMost  = 64
)

// onlyCaret tells whether the one difference is a text caret: a thin upright bar of one colour in
// one shot and of another in the other.
func onlyCaret(a, b *image.RGBA, rects []image.Rectangle) bool {
	if len(rects) != 1 {
		return false
	}
	r := rects[0]
	if r.Dx() > caretWidth || r.Dy() < caretLowest || r.Dy() > caretTallest || r.Dy() < 5*r.Dx() {
		return false
	}
	return plain(a, r) && plain(b, r)
}

func plain(img *image.RGBA, r image.Rectangle) bool {
	first := img.RGBAAt(r.Min.X, r.Min.Y)
	for y := r.Min.Y; y < r.Max.Y; y++ {
		for x := r.Min.X; x < r.Max.X; x++ {
			if img.RGBAAt(x, y) != first {
				return false
			}
		}
	}
	return true
}

// onlyPointer tells whether the two differences are the pointer at its old and its new place: the
// same small lopsided picture with light and dark in it, gone from one place and come to another. A
// dot that moves from one choice to the next is symmetric or of one colour and is not a pointer.
func onlyPointer(a, b *image.RGBA, rects []image.Rectangle) bool {
	if len(rects) != 2 || rects[0].Size() != rects[1].Size() {
		return false
	}
	size := rects[0].Size()
	if size.X < pointerLeast || size.Y < pointerLeast || size.X > pointerMost || size.Y > pointerMost {
		return false
	}
	return moved(a, b, rects[0], rects[1]) || moved(a, b, rects[1], rects[0])
}

// moved tells whether what a shows in from is what b shows in to, and looks like a pointer.
func moved(a, b *image.RGBA, from, to image.Rectangle) bool {
	size := from.Size()
	mask := make([]bool, size.X*size.Y)
	inside, light, dark := 0, 0, 0
	for y := range size.Y {
		for x := range size.X {
			p, q := from.Min.Add(image.Pt(x, y)), to.Min.Add(image.Pt(x, y))
			differsThere := a.RGBAAt(p.X, p.Y) != b.RGBAAt(p.X, p.Y)
			differsHere := a.RGBAAt(q.X, q.Y) != b.RGBAAt(q.X, q.Y)
			if !differsThere && !differsHere {
				continue
			}
			c := a.RGBAAt(p.X, p.Y)
			if c != b.RGBAAt(q.X, q.Y) {
				return false
			}
			mask[y*size.X+x] = true
			inside++
			switch sum := int(c.R) + int(c.G) + int(c.B); {
			case sum > 3*230:
				light++
			case sum < 3*60:
				dark++
			}
		}
	}
	return light*10 >= inside && dark*10 >= inside && !symmetric(mask, size)
}

// symmetric tells whether the mask is nearly its own mirror image, left to right.
func symmetric(mask []bool, size image.Point) bool {
	odd, inside := 0, 0
	for y := range size.Y {
		for x := range size.X {
			if mask[y*size.X+x] {
				inside++
				if !mask[y*size.X+size.X-1-x] {
					odd++
				}
			}
		}
	}
	return odd*6 < inside
}

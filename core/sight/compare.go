// Package sight compares shots by their pixels: the same or not, and what changed.
package sight

import (
	"bytes"
	"image"
)

// Verdict says how one shot differs from another.
type Verdict string

// The verdicts. Only what is surely the pointer or the caret counts as such: when in doubt, a
// difference is a change, since a change taken for none would lose a step.
const (
	Same    Verdict = "same"
	Pointer Verdict = "same-but-pointer"
	Clock   Verdict = "same-but-clock"
	Changed Verdict = "changed"
)

// Comparison is the verdict and the rectangles that differ, in pixels.
type Comparison struct {
	Verdict    Verdict
	Rectangles []image.Rectangle
}

// Compare compares two shots. Shots of different size have changed as a whole.
func Compare(a, b *image.RGBA) Comparison {
	if a.Bounds().Size() != b.Bounds().Size() {
		return Comparison{Changed, []image.Rectangle{b.Bounds()}}
	}
	rects := differences(a, b)
	switch {
	case len(rects) == 0:
		return Comparison{Same, rects}
	case onlyCaret(a, b, rects) || onlyPointer(a, b, rects):
		return Comparison{Pointer, rects}
	}
	return Comparison{Changed, rects}
}

// CompareBut is Compare where differences that lie in the given clocks, or at the given places of the pointer, do
// not count as a change.
func CompareBut(a, b *image.RGBA, clocks, pointers []image.Rectangle) Comparison {
	c := Compare(a, b)
	if c.Verdict != Changed || a.Bounds().Size() != b.Bounds().Size() {
		return c
	}
	rest := outside(c.Rectangles, pointers)
	still := outside(rest, clocks)
	switch {
	case len(rest) == 0:
		c.Verdict = Pointer
	case len(still) == 0, len(still) < len(c.Rectangles) && (onlyCaret(a, b, still) || onlyPointer(a, b, still)):
		c.Verdict = Clock
	}
	return c
}

// outside are the rectangles that lie in none of the areas.
func outside(rects, areas []image.Rectangle) []image.Rectangle {
	var rest []image.Rectangle
	for _, r := range rects {
		within := false
		for _, area := range areas {
			within = within || r.In(area)
		}
		if !within {
			rest = append(rest, r)
		}
	}
	return rest
}

// tile is the side of the squares in which differences are gathered; differences in squares that
// touch belong to one rectangle.
const tile = 16

// mostRectangles bounds the answer: past it, the nearest rectangles are joined.
const mostRectangles = 12

func differences(a, b *image.RGBA) []image.Rectangle {
	size := a.Bounds().Size()
	cols, rows := (size.X+tile-1)/tile, (size.Y+tile-1)/tile
	boxes := make([]image.Rectangle, cols*rows)
	for y := range size.Y {
		ra := a.Pix[y*a.Stride : y*a.Stride+4*size.X]
		rb := b.Pix[y*b.Stride : y*b.Stride+4*size.X]
		if bytes.Equal(ra, rb) {
			continue
		}
		for c := range cols {
			x0, x1 := c*tile, min((c+1)*tile, size.X)
			if bytes.Equal(ra[4*x0:4*x1], rb[4*x0:4*x1]) {
				continue
			}
			for bytes.Equal(ra[4*x0:4*x0+4], rb[4*x0:4*x0+4]) {
				x0++
			}
			for bytes.Equal(ra[4*x1-4:4*x1], rb[4*x1-4:4*x1]) {
				x1--
			}
			box := &boxes[y/tile*cols+c]
			*box = box.Union(image.Rect(x0, y, x1, y+1))
		}
	}
	return merge(gather(boxes, cols, rows))
}

// gather joins the boxes of tiles that touch, corners included.
func gather(boxes []image.Rectangle, cols, rows int) []image.Rectangle {
	var out []image.Rectangle
	var queue []int
	for start := range boxes {
		if boxes[start].Empty() {
			continue
		}
		r := boxes[start]
		boxes[start] = image.Rectangle{}
		queue = append(queue[:0], start)
		for len(queue) > 0 {
			i := queue[len(queue)-1]
			queue = queue[:len(queue)-1]
			cx, cy := i%cols, i/cols
			for y := max(0, cy-1); y <= min(rows-1, cy+1); y++ {
				for x := max(0, cx-1); x <= min(cols-1, cx+1); x++ {
					if j := y*cols + x; !boxes[j].Empty() {
						r = r.Union(boxes[j])
						boxes[j] = image.Rectangle{}
						queue = append(queue, j)
					}
				}
			}
		}
		out = append(out, r)
	}
	return out
}

// merge joins rectangles that overlap and, while there are too many, those whose joining adds least.
func merge(rects []image.Rectangle) []image.Rectangle {
	if len(rects) > 120 { // noise all over: one rectangle says it as well
		all := image.Rectangle{}
		for _, r := range rects {
			all = all.Union(r)
		}
		return []image.Rectangle{all}
	}
	for {
		bi, bj, best := -1, -1, 0
		for i := range rects {
			for j := i + 1; j < len(rects); j++ {
				u := rects[i].Union(rects[j])
				waste := area(u) - area(rects[i]) - area(rects[j])
				if bi < 0 || waste < best {
					bi, bj, best = i, j, waste
				}
			}
		}
		if bi < 0 || (len(rects) <= mostRectangles && best > 0) {
			return rects
		}
		rects[bi] = rects[bi].Union(rects[bj])
		rects = append(rects[:bj], rects[bj+1:]...)
	}
}

package raster

import (
	"context"
	"image"
	"math"

	"raconte/core/scene"
)

// Recoloured is a picture with some of its colours become others, one after the other; the picture itself where there
// are none. What is closed is neither changed nor gone across: what hangs together does so without it, so that nothing
// of what is hidden shows in how far it reaches. Places are of the picture at its own size, of which src is a copy at a
// scale. It stops, with ctx's error, soon after ctx is done.
func Recoloured(ctx context.Context, src *image.RGBA, all []scene.Recolour, closed []scene.Rect, scale float64) (*image.RGBA, error) {
	if len(all) == 0 {
		return src, nil
	}
	out := image.NewRGBA(src.Rect)
	copy(out.Pix, src.Pix)
	c := &colouring{img: out, w: out.Rect.Dx(), h: out.Rect.Dy(), ended: func() bool { return ctx.Err() != nil }}
	for _, r := range closed {
		if r := pixels(r, scale).Intersect(out.Rect); !r.Empty() {
			c.shut(r)
		}
	}
	for _, r := range all {
		c.Recolouring = r.Ready()
		if r.At == nil {
			c.everywhere()
		} else {
			c.connected(r.At.Times(scale))
		}
		if err := ctx.Err(); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// colouring is a picture while one colour of it becomes another.
type colouring struct {
	scene.Recolouring
	img    *image.RGBA
	w, h   int
	closed []bool // pixels that stay; nil where all may change
	ended  func() bool
}

func (c *colouring) shut(r image.Rectangle) {
	if c.closed == nil {
		c.closed = make([]bool, c.w*c.h)
	}
	for y := r.Min.Y; y < r.Max.Y; y++ {
		for x := r.Min.X; x < r.Max.X; x++ {
			c.closed[y*c.w+x] = true
		}
	}
}

func (c *colouring) stays(i int) bool { return c.closed != nil && c.closed[i] }

func (c *colouring) at(i int) scene.Color {
	p := c.img.Pix[4*i : 4*i+4]
	return scene.Color{R: p[0], G: p[1], B: p[2], A: p[3]}
}

func (c *colouring) put(i int, to scene.Color) {
	p := c.img.Pix[4*i : 4*i+4]
	p[0], p[1], p[2], p[3] = to.R, to.G, to.B, to.A
}

// everywhere changes the colour all over.
func (c *colouring) everywhere() {
	bands(c.h, func(y0, y1 int) {
		var was, made scene.Color
		known, counts := false, false
		for y := y0; y < y1 && !c.ended(); y++ {
			for i := y * c.w; i < (y+1)*c.w; i++ {
				if c.stays(i) {
					continue
				}
				// Screens are areas of one colour: the last answer is often the next.
				if now := c.at(i); !known || now != was {
					known, was, counts = true, now, c.Counts(now)
					if counts {
						made = c.Apply(now)
					}
				}
				if counts {
					c.put(i, made)
				}
			}
		}
	})
}

// connected changes what hangs together with a place, over sides but not over corners, row by row.
func (c *colouring) connected(from scene.Point) {
	x, y := int(math.Floor(from.X)), int(math.Floor(from.Y))
	if !(image.Point{X: x, Y: y}).In(image.Rect(0, 0, c.w, c.h)) {
		return
	}
	done := make([]bool, c.w*c.h)
	open := func(i int) bool { return !done[i] && !c.stays(i) && c.Counts(c.at(i)) }
	type place struct{ x, y int }
	for stack := []place{{x, y}}; len(stack) > 0 && !c.ended(); {
		p := stack[len(stack)-1]
		stack = stack[:len(stack)-1]
		row := p.y * c.w
		if !open(row + p.x) {
			continue
		}
		from, to := p.x, p.x
		for from > 0 && open(row+from-1) {
			from--
		}
		for to < c.w-1 && open(row+to+1) {
			to++
		}
		for x := from; x <= to; x++ {
			done[row+x] = true
		}
		for _, next := range []int{p.y - 1, p.y + 1} {
			if next < 0 || next >= c.h {
				continue
			}
			inside := false
			for x := from; x <= to; x++ {
				is := open(next*c.w + x)
				if is && !inside {
					stack = append(stack, place{x, next})
				}
				inside = is
			}
		}
	}
	for i, is := range done {
		if is {
			c.put(i, c.Apply(c.at(i)))
		}
	}
}

package sight

import (
	"image"
	"math"
	"sync"

	"raconte/core/scene"
)

// plane is a picture of one number a pixel.
type plane struct {
	w, h int
	v    []float32
}

// border is how many pixels are added on each side.
const border = 64

// bordered is a plane with its outermost pixels repeated around it.
func bordered(p plane) plane {
	out := plane{p.w + 2*border, p.h + 2*border, make([]float32, (p.w+2*border)*(p.h+2*border))}
	for y := range out.h {
		row, from := out.v[y*out.w:][:out.w], p.v[min(max(y-border, 0), p.h-1)*p.w:][:p.w]
		copy(row[border:], from)
		for x := range border {
			row[x], row[out.w-1-x] = from[0], from[p.w-1]
		}
	}
	return out
}

// inside is the part of the plane that is no border.
func (p plane) inside() plane { return p.part(image.Rect(border, border, p.w-border, p.h-border)) }

func luma(img *image.RGBA) plane {
	size := img.Rect.Size()
	p := plane{size.X, size.Y, make([]float32, size.X*size.Y)}
	halves(size.Y, func(from, to int) {
		for y := from; y < to; y++ {
			row := img.Pix[img.PixOffset(img.Rect.Min.X, img.Rect.Min.Y+y):]
			for x := range size.X {
				p.v[y*p.w+x] = (0.299*float32(row[4*x]) + 0.587*float32(row[4*x+1]) + 0.114*float32(row[4*x+2])) / 255
			}
		}
	})
	return p
}

// halves does work on 0 to n in two parts at once.
func halves(n int, work func(from, to int)) {
	var group sync.WaitGroup
	group.Go(func() { work(0, n/2) })
	work(n/2, n)
	group.Wait()
}

// edges says how much the lightness changes at each pixel; strong changes count alike, whatever the colours.
func edges(p plane) plane {
	out := plane{p.w, p.h, make([]float32, len(p.v))}
	halves(p.h, func(from, to int) {
		for y := max(from, 1); y < to; y++ {
			row, above := p.v[y*p.w:][:p.w], p.v[(y-1)*p.w:][:p.w]
			for x := 1; x < p.w; x++ {
				dx, dy := row[x]-row[x-1], row[x]-above[x]
				e := max(dx, -dx) + max(dy, -dy)
				// From a tenth of full contrast on, an edge is an edge.
				out.v[y*p.w+x] = min(1, e*6)
			}
		}
	})
	return out
}

func shrunk(p plane, k int) plane {
	out := plane{p.w / k, p.h / k, make([]float32, (p.w/k)*(p.h/k))}
	halves(out.h, func(from, to int) {
		for y := from; y < to; y++ {
			for x := range out.w {
				var sum float32
				for j := range k {
					row := p.v[(y*k+j)*p.w+x*k:][:k]
					for _, v := range row {
						sum += v
					}
				}
				out.v[y*out.w+x] = sum / float32(k*k)
			}
		}
	})
	return out
}

// level is a plane that is looked through as a whole.
type level struct {
	plane
	sums, squares []float64 // of all to the left and above
	slack         float64   // how much fuller of edges a place may be than it would else
}

func levelOf(p plane) level {
	w := p.w + 1
	sums, squares := make([]float64, w*(p.h+1)), make([]float64, w*(p.h+1))
	for y := range p.h {
		a, b := 0.0, 0.0
		for x := range p.w {
			v := float64(p.v[y*p.w+x])
			a, b = a+v, b+v*v
			sums[(y+1)*w+x+1] = sums[y*w+x+1] + a
			squares[(y+1)*w+x+1] = squares[y*w+x+1] + b
		}
	}
	return level{p, sums, squares, 1}
}

// scaled is a part of the lightness at another size, between the pixels where need be.
func (p plane) scaled(r image.Rectangle, k float64) plane {
	w, h := max(1, int(math.Round(float64(r.Dx())*k))), max(1, int(math.Round(float64(r.Dy())*k)))
	out := plane{w, h, make([]float32, w*h)}
	at := func(x, y int) float32 { return p.v[min(max(y, 0), p.h-1)*p.w+min(max(x, 0), p.w-1)] }
	for y := range h {
		sy := (float64(y)+0.5)/k - 0.5 + float64(r.Min.Y)
		y0 := int(math.Floor(sy))
		fy := float32(sy - float64(y0))
		for x := range w {
			sx := (float64(x)+0.5)/k - 0.5 + float64(r.Min.X)
			x0 := int(math.Floor(sx))
			fx := float32(sx - float64(x0))
			top := at(x0, y0)*(1-fx) + at(x0+1, y0)*fx
			low := at(x0, y0+1)*(1-fx) + at(x0+1, y0+1)*fx
			out.v[y*w+x] = top*(1-fy) + low*fy
		}
	}
	return out
}

// from is the plane without its first columns and rows.
func (p plane) from(x, y int) plane { return p.part(image.Rect(x, y, p.w, p.h)) }

// part is a piece of the plane.
func (p plane) part(r image.Rectangle) plane {
	r = r.Intersect(image.Rect(0, 0, p.w, p.h))
	out := plane{w: r.Dx(), h: r.Dy()}
	for y := r.Min.Y; y < r.Max.Y; y++ {
		out.v = append(out.v, p.v[y*p.w+r.Min.X:][:out.w]...)
	}
	return out
}

func pixelRect(r scene.Rect) image.Rectangle {
	return image.Rect(int(math.Round(r.X)), int(math.Round(r.Y)), int(math.Round(r.X+r.W)), int(math.Round(r.Y+r.H)))
}

// softened is a plane with each pixel mixed with its neighbours, one part of each to two of its own.
func softened(p plane) plane {
	across := plane{p.w, p.h, make([]float32, len(p.v))}
	halves(p.h, func(from, to int) {
		for y := from; y < to; y++ {
			row, to := p.v[y*p.w:][:p.w], across.v[y*p.w:][:p.w]
			for x := range row {
				to[x] = (row[max(x-1, 0)] + 2*row[x] + row[min(x+1, p.w-1)]) / 4
			}
		}
	})
	out := plane{p.w, p.h, make([]float32, len(p.v))}
	halves(p.h, func(from, to int) {
		for y := from; y < to; y++ {
			a, b, c := across.v[max(y-1, 0)*p.w:][:p.w], across.v[y*p.w:][:p.w], across.v[min(y+1, p.h-1)*p.w:][:p.w]
			to := out.v[y*p.w:][:p.w]
			for x := range to {
				to[x] = (a[x] + 2*b[x] + c[x]) / 4
			}
		}
	})
	return out
}

func abs(v int) int { return max(v, -v) }

package raster

import (
	"image"
	"math"
	"sync"
)

// Scale is a part of an image at another size, by the Catmull-Rom cubic widened to the size of the
// step down, so that small print stays legible. It works in fixed point, two passes, each over bands
// at the same time: several times as fast as the general scaler of golang.org/x/image/draw.
func Scale(src *image.RGBA, from image.Rectangle, w, h int) *image.RGBA {
	from = from.Intersect(src.Rect)
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	if from.Empty() || w < 1 || h < 1 {
		return out
	}
	across, down := kernels(from.Dx(), w), kernels(from.Dy(), h)
	wide := image.NewRGBA(image.Rect(0, 0, w, from.Dy()))
	bands(from.Dy(), func(y0, y1 int) {
		for y := y0; y < y1; y++ {
			row := src.Pix[src.PixOffset(from.Min.X, from.Min.Y+y):]
			for x, k := range across {
				var r, g, b, a int32
				for i, weight := range k.weights {
					p := row[4*(k.first+i):][:4]
					r += weight * int32(p[0])
					g += weight * int32(p[1])
					b += weight * int32(p[2])
					a += weight * int32(p[3])
				}
				put(wide.Pix[y*wide.Stride+4*x:][:4], r, g, b, a)
			}
		}
	})
	bands(h, func(y0, y1 int) {
		sums := make([]int32, 4*w)
		for y := y0; y < y1; y++ {
			clear(sums)
			for i, weight := range down[y].weights {
				row := wide.Pix[(down[y].first+i)*wide.Stride:][:4*w]
				for j, v := range row {
					sums[j] += weight * int32(v)
				}
			}
			for x := range w {
				put(out.Pix[y*out.Stride+4*x:][:4], sums[4*x], sums[4*x+1], sums[4*x+2], sums[4*x+3])
			}
		}
	})
	return out
}

const unit = 1 << 14 // of weights: leaves room for 255 times the sum of a kernel in 32 bits

// put rounds and keeps colours within alpha, as premultiplied pixels must be.
func put(p []byte, r, g, b, a int32) {
	alpha := clamp(a, 255)
	p[0], p[1], p[2], p[3] = byte(clamp(r, alpha)), byte(clamp(g, alpha)), byte(clamp(b, alpha)), byte(alpha)
}

func clamp(v, most int32) int32 { return max(0, min(most, (v+unit/2)>>14)) }

// kernel is what of a source row or column makes one pixel.
type kernel struct {
	first   int
	weights []int32
}

func kernels(from, to int) []kernel {
	ratio := float64(from) / float64(to)
	stretch := math.Max(1, ratio)
	all := make([]kernel, to)
	for i := range all {
		center := (float64(i)+0.5)*ratio - 0.5
		first := max(0, int(math.Ceil(center-2*stretch)))
		last := min(from-1, int(math.Floor(center+2*stretch)))
		exact := make([]float64, last-first+1)
		sum := 0.0
		for j := range exact {
			exact[j] = catmullRom(math.Abs(float64(first+j)-center) / stretch)
			sum += exact[j]
		}
		weights := make([]int32, len(exact))
		rest := int32(unit)
		heaviest := 0
		for j, v := range exact {
			weights[j] = int32(math.Round(v / sum * unit))
			rest -= weights[j]
			if weights[j] > weights[heaviest] {
				heaviest = j
			}
		}
		weights[heaviest] += rest // so that one colour stays that colour
		all[i] = kernel{first, weights}
	}
	return all
}

// catmullRom is the cubic of Catmull and Rom (1974) at distance t from the middle.
func catmullRom(t float64) float64 {
	switch {
	case t < 1:
		return (1.5*t-2.5)*t*t + 1
	case t < 2:
		return ((-0.5*t+2.5)*t-4)*t + 2
	}
	return 0
}

// bands does work on 0 to n in two parts at once.
func bands(n int, work func(from, to int)) {
	var group sync.WaitGroup
	group.Go(func() { work(0, n/2) })
	work(n/2, n)
	group.Wait()
}

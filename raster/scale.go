package raster

import (
	"bytes"
	"encoding/binary"
	"image"
	"math"
	"sync"
)

// Scale is a part of an image at another size, by the Catmull-Rom cubic widened to the size of the
// step down, so that small print stays legible. It works in fixed point, in two passes, each over two
// bands at the same time, and does a row that repeats the one above only once, as rows of screens
// often do: several times as fast as the general scaler of golang.org/x/image/draw.
func Scale(src *image.RGBA, from image.Rectangle, w, h int) *image.RGBA {
	return scaled(src, from, w, h, image.Rect(0, 0, w, h), func() bool { return false })
}

// scaled is the part of Scale's image that is asked for, at the origin: no more of it is computed. It stops, with what
// it has, once ended says so.
func scaled(src *image.RGBA, from image.Rectangle, w, h int, part image.Rectangle, ended func() bool) *image.RGBA {
	from = from.Intersect(src.Rect)
	part = part.Intersect(image.Rect(0, 0, w, h))
	out := image.NewRGBA(image.Rectangle{Max: part.Size()})
	if from.Empty() || part.Empty() {
		return out
	}
	across, down := kernels(from.Dx(), w, part.Min.X, part.Max.X), kernels(from.Dy(), h, part.Min.Y, part.Max.Y)
	// Of the source, the rows that the part is made of.
	last := down[len(down)-1]
	top, bottom := down[0].first, last.first+len(last.weights)
	left := across[0].first
	right := across[len(across)-1].first + len(across[len(across)-1].weights)
	w = part.Dx()
	wide := image.NewRGBA(image.Rect(0, top, w, bottom))
	bands(bottom-top, func(y0, y1 int) {
		pairs := make([]pair, right)
		for y := top + y0; y < top+y1 && !ended(); y++ {
			row := src.Pix[src.PixOffset(from.Min.X, from.Min.Y+y):][:4*right]
			to := wide.Pix[wide.PixOffset(0, y):][:4*w]
			if y > top+y0 && bytes.Equal(row, src.Pix[src.PixOffset(from.Min.X, from.Min.Y+y-1):][:len(row)]) {
				copy(to, wide.Pix[wide.PixOffset(0, y-1):])
				continue
			}
			for x := left; x < right; x++ {
				pairs[x] = unpack(row[4*x:])
			}
			for x, k := range across {
				var sum pair
				for i, p := range pairs[k.first:][:len(k.weights)] {
					weight := k.weights[i]
					sum.rg += weight * p.rg
					sum.ba += weight * p.ba
				}
				sum.pack(to[4*x:])
			}
		}
	})
	bands(part.Dy(), func(y0, y1 int) {
		sums := make([]pair, w)
		for y := y0; y < y1 && !ended(); y++ {
			clear(sums)
			for i, weight := range down[y].weights {
				row := wide.Pix[wide.PixOffset(0, down[y].first+i):][:4*w]
				for x := range sums {
					p := unpack(row[4*x:])
					sums[x].rg += weight * p.rg
					sums[x].ba += weight * p.ba
				}
			}
			for x, sum := range sums {
				sum.pack(out.Pix[y*out.Stride+4*x:])
			}
		}
	})
	return out
}

// pair is a pixel, or a weighted sum of pixels, with two channels to a number: the lower half of rg is
// red, the upper green; of ba blue and alpha. One multiplication then weighs two channels. A negative
// lower half borrows from the upper one, which pack gives back.
type pair struct{ rg, ba int64 }

func unpack(p []byte) pair {
	v := int64(binary.LittleEndian.Uint32(p))
	return pair{v&0xff | v>>8&0xff<<32, v>>16&0xff | v>>24<<32}
}

// unit is the sum of the weights of a kernel.
const unit = 1 << 14

// pack rounds, and keeps colours within alpha, as premultiplied pixels must be.
func (p pair) pack(to []byte) {
	r, g := halves(p.rg)
	b, a := halves(p.ba)
	a = clamp(a, 255)
	binary.LittleEndian.PutUint32(to, uint32(clamp(r, a))|uint32(clamp(g, a))<<8|uint32(clamp(b, a))<<16|uint32(a)<<24)
}

func halves(v int64) (low, high int32) {
	low = int32(v)
	return (low + unit/2) >> 14, (int32((v-int64(low))>>32) + unit/2) >> 14
}

func clamp(v, most int32) int32 { return max(0, min(most, v)) }

// kernel is what of a source row or column makes one pixel.
type kernel struct {
	first   int
	weights []int64
}

// kernels are those of the pixels start to end, of all that from source pixels make.
func kernels(from, to, start, end int) []kernel {
	ratio := float64(from) / float64(to)
	stretch := math.Max(1, ratio)
	all := make([]kernel, end-start)
	for i := range all {
		center := (float64(start+i)+0.5)*ratio - 0.5
		first := max(0, int(math.Ceil(center-2*stretch)))
		last := min(from-1, int(math.Floor(center+2*stretch)))
		exact := make([]float64, last-first+1)
		sum := 0.0
		for j := range exact {
			exact[j] = catmullRom(math.Abs(float64(first+j)-center) / stretch)
			sum += exact[j]
		}
		weights := make([]int64, len(exact))
		rest := int64(unit)
		heaviest := 0
		for j, v := range exact {
			weights[j] = int64(math.Round(v / sum * unit))
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
	var failed any
	group.Go(func() {
		defer func() { failed = recover() }()
		work(0, n/2)
	})
	work(n/2, n)
	group.Wait()
	if failed != nil {
		panic(failed) // in the asker's own goroutine, where it is dealt with
	}
}

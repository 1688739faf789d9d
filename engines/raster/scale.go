package raster

import (
	"encoding/binary"
	"image"
	"math"
	"sync"
)

// Scale is a part of an image at another size, by the Catmull-Rom cubic widened to the size of the
// step down, so that small print stays legible. It works in fixed point, in two passes, each over two
// bands at the same time, and computes only what differs from the row above, since most of a screen repeats:
// many times as fast as the general scaler of golang.org/x/image/draw.
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
	// Of the source, the rows and columns that the part is made of; in what follows they are counted from the first.
	left, right := reach(across)
	top, bottom := reach(down)
	from = image.Rect(from.Min.X+left, from.Min.Y+top, from.Min.X+right, from.Min.Y+bottom)
	wide := image.NewRGBA(image.Rect(0, 0, part.Dx(), bottom-top))
	squeeze(wide, src, from, across, ended)
	stack(out, wide, down, ended)
	return out
}

// reach makes kernels count from the first pixel that any of them uses, and answers where that and the end are.
func reach(all []kernel) (first, end int) {
	first = all[0].first
	for i := range all {
		end = max(end, all[i].first+len(all[i].weights))
		all[i].first -= first
	}
	return first, end
}

// squeeze makes each row of a part of an image as wide as there are kernels. What it finds to be as in the row above it
// copies; where all of a window has one colour, that is the result.
func squeeze(to, src *image.RGBA, from image.Rectangle, across []kernel, ended func() bool) {
	w := len(across)
	reached := reached(across, from.Dx())
	bands(from.Dy(), func(y0, y1 int) {
		pairs := make([]pair, from.Dx())
		same := make([]int, from.Dx()) // up to which pixel the colour of this one goes on
		differs := newMask(from.Dx())
		var above []byte
		for y := y0; y < y1 && !ended(); y++ {
			row := src.Pix[src.PixOffset(from.Min.X, from.Min.Y+y):][:4*from.Dx()]
			line := to.Pix[y*to.Stride:][:4*w]
			spans := [][2]int{{0, w}}
			if above != nil {
				copy(line, to.Pix[(y-1)*to.Stride:])
				spans = nil
				if differs.compare(row, above) {
					spans = differs.spans(reached)
				}
			}
			above = row
			for _, s := range spans {
				mix(line, row, across[s[0]:s[1]], s[0], pairs, same)
			}
		}
	})
}

// mix computes pixels of a squeezed row: those of some kernels, of which the first makes the pixel at x. Pairs and same
// are room to work in.
func mix(line, row []byte, across []kernel, x int, pairs []pair, same []int) {
	last := across[len(across)-1]
	a, b := across[0].first, last.first+len(last.weights)
	color, until := binary.LittleEndian.Uint32(row[4*(b-1):]), b
	for i := b - 1; i >= a; i-- {
		if v := binary.LittleEndian.Uint32(row[4*i:]); v != color {
			color, until = v, i+1
		}
		same[i], pairs[i] = until, unpack(row[4*i:])
	}
	for i := range across {
		k := &across[i]
		if same[k.first] >= k.first+len(k.weights) {
			copy(line[4*(x+i):4*(x+i)+4], row[4*k.first:])
			continue
		}
		var sum pair
		window := pairs[k.first:][:len(k.weights)]
		for j, weight := range k.weights {
			sum.rg += weight * window[j].rg
			sum.ba += weight * window[j].ba
		}
		sum.pack(line[4*(x+i):])
	}
}

// stack makes an image as high as there are kernels. Where all rows of a window are the same, that is the result.
func stack(to, wide *image.RGBA, down []kernel, ended func() bool) {
	w := to.Rect.Dx()
	differs := make([]mask, wide.Rect.Dy()) // each row's, from the one above; nil where nothing does
	line := func(y int) []byte { return wide.Pix[y*wide.Stride:][:4*w] }
	bands(len(differs), func(y0, y1 int) {
		for y := max(y0, 1); y < y1; y++ {
			if m := newMask(w); m.compare(line(y), line(y-1)) {
				differs[y] = m
			}
		}
	})
	bands(len(down), func(y0, y1 int) {
		any := newMask(w)
		for y := y0; y < y1 && !ended(); y++ {
			k := &down[y]
			clear(any)
			for _, m := range differs[k.first+1 : k.first+len(k.weights)] {
				any.join(m)
			}
			row := to.Pix[y*to.Stride:][:4*w]
			copy(row, line(k.first))
			any.each(func(i int) {
				x0, x1 := i*block, min((i+1)*block, w)
				var sums [block]pair
				for j, weight := range k.weights {
					from := line(k.first + j)[4*x0 : 4*x1]
					for x := 0; 4*x < len(from); x++ {
						p := unpack(from[4*x:])
						sums[x].rg += weight * p.rg
						sums[x].ba += weight * p.ba
					}
				}
				for x := x0; x < x1; x++ {
					sums[x-x0].pack(row[4*x:])
				}
			})
		}
	})
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

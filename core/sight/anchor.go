package sight

import (
	"image"
	"math"
	"slices"
	"sync"

	"raconte/core/scene"
)

// Seen is a shot prepared for finding things in it by their looks: by where its lightness jumps, which stays when
// a program changes its colours.
type Seen struct {
	light       plane // luma, 0 to 1
	fine        plane // edges in full size
	half        plane
	coarse      plane // edges at a quarter of the size
	sums, sums2 []float64
}

// plane is a picture of one number a pixel.
type plane struct {
	w, h int
	v    []float32
}

const coarseness = 4

// Look prepares a shot.
func Look(img *image.RGBA) *Seen {
	s := &Seen{light: luma(img)}
	s.fine = edges(s.light)
	s.half = shrunk(s.fine, 2)
	s.coarse = shrunk(s.half, coarseness/2)
	s.sums, s.sums2 = integrals(s.coarse)
	return s
}

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
	for y := range out.h {
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
	return out
}

func integrals(p plane) (sums, squares []float64) {
	w := p.w + 1
	sums, squares = make([]float64, w*(p.h+1)), make([]float64, w*(p.h+1))
	for y := range p.h {
		a, b := 0.0, 0.0
		for x := range p.w {
			v := float64(p.v[y*p.w+x])
			a, b = a+v, b+v*v
			sums[(y+1)*w+x+1] = sums[y*w+x+1] + a
			squares[(y+1)*w+x+1] = squares[y*w+x+1] + b
		}
	}
	return sums, squares
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

// template is a piece of a shot to look for, its mean taken off.
type template struct {
	plane
	norm   float64 // the length of it as a vector
	energy float64 // its mean before it was taken off
}

func templateOf(p plane) template {
	t := template{plane: p}
	for _, v := range p.v {
		t.energy += float64(v)
	}
	t.energy /= float64(len(p.v))
	t.plane.v = slices.Clone(p.v)
	for i := range t.v {
		t.v[i] -= float32(t.energy)
		t.norm += float64(t.v[i]) * float64(t.v[i])
	}
	t.norm = math.Sqrt(t.norm)
	return t
}

// match is the normalised cross-correlation of a template with a place: 1 where they are alike.
func (t template) match(p plane, x0, y0 int) float64 {
	if x0 < 0 || y0 < 0 || x0+t.w > p.w || y0+t.h > p.h || t.norm == 0 {
		return -1
	}
	var dot, sum, squares float64
	for y := range t.h {
		row, mine := p.v[(y0+y)*p.w+x0:][:t.w], t.v[y*t.w:][:t.w]
		var d, s, q float32
		for x, v := range row {
			d += v * mine[x]
			s += v
			q += v * v
		}
		dot, sum, squares = dot+float64(d), sum+float64(s), squares+float64(q)
	}
	return correlation(dot, sum, squares, t)
}

func correlation(dot, sum, squares float64, t template) float64 {
	n := float64(t.w * t.h)
	spread := squares - sum*sum/n
	if spread <= 1e-6 {
		return -1
	}
	return dot / (math.Sqrt(spread) * t.norm)
}

// place is where something may be: its top left corner in pixels, at a scale.
type place struct {
	x, y  int
	k     float64
	score float64
}

// Scales at which a program may be shown anew: as it is, and larger or smaller by the steps that systems offer.
var scales = []float64{1, 1.25, 1.5, 0.8, 2.0 / 3}

// Found is where a thing is in another shot.
type Found struct {
	Center scene.Point // of the thing
	Scale  float64
	Score  float64 // of its own looks: 1 where they are alike
	Rival  float64 // the score of the next best place elsewhere
}

// Find looks for a part of one shot in another by its looks, at several scales. Around is how much of what
// surrounds it helps to find it. None are found where the part has no looks of its own, as an empty area.
func (s *Seen) Find(from *Seen, part scene.Rect, around float64) []Found {
	whole := scene.Rect{W: float64(from.light.w), H: float64(from.light.h)}
	own := part.Intersect(whole)
	wide := part.Grow(around).Intersect(whole)
	if own.W < 6 || own.H < 6 {
		return nil
	}
	context, inner := pixelRect(wide), pixelRect(own)
	var all []place
	for _, k := range scales {
		light := from.light.scaled(context, k)
		e := edges(light)
		t := templateOf(e)
		if t.energy < 0.004 || t.w < 16 || t.h < 12 || t.w > s.fine.w || t.h > s.fine.h {
			continue
		}
		all = append(all, s.refine(s.candidates(templateOf(shrunk(e, coarseness)), k), e, t)...)
	}
	slices.SortFunc(all, func(a, b place) int {
		switch {
		case a.score > b.score:
			return -1
		case a.score < b.score:
			return 1
		}
		return 0
	})
	var found []Found
	for _, p := range all {
		x, y := float64(p.x)+(own.Center().X-wide.X)*p.k, float64(p.y)+(own.Center().Y-wide.Y)*p.k
		near := slices.ContainsFunc(found, func(f Found) bool {
			return math.Abs(f.Center.X-x) < 12 && math.Abs(f.Center.Y-y) < 12
		})
		if near || len(found) > 5 {
			continue
		}
		found = append(found, Found{Center: scene.Point{X: x, Y: y}, Scale: p.k, Score: math.Min(p.score+0.1, s.inner(from, inner, context, p))})
	}
	slices.SortStableFunc(found, func(a, b Found) int {
		switch {
		case a.Score > b.Score:
			return -1
		case a.Score < b.Score:
			return 1
		}
		return 0
	})
	if len(found) > 1 {
		found[0].Rival = found[1].Score
	}
	return found
}

func pixelRect(r scene.Rect) image.Rectangle {
	return image.Rect(int(math.Round(r.X)), int(math.Round(r.Y)), int(math.Round(r.X+r.W)), int(math.Round(r.Y+r.H)))
}

// inner is how well the thing itself fits, without what surrounds it; a pixel aside may fit better.
func (s *Seen) inner(from *Seen, inner, context image.Rectangle, p place) float64 {
	e := edges(from.light.scaled(inner.Inset(-2), p.k))
	t := templateOf(e)
	if t.energy < 0.01 {
		return p.score // no looks of its own: what surrounds it decides
	}
	x := p.x + int(math.Round(float64(inner.Min.X-2-context.Min.X)*p.k))
	y := p.y + int(math.Round(float64(inner.Min.Y-2-context.Min.Y)*p.k))
	best := -1.0
	soft := softened(s.fine, x-2, y-2, t.w+4, t.h+4)
	st := templateOf(softened(e, 0, 0, e.w, e.h))
	for dy := range 5 {
		for dx := range 5 {
			best = math.Max(best, st.match(soft, dx, dy))
		}
	}
	return best
}

// softened is a part of a plane, each pixel mixed with its neighbours: letters that are drawn anew at another
// size do not meet pixel by pixel.
func softened(p plane, x0, y0, w, h int) plane {
	out := plane{w, h, make([]float32, w*h)}
	for y := range h {
		for x := range w {
			var sum, n float32
			for j := -1; j <= 1; j++ {
				for i := -1; i <= 1; i++ {
					px, py := x0+x+i, y0+y+j
					if px < 0 || py < 0 || px >= p.w || py >= p.h {
						continue
					}
					weight := float32((2 - i*i) * (2 - j*j))
					sum += weight * p.v[py*p.w+px]
					n += weight
				}
			}
			if n > 0 {
				out.v[y*w+x] = sum / n
			}
		}
	}
	return out
}

const mostCandidates = 14

// candidates are the best places at a quarter of the size.
func (s *Seen) candidates(t template, k float64) []place {
	var best []place
	w := s.coarse.w + 1
	box := func(of []float64, x, y int) float64 {
		return of[(y+t.h)*w+x+t.w] - of[y*w+x+t.w] - of[(y+t.h)*w+x] + of[y*w+x]
	}
	n := float64(t.w * t.h)
	for y := 0; y+t.h <= s.coarse.h; y++ {
		for x := 0; x+t.w <= s.coarse.w; x++ {
			// Most of a screen is emptier or fuller than what is looked for.
			sum := box(s.sums, x, y)
			if mean := sum / n; mean < 0.55*t.energy || mean > 1.7*t.energy {
				continue
			}
			var dot float32
			for j := range t.h {
				row, mine := s.coarse.v[(y+j)*s.coarse.w+x:][:t.w], t.v[j*t.w:][:t.w]
				for i, v := range row {
					dot += v * mine[i]
				}
			}
			c := correlation(float64(dot), sum, box(s.sums2, x, y), t)
			if c < 0.3 || (len(best) == mostCandidates && c <= best[len(best)-1].score) {
				continue
			}
			best = insert(best, place{x, y, k, c})
		}
	}
	return best
}

// insert keeps the best places, one in a neighbourhood.
func insert(best []place, p place) []place {
	for i, o := range best {
		if abs(o.x-p.x) <= 2 && abs(o.y-p.y) <= 2 {
			if o.score >= p.score {
				return best
			}
			best = slices.Delete(best, i, i+1)
			break
		}
	}
	at, _ := slices.BinarySearchFunc(best, p, func(o, p place) int {
		if o.score > p.score {
			return -1
		}
		return 1
	})
	best = slices.Insert(best, at, p)
	return best[:min(len(best), mostCandidates)]
}

func abs(v int) int { return max(v, -v) }

// refine finds the best place around each candidate, first at half, then in full size.
func (s *Seen) refine(candidates []place, e plane, t template) []place {
	half := templateOf(shrunk(e, 2))
	if half.w < 2 || half.h < 2 {
		return nil
	}
	best := func(p plane, t template, x, y, reach int) (bx, by int, score float64) {
		score = -1
		for dy := -reach; dy <= reach; dy++ {
			for dx := -reach; dx <= reach; dx++ {
				if c := t.match(p, x+dx, y+dy); c > score {
					bx, by, score = x+dx, y+dy, c
				}
			}
		}
		return bx, by, score
	}
	out := make([]place, 0, len(candidates))
	for i, c := range candidates {
		x, y, score := best(s.half, half, c.x*2, c.y*2, 2)
		if i > 3 && score < 0.45 {
			continue
		}
		x, y, score = best(s.fine, t, x*2, y*2, 2)
		if score > 0 {
			out = append(out, place{x, y, c.k, score})
		}
	}
	return out
}

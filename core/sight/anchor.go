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
	light       plane // luma, 0 to 1, with a border all around, so that what lies at the side is found
	fine        plane // edges in full size
	soft        plane // edges, softened: letters drawn anew at another size do not meet pixel by pixel
	half        plane
	coarse      plane // edges at a quarter of the size
	sums, sums2 []float64
	smaller     map[float64]*Seen
}

// plane is a picture of one number a pixel.
type plane struct {
	w, h int
	v    []float32
}

const coarseness = 4

// Look prepares a shot.
func Look(img *image.RGBA) *Seen { return seen(bordered(luma(img))) }

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
func (p plane) inside() plane {
	w, h := p.w-2*border, p.h-2*border
	out := plane{w, h, make([]float32, 0, w*h)}
	for y := range h {
		out.v = append(out.v, p.v[(y+border)*p.w+border:][:w]...)
	}
	return out
}

func seen(light plane) *Seen {
	s := &Seen{light: light, smaller: map[float64]*Seen{}}
	s.fine = edges(s.light)
	s.soft = softened(s.fine)
	s.half = shrunk(s.fine, 2)
	s.coarse = shrunk(s.half, coarseness/2)
	s.sums, s.sums2 = integrals(s.coarse)
	return s
}

// Prepare makes the shot ready to be looked in at a scale, by several at once.
func (s *Seen) Prepare(k float64) { s.at(1 / k) }

// at is the shot at a smaller size; it is made once.
func (s *Seen) at(k float64) *Seen {
	if k >= 1 {
		return s
	}
	if s.smaller[k] == nil {
		p := s.light.inside()
		s.smaller[k] = seen(bordered(p.scaled(image.Rect(0, 0, p.w, p.h), k)))
	}
	return s.smaller[k]
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

// from is the plane without its first columns and rows.
func (p plane) from(x, y int) plane {
	if x == 0 && y == 0 {
		return p
	}
	out := plane{w: p.w - x, h: p.h - y}
	for row := y; row < p.h; row++ {
		out.v = append(out.v, p.v[row*p.w+x:][:out.w]...)
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
		row := p.v[(y0+y)*p.w+x0:][:t.w]
		dot += float64(product(row, t.v[y*t.w:][:t.w]))
		squares += float64(product(row, row))
		sum += float64(total(row))
	}
	return correlation(dot, sum, squares, t)
}

// product is the sum of the products of two rows of one length. Four sums run side by side: one alone would wait
// for each addition to end.
func product(a, b []float32) float32 {
	var s0, s1, s2, s3 float32
	b = b[:len(a)]
	i := 0
	for ; i+4 <= len(a); i += 4 {
		x, y := a[i:i+4:i+4], b[i:i+4:i+4]
		s0 += x[0] * y[0]
		s1 += x[1] * y[1]
		s2 += x[2] * y[2]
		s3 += x[3] * y[3]
	}
	for ; i < len(a); i++ {
		s0 += a[i] * b[i]
	}
	return s0 + s1 + s2 + s3
}

func total(a []float32) float32 {
	var s0, s1, s2, s3 float32
	i := 0
	for ; i+4 <= len(a); i += 4 {
		x := a[i : i+4 : i+4]
		s0 += x[0]
		s1 += x[1]
		s2 += x[2]
		s3 += x[3]
	}
	for ; i < len(a); i++ {
		s0 += a[i]
	}
	return s0 + s1 + s2 + s3
}

func correlation(dot, sum, squares float64, t template) float64 {
	n := float64(t.w * t.h)
	spread := squares - sum*sum/n
	if spread <= 1e-6 {
		return -1
	}
	return dot / (math.Sqrt(spread) * t.norm)
}

// place is where something may be: its top left corner in pixels.
type place struct {
	x, y  int
	score float64
}

// Scales at which a program may be shown anew: as it is, and larger or smaller by the steps that systems offer.
var scales = []float64{1, 1.25, 1.5, 0.8, 2.0 / 3}

// Found is where a thing may be in another shot.
type Found struct {
	Center scene.Point // of the thing
	Own    float64     // how alike it is itself: 1 where nothing differs
	Near   float64     // how alike it is with what is right around it
	Far    float64     // and with what is farther around it
}

// Score weighs how alike a place is. What is around tells one button from the next better than the button does.
func (f Found) Score() float64 { return 0.4*f.Own + 0.2*f.Near + 0.4*f.Far }

// ScaleOf is the scale at which another shot shows the same things: that at which the given parts are found best.
func (s *Seen) ScaleOf(from *Seen, parts []scene.Rect) float64 {
	best, most := 1.0, 0.0
	for i, k := range scales {
		if i == 1 && most > 0.3*float64(len(parts)) {
			break // found as they are: no other scale is needed
		}
		s.at(1 / k)
		scores := make([]float64, len(parts))
		halves(len(parts), func(from0, to int) {
			for j := from0; j < to; j++ {
				if found := s.at(1/k).find(from, parts[j], math.Min(1, k), 3); len(found) > 0 {
					scores[j] = math.Max(0, found[0].Score()-0.4)
				}
			}
		})
		sum := 0.0
		for _, score := range scores {
			sum += score
		}
		// Scales that are not 1 have to earn it.
		if k != 1 && sum < 0.28*float64(len(parts)) {
			continue
		}
		if sum > most {
			best, most = k, sum
		}
	}
	return best
}

// Busiest are the parts that have most to tell them by, at most n of them.
func (s *Seen) Busiest(parts []scene.Rect, n int) []scene.Rect {
	busy := func(r scene.Rect) float64 {
		sum := 0.0
		q := pixelRect(s.capped(r)).Add(image.Pt(border, border)).Intersect(image.Rect(0, 0, s.fine.w, s.fine.h))
		for y := q.Min.Y; y < q.Max.Y; y++ {
			for _, v := range s.fine.v[y*s.fine.w+q.Min.X:][:q.Dx()] {
				sum += float64(v)
			}
		}
		return sum
	}
	out := slices.Clone(parts)
	slices.SortStableFunc(out, func(a, b scene.Rect) int { return int(busy(b) - busy(a)) })
	return out[:min(n, len(out))]
}

// The most of a thing that is looked at to find it, in pixels.
const (
	mostWide = 220.0
	mostHigh = 96.0
)

// capped is a part that is small enough to look for: of a large one, the corner where most programs say what it is.
func (s *Seen) capped(r scene.Rect) scene.Rect {
	return scene.Rect{X: r.X, Y: r.Y, W: math.Min(r.W, mostWide), H: math.Min(r.H, mostHigh)}
}

// Find looks for a part of one shot in another by its looks, at one scale, best first. None are found where the
// part has no looks of its own, as an empty area. The larger of the two is made smaller: what was drawn large and
// made smaller looks like what was drawn small, and not the other way about.
func (s *Seen) Find(from *Seen, part scene.Rect, k float64) []Found {
	found := s.at(1/k).find(from, part, math.Min(1, k), mostRefined)
	for i := range found {
		found[i].Center = found[i].Center.Times(math.Max(1, k))
	}
	return found
}

func (s *Seen) find(from *Seen, part scene.Rect, k float64, most int) []Found {
	whole := scene.Rect{W: float64(from.light.w - 2*border), H: float64(from.light.h - 2*border)}
	target := part.Intersect(whole)
	if target.W < 4 || target.H < 4 {
		return nil
	}
	own := s.capped(target)
	near, far := own.Grow(18).Intersect(whole), own.Grow(60).Intersect(whole)
	light := from.light.scaled(pixelRect(near).Add(image.Pt(border, border)), k)
	e := edges(light)
	t := templateOf(e)
	if t.energy < 0.003 || t.w < 12 || t.h < 8 || t.w > s.fine.w || t.h > s.fine.h {
		return nil
	}
	inner := templateOf(softened(edges(from.light.scaled(pixelRect(own).Add(image.Pt(border, border)), k))))
	farEdges := edges(from.light.scaled(pixelRect(far).Add(image.Pt(border, border)), k))
	var wide [4]template // halved from even and odd pixels on, to meet the other's halves
	var found []Found
	for _, p := range s.refine(s.candidates(templateOf(shrunk(e, coarseness)), 4*most), e, t, most) {
		at := func(r scene.Rect) (int, int) {
			return p.x + int(math.Round((r.X-near.X)*k)), p.y + int(math.Round((r.Y-near.Y)*k))
		}
		f := Found{Near: p.score, Own: p.score, Far: p.score}
		if inner.energy > 0.008 {
			x, y := at(own)
			f.Own = inner.around(s.soft, x, y, 1).score
		}
		if x, y := at(far); f.Own < 0.4 {
			f.Far = 0
		} else if farEdges.w > 8 && farEdges.h > 8 {
			ox, oy := x&1, y&1
			t := &wide[oy*2+ox]
			if t.v == nil {
				*t = templateOf(shrunk(farEdges.from(ox, oy), 2))
			}
			f.Far = t.around(s.half, (x+ox)/2, (y+oy)/2, 1).score
		}
		c := target.Center()
		f.Center = scene.Point{X: float64(p.x-border) + (c.X-near.X)*k, Y: float64(p.y-border) + (c.Y-near.Y)*k}
		found = append(found, f)
	}
	slices.SortStableFunc(found, func(a, b Found) int {
		switch {
		case a.Score() > b.Score():
			return -1
		case a.Score() < b.Score():
			return 1
		}
		return 0
	})
	return slices.CompactFunc(found, func(a, b Found) bool { return b.Center.Minus(a.Center).Length() < 6 })
}

// around is where a template fits best, at most reach pixels from a place.
func (t template) around(p plane, x, y, reach int) place {
	best := place{score: -1}
	for dy := -reach; dy <= reach; dy++ {
		for dx := -reach; dx <= reach; dx++ {
			if c := t.match(p, x+dx, y+dy); c > best.score {
				best = place{x + dx, y + dy, c}
			}
		}
	}
	return best
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

// mostRefined is how many places are looked at in full size, and a quarter of those in a quarter of it.
const mostRefined = 10

// candidates are the best places at a quarter of the size.
func (s *Seen) candidates(t template, most int) []place {
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
			if mean := sum / n; mean < 0.6*t.energy || mean > 1.65*t.energy {
				continue
			}
			squares := box(s.sums2, x, y)
			if spread := squares - sum*sum/n; spread < 0.35*t.norm*t.norm || spread > 2.2*t.norm*t.norm {
				continue
			}
			var dot float32
			for j := range t.h {
				dot += product(s.coarse.v[(y+j)*s.coarse.w+x:][:t.w], t.v[j*t.w:][:t.w])
			}
			c := correlation(float64(dot), sum, squares, t)
			if c < 0.2 || (len(best) == most && c <= best[len(best)-1].score) {
				continue
			}
			best = insert(best, place{x, y, c}, most)
		}
	}
	return best
}

// insert keeps the best places, at most so many, and one in a neighbourhood.
func insert(best []place, p place, most int) []place {
	for i, o := range best {
		if abs(o.x-p.x) <= 1 && abs(o.y-p.y) <= 1 {
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
	return best[:min(len(best), most)]
}

func abs(v int) int { return max(v, -v) }

// refine finds the best place around each candidate, first at half, then in full size.
func (s *Seen) refine(candidates []place, e plane, t template, most int) []place {
	half := templateOf(shrunk(e, 2))
	if half.w < 2 || half.h < 2 {
		return nil
	}
	var halves []place
	for _, c := range candidates {
		halves = insert(halves, half.around(s.half, c.x*2, c.y*2, 1), most)
	}
	var out []place
	for _, c := range halves {
		if p := t.around(s.fine, c.x*2, c.y*2, 1); p.score > 0 {
			out = append(out, p)
		}
	}
	return out
}

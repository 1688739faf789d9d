package sight

import (
	"math"
	"slices"
)

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

// candidates are the best places for a template.
func (l level) candidates(t template, most int) []place {
	var best []place
	w := l.w + 1
	box := func(of []float64, x, y int) float64 {
		return of[(y+t.h)*w+x+t.w] - of[y*w+x+t.w] - of[(y+t.h)*w+x] + of[y*w+x]
	}
	n := float64(t.w * t.h)
	for y := 0; y+t.h <= l.h; y++ {
		for x := 0; x+t.w <= l.w; x++ {
			// Most of a screen is emptier or fuller than what is looked for.
			sum := box(l.sums, x, y)
			if mean := sum / n; mean < 0.6*t.energy || mean > 1.65*l.slack*t.energy {
				continue
			}
			squares := box(l.squares, x, y)
			if spread := squares - sum*sum/n; spread < 0.35*t.norm*t.norm || spread > 2.2*l.slack*t.norm*t.norm {
				continue
			}
			var dot float32
			for j := range t.h {
				dot += product(l.v[(y+j)*l.w+x:][:t.w], t.v[j*t.w:][:t.w])
			}
			c := correlation(float64(dot), sum, squares, t)
			if c < leastLike || (len(best) == most && c <= best[len(best)-1].score) {
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

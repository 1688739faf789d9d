package sight

import (
	"image"
	"math"
	"slices"

	"raconte/core/scene"
)

// Scales at which a program may be shown anew: as it is, and larger or smaller by the steps that systems offer.
var scales = []float64{1, 1.25, 1.5, 0.8, 2.0 / 3}

// How alike parts must be, on average and beyond what any two things are, for the scale to be right, to be taken for
// want of a better one, and to be worth a look at more than two of them.
const (
	scaleSure    = 0.3
	scaleLikely  = 0.28
	scalePerhaps = 0.15
	alikeAnyway  = 0.4
)

// ScaleOf is the scale at which another shot shows the same things: that at which the given parts are found best.
func (s *Seen) ScaleOf(from *Seen, parts []scene.Rect) float64 {
	best, most := 1.0, 0.0
	for _, k := range scales {
		s.at(1 / k)
		first := min(2, len(parts))
		sum := s.likeness(from, parts[:first], k)
		if k == 1 || sum >= scalePerhaps*float64(first) {
			sum += s.likeness(from, parts[first:], k)
		}
		if average := sum / float64(len(parts)); average > most && (k == 1 || average >= scaleLikely) {
			best, most = k, average
		}
		if most > scaleSure {
			break
		}
	}
	return best
}

// likeness is how well parts are found at a scale, in all.
func (s *Seen) likeness(from *Seen, parts []scene.Rect, k float64) float64 {
	scores := make([]float64, len(parts))
	halves(len(parts), func(start, end int) {
		for i := start; i < end; i++ {
			if found := s.at(1/k).find(from, parts[i], math.Min(1, k), 3, k == 1); len(found) > 0 {
				scores[i] = math.Max(0, found[0].Score()-alikeAnyway)
			}
		}
	})
	sum := 0.0
	for _, score := range scores {
		sum += score
	}
	return sum
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

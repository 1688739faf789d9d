package sight

import (
	"image"
	"slices"
)

// Limits of the search for the very same pixels: levels of 255 by which two may differ, and the share that may
// differ more, as a caret or a pointer makes them.
const (
	alike    = 2.0 / 255
	mostOff  = 0.004
	mostSame = 40 // places; what is in more of them says nothing
	probes   = 12
)

// exact finds the places of the very same pixels, which is quick and sure where a window was only moved or its
// contents scrolled. Telling is false where the patch has too little in it, or there are too many.
func (s *Seen) exact(patch plane) (found []image.Point, telling bool) {
	first := patch.busiest(probes)
	if len(first) < probes {
		return nil, false
	}
	offsets := make([]int, len(first))
	for i, p := range first {
		offsets[i] = p.Y*s.light.w + p.X
	}
	values := make([]float32, len(first))
	for i, p := range first {
		values[i] = patch.v[p.Y*patch.w+p.X]
	}
	for y := 0; y+patch.h <= s.light.h; y++ {
		row := s.light.v[y*s.light.w:]
	places:
		for x := 0; x+patch.w <= s.light.w; x++ {
			for i, o := range offsets {
				if d := row[x+o] - values[i]; d > alike || d < -alike {
					continue places
				}
			}
			if !s.light.same(patch, x, y) {
				continue
			}
			if found = append(found, image.Pt(x, y)); len(found) > mostSame {
				return nil, false
			}
		}
	}
	return found, true
}

// same tells whether a patch lies in the plane at a place.
func (p plane) same(patch plane, x, y int) bool {
	left := int(mostOff * float64(len(patch.v)))
	for j := range patch.h {
		a, b := p.v[(y+j)*p.w+x:][:patch.w], patch.v[j*patch.w:][:patch.w]
		for i, v := range a {
			if d := v - b[i]; d > alike || d < -alike {
				if left--; left < 0 {
					return false
				}
			}
		}
	}
	return true
}

// busiest are n pixels where the lightness jumps most, one in each of n bands, so that an empty place is told at
// the first of them; fewer where the plane has too little in it.
func (p plane) busiest(n int) []image.Point {
	type jump struct {
		image.Point
		by float32
	}
	var all []jump
	for band := range n {
		best := jump{by: 0.08}
		for i := band * len(p.v) / n; i < (band+1)*len(p.v)/n; i++ {
			x, y := i%p.w, i/p.w
			if x == 0 {
				continue
			}
			d := p.v[i] - p.v[i-1]
			if d = max(d, -d); d > best.by {
				best = jump{image.Pt(x, y), d}
			}
		}
		if best.by > 0.08 {
			all = append(all, best)
		}
	}
	if len(all) == 0 {
		return nil
	}
	slices.SortFunc(all, func(a, b jump) int { return int(1e6 * (b.by - a.by)) })
	out := make([]image.Point, 0, n)
	for i := range n { // the dark and the light side of each jump
		j := all[i/2%len(all)].Point
		out = append(out, j.Sub(image.Pt(i%2, 0)))
	}
	return out
}

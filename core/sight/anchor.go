package sight

import (
	"image"
	"math"
	"slices"

	"raconte/core/scene"
)

// Seen is a shot prepared for finding things in it by their looks: by where its lightness jumps, which stays when
// a program changes its colours.
type Seen struct {
	light   plane // luma, 0 to 1, with a border all around, so that what lies at the side is found
	fine    plane // edges in full size
	soft    plane // edges, softened: letters drawn anew at another size do not meet pixel by pixel
	half    plane
	coarse  level // edges at a quarter of the size
	coarser level // and at an eighth
	smaller map[float64]*Seen
}

const coarseness = 4

// Look prepares a shot.
func Look(img *image.RGBA) *Seen { return seen(bordered(luma(img))) }

func seen(light plane) *Seen {
	s := &Seen{light: light, smaller: map[float64]*Seen{}}
	s.fine = edges(s.light)
	s.soft = softened(s.fine)
	s.half = shrunk(s.fine, 2)
	s.coarse = levelOf(shrunk(s.half, coarseness/2))
	s.coarser = levelOf(shrunk(s.coarse.plane, 2))
	return s
}

// Prepare makes the shot ready to be looked in at a scale, by several at once.
func (s *Seen) Prepare(k float64) { s.at(1 / k) }

// shrunkSlack is for shots made smaller, in which a sharp edge is as wide as two.
const shrunkSlack = 1.5

// at is the shot at a smaller size; it is made once.
func (s *Seen) at(k float64) *Seen {
	if k >= 1 {
		return s
	}
	if s.smaller[k] == nil {
		p := s.light.inside()
		small := seen(bordered(p.scaled(image.Rect(0, 0, p.w, p.h), k)))
		small.coarse.slack, small.coarser.slack = shrunkSlack, shrunkSlack
		s.smaller[k] = small
	}
	return s.smaller[k]
}

// Found is where a thing may be in another shot.
type Found struct {
	Center scene.Point // of the thing
	Own    float64     // how alike it is itself: 1 where nothing differs
	Near   float64     // how alike it is with what is right around it
	Far    float64     // and with what is farther around it
	Same   bool        // whether its pixels are the very same
}

// Score weighs how alike a place is. What is around tells one button from the next better than the button does.
func (f Found) Score() float64 { return 0.4*f.Own + 0.2*f.Near + 0.4*f.Far }

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
	found := s.at(1/k).find(from, part, math.Min(1, k), mostRefined, k == 1)
	for i := range found {
		found[i].Center = found[i].Center.Times(math.Max(1, k))
	}
	return found
}

// plainly is how alike the surroundings of the very same pixels are where nothing else needs to be looked at.
const plainly = 0.8

func (s *Seen) find(from *Seen, part scene.Rect, k float64, most int, same bool) []Found {
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
	offset := func(r scene.Rect) image.Point {
		return image.Pt(int(math.Round((r.X-near.X)*k)), int(math.Round((r.Y-near.Y)*k)))
	}
	// judged is what is found where what is near the thing would be at a place.
	judged := func(p place) Found {
		f := Found{Near: p.score, Own: p.score, Far: p.score}
		if inner.energy > 0.008 {
			o := offset(own)
			f.Own = inner.around(s.soft, p.x+o.X, p.y+o.Y, 1).score
		}
		if o := offset(far); f.Own < 0.4 {
			f.Far = 0
		} else if farEdges.w > 8 && farEdges.h > 8 {
			x, y := p.x+o.X, p.y+o.Y
			ox, oy := x&1, y&1
			t := &wide[oy*2+ox]
			if t.v == nil {
				*t = templateOf(shrunk(farEdges.from(ox, oy), 2))
			}
			f.Far = t.around(s.half, (x+ox)/2, (y+oy)/2, 1).score
		}
		c := target.Center()
		f.Center = scene.Point{X: float64(p.x-border) + (c.X-near.X)*k, Y: float64(p.y-border) + (c.Y-near.Y)*k}
		return f
	}
	var found []Found
	if same {
		// A thing that is like many others, as an empty field is, is told by what is around it.
		for _, r := range []scene.Rect{target, near, far} {
			places, telling := s.exact(from.light.part(pixelRect(r).Add(image.Pt(border, border))))
			for _, at := range places {
				at = at.Sub(offset(r))
				f := judged(place{at.X, at.Y, math.Max(0, t.match(s.fine, at.X, at.Y))})
				f.Own, f.Same = 1, true
				found = append(found, f)
			}
			if telling {
				break
			}
		}
	}
	if !slices.ContainsFunc(found, func(f Found) bool { return f.Far > plainly }) {
		for _, p := range s.refine(s.candidates(e, 4*most), e, t, most) {
			found = append(found, judged(p))
		}
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

// mostRefined is how many places are looked at in full size, and a quarter of those in a quarter of it.
const mostRefined = 10

// candidates are the best places for edges, at a quarter of the size. What is large enough to be told at an eighth of
// its size is looked for there first.
func (s *Seen) candidates(e plane, most int) []place {
	t, rough := templateOf(shrunk(e, coarseness)), templateOf(shrunk(e, 2*coarseness))
	if rough.w*rough.h < enoughRough {
		return s.coarse.candidates(t, most)
	}
	var best []place
	for _, c := range s.coarser.candidates(rough, 3*most) {
		if p := t.around(s.coarse.plane, 2*c.x, 2*c.y, 1); p.score >= leastLike {
			best = insert(best, p, most)
		}
	}
	return best
}

const (
	enoughRough = 60  // pixels of a thing at an eighth of its size
	leastLike   = 0.2 // of a place that is a candidate
)

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

// Package reshoot moves the marks of a figure to where their targets are in a new shot of the same thing (rule
// 20): by the names of elements where the captures know them, else by the targets' looks.
package reshoot

import (
	"math"
	"sync"

	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/sight"
)

// Sure says how sure it is that a target was found.
type Sure string

// A target is found, perhaps found, for a person to say, or lost.
const (
	Yes     Sure = "yes"
	Perhaps Sure = "perhaps"
	Lost    Sure = "lost"
)

// Target is where a mark is in the new shot; where its target is lost, as it was.
type Target struct {
	Mark   figure.Mark
	Sure   Sure
	Center scene.Point // of the target
}

// Side is one of the two shots.
type Side struct {
	Seen     *sight.Seen
	Elements []capture.Element
}

// Scores of looks from which a target is found, or perhaps found, and by how much it must stand out from what is
// seen elsewhere.
const (
	sureOwn    = 0.72 // of the target itself
	sureFar    = 0.74 // of what is around it
	agreedOwn  = 0.66 // where it lies where the others have gone
	agreedNear = 0.5
	perhapsOwn = 0.78
	perhapsFar = 0.62
	standsOut  = 0.03
)

// move is a way from the old shot to the new.
type move struct {
	from, to scene.Point
	scale    float64
}

// Marks finds the targets of marks, which are in places of the old shot, in the new one. Unit is that of the figure.
func Marks(marks []figure.Mark, unit float64, before, after Side) []Target {
	out := make([]Target, len(marks))
	at := make([]scene.Rect, len(marks))
	var moves []move
	var unnamed []scene.Rect
	for i, m := range marks {
		out[i] = Target{Mark: m, Sure: Lost}
		r, targeted := m.Target(unit)
		if !targeted {
			continue
		}
		at[i] = r
		if mv, ok := byName(r, before.Elements, after.Elements); ok {
			out[i] = settled(m, mv, Yes)
			moves = append(moves, mv)
		} else {
			unnamed = append(unnamed, r)
		}
	}
	// A program is shown anew at one scale.
	scale := 1.0
	if len(moves) > 0 {
		scale = moves[0].scale
	} else if len(unnamed) > 0 {
		scale = after.Seen.ScaleOf(before.Seen, before.Seen.Busiest(unnamed, 4))
	}
	looks := lookedFor(out, at, scale, before, after)
	settle := func(same bool) (n int) {
		for i, m := range marks {
			if out[i].Sure != Yes && plain(looks[i]) && looks[i][0].Same == same {
				mv := move{at[i].Center(), looks[i][0].Center, scale}
				out[i] = settled(m, mv, Yes)
				moves = append(moves, mv)
				n++
			}
		}
		return n
	}
	// Where some have the very same pixels as before and went different ways, something was scrolled, and what only
	// looks like a row may be another.
	unchanged := settle(true) > 1
	scrolled := unchanged && !together(moves)
	if !scrolled {
		settle(false)
	}
	// What looks like several places, or only somewhat like one, is where the others have moved.
	for i, m := range marks {
		switch {
		case out[i].Sure == Yes:
		case at[i].Empty():
			out[i] = along(m, unit, moves)
		default:
			out[i] = likeliest(m, at[i], looks[i], moves, scale, unchanged, scrolled)
		}
	}
	return out
}

// plain tells whether the first of some places is alike beyond doubt, and no other nearly so.
func plain(f []sight.Found) bool {
	return len(f) > 0 && f[0].Own >= sureOwn && f[0].Far >= sureFar && (len(f) == 1 || f[0].Score()-f[1].Score() >= standsOut)
}

// lookedFor are the places that each target may be in, of those that are not settled; two are looked for at a time.
func lookedFor(targets []Target, at []scene.Rect, scale float64, before, after Side) [][]sight.Found {
	looks := make([][]sight.Found, len(targets))
	after.Seen.Prepare(scale)
	var group sync.WaitGroup
	var failed [2]any
	for half := range 2 {
		group.Go(func() {
			defer func() { failed[half] = recover() }()
			for i := half; i < len(targets); i += 2 {
				if targets[i].Sure != Yes && !at[i].Empty() {
					looks[i] = after.Seen.Find(before.Seen, at[i], scale)
				}
			}
		})
	}
	group.Wait()
	for _, f := range failed {
		if f != nil {
			panic(f) // in the asker's own goroutine, where it is dealt with
		}
	}
	return looks
}

func settled(m figure.Mark, mv move, sure Sure) Target {
	m = m.Follows(mv.from, mv.to, mv.scale)
	m.Lost, m.Unsure = sure == Lost, sure == Perhaps
	return Target{m, sure, mv.to}
}

// likeliest chooses among places that a target may be in: one that lies where the others have gone, if it is
// alike at all, else the most alike. Where other things have the very same pixels as before, one that has not, and
// lies elsewhere, is only like it.
func likeliest(m figure.Mark, r scene.Rect, found []sight.Found, moves []move, scale float64, unchanged, scrolled bool) Target {
	lost := m
	lost.Lost = true
	best, sure, reason := -1, Lost, math.Inf(1)
	for i, f := range found {
		to := r.Center() // alone, a target is most likely where it was
		if len(moves) > 0 {
			to, _ = predicted(r.Center(), moves)
		}
		d := f.Center.Minus(to).Length()
		agrees := d < 10 && (len(moves) > 0 || scale == 1)
		switch {
		case agrees && f.Own >= agreedOwn && f.Near >= agreedNear:
			sure := Yes
			if scrolled && !f.Same {
				sure = Perhaps
			}
			return settled(m, move{r.Center(), f.Center, scale}, sure)
		case unchanged && !f.Same:
		case f.Own >= perhapsOwn && f.Far >= perhapsFar && f.Score() >= found[0].Score()-standsOut && d < reason:
			best, sure, reason = i, Perhaps, d
		}
	}
	if best < 0 {
		return Target{Mark: lost, Sure: Lost, Center: r.Center()}
	}
	return settled(m, move{r.Center(), found[best].Center, scale}, sure)
}

// together tells whether all went the same way.
func together(moves []move) bool {
	for _, mv := range moves {
		if to, _ := predicted(mv.from, moves[:1]); to.Minus(mv.to).Length() > 10 {
			return false
		}
	}
	return true
}

// predicted is where a place would be if it went the way of the nearest of those that were found.
func predicted(p scene.Point, moves []move) (scene.Point, float64) {
	mv := nearest(p, moves)
	return mv.to.Plus(p.Minus(mv.from).Times(mv.scale)), mv.scale
}

func nearest(p scene.Point, moves []move) move {
	best := moves[0]
	for _, mv := range moves {
		if mv.from.Minus(p).Length() < best.from.Minus(p).Length() {
			best = mv
		}
	}
	return best
}

// along is a mark that is about no one place: it goes with the mark nearest to it.
func along(m figure.Mark, unit float64, moves []move) Target {
	c := m.Area(unit).Center()
	if len(moves) == 0 {
		return Target{m, Perhaps, c}
	}
	mv := nearest(c, moves)
	to, _ := predicted(c, []move{mv})
	return Target{m.ShiftedBy(to.Minus(c)), Yes, to}
}

// byName finds the element that a target is in the list of the new shot: the one of its name and role, where
// there is one only.
func byName(r scene.Rect, before, after []capture.Element) (move, bool) {
	var own *capture.Element
	for i, e := range before {
		if e.Name == "" || !e.Rect.Contains(r.Center()) || e.Rect.W*e.Rect.H > 6*math.Max(r.W*r.H, 900) {
			continue
		}
		if own == nil || e.Rect.W*e.Rect.H < own.Rect.W*own.Rect.H {
			own = &before[i]
		}
	}
	if own == nil {
		return move{}, false
	}
	var there *capture.Element
	for i, e := range after {
		if e.Name == own.Name && e.Role == own.Role {
			if there != nil {
				return move{}, false
			}
			there = &after[i]
		}
	}
	if there == nil || there.Rect.Empty() || own.Rect.Empty() {
		return move{}, false
	}
	scale := there.Rect.H / own.Rect.H
	corner := func(e scene.Rect) scene.Point { return scene.Point{X: e.X, Y: e.Y} }
	// What is about a part of the element keeps its place in it.
	to := corner(there.Rect).Plus(r.Center().Minus(corner(own.Rect)).Times(scale))
	if math.Abs(r.Center().X-own.Rect.Center().X) < own.Rect.W/4 {
		to.X = there.Rect.Center().X + (r.Center().X-own.Rect.Center().X)*scale
	}
	return move{r.Center(), to, scale}, true
}

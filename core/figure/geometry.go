package figure

import (
	"math"
	"slices"

	"raconte/core/scene"
)

// Geometry leads from the shot to the finished picture and back. The finished picture keeps the scale
// and, where it is neither turned nor folded, the very places of the shot.
type Geometry struct {
	Frame scene.Rect // what the finished picture shows, its margins included
	Inner scene.Rect // the picture inside its margins
	Sheet Size       // of the upright picture

	whole    bool // neither mirrored, turned, tilted nor folded
	to, back scene.Matrix
	folds    []Fold
	gap      float64 // what a fold leaves
	odd      bool    // turned so that width and height change places
	blank    bool    // all of the crop is folded away: nothing shows
}

// Geometry is that of the figure on a shot of the given size.
func (f Figure) Geometry(shot Size) Geometry {
	g := Geometry{Sheet: shot, to: scene.Same, back: scene.Same, odd: f.Quarter%2 == 1}
	if g.odd {
		g.Sheet = Size{shot.H, shot.W}
	}
	sheet := scene.Rect{W: float64(g.Sheet.W), H: float64(g.Sheet.H)}
	if f.Mirror || f.Quarter != 0 || f.Tilt != 0 {
		c := scene.Point{X: float64(shot.W) / 2, Y: float64(shot.H) / 2}
		m := scene.Stretch(1, c.Times(-1))
		if f.Mirror {
			m = m.Then(scene.Matrix{A: -1, D: 1})
		}
		m = m.Then([]scene.Matrix{scene.Same, {B: 1, C: -1}, {A: -1, D: -1}, {B: -1, C: 1}}[f.Quarter&3])
		if f.Tilt != 0 {
			m = m.Then(scene.Rotation(f.Tilt * math.Pi / 180))
		}
		g.to = m.Then(scene.Stretch(1, sheet.Center()))
		g.back = g.to.Inverse()
	}
	cut := f.cut(sheet)
	cut, g.blank = trimmed(cut, f.Folds)
	g.gap = math.Round(14 * Unit(cut)) // in whole pixels, so that the parts stay sharp
	g.folds = tidied(f.Folds, cut)
	g.whole = g.to == scene.Same && len(g.folds) == 0
	a := g.fold(scene.Point{X: cut.X, Y: cut.Y})
	b := g.fold(scene.Point{X: cut.X + cut.W, Y: cut.Y + cut.H})
	g.Inner = scene.Between(a, b)
	g.Frame = g.Inner
	if m := f.Margin; m != nil {
		g.Frame = scene.Rect{
			X: g.Inner.X - math.Round(m.Left), Y: g.Inner.Y - math.Round(m.Top),
			W: g.Inner.W + math.Round(m.Left) + math.Round(m.Right), H: g.Inner.H + math.Round(m.Top) + math.Round(m.Bottom),
		}
	}
	return g
}

// cut is the crop within the upright picture, in whole pixels.
func (f Figure) cut(sheet scene.Rect) scene.Rect {
	if f.Crop == nil {
		return sheet
	}
	x0, y0 := math.Round(f.Crop.X), math.Round(f.Crop.Y)
	x1, y1 := math.Round(f.Crop.X+f.Crop.W), math.Round(f.Crop.Y+f.Crop.H)
	r := scene.Rect{X: x0, Y: y0, W: x1 - x0, H: y1 - y0}.Intersect(sheet)
	if r.Empty() {
		return sheet
	}
	return r
}

// Cut is the figure's crop within the upright picture, in whole pixels; all of it where there is none.
func Cut(f Figure, shot Size) scene.Rect {
	up := f.Upright(shot)
	return f.cut(scene.Rect{W: float64(up.W), H: float64(up.H)})
}

// trimmed is a crop without the folded bands at its sides: what is taken out stays out, wherever the crop ends. Blank
// tells that nothing is left of it.
func trimmed(cut scene.Rect, folds []Fold) (left scene.Rect, blank bool) {
	x0, y0, x1, y1 := cut.X, cut.Y, cut.X+cut.W, cut.Y+cut.H
	for range folds { // one that is trimmed may lead to the next
		for _, f := range folds {
			low, high := &y0, &y1
			if f.Down {
				low, high = &x0, &x1
			}
			from, to := math.Round(f.From), math.Round(f.To)
			if from <= *low && to > *low {
				*low = to
			}
			if to >= *high && from < *high {
				*high = from
			}
		}
	}
	if x1-x0 < 1 || y1-y0 < 1 {
		return cut, true
	}
	return scene.Rect{X: x0, Y: y0, W: x1 - x0, H: y1 - y0}, false
}

// tidied are the folds that take something out of the middle of the crop, in order and apart.
func tidied(folds []Fold, cut scene.Rect) []Fold {
	var kept []Fold
	for _, down := range []bool{false, true} {
		least, most := cut.Y, cut.Y+cut.H
		if down {
			least, most = cut.X, cut.X+cut.W
		}
		var along []Fold
		for _, f := range folds {
			f.From, f.To = math.Round(f.From), math.Round(f.To)
			if f.Down == down && f.From > least && f.To < most && f.To > f.From {
				along = append(along, f)
			}
		}
		slices.SortFunc(along, func(a, b Fold) int { return int(a.From - b.From) })
		first := len(kept)
		for _, f := range along {
			if last := len(kept) - 1; last >= first && f.From <= kept[last].To { // one band
				kept[last].To = math.Max(kept[last].To, f.To)
				continue
			}
			kept = append(kept, f)
		}
	}
	return kept
}

// fold is where a place of the upright picture lies once bands are taken out.
func (g Geometry) fold(p scene.Point) scene.Point {
	q := p
	for _, f := range g.folds {
		at, to := &p.Y, &q.Y
		if f.Down {
			at, to = &p.X, &q.X
		}
		switch {
		case *at >= f.To:
			*to -= f.To - f.From - g.gap
		case *at > f.From:
			*to -= *at - f.From - g.gap*(*at-f.From)/(f.To-f.From)
		}
	}
	return q
}

// unfold undoes fold.
func (g Geometry) unfold(q scene.Point) scene.Point {
	for _, f := range g.folds {
		at := &q.Y
		if f.Down {
			at = &q.X
		}
		switch {
		case *at >= f.From+g.gap:
			*at += f.To - f.From - g.gap
		case *at > f.From:
			*at = f.From + (*at-f.From)/g.gap*(f.To-f.From)
		}
	}
	return q
}

// foldsAway tells whether a place of the shot lies in a band that is taken out.
func (g Geometry) foldsAway(p scene.Point) bool {
	upright := g.to.Apply(p)
	return !g.whole && slices.ContainsFunc(g.folds, func(f Fold) bool {
		at := upright.Y
		if f.Down {
			at = upright.X
		}
		return at > f.From && at < f.To
	})
}

// Show is where a place of the shot lies in the finished picture.
func (g Geometry) Show(p scene.Point) scene.Point {
	if g.whole {
		return p
	}
	return g.fold(g.to.Apply(p))
}

// Keep is where a place of the finished picture lies in the shot.
func (g Geometry) Keep(p scene.Point) scene.Point {
	if g.whole {
		return p
	}
	return g.back.Apply(g.unfold(p))
}

// Upright is where a place of the finished picture lies in the upright picture, in which crops and folds are
// measured.
func (g Geometry) Upright(p scene.Point) scene.Point { return g.unfold(p) }

// ShowMark is a mark with its places in the finished picture. Rectangles stay upright around their
// middle, so that a picture that is set straight does not tilt its boxes.
func (g Geometry) ShowMark(m Mark) Mark {
	if g.whole {
		return m
	}
	return m.placed(func(p scene.Point) scene.Point { return g.to.Apply(p) }, g.fold, g.odd)
}

// KeepMark is a mark with its places in the shot; it undoes ShowMark.
func (g Geometry) KeepMark(m Mark) Mark {
	if g.whole {
		return m
	}
	return m.placed(g.unfold, g.back.Apply, g.odd)
}

// placed maps a mark's points by two steps, of which exactly one may turn; see turnedRect.
func (m Mark) placed(first, second func(scene.Point) scene.Point, odd bool) Mark {
	pts := slices.Clone(m.Points)
	from := 0
	if shapes[m.Kind].corners {
		pts[0], pts[1] = mapRect(pts[0], pts[1], first, odd)
		// Turned once: the second step must not change sides again.
		pts[0], pts[1] = mapRect(pts[0], pts[1], second, false)
		from = 2
	} else if m.Kind.Speaks() {
		// Words stay level: their plate keeps its width, and its top left corner its place.
		width := pts[1].Minus(pts[0])
		pts[0] = second(first(pts[0]))
		pts[1] = pts[0].Plus(width)
		from = 2
	}
	for i := from; i < len(pts); i++ {
		pts[i] = second(first(pts[i]))
	}
	m.Points = pts
	return m
}

// mapRect maps a rectangle: where the map turns, by its middle and its size, with its sides changed
// over where it is turned by odd quarters; otherwise by its corners.
func mapRect(a, b scene.Point, to func(scene.Point) scene.Point, odd bool) (scene.Point, scene.Point) {
	o, x := to(scene.Point{}), to(scene.Point{X: 1})
	turns := odd || math.Abs(x.Minus(o).Y) > 1e-9
	if !turns {
		return to(a), to(b)
	}
	c := to(a.Plus(b).Times(0.5))
	half := b.Minus(a).Times(0.5)
	if odd {
		half.X, half.Y = half.Y, half.X
	}
	return c.Minus(half), c.Plus(half)
}

// parts are the pieces of the upright picture that show, each with where it shows.
func (g Geometry) parts() (from, to []scene.Rect) {
	if g.blank {
		return nil, nil
	}
	cuts := func(down bool, low, high float64) [][2]float64 {
		spans := [][2]float64{}
		at := low
		for _, f := range g.folds {
			if f.Down == down {
				spans = append(spans, [2]float64{at, f.From})
				at = f.To
			}
		}
		return append(spans, [2]float64{at, high})
	}
	a, b := g.unfold(scene.Point{X: g.Inner.X, Y: g.Inner.Y}), g.unfold(scene.Point{X: g.Inner.X + g.Inner.W, Y: g.Inner.Y + g.Inner.H})
	for _, y := range cuts(false, a.Y, b.Y) {
		for _, x := range cuts(true, a.X, b.X) {
			r := scene.Rect{X: x[0], Y: y[0], W: x[1] - x[0], H: y[1] - y[0]}
			p := g.fold(scene.Point{X: r.X, Y: r.Y})
			from = append(from, r)
			to = append(to, scene.Rect{X: p.X, Y: p.Y, W: r.W, H: r.H})
		}
	}
	return from, to
}

// Frame is what the finished picture shows, its margins included, in the places of the finished picture.
func (f Figure) Frame(shot Size) scene.Rect { return f.Geometry(shot).Frame }

// Upright is the size of the picture once it is turned: that in which crops and folds are measured.
func (f Figure) Upright(shot Size) Size {
	if f.Quarter%2 == 1 {
		return Size{shot.H, shot.W}
	}
	return shot
}

// Turned is the figure turned by quarters more; what is cropped and folded stays cropped and folded.
func (f Figure) Turned(shot Size, quarters int) Figure {
	f = f.Clone()
	for range (quarters%4 + 4) % 4 {
		h := float64(f.Upright(shot).H)
		turn := func(p scene.Point) scene.Point { return scene.Point{X: h - p.Y, Y: p.X} }
		f.remap(turn)
		for i, fold := range f.Folds {
			if fold.Down {
				f.Folds[i] = Fold{From: fold.From, To: fold.To}
			} else {
				f.Folds[i] = Fold{Down: true, From: h - fold.To, To: h - fold.From}
			}
		}
		if m := f.Margin; m != nil {
			f.Margin = &Margin{Top: m.Left, Right: m.Top, Bottom: m.Right, Left: m.Bottom}
		}
		f.Quarter = (f.Quarter + 1) % 4
	}
	return f
}

// Mirrored is the figure with left and right changed over, as it is seen.
func (f Figure) Mirrored(shot Size) Figure {
	f = f.Clone()
	w := float64(f.Upright(shot).W)
	f.remap(func(p scene.Point) scene.Point { return scene.Point{X: w - p.X, Y: p.Y} })
	for i, fold := range f.Folds {
		if fold.Down {
			f.Folds[i] = Fold{Down: true, From: w - fold.To, To: w - fold.From}
		}
	}
	if m := f.Margin; m != nil {
		m.Left, m.Right = m.Right, m.Left
	}
	// To mirror what is turned is to mirror first and turn the other way.
	f.Mirror, f.Quarter, f.Tilt = !f.Mirror, (4-f.Quarter)%4, -f.Tilt
	return f
}

func (f *Figure) remap(to func(scene.Point) scene.Point) {
	if c := f.Crop; c != nil {
		r := scene.Between(to(scene.Point{X: c.X, Y: c.Y}), to(scene.Point{X: c.X + c.W, Y: c.Y + c.H}))
		f.Crop = &r
	}
	for i, p := range f.Outline {
		f.Outline[i] = to(p)
	}
}

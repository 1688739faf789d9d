package figure

import (
	"math"

	"raconte/core/scene"
)

// detailShape is that of a part shown enlarged, as technical drawings do (ISO 128).
func detailShape() shape {
	return shape{
		name: "Detail", least: 3, most: 3, corners: true, inked: true, stays: []int{0, 1}, about: aboutCorners, usual: Style{Auto: true, Look: "round"},
		area: func(m Mark, _ float64) scene.Rect { return m.lens() }, edge: aroundArea(0), cost: plain(usualMark), draw: (*drawing).detail,
		pulled: pulledToCorner, ties: tiesEdge, finished: func(m Mark, p Pull) (Mark, bool) {
			return m.withLens(p.Frame, p.Unit), p.Moved
		},
		inMiddle: inMiddle([2]float64{-60, -30}, [2]float64{60, 30}, [2]float64{}),
		grips: func(m Mark, _ float64) []Grip {
			lens := m.lens()
			return append(RectGrips(m.corners()), Grip{"lens", m.Points[2]}, Grip{"zoom", scene.Point{X: lens.X + lens.W, Y: lens.Y + lens.H}})
		},
		hits: func(m Mark, h hit) bool { return m.lens().Grow(h.tolerance).Contains(h.at) || h.onFrame(m.corners()) },
	}
}

// withLens is a detail with its enlargement beside it, where there is most room.
func (m Mark) withLens(frame scene.Rect, unit float64) Mark {
	r, k := m.corners(), float64(m.zoom())/100
	gap := 40 * unit
	c := r.Center()
	if c.X < frame.Center().X {
		c.X = r.X + r.W + gap + r.W*k/2
	} else {
		c.X = r.X - gap - r.W*k/2
	}
	if c.Y < frame.Center().Y {
		c.Y += r.H
	} else {
		c.Y -= r.H
	}
	m.Points = []scene.Point{{X: r.X, Y: r.Y}, {X: r.X + r.W, Y: r.Y + r.H}, {
		X: math.Max(frame.X+r.W*k/2, math.Min(frame.X+frame.W-r.W*k/2, c.X)),
		Y: math.Max(frame.Y+r.H*k/2, math.Min(frame.Y+frame.H-r.H*k/2, c.Y)),
	}}
	return m
}

// lens is where a detail's enlargement lies.
func (m Mark) lens() scene.Rect {
	r := scene.Between(m.Points[0], m.Points[1])
	k := float64(m.zoom()) / 100
	c := m.Points[2]
	return scene.Rect{X: c.X - r.W*k/2, Y: c.Y - r.H*k/2, W: r.W * k, H: r.H * k}
}

func (m Mark) zoom() int {
	if m.Zoom == 0 {
		return 200
	}
	return m.Zoom
}

func (d *drawing) detail() {
	src := scene.Between(d.Points[0], d.Points[1])
	src = scene.Rect{X: math.Round(src.X), Y: math.Round(src.Y), W: math.Max(1, math.Round(src.W)), H: math.Max(1, math.Round(src.H))}
	lens := d.lens()
	k := lens.W / src.W
	radius := d.corner(d.unit)
	shape, source := scene.Rounded(lens, radius), scene.Frame(src, 2*d.unit, d.w*0.5)
	around, ring := scene.Frame(lens, radius, d.w+2*d.edge), scene.Frame(lens, radius, d.w)
	if d.Look == "round" {
		shape = scene.Ellipse(lens)
		ringOf := func(w float64) scene.Outline {
			return scene.Ring(scene.Ellipse(lens.Grow(w/2)), scene.Ellipse(lens.Grow(-w/2)))
		}
		around, ring = ringOf(d.w+2*d.edge), ringOf(d.w)
	}
	// The tie runs from the detail's edge to the lens, where they are apart.
	a, b := onEdge(src, lens.Center()), onEdge(lens, src.Center())
	if src.Intersect(lens).Empty() {
		d.s.Fill(scene.Stroke([]scene.Point{a, b}, d.w*0.5+2*d.edge, false), d.keyline())
		d.s.Fill(scene.Stroke([]scene.Point{a, b}, d.w*0.5, false), d.ink)
	}
	d.s.Fill(scene.Frame(src, 2*d.unit, d.w*0.5+2*d.edge), d.keyline())
	d.s.Fill(source, d.ink)
	part := append([]scene.Item{{Path: &scene.Path{Outline: scene.Rounded(src, 0), Fill: lightInk}}}, Part(d.ground, src)...)
	move := scene.Point{X: lens.X - src.X*k, Y: lens.Y - src.Y*k}
	d.s.Items = append(d.s.Items, scene.Item{Clip: &scene.Clip{Outline: shape, Items: scene.MovedAll(part, k, move)}})
	d.s.Fill(around, d.keyline())
	d.s.Fill(ring, d.ink)
}

// Part is what lies in r of some items: pictures are cut to it, the rest is taken whole.
func Part(items []scene.Item, r scene.Rect) []scene.Item {
	var out []scene.Item
	for _, it := range items {
		if it.Picture == nil {
			if it.Path == nil || !it.Path.Outline.Bounds().Intersect(r).Empty() {
				out = append(out, it)
			}
			continue
		}
		p := *it.Picture
		target := p.Target.Intersect(r)
		if target.Empty() {
			continue
		}
		if p.Matrix == nil && !p.Source.Empty() {
			k := p.Source.W / p.Target.W
			p.Source = scene.Rect{
				X: p.Source.X + (target.X-p.Target.X)*k, Y: p.Source.Y + (target.Y-p.Target.Y)*k, W: target.W * k, H: target.H * k,
			}
			p.Target = target
		} else if p.Matrix != nil {
			p.Target = target
		}
		out = append(out, scene.Item{Picture: &p})
	}
	return out
}

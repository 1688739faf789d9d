package figure

import (
	"math"
	"slices"

	"raconte/core/scene"
)

func wireShape(name string, draw func(d *drawing)) shape {
	return shape{
		name: name, least: 2, most: 3, wire: true, inked: true, about: 1, usual: Style{Auto: true}, dashed: 1,
		area: spread, draw: draw, inMiddle: inMiddle([2]float64{-80, -60}, [2]float64{}),
		grips: func(m Mark, _ float64) []Grip {
			grips := []Grip{{"tail", m.Points[0]}, {"tip", m.Points[1]}}
			if m.Way != "" {
				grips = append(grips, Grip{"bend", m.bend()})
			}
			return grips
		},
		hits: func(m Mark, h hit) bool {
			d := scene.DistanceToLine(h.at, m.way())
			head := m.Kind == Arrow && h.at.Minus(m.Points[1]).Length() < h.width*3
			return d <= h.width/2+h.tolerance || (head && d <= h.width*2)
		},
		edge: func(m Mark, _ float64) []scene.Point {
			if len(m.Points) > 2 {
				return []scene.Point{m.Points[0], m.Points[2], m.Points[1]}
			}
			return m.Points
		},
		cost: func(m Mark) int {
			if m.Way == "curved" {
				return perPoint * 64
			}
			return perPoint*3 + usualMark
		},
	}
}

func arrowShape() shape { return wireShape("Arrow", (*drawing).arrow) }

func lineShape() shape { return wireShape("Line", func(d *drawing) { d.line(d.way(), false) }) }

// Way is the line of an arrow or line from its tail to its tip.
func (m Mark) way() []scene.Point {
	tail, tip := m.Points[0], m.Points[1]
	switch m.Way {
	case "bent":
		return []scene.Point{tail, m.bend(), tip}
	case "curved":
		// The curve goes through the bend at its middle.
		c := m.bend().Times(2).Minus(tail.Plus(tip).Times(0.5))
		return scene.Curve(tail, c, tip)
	}
	return []scene.Point{tail, tip}
}

// bend is where an arrow turns; where none was chosen, a corner, or a fifth of its length aside.
func (m Mark) bend() scene.Point {
	if len(m.Points) > 2 {
		return m.Points[2]
	}
	tail, tip := m.Points[0], m.Points[1]
	if m.Way == "bent" {
		return scene.Point{X: tip.X, Y: tail.Y}
	}
	d := tip.Minus(tail)
	return tail.Plus(tip).Times(0.5).Plus(scene.Point{X: d.Y, Y: -d.X}.Times(0.2))
}

func (d *drawing) arrow() {
	way := d.way()
	length := 0.0
	for i := 1; i < len(way); i++ {
		length += way[i].Minus(way[i-1]).Length()
	}
	if length < 1 {
		tip := d.Points[1]
		way, length = []scene.Point{tip.Minus(scene.Point{X: 1}), tip}, 1
	}
	ends := 1.0
	if d.Heads == "both" {
		ends = 2
	}
	head := math.Min(d.w*4.2, length*0.7/ends)
	d.w = math.Min(d.w, head*0.48)
	heads := []scene.Outline{headAt(way, head)}
	shaft := shortened(way, head*0.9)
	if ends == 2 {
		slices.Reverse(shaft)
		slices.Reverse(way)
		heads = append(heads, headAt(way, head))
		shaft = shortened(shaft, head*0.9)
	}
	stroke := func(width float64) scene.Outline {
		if d.Dash == "" {
			return scene.Stroke(shaft, width, false)
		}
		off := map[string]float64{"dashed": 3, "dotted": 0.1}[d.Dash]
		return scene.Dashed(shaft, width, off*d.w, 2.4*d.w, false)
	}
	around, inside := stroke(d.w+2*d.edge), stroke(d.w)
	for _, h := range heads {
		corners := h.Ends()
		around = append(append(around, scene.Stroke(corners, 2*d.edge, true)...), h...)
		inside = append(inside, h...)
	}
	d.s.Fill(around, d.keyline())
	d.s.Fill(inside, d.ink)
}

// headAt is the head at the end of a way.
func headAt(way []scene.Point, head float64) scene.Outline {
	tip := way[len(way)-1]
	back := shortened(way, head)
	along := tip.Minus(back[len(back)-1])
	if l := along.Length(); l > 0 {
		along = along.Times(1 / l)
	}
	across := scene.Point{X: -along.Y, Y: along.X}.Times(head * 0.48)
	neck := tip.Minus(along.Times(head))
	return scene.Polygon(neck.Minus(across), tip, neck.Plus(across))
}

// shortened is a way without the last length of it.
func shortened(way []scene.Point, length float64) []scene.Point {
	out := slices.Clone(way)
	for len(out) > 1 {
		a, b := out[len(out)-2], out[len(out)-1]
		l := b.Minus(a).Length()
		if l > length {
			out[len(out)-1] = b.Minus(b.Minus(a).Times(length / l))
			return out
		}
		length -= l
		out = out[:len(out)-1]
	}
	return out
}

package figure

import (
	"raconte/core/scene"
)

func frameShape(name string) shape {
	return shape{
		name: name, least: 2, most: 2, corners: true, framed: true, inked: true, about: aboutCorners, usual: Style{Auto: true}, dashed: 2,
		pulled: pulledToCorner, finished: finishedFrame, ties: tiesEdge,
		area: cornersArea, grips: cornersGrips, edge: aroundArea(0), cost: plain(usualMark), draw: (*drawing).box, inMiddle: boxInMiddle,
		hits: func(m Mark, h hit) bool {
			if m.Fill != "" {
				return m.corners().Grow(h.width/2 + h.tolerance).Contains(h.at)
			}
			return h.onFrame(m.corners())
		},
	}
}

func boxShape() shape { return frameShape("Box") }

func ellipseShape() shape {
	s := frameShape("Ellipse")
	s.cost = plain(perPoint * 120)
	s.edge = func(m Mark, _ float64) []scene.Point { return scene.AroundEllipse(m.corners()) }
	s.hits = func(m Mark, h hit) bool {
		if m.Fill != "" && m.corners().Contains(h.at) {
			return true
		}
		around := scene.AroundEllipse(m.corners())
		return scene.DistanceToLine(h.at, append(around, around[0])) <= h.width/2+h.tolerance
	}
	return s
}

// lightShape is that of an area that stays light: the layouter draws what dims all others, for all lights together.
func lightShape() shape {
	s := frameShape("Light")
	s.ties, s.inked = tiesNot, false
	s.usual, s.dashed, s.draw = Style{}, 0, func(*drawing) {}
	s.hits = func(m Mark, h hit) bool { return h.onFrame(m.corners()) }
	return s
}

func (d *drawing) box() {
	r := scene.Between(d.Points[0], d.Points[1])
	radius := d.corner(d.unit)
	inside := scene.Rounded(r, radius)
	if d.Kind == Ellipse {
		inside = scene.Ellipse(r)
	}
	if d.Fill != "" {
		tint := d.ink
		if d.Fill == "tint" {
			tint.A = 46
		}
		d.s.Fill(inside, tint)
	}
	switch {
	case d.Kind == Ellipse:
		d.line(scene.AroundEllipse(r), true)
	case d.Dash != "":
		d.line(scene.Around(r, radius), true)
	default:
		d.s.Fill(scene.Frame(r, radius, d.w+2*d.edge), d.keyline())
		d.s.Fill(scene.Frame(r, radius, d.w), d.ink)
	}
}

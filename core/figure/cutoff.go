package figure

import (
	"math"

	"raconte/core/scene"
)

// KeptIn is a mark of the finished picture whose words, or the part that it shows enlarged, lie in the frame as far as
// they can. What it points at stays.
func (m Mark) KeptIn(frame scene.Rect, unit float64) Mark {
	if !m.Kind.Speaks() && m.Kind != Detail {
		return m
	}
	f, a := frame.Grow(-4*unit), m.Area(unit)
	by := scene.Point{X: into(a.X, a.W, f.X, f.W), Y: into(a.Y, a.H, f.Y, f.H)}
	if by == (scene.Point{}) {
		return m
	}
	return m.MovedBy(by)
}

// into is how far a stretch is to be moved so that it lies in another, or begins where that begins.
func into(at, size, from, room float64) float64 {
	return math.Max(from-at, math.Min(0, from+room-at-size))
}

// CutOff are the marks whose words or enlargement reach beyond the finished picture.
func (f Figure) CutOff(shot Size) []Mark {
	g := f.Geometry(shot)
	unit := Unit(g.Frame)
	var cut []Mark
	for _, m := range f.Marks {
		if !m.Kind.Speaks() && m.Kind != Detail && m.Kind != Marker {
			continue
		}
		area := g.ShowMark(m).Area(unit)
		if in := area.Intersect(g.Frame); in.W < area.W-unit || in.H < area.H-unit {
			cut = append(cut, m)
		}
	}
	return cut
}

// Looks are the values of a mark's style as they are drawn, where the style leaves them to the usual.
type Looks struct {
	Letters int `json:"letters"` // in units
	Corner  int `json:"corner"`  // in units
	Opacity int `json:"opacity"` // percent
	Zoom    int `json:"zoom"`    // percent
}

// Looks are the mark's as they are drawn.
func (m Mark) Looks() Looks {
	l := Looks{int(m.Style.letters(1)), int(m.corner(1)), m.Opacity, m.zoom()}
	if l.Opacity == 0 {
		l.Opacity = 100
	}
	return l
}

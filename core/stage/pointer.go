package stage

import (
	"math"

	"raconte/core/figure"
	"raconte/core/scene"
)

// Pointer is one pointer event: where, in pixels of the shot, how many screen pixels one of those
// takes, and whether Shift is held.
type Pointer struct {
	At    scene.Point `json:"at"`
	Scale float64     `json:"scale"`
	Shift bool        `json:"shift"`
}

// Distances in screen pixels: how near a press must be, and how far a press must travel to be a drag.
const (
	reach    = 7.0
	gripNear = 11.0
	travel   = 4.0
)

// Down is a press of the main button.
func (s *Stage) Down(p Pointer) View {
	d := &drag{start: p.At, before: s.fig, crop: s.crop}
	switch {
	case s.tool == Crop:
		d.grip = nearest(figure.RectGrips(s.crop), p)
		if d.grip == "" && !s.crop.Contains(p.At) {
			d.grip, d.fresh = "se", true
		}
	case s.tool == figure.Marker:
		s.add(s.fresh(figure.Marker, p.At))
		d.fresh = true
	case s.tool != "":
		s.add(s.fresh(s.tool, p.At, p.At))
		d.fresh = true
		d.grip = map[figure.Kind]string{figure.Arrow: "tip", figure.Box: "se", figure.Text: "e"}[s.tool]
	default:
		if m := s.chosen(); m != nil {
			d.grip = nearest(m.Grips(s.unit()), p)
		}
		if d.grip == "" {
			hit := s.hit(p)
			s.dropEmptyText(hit)
			d.before, s.selected = s.fig, hit
			if hit == "" {
				return s.view()
			}
		}
	}
	s.drag = d
	return s.view()
}

// Move is a movement of the pointer with the button held.
func (s *Stage) Move(p Pointer) View {
	d := s.drag
	if d == nil {
		return s.view()
	}
	if p.At.Minus(d.start).Length()*p.Scale >= travel {
		d.moved = true
	}
	if !d.moved {
		return s.view()
	}
	if s.tool == Crop {
		s.moveCrop(p)
		return s.view()
	}
	was := d.before.Find(s.selected)
	s.fig = s.fig.Clone()
	m := s.chosen()
	switch {
	case m == nil:
	case d.fresh && m.Kind == figure.Marker:
		m.Points = []scene.Point{p.At}
	case d.fresh && m.Kind == figure.Box:
		m.Points = []scene.Point{d.start, figure.Steady(d.start, p.At, p.Shift, figure.Box)}
	case d.fresh && m.Kind == figure.Text:
		m.Points = []scene.Point{d.start, p.At}
	case d.fresh:
		*m = m.Reshaped(d.grip, p.At, p.Shift)
	case d.grip != "":
		*m = d.before.Marks[was].Reshaped(d.grip, p.At, p.Shift)
	default:
		by := p.At.Minus(d.start)
		if p.Shift && math.Abs(by.X) > math.Abs(by.Y) {
			by.Y = 0
		} else if p.Shift {
			by.X = 0
		}
		*m = d.before.Marks[was].MovedBy(by)
	}
	return s.view()
}

func (s *Stage) moveCrop(p Pointer) {
	d := s.drag
	whole := scene.Rect{W: float64(s.shot.W), H: float64(s.shot.H)}
	switch {
	case d.fresh:
		s.crop = scene.Between(d.start, figure.Steady(d.start, p.At, p.Shift, figure.Box)).Intersect(whole)
	case d.grip != "":
		s.crop = figure.DragSide(d.crop, d.grip, p.At).Intersect(whole)
	default:
		s.crop = shifted(d.crop, p.At.Minus(d.start), whole)
	}
}

// shifted is r moved by d but kept inside whole.
func shifted(r scene.Rect, d scene.Point, whole scene.Rect) scene.Rect {
	r.X = math.Max(0, math.Min(whole.W-r.W, r.X+d.X))
	r.Y = math.Max(0, math.Min(whole.H-r.H, r.Y+d.Y))
	return r
}

// Up is the release of the button.
func (s *Stage) Up(p Pointer) View {
	d := s.drag
	if d == nil {
		return s.view()
	}
	s.Move(p)
	s.drag = nil
	if s.tool == Crop {
		if d.fresh && (s.crop.W < figure.SmallestCut || s.crop.H < figure.SmallestCut) {
			s.crop = d.crop
		}
		return s.view()
	}
	m := s.chosen()
	switch {
	case d.fresh && !d.moved && m.Kind == figure.Text:
		m.Points[1] = m.Points[0].Plus(scene.Point{X: 260 * s.unit()})
	case d.fresh && !d.moved && m.Kind != figure.Marker:
		s.fig, s.selected = d.before, "" // a press without a drag draws nothing
		return s.view()
	case d.fresh && m.Kind == figure.Text:
		left, right := math.Min(m.Points[0].X, m.Points[1].X), math.Max(m.Points[0].X, m.Points[1].X)
		m.Points[0].X, m.Points[1] = left, scene.Point{X: math.Max(right, left+80*s.unit()), Y: m.Points[0].Y}
	}
	if d.fresh || d.moved {
		s.changed = m == nil || m.Kind != figure.Text || m.Text != ""
	}
	if d.fresh && !s.keep {
		s.tool = ""
	}
	return s.view()
}

// hit is the topmost mark under the pointer, or "".
func (s *Stage) hit(p Pointer) string {
	tolerance := reach / p.Scale
	s.lay()
	for i := len(s.fig.Marks) - 1; i >= 0; i-- {
		if s.fig.Marks[i].Hits(p.At, s.unit(), tolerance, s.pieces[i].Bounds) {
			return s.fig.Marks[i].ID
		}
	}
	return ""
}

func nearest(grips []figure.Grip, p Pointer) string {
	name, best := "", gripNear/p.Scale
	for _, g := range grips {
		if d := g.At.Minus(p.At).Length(); d <= best {
			name, best = g.Name, d
		}
	}
	return name
}

// Cursor is the CSS name of the pointer's shape over a place.
func (s *Stage) Cursor(p Pointer) string {
	grip := ""
	if s.tool == Crop {
		if grip = nearest(figure.RectGrips(s.crop), p); grip == "" && s.crop.Contains(p.At) {
			return "move"
		}
	} else if m := s.chosen(); m != nil && s.tool == "" {
		grip = nearest(m.Grips(s.unit()), p)
	}
	switch grip {
	case "nw", "se":
		return "nwse-resize"
	case "ne", "sw":
		return "nesw-resize"
	case "n", "s":
		return "ns-resize"
	case "e", "w":
		return "ew-resize"
	case "tail", "tip":
		return "crosshair"
	}
	switch {
	case s.tool != "":
		return "crosshair"
	case s.hit(p) != "":
		return "move"
	}
	return "default"
}

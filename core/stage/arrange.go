package stage

import (
	"cmp"
	"math"
	"slices"

	"raconte/core/figure"
	"raconte/core/scene"
)

// Align brings the chosen marks to one line: left, center, right, top, middle or bottom of the room that
// they take together; a single mark to that of the picture.
func (s *Stage) Align(to string) View {
	room := s.room(s.fig)
	if len(s.selected) == 1 {
		room = s.geo.Inner
	}
	if way, ok := alignments[to]; ok {
		s.each(func(a scene.Rect) scene.Point { return way(room, a) })
	}
	return s.view()
}

// alignments say by how much an area is moved to be in line with a side or the middle of a room.
var alignments = map[string]func(room, a scene.Rect) scene.Point{
	"left":   func(room, a scene.Rect) scene.Point { return scene.Point{X: room.X - a.X} },
	"center": func(room, a scene.Rect) scene.Point { return scene.Point{X: room.Center().X - a.Center().X} },
	"right":  func(room, a scene.Rect) scene.Point { return scene.Point{X: room.X + room.W - a.X - a.W} },
	"top":    func(room, a scene.Rect) scene.Point { return scene.Point{Y: room.Y - a.Y} },
	"middle": func(room, a scene.Rect) scene.Point { return scene.Point{Y: room.Center().Y - a.Center().Y} },
	"bottom": func(room, a scene.Rect) scene.Point { return scene.Point{Y: room.Y + room.H - a.Y - a.H} },
}

func (s *Stage) each(way func(area scene.Rect) scene.Point) {
	s.edit(func(m *figure.Mark) {
		if !m.Locked {
			*m = s.moved(*m, way(m.Area(s.unit())))
			s.inkOf(m)
		}
	})
}

// Distribute gives the chosen marks even gaps, across or down; the outermost stay.
func (s *Stage) Distribute(down bool) View {
	start := func(a scene.Rect) float64 { return a.X }
	size := func(a scene.Rect) float64 { return a.W }
	if down {
		start, size = func(a scene.Rect) float64 { return a.Y }, func(a scene.Rect) float64 { return a.H }
	}
	var marks []figure.Mark
	for _, m := range s.fig.Marks {
		if slices.Contains(s.selected, m.ID) {
			marks = append(marks, m)
		}
	}
	if len(marks) < 3 {
		return s.view()
	}
	area := func(m figure.Mark) scene.Rect { return m.Area(s.unit()) }
	slices.SortStableFunc(marks, func(a, b figure.Mark) int { return cmp.Compare(start(area(a)), start(area(b))) })
	first, last := area(marks[0]), area(marks[len(marks)-1])
	free := start(last) + size(last) - start(first)
	for _, m := range marks {
		free -= size(area(m))
	}
	gap, at := free/float64(len(marks)-1), start(first)
	to := map[string]float64{}
	for _, m := range marks {
		to[m.ID] = at - start(area(m))
		at += size(area(m)) + gap
	}
	s.edit(func(m *figure.Mark) {
		by := scene.Point{X: to[m.ID]}
		if down {
			by = scene.Point{Y: to[m.ID]}
		}
		if !m.Locked {
			*m = s.moved(*m, by)
		}
	})
	return s.view()
}

// SameSize gives the chosen rectangles the size of the one chosen first.
func (s *Stage) SameSize() View {
	var size scene.Rect
	for _, id := range s.selected {
		if i := s.fig.Find(id); i >= 0 && s.fig.Marks[i].Kind.Framed() {
			size = s.fig.Marks[i].Area(s.unit())
			break
		}
	}
	if size.Empty() {
		return s.view()
	}
	s.edit(func(m *figure.Mark) {
		if m.Kind.Framed() && !m.Locked {
			c := m.Area(s.unit()).Center()
			m.Points = []scene.Point{{X: c.X - size.W/2, Y: c.Y - size.H/2}, {X: c.X + size.W/2, Y: c.Y + size.H/2}}
		}
	})
	return s.view()
}

// Group makes the chosen marks be chosen together from now on, or each by itself again.
func (s *Stage) Group(together bool) View {
	id := ""
	if together {
		id = s.NewID()
	}
	s.edit(func(m *figure.Mark) { m.Group = id })
	return s.view()
}

// Position moves and sizes the one chosen mark by numbers, in pixels of the finished picture from its
// top left corner.
func (s *Stage) Position(to scene.Rect) View {
	s.edit(func(m *figure.Mark) {
		a := m.Area(s.unit())
		to := to
		to.X, to.Y = to.X+s.geo.Frame.X, to.Y+s.geo.Frame.Y
		switch {
		case m.Locked:
			return
		case m.Kind.Framed():
			m.Points = []scene.Point{{X: to.X, Y: to.Y}, {X: to.X + math.Max(2, to.W), Y: to.Y + math.Max(2, to.H)}}
		default:
			*m = s.moved(*m, scene.Point{X: to.X - a.X, Y: to.Y - a.Y})
			if m.Kind.Speaks() {
				m.Points[1].X = m.Points[0].X + math.Max(40, to.W)
			}
		}
		s.inkOf(m)
	})
	return s.view()
}

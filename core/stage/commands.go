package stage

import (
	"math"

	"raconte/core/figure"
	"raconte/core/scene"
)

// Nudge moves the chosen mark, or the crop while it is open, by pixels of the shot. With reshape it
// moves the tip or the lower right corner instead, so that marks can be shaped without a mouse.
func (s *Stage) Nudge(by scene.Point, reshape bool) View {
	if s.tool == Crop {
		whole := scene.Rect{W: float64(s.shot.W), H: float64(s.shot.H)}
		if reshape {
			s.crop.W = math.Max(figure.SmallestCut, s.crop.W+by.X)
			s.crop.H = math.Max(figure.SmallestCut, s.crop.H+by.Y)
			s.crop = s.crop.Intersect(whole)
		} else {
			s.crop = shifted(s.crop, by, whole)
		}
		return s.view()
	}
	s.edit(func(m *figure.Mark) {
		if !reshape || len(m.Points) == 1 {
			*m = m.MovedBy(by)
			return
		}
		m.Points[1] = m.Points[1].Plus(by)
	})
	return s.view()
}

// Place puts a mark of the chosen tool into the middle of the frame: drawing without a mouse.
// With the crop tool it applies the crop.
func (s *Stage) Place() View {
	if s.tool == Crop {
		return s.ApplyCrop()
	}
	if s.tool == "" {
		return s.view()
	}
	c, u := s.fig.Frame(s.shot).Center(), s.unit()
	at := func(x, y float64) scene.Point { return scene.Point{X: c.X + x*u, Y: c.Y + y*u} }
	switch s.tool {
	case figure.Marker:
		s.add(s.fresh(s.tool, c))
	case figure.Arrow:
		s.add(s.fresh(s.tool, at(-80, -60), c))
	case figure.Text:
		s.add(s.fresh(s.tool, at(-130, -20), at(130, -20)))
	default:
		s.add(s.fresh(s.tool, at(-80, -40), at(80, 40)))
	}
	s.changed = s.tool != figure.Text
	if !s.keep {
		s.tool = ""
	}
	return s.view()
}

// ApplyCrop makes the frame what the crop tool shows.
func (s *Stage) ApplyCrop() View {
	if s.tool != Crop {
		return s.view()
	}
	s.fig = s.fig.Clone()
	crop := s.crop
	s.fig.Crop = &crop
	frame := s.fig.Frame(s.shot)
	if frame.W == float64(s.shot.W) && frame.H == float64(s.shot.H) {
		s.fig.Crop = nil
	} else {
		s.fig.Crop = &frame
	}
	s.tool, s.changed = "", true
	return s.view()
}

// WholeShot takes the crop away.
func (s *Stage) WholeShot() View {
	s.fig = s.fig.Clone()
	s.changed = s.fig.Crop != nil
	s.fig.Crop = nil
	s.crop = s.fig.Frame(s.shot)
	s.tool = ""
	return s.view()
}

// Delete removes the chosen mark.
func (s *Stage) Delete() View {
	s.remove(s.selected)
	return s.view()
}

// SetInk changes the chosen mark's ink, and that of the next mark of its kind.
func (s *Stage) SetInk(name string) View {
	s.edit(func(m *figure.Mark) { m.Ink = name })
	s.remember()
	return s.view()
}

// SetWeight changes the chosen mark's weight, and that of the next mark of its kind.
func (s *Stage) SetWeight(w figure.Weight) View {
	s.edit(func(m *figure.Mark) { m.Weight = w })
	s.remember()
	return s.view()
}

func (s *Stage) remember() {
	if m := s.chosen(); m != nil {
		s.manners[m.Kind] = manner{m.Ink, m.Weight}
	}
}

// SetText changes the words of the chosen text.
func (s *Stage) SetText(words string) View {
	s.edit(func(m *figure.Mark) { m.Text = words })
	return s.view()
}

// Raise moves the chosen mark one place towards the front, or back with by < 0.
func (s *Stage) Raise(by int) View {
	i := s.fig.Find(s.selected)
	if j := i + by; i >= 0 && j >= 0 && j < len(s.fig.Marks) {
		s.fig = s.fig.Clone()
		s.fig.Marks[i], s.fig.Marks[j] = s.fig.Marks[j], s.fig.Marks[i]
		s.changed = true
	}
	return s.view()
}

// Paste adds a copy of a mark that may come from another figure: at the same place, or beside it
// where that place is taken or outside the frame.
func (s *Stage) Paste(m figure.Mark) View {
	if len(m.Points) == 0 {
		return s.view()
	}
	frame, step := s.fig.Frame(s.shot), 16*s.unit()
	if !frame.Contains(m.Points[0]) {
		m = m.MovedBy(frame.Center().Minus(m.Points[0]))
	}
	for taken := true; taken; {
		taken = false
		for _, o := range s.fig.Marks {
			if o.Kind == m.Kind && o.Points[0].Minus(m.Points[0]).Length() < step/2 {
				m, taken = m.MovedBy(scene.Point{X: step, Y: step}), true
			}
		}
	}
	s.add(m)
	s.tool, s.changed = "", true
	return s.view()
}

// Chosen is the chosen mark, for copying; false where none is.
func (s *Stage) Chosen() (figure.Mark, bool) {
	if m := s.chosen(); m != nil {
		return *m, true
	}
	return figure.Mark{}, false
}

package stage

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"

	"raconte/core/figure"
	"raconte/core/scene"
)

// Nudge moves the chosen marks, or the crop while it is open, by pixels. With reshape it moves the tip or
// the lower right corner instead, so that marks can be shaped without a mouse.
func (s *Stage) Nudge(by scene.Point, reshape bool) View {
	s.fresh = ""
	if s.tool == Crop {
		up := s.fig.Upright(s.shot)
		whole := scene.Rect{W: float64(up.W), H: float64(up.H)}
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
		switch {
		case m.Locked:
		case !reshape || len(m.Points) == 1 || m.Kind.ByHand():
			*m = s.moved(*m, by)
		default:
			i := len(m.Points) - 1
			if m.Kind.Wire() {
				i = 1
				m.To = ""
			}
			m.Points[i] = m.Points[i].Plus(by)
		}
		if !m.Locked {
			m.Lost, m.Unsure = false, false // a person has put it there
		}
		s.inkOf(m)
	})
	return s.view()
}

// Place puts a mark of the chosen tool into the middle of the frame: drawing without a mouse.
// With the crop tool it applies the crop; with the fold tool it takes out the middle third.
func (s *Stage) Place() View {
	if s.tool == Crop {
		return s.ApplyCrop()
	}
	if s.tool == Colour {
		return s.pick(s.geo.Inner.Center())
	}
	if s.tool == Area {
		return s.part(s.geo.Inner)
	}
	if s.tool == Fold {
		third := s.geo.Inner.H / 3
		s.foldAway(&drag{moved: true, sweep: &scene.Rect{X: s.geo.Inner.X, Y: s.geo.Inner.Y + third, W: s.geo.Inner.W, H: third}})
		return s.view()
	}
	c, u := s.geo.Inner.Center(), s.unit()
	pts := s.tool.InMiddle(func(x, y float64) scene.Point { return scene.Point{X: c.X + x*u, Y: c.Y + y*u} })
	if pts == nil {
		return s.view()
	}
	if s.full() {
		return s.view()
	}
	s.add(s.made(s.tool, pts...))
	m := s.chosen()
	*m, _ = cloned(*m).Finished(figure.Pull{Moved: true, Scale: 1, Unit: u, Frame: s.geo.Frame})
	s.settle()
	if m.Kind.Speaks() {
		s.fresh = m.ID
	}
	if !s.keep {
		s.tool = ""
	}
	return s.view()
}

// Put adds a finished mark, such as a box around an element: its points in places of the shot.
func (s *Stage) Put(m figure.Mark) View {
	style := s.made(m.Kind).Style
	if m.Style == (figure.Style{}) {
		m.Style = style
	}
	s.put(s.geo.ShowMark(m))
	return s.view()
}

// SetCrop frames the picture by numbers while the crop tool is chosen; ratio 0 leaves the sides free.
func (s *Stage) SetCrop(r scene.Rect, ratio float64) View {
	up := s.fig.Upright(s.shot)
	whole := scene.Rect{W: float64(up.W), H: float64(up.H)}
	s.ratio = ratio
	r.W, r.H = math.Max(figure.SmallestCut, math.Min(whole.W, r.W)), math.Max(figure.SmallestCut, math.Min(whole.H, r.H))
	s.crop = proportioned(shifted(r, scene.Point{}, whole), ratio, "se", whole)
	return s.view()
}

// ApplyCrop makes the frame what the crop tool shows.
func (s *Stage) ApplyCrop() View {
	if s.tool != Crop {
		return s.view()
	}
	crop := s.crop
	s.reframe(func(f figure.Figure) figure.Figure {
		s.tool = ""
		f.Crop, f.Outline = &crop, nil
		up := f.Upright(s.shot)
		if r := figure.Cut(f, s.shot); r.W == float64(up.W) && r.H == float64(up.H) {
			f.Crop = nil
			if f.Edge.Open == "auto" {
				f.Edge.Open = ""
			}
		} else {
			f.Crop = &r
		}
		return f
	})
	s.changed = true
	return s.view()
}

// uncropped tells whether the frame of the crop is around all of the picture.
func (s *Stage) uncropped() bool {
	up := s.fig.Upright(s.shot)
	return s.crop == scene.Rect{W: float64(up.W), H: float64(up.H)}
}

// cutOut crops to a shape drawn freehand.
func (s *Stage) cutOut(trail []scene.Point, scale float64) {
	trail = scene.Thinned(trail, 1/scale)
	if len(trail) < 3 {
		return
	}
	r := scene.Between(trail[0], trail[0])
	for _, p := range trail {
		r = scene.Rect{
			X: math.Min(r.X, p.X), Y: math.Min(r.Y, p.Y),
			W: math.Max(r.X+r.W, p.X) - math.Min(r.X, p.X), H: math.Max(r.Y+r.H, p.Y) - math.Min(r.Y, p.Y),
		}
	}
	if r.W < figure.SmallestCut || r.H < figure.SmallestCut {
		return
	}
	s.reframe(func(f figure.Figure) figure.Figure {
		s.tool = ""
		f.Crop, f.Outline, f.Edge.Open = &r, trail, ""
		return f
	})
	s.changed = true
}

// foldAway takes the band out that a drag went over.
func (s *Stage) foldAway(d *drag) {
	r := *d.sweep
	down := r.H == s.geo.Inner.H && r.W != s.geo.Inner.W
	a, b := s.geo.Upright(scene.Point{X: r.X, Y: r.Y}), s.geo.Upright(scene.Point{X: r.X + r.W, Y: r.Y + r.H})
	f := figure.Fold{Down: down, From: a.Y, To: b.Y}
	if down {
		f = figure.Fold{Down: true, From: a.X, To: b.X}
	}
	if !d.moved || f.To-f.From < 2*figure.SmallestCut || len(s.fig.Folds) >= figure.MostFolds {
		return
	}
	s.reframe(func(fig figure.Figure) figure.Figure {
		s.tool = ""
		// A fold that meets others takes them in.
		fig.Folds = append(slices.DeleteFunc(fig.Folds, func(o figure.Fold) bool {
			meets := o.Down == f.Down && o.From <= f.To && o.To >= f.From
			if meets {
				f.From, f.To = math.Min(f.From, o.From), math.Max(f.To, o.To)
			}
			return meets
		}), f)
		return fig
	})
	s.changed = true
}

// Look changes how the picture itself is shown: a patch of the figure's view in JSON, and what can't be
// said by one.
func (s *Stage) Look(patch json.RawMessage) (View, error) {
	var also struct {
		Turn   int  `json:"turn"`   // quarters clockwise
		Flip   bool `json:"flip"`   // left and right changed over
		Whole  bool `json:"whole"`  // back to the whole shot
		Unfold bool `json:"unfold"` // without folds
	}
	if err := json.Unmarshal(patch, &also); err != nil {
		return View{}, fmt.Errorf("reading how to show the picture: %w", err)
	}
	next := s.fig.Clone()
	folds, recolours := next.Folds, next.Recolours
	next.Folds, next.Recolours = nil, nil // JSON would be read into what stands there: what it leaves out would stay
	if err := json.Unmarshal(patch, &next.View); err != nil {
		return View{}, fmt.Errorf("reading how to show the picture: %w", err)
	}
	if next.Folds == nil {
		next.Folds = folds
	}
	if next.Recolours == nil {
		next.Recolours = recolours
	}
	if m := next.Margin; m != nil && *m == (figure.Margin{}) {
		next.Margin = nil
	}
	if also.Whole {
		next.Crop, next.View = nil, figure.View{}
	}
	if also.Unfold {
		next.Folds = nil
	}
	next = next.Turned(s.shot, also.Turn)
	if also.Flip {
		next = next.Mirrored(s.shot)
	}
	check := next
	check.Marks = nil
	if err := check.Check(); err != nil {
		return View{}, err
	}
	s.reframe(func(figure.Figure) figure.Figure {
		if s.tool != "" && also.Whole {
			s.tool = ""
		}
		return next
	})
	if s.tool == Crop {
		s.crop = s.cut()
	}
	s.changed = true
	return s.view(), nil
}

// pick tells which place of the shot a colour is taken from.
func (s *Stage) pick(at scene.Point) View {
	s.setTool("")
	v := s.view()
	if s.geo.Inner.Contains(at) {
		kept := s.geo.Keep(at)
		v.Picked = &kept
	}
	return v
}

// part tells which part of the shot was taken to read.
func (s *Stage) part(r scene.Rect) View {
	s.setTool("")
	v := s.view()
	if !r.Empty() {
		kept := scene.Between(s.geo.Keep(scene.Point{X: r.X, Y: r.Y}), s.geo.Keep(scene.Point{X: r.X + r.W, Y: r.Y + r.H}))
		v.Part = &kept
	}
	return v
}

// WholeShot takes away all that was done to the picture itself; marks stay.
func (s *Stage) WholeShot() View {
	v, _ := s.Look(json.RawMessage(`{"whole":true}`)) // always in order
	return v
}

// Delete removes the chosen marks.
func (s *Stage) Delete() View {
	s.remove(s.selected...)
	return s.view()
}

// Patch changes the chosen marks by what is said of them in JSON: their style and what markers count. The
// next mark of a kind is drawn like the last.
func (s *Stage) Patch(patch json.RawMessage) (View, error) {
	var said struct {
		Ink *string `json:"ink"`
	}
	if err := json.Unmarshal(patch, &said); err != nil {
		return View{}, fmt.Errorf("reading a style: %w", err)
	}
	var failed error
	s.edit(func(m *figure.Mark) {
		next := cloned(*m)
		if said.Ink != nil {
			next.Auto = false
		}
		if err := json.Unmarshal(patch, &next); err != nil {
			failed = fmt.Errorf("reading a style: %w", err)
			return
		}
		next.ID, next.Kind, next.Points, next.Turn = m.ID, m.Kind, m.Points, m.Turn
		if next.Way != m.Way && len(next.Points) == 3 && next.Kind.Wire() {
			next.Points = next.Points[:2]
		}
		s.inkOf(&next)
		*m = next
		s.manners[m.Kind] = next.Style
	})
	return s.view(), failed
}

// SetStyle gives the chosen marks a style, all of it. The next mark of the kind is drawn in it too.
func (s *Stage) SetStyle(style figure.Style) (View, error) {
	if err := style.Check(); err != nil {
		return View{}, err
	}
	s.edit(func(m *figure.Mark) {
		way := m.Way
		m.Style = m.Style.Restyled(style)
		if m.Way != way && m.Kind.Wire() {
			m.Points = m.Points[:2]
		}
		s.inkOf(m)
		s.manners[m.Kind] = m.Style
	})
	return s.view(), nil
}

// SetText changes the words of the chosen mark.
func (s *Stage) SetText(words string) View {
	s.edit(func(m *figure.Mark) {
		m.Text = words
		s.keepIn(m)
		s.inkOf(m)
	})
	return s.view()
}

// Done ends the typing into a mark.
func (s *Stage) Done() View {
	s.fresh = ""
	return s.view()
}

// Raise moves the chosen mark one place towards the front, or back with by < 0; all the way with by of
// ±1000 or more.
func (s *Stage) Raise(by int) View {
	s.fig = s.fig.Clone()
	step := 1
	if by < 0 {
		step, by = -1, -by
	}
	for range min(by, len(s.fig.Marks)) {
		order := slices.Clone(s.fig.Marks)
		if step > 0 {
			slices.Reverse(order)
		}
		for i := 1; i < len(order); i++ {
			if slices.Contains(s.selected, order[i].ID) && !slices.Contains(s.selected, order[i-1].ID) {
				order[i], order[i-1] = order[i-1], order[i]
				s.changed = true
			}
		}
		if step > 0 {
			slices.Reverse(order)
		}
		s.fig.Marks = order
	}
	return s.view()
}

// Copied are the chosen marks in places of the shot, for the clipboard.
func (s *Stage) Copied() []figure.Mark {
	var out []figure.Mark
	for _, m := range s.kept() {
		if slices.Contains(s.selected, m.ID) {
			out = append(out, m)
		}
	}
	return out
}

// Paste adds copies of marks that may come from another figure: at the same place, or beside it where
// that place is taken or outside the frame.
func (s *Stage) Paste(marks []figure.Mark) View {
	if len(marks) == 0 || len(s.fig.Marks)+len(marks) > figure.MostMarks {
		return s.view()
	}
	shown := make([]figure.Mark, len(marks))
	for i, m := range marks {
		shown[i] = s.geo.ShowMark(m)
		if len(shown[i].Points) == 0 {
			return s.view()
		}
	}
	frame, step := s.geo.Frame, 16*s.unit()
	var by scene.Point
	first := shown[0].Area(s.unit()).Center()
	if !frame.Contains(first) {
		by = frame.Center().Minus(first)
	}
	for taken := true; taken; {
		taken = false
		for _, o := range s.fig.Marks {
			if o.Kind == shown[0].Kind && o.Points[0].Minus(shown[0].Points[0].Plus(by)).Length() < step/2 {
				by, taken = by.Plus(scene.Point{X: step, Y: step}), true
			}
		}
	}
	ids := map[string]string{}
	var chosen []string
	for i, m := range shown {
		s.add(m.ShiftedBy(by))
		ids[marks[i].ID] = s.selected[0]
		chosen = append(chosen, s.selected[0])
	}
	// Ties and groups among what was copied hold among the copies.
	groups := map[string]string{}
	s.fig = s.fig.Clone()
	for i := range s.fig.Marks {
		m := &s.fig.Marks[i]
		if !slices.Contains(chosen, m.ID) {
			continue
		}
		m.From, m.To, m.Locked, m.Lost, m.Unsure = ids[m.From], ids[m.To], false, false, false
		if m.Group != "" {
			if groups[m.Group] == "" {
				groups[m.Group] = s.NewID()
			}
			m.Group = groups[m.Group]
		}
		s.inkOf(m)
	}
	s.selected, s.changed = chosen, true
	s.setTool("")
	return s.view()
}

// Duplicate pastes the chosen marks beside themselves.
func (s *Stage) Duplicate() View { return s.Paste(s.Copied()) }

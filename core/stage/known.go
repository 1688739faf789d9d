package stage

import (
	"math"

	"raconte/core/figure"
	"raconte/core/scene"
)

// What is known of a shot beside its pixels is marked with one action each: one change, one undo. Places are in pixels
// of the shot.

// BoxAround puts a box around each of some things.
func (s *Stage) BoxAround(things []scene.Rect) View {
	for _, r := range things {
		r = r.Grow(figure.RoomAround)
		s.place(figure.Box, scene.Point{X: r.X, Y: r.Y}, scene.Point{X: r.X + r.W, Y: r.Y + r.H})
	}
	return s.view()
}

// NumberEach puts a marker at the left of each of some things.
func (s *Stage) NumberEach(things []scene.Rect) View {
	for _, r := range things {
		s.place(figure.Marker, scene.Point{X: r.X - 4, Y: r.Y + r.H/2})
	}
	return s.view()
}

// Conceal covers each of some places.
func (s *Stage) Conceal(places []scene.Rect) View {
	for _, r := range places {
		s.place(figure.Concealment, scene.Point{X: r.X, Y: r.Y}, scene.Point{X: r.X + r.W, Y: r.Y + r.H})
	}
	return s.view()
}

// ShowPointer marks where the mouse pointer was, or takes the mark away where there is one.
func (s *Stage) ShowPointer(at scene.Point) View {
	var there []string
	for _, m := range s.fig.Marks {
		if m.Kind == figure.Pointer {
			there = append(there, m.ID)
		}
	}
	if len(there) > 0 {
		s.remove(there...)
	} else {
		s.place(figure.Pointer, at)
	}
	return s.view()
}

// roomToCrop is left around things that a picture is cropped to, in pixels of the shot.
const roomToCrop = 40

// CropTo frames some things together, with room around them.
func (s *Stage) CropTo(things []scene.Rect) View {
	if len(things) == 0 {
		return s.view()
	}
	var all scene.Rect
	for _, r := range things {
		all = all.Union(r)
	}
	s.setTool(Crop)
	s.SetCrop(all.Grow(roomToCrop), 0)
	return s.ApplyCrop()
}

// Where another shot is set in.
const (
	Inside = "inside" // at the lower right
	Right  = "right"  // beside the picture
	Below  = "below"
)

// SetIn sets another shot into the picture, or beside it, where the picture gets room for it.
func (s *Stage) SetIn(shot string, size figure.Size, where string) View {
	if size.W <= 0 || size.H <= 0 {
		return s.view()
	}
	f, gap := s.geo.Frame, math.Round(s.geo.Frame.W/60)
	w := f.W * 0.4
	r := scene.Rect{W: w, H: w * float64(size.H) / float64(size.W)}
	r.X, r.Y = f.X+f.W-r.W-gap, f.Y+f.H-r.H-gap
	var margin figure.Margin
	if m := s.fig.Margin; m != nil {
		margin = *m
	}
	switch where {
	case Right:
		r = scene.Rect{X: f.X + f.W + gap, Y: f.Y, W: f.H * float64(size.W) / float64(size.H), H: f.H}
		margin.Right += math.Round(r.W + gap)
	case Below:
		r = scene.Rect{X: f.X, Y: f.Y + f.H + gap, W: f.W, H: f.W * float64(size.H) / float64(size.W)}
		margin.Bottom += math.Round(r.H + gap)
	}
	if margin != (figure.Margin{}) {
		s.reframe(func(f figure.Figure) figure.Figure { f.Margin = &margin; return f })
	}
	m := s.made(figure.Inset, scene.Point{X: r.X, Y: r.Y}, scene.Point{X: r.X + r.W, Y: r.Y + r.H})
	m.Shot = shot
	s.put(m)
	return s.view()
}

// place adds a mark whose points are in places of the shot.
func (s *Stage) place(kind figure.Kind, pts ...scene.Point) {
	s.put(s.geo.ShowMark(s.made(kind, pts...)))
}

// put adds a finished mark.
func (s *Stage) put(m figure.Mark) {
	if s.full() {
		return
	}
	s.dropEmpty("")
	s.add(m)
	s.settle()
	s.setTool("")
}

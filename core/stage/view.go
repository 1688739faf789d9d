package stage

import (
	"fmt"

	"raconte/core/figure"
	"raconte/core/scene"
)

// View is what to draw. Shapes holds only the marks whose looks changed since the last view, so
// that a drag replaces one shape; Order names all marks in painting order.
type View struct {
	Frame    scene.Rect     `json:"frame"`
	Shapes   []Shape        `json:"shapes"`
	Order    []string       `json:"order"`
	Grips    []figure.Grip  `json:"grips"`
	Around   *scene.Rect    `json:"around,omitempty"` // around the chosen mark
	Crop     *scene.Rect    `json:"crop,omitempty"`   // while the crop tool is chosen
	Tool     figure.Kind    `json:"tool"`
	Keep     bool           `json:"keep"`
	Selected *figure.Mark   `json:"selected,omitempty"`
	List     []Entry        `json:"list"`
	Typing   bool           `json:"typing"`           // a text waits for its words
	Figure   *figure.Figure `json:"figure,omitempty"` // set when a change is finished
}

// Shape is the look of one mark.
type Shape struct {
	Mark  string       `json:"mark"`
	Paths []scene.Path `json:"paths"`
}

// Entry is one line of the list of marks.
type Entry struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

func (s *Stage) lay() { s.pieces = s.layouter.Layout(s.fig, s.shot, s.first) }

func (s *Stage) view() View {
	s.lay()
	v := View{
		Frame: s.fig.Frame(s.shot), Tool: s.tool, Keep: s.keep, Grips: []figure.Grip{},
		Shapes: []Shape{}, Order: make([]string, 0, len(s.pieces)), List: make([]Entry, 0, len(s.pieces)),
	}
	if s.shown == nil {
		s.shown = map[string]string{}
	}
	for _, p := range s.pieces {
		v.Order = append(v.Order, p.Mark)
		if s.shown[p.Mark] != p.Key {
			s.shown[p.Mark] = p.Key
			v.Shapes = append(v.Shapes, shapeOf(p))
		}
	}
	for id := range s.shown {
		if s.fig.Find(id) < 0 {
			delete(s.shown, id)
		}
	}
	numbers := s.fig.Numbers(s.first)
	for i := len(s.fig.Marks) - 1; i >= 0; i-- {
		m := s.fig.Marks[i]
		v.List = append(v.List, Entry{m.ID, Name(m, numbers[m.ID])})
	}
	if s.tool == Crop {
		crop := s.crop
		v.Crop, v.Grips = &crop, figure.RectGrips(crop)
	} else if i := s.fig.Find(s.selected); i >= 0 {
		m := s.fig.Marks[i]
		v.Selected, v.Around = &m, &s.pieces[i].Bounds
		v.Grips = append(v.Grips, m.Grips(s.unit())...)
		v.Typing = s.drag == nil && m.Kind == figure.Text && m.Text == ""
	}
	if s.changed && s.drag == nil {
		f := s.fig.Clone()
		v.Figure, s.changed = &f, false
	}
	return v
}

// Redraw forgets what the browser has, so that the next view holds every shape.
func (s *Stage) Redraw() View {
	s.shown = nil
	return s.view()
}

func shapeOf(p figure.Piece) Shape {
	shape := Shape{Mark: p.Mark}
	for _, item := range p.Items {
		shape.Paths = append(shape.Paths, *item.Path)
	}
	return shape
}

// Shapes are the looks of all marks of a figure, for pictures that are not being edited.
func Shapes(f figure.Figure, shot figure.Size, first int) []Shape {
	var l figure.Layouter
	shapes := []Shape{}
	for _, p := range l.Layout(f, shot, first) {
		shapes = append(shapes, shapeOf(p))
	}
	return shapes
}

// Name is what a mark is called in lists.
func Name(m figure.Mark, number int) string {
	switch m.Kind {
	case figure.Marker:
		return fmt.Sprintf("Marker %d", number)
	case figure.Text:
		if m.Text != "" {
			return fmt.Sprintf("Text, %s", m.Text)
		}
		return "Text"
	case figure.Arrow:
		return "Arrow"
	case figure.Pointer:
		return "Mouse pointer"
	}
	return "Box"
}

package stage

import (
	"fmt"
	"slices"
	"strings"

	"raconte/core/figure"
	"raconte/core/scene"
)

// View is what to draw. Shapes holds only what changed its looks since the last view, so that a drag
// replaces one shape. Order names all of them in painting order, and List all marks in words; both are
// left out while Listed says that they are as they were.
type View struct {
	Frame    scene.Rect     `json:"frame"`
	Shapes   []Shape        `json:"shapes"`
	Listed   bool           `json:"listed"`         // whether Order and List are told
	Full     bool           `json:"full,omitempty"` // it has as many marks as it can have
	Order    []string       `json:"order,omitempty"`
	List     []Entry        `json:"list,omitempty"`
	Grips    []figure.Grip  `json:"grips"`
	Around   []scene.Rect   `json:"around"` // around each chosen mark
	Crop     *scene.Rect    `json:"crop,omitempty"`
	Whole    figure.Size    `json:"whole"` // of the upright picture
	Ratio    float64        `json:"ratio,omitempty"`
	Sweep    *scene.Rect    `json:"sweep,omitempty"`
	Trail    []scene.Point  `json:"trail,omitempty"`
	Guides   []Guide        `json:"guides,omitempty"`
	Tool     figure.Kind    `json:"tool"`
	Keep     bool           `json:"keep"`
	Selected *figure.Mark   `json:"selected,omitempty"` // the one chosen mark
	Area     *scene.Rect    `json:"area,omitempty"`     // its room
	Chosen   []string       `json:"chosen"`
	Typing   bool           `json:"typing"`           // what is typed goes into the chosen mark
	Figure   *figure.Figure `json:"figure,omitempty"` // set when a change is finished
	Picked   *scene.Point   `json:"picked,omitempty"` // the place of the shot that a colour was taken from just now
	Part     *scene.Rect    `json:"part,omitempty"`   // the part of the shot that was taken to read just now
}

// Shape is the look of one piece.
type Shape struct {
	Mark  string       `json:"mark"`
	Items []scene.Item `json:"items"`
}

// Entry is one line of the list of marks.
type Entry struct {
	ID     string `json:"id"`
	Name   string `json:"name"`
	Kind   string `json:"kind"`
	Locked bool   `json:"locked,omitempty"`
	Lost   bool   `json:"lost,omitempty"`
	Unsure bool   `json:"unsure,omitempty"`
}

func (s *Stage) lay() {
	s.order = s.layouter.Lay(s.seen(), s.geo, s.fig.Marks, s.first)
}

// piece is the look of a mark; false where it is not drawn.
func (s *Stage) piece(id string) (figure.Piece, bool) {
	i := slices.IndexFunc(s.order, func(p figure.Piece) bool { return p.Mark == id })
	if i < 0 {
		return figure.Piece{}, false
	}
	return s.order[i], true
}

func (s *Stage) view() View {
	s.lay()
	v := View{
		Frame: s.geo.Frame, Tool: s.tool, Keep: s.keep, Grips: []figure.Grip{}, Around: []scene.Rect{},
		Shapes: []Shape{}, Chosen: s.selected, Guides: s.guides, Whole: s.fig.Upright(s.shot),
	}
	if v.Chosen == nil {
		v.Chosen = []string{}
	}
	if s.sent == nil {
		s.sent, s.listed = map[string]string{}, nil
	}
	for _, p := range s.order {
		if s.sent[p.Mark] != p.Key {
			s.sent[p.Mark] = p.Key
			v.Shapes = append(v.Shapes, shapeOf(p))
		}
	}
	s.list(&v)
	if s.tool == Crop {
		crop := s.crop
		v.Crop, v.Grips, v.Ratio = &crop, figure.RectGrips(crop), s.ratio
	}
	if s.drag != nil {
		v.Sweep, v.Trail = s.drag.sweep, s.drag.trail
	}
	for _, id := range s.selected {
		if p, ok := s.piece(id); ok {
			v.Around = append(v.Around, p.Bounds)
		}
	}
	if m := s.chosen(); m != nil {
		tied := s.tied(*m)
		area := tied.Area(s.unit())
		v.Selected, v.Area = &tied, &area
		if !m.Locked {
			v.Grips = append(v.Grips, tied.Grips(s.unit())...)
		}
		v.Typing = s.drag == nil && s.fresh == m.ID
	}
	v.Full = s.full()
	if s.changed && s.drag == nil {
		f := s.fig.Clone()
		f.Marks = append(s.kept(), s.aside...)
		v.Figure, s.changed = &f, false
	}
	return v
}

// list tells the order and the names of the marks where they are not as they were told last.
func (s *Stage) list(v *View) {
	if s.drag != nil && s.listed != nil && len(s.listed) == len(s.fig.Marks) && len(s.sent) == len(s.order) {
		return // a drag changes neither
	}
	numbers := s.fig.Numbers(s.first)
	entries := make([]Entry, 0, len(s.fig.Marks))
	for i := len(s.fig.Marks) - 1; i >= 0; i-- {
		m := s.fig.Marks[i]
		entries = append(entries, Entry{m.ID, Name(m, numbers[m.ID].Label), string(m.Kind), m.Locked, m.Lost, m.Unsure})
	}
	if s.listed != nil && slices.Equal(entries, s.listed) && len(s.sent) == len(s.order) {
		return
	}
	v.Listed, v.Order, v.List, s.listed = true, make([]string, 0, len(s.order)), entries, entries
	for _, p := range s.order {
		v.Order = append(v.Order, p.Mark)
	}
	for id := range s.sent {
		if _, there := s.piece(id); !there {
			delete(s.sent, id)
		}
	}
}

// tied is a mark with its ends where the marks are that it follows.
func (s *Stage) tied(m figure.Mark) figure.Mark {
	if m.From == "" && m.To == "" {
		return m
	}
	all := figure.Tied(s.fig.Marks, s.unit())
	return all[s.fig.Find(m.ID)]
}

// Redraw forgets what the browser has, so that the next view holds every shape.
func (s *Stage) Redraw() View {
	s.sent = nil
	return s.view()
}

func shapeOf(p figure.Piece) Shape {
	if p.Items == nil {
		p.Items = []scene.Item{} // an empty list in JSON, not null
	}
	return Shape{p.Mark, p.Items}
}

// Shapes are the looks of a figure, for pictures that are not being edited.
func Shapes(f figure.Figure, shot figure.Size, first int) []Shape {
	var l figure.Layouter
	shapes := []Shape{}
	for _, p := range l.Layout(f.Still(first), shot, first) {
		shapes = append(shapes, shapeOf(p))
	}
	return shapes
}

// Name is what a mark is called in lists.
func Name(m figure.Mark, number string) string {
	name := m.Kind.Name()
	if number != "" {
		name += " " + number
	}
	if words := strings.Join(strings.Fields(m.Text), " "); words != "" {
		name = fmt.Sprintf("%s, %s", name, words)
	}
	return name
}

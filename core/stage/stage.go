// Package stage is the editing of one figure: which mark is chosen, what a press, a drag and a key
// make of it. It turns pointer and key events into a new figure and says what to draw. It knows
// nothing of browsers; cmd/corewasm hands it events and passes its views on.
package stage

import (
	"raconte/core/figure"
	"raconte/core/scene"
)

// Crop is the tool that frames the picture anew; the other tools are the kinds of marks.
const Crop figure.Kind = "crop"

// Stage holds one open figure. NewID makes ids for new marks.
type Stage struct {
	NewID func() string

	fig      figure.Figure
	shot     figure.Size
	first    int
	layouter figure.Layouter
	pieces   []figure.Piece
	shown    map[string]string // mark id -> key of the look that the browser has

	tool     figure.Kind // "" selects
	keep     bool        // the tool stays chosen after a mark
	selected string
	manners  map[figure.Kind]manner

	drag    *drag
	crop    scene.Rect // while the crop tool is chosen
	changed bool       // a change is finished and not reported yet
}

// manner is how the next mark of a kind is drawn: as the last one was.
type manner struct {
	ink    string
	weight figure.Weight
}

type drag struct {
	grip   string // "" moves
	start  scene.Point
	before figure.Figure
	crop   scene.Rect
	fresh  bool // the mark is being drawn
	moved  bool
}

// Open shows a figure; first is the number of its first marker. Opening the same figure again, as
// after an undo, keeps the chosen mark where it still exists.
func (s *Stage) Open(f figure.Figure, shot figure.Size, first int) View {
	if f.ID != s.fig.ID {
		s.shown, s.tool, s.keep, s.selected = nil, "", false, ""
	}
	s.fig, s.shot, s.first, s.drag, s.changed = f.Clone(), shot, first, nil, false
	if s.manners == nil {
		s.manners = map[figure.Kind]manner{}
	}
	if s.fig.Find(s.selected) < 0 {
		s.selected = ""
	}
	if s.tool == Crop {
		s.crop = s.fig.Frame(shot)
	}
	return s.view()
}

// Choose picks a tool, or "" to select; keep leaves it chosen after one mark.
func (s *Stage) Choose(tool figure.Kind, keep bool) View {
	s.dropEmptyText("")
	if tool == s.tool && keep == s.keep {
		tool = ""
	}
	s.tool, s.keep, s.drag = tool, keep, nil
	if tool != "" {
		s.selected = ""
	}
	if tool == Crop {
		s.crop = s.fig.Frame(s.shot)
	}
	return s.view()
}

// Select picks a mark from the list of marks.
func (s *Stage) Select(id string) View {
	s.dropEmptyText(id)
	s.tool, s.selected = "", id
	return s.view()
}

// Cancel gives up what is going on: a drag, then the crop, then the tool, then the selection.
func (s *Stage) Cancel() View {
	switch {
	case s.drag != nil:
		s.fig, s.drag = s.drag.before, nil
	case s.tool != "":
		s.tool, s.keep = "", false
	default:
		s.dropEmptyText("")
		s.selected = ""
	}
	return s.view()
}

func (s *Stage) unit() float64 { return figure.Unit(s.fig.Frame(s.shot)) }

func (s *Stage) chosen() *figure.Mark {
	if i := s.fig.Find(s.selected); i >= 0 {
		return &s.fig.Marks[i]
	}
	return nil
}

// edit changes a copy of the figure, so that views handed out earlier stay as they were.
func (s *Stage) edit(change func(m *figure.Mark)) {
	s.fig = s.fig.Clone()
	if m := s.chosen(); m != nil {
		change(m)
		s.changed = true
	}
}

// dropEmptyText removes a text that was drawn and never written, unless it stays selected.
func (s *Stage) dropEmptyText(next string) {
	m := s.chosen()
	if m != nil && m.ID != next && m.Kind == figure.Text && m.Text == "" {
		s.remove(m.ID)
	}
}

func (s *Stage) remove(id string) {
	s.fig = s.fig.Clone()
	if i := s.fig.Find(id); i >= 0 {
		s.fig.Marks = append(s.fig.Marks[:i], s.fig.Marks[i+1:]...)
		s.changed = true
	}
	if s.selected == id {
		s.selected = ""
	}
}

// add puts a new mark on top and selects it.
func (s *Stage) add(m figure.Mark) {
	s.fig = s.fig.Clone()
	m.ID = s.NewID()
	for _, o := range s.fig.Marks {
		m.Turn = max(m.Turn, o.Turn+1)
	}
	s.fig.Marks = append(s.fig.Marks, m)
	s.selected = m.ID
}

func (s *Stage) fresh(kind figure.Kind, pts ...scene.Point) figure.Mark {
	how, ok := s.manners[kind]
	if !ok {
		how = manner{figure.Inks[0].Name, figure.Medium}
	}
	return figure.Mark{Kind: kind, Points: pts, Ink: how.ink, Weight: how.weight}
}

// Package stage is the editing of one figure: which marks are chosen, what a press, a drag and a key
// make of them. It turns pointer and key events into a new figure and says what to draw. It knows
// nothing of browsers; cmd/corewasm hands it events and passes its views on.
//
// Marks are held in the places of the finished picture, where people see and drag them; a figure that
// is handed out has them in the places of the shot.
package stage

import (
	"slices"

	"raconte/core/figure"
	"raconte/core/scene"
)

// Tools that are no kinds of marks.
const (
	Crop   figure.Kind = "crop"   // frames the picture anew
	Cutout figure.Kind = "cutout" // frames it freehand
	Fold   figure.Kind = "fold"   // takes a band out
	Colour figure.Kind = "colour" // takes a colour from the picture
	Area   figure.Kind = "area"   // takes a part of the picture to read
)

// Stage holds one open figure. NewID makes ids for new marks.
type Stage struct {
	NewID func() string

	fig      figure.Figure // its marks in the places of the finished picture
	geo      figure.Geometry
	stored   map[string]pair
	aside    []figure.Mark // of kinds that this core does not know: they are not drawn, and not lost
	shot     figure.Size
	first    int
	layouter figure.Layouter
	order    []figure.Piece
	sent     map[string]string // piece -> key of the look that the browser has
	listed   []Entry
	ground   Ground
	known    Known

	tool     figure.Kind // "" selects
	keep     bool        // the tool stays chosen after a mark
	selected []string
	fresh    string // the mark just drawn, into which typing goes
	manners  map[figure.Kind]figure.Style

	drag    *drag
	crop    scene.Rect // while the crop tool is chosen
	ratio   float64    // width to height of the crop; 0: any
	guides  []Guide
	changed bool // a change is finished and not reported yet
}

// pair is a mark in the finished picture, and as it is kept in places of the shot: what was not touched
// is handed out as it came.
type pair struct{ shown, kept figure.Mark }

type drag struct {
	grip    string // "" moves
	start   scene.Point
	before  figure.Figure
	crop    scene.Rect
	fresh   bool // the mark is being drawn
	moved   bool
	sweep   *scene.Rect // an area in which marks are chosen
	toggles string      // a mark that is let go where the press does not become a drag
	trail   []scene.Point
	xs, ys  []float64 // what it snaps to: other marks stand still while one is dragged
}

// Open shows a figure; first is the number of its first marker. Opening the same figure again, as
// after an undo, keeps the chosen marks where they still exist.
func (s *Stage) Open(f figure.Figure, shot figure.Size, first int) View {
	if f.ID != s.fig.ID || f.Shot != s.fig.Shot {
		s.sent, s.tool, s.keep, s.selected, s.fresh = nil, "", false, nil, ""
		s.ground, s.known = Ground{}, Known{}
	}
	s.fig, s.shot, s.first, s.drag, s.changed = f.Clone(), shot, first, nil, false
	if s.manners == nil {
		s.manners = map[figure.Kind]figure.Style{}
	}
	s.stored = map[string]pair{}
	s.aside = slices.DeleteFunc(slices.Clone(f.Marks), func(m figure.Mark) bool { return m.Kind.Name() != "" })
	s.arrange(figure.Drawable(f.Marks))
	s.selected = slices.DeleteFunc(slices.Clone(s.selected), func(id string) bool { return s.fig.Find(id) < 0 })
	if s.tool == Crop {
		s.crop = s.cut()
	}
	s.listed = nil
	return s.view()
}

// arrange puts marks that are in places of the shot where they lie in the finished picture.
func (s *Stage) arrange(kept []figure.Mark) {
	s.geo = s.seen().Geometry(s.shot)
	s.fig.Marks = make([]figure.Mark, len(kept))
	s.stored = make(map[string]pair, len(kept))
	for i, m := range kept {
		shown := s.geo.ShowMark(m)
		shown.Points = slices.Clone(shown.Points)
		s.fig.Marks[i] = shown
		s.stored[m.ID] = pair{cloned(shown), m}
	}
}

// seen is the figure as it is shown now: whole while it is cropped anew.
func (s *Stage) seen() figure.Figure {
	f := s.fig
	if s.tool == Crop || s.tool == Cutout {
		f.Crop, f.Outline, f.Folds, f.Margin, f.Edge = nil, nil, nil, nil, figure.Edge{}
	}
	return f
}

// kept are the marks in places of the shot.
func (s *Stage) kept() []figure.Mark {
	marks := make([]figure.Mark, len(s.fig.Marks))
	for i, m := range s.fig.Marks {
		if was, ok := s.stored[m.ID]; ok && slices.Equal(was.shown.Points, m.Points) && was.shown.Zoom == m.Zoom {
			m.Points = slices.Clone(was.kept.Points)
		} else {
			m = cloned(s.geo.KeepMark(m))
		}
		marks[i] = m
	}
	return marks
}

func cloned(m figure.Mark) figure.Mark {
	m.Points = slices.Clone(m.Points)
	return m
}

// reframe changes how the picture itself is shown; marks stay on their targets.
func (s *Stage) reframe(change func(f figure.Figure) figure.Figure) {
	marks := s.kept()
	s.fig = change(s.fig.Clone())
	s.arrange(marks)
}

// Choose picks a tool, or "" to select; keep leaves it chosen after one mark.
func (s *Stage) Choose(tool figure.Kind, keep bool) View {
	s.dropEmpty("")
	if tool == s.tool && keep == s.keep {
		tool = ""
	}
	s.setTool(tool)
	s.keep, s.drag, s.fresh = keep && tool != "", nil, ""
	if tool != "" {
		s.selected = nil
	}
	return s.view()
}

// setTool picks a tool; cropping shows the picture whole.
func (s *Stage) setTool(tool figure.Kind) {
	was := s.tool
	s.reframe(func(f figure.Figure) figure.Figure { s.tool = tool; return f })
	if tool == Crop && was != Crop {
		s.crop, s.ratio = s.cut(), 0
	}
}

// cut is the crop in the upright picture.
func (s *Stage) cut() scene.Rect {
	up := s.fig.Upright(s.shot)
	whole := scene.Rect{W: float64(up.W), H: float64(up.H)}
	if s.fig.Crop == nil {
		return whole
	}
	if r := s.fig.Crop.Intersect(whole); !r.Empty() {
		return r
	}
	return whole
}

// Select picks a mark from the list of marks; more adds it to those chosen, or lets it go.
func (s *Stage) Select(id string, more bool) View {
	s.dropEmpty(id)
	if s.tool != "" {
		s.setTool("")
	}
	s.fresh = ""
	if more && slices.Contains(s.selected, id) {
		s.selected = slices.DeleteFunc(slices.Clone(s.selected), func(o string) bool { return o == id })
	} else if more {
		s.selected = append(slices.Clone(s.selected), id)
	} else {
		s.selected = []string{id}
	}
	return s.view()
}

// SelectAll picks every mark that is not locked.
func (s *Stage) SelectAll() View {
	s.selected = nil
	for _, m := range s.fig.Marks {
		if !m.Locked {
			s.selected = append(s.selected, m.ID)
		}
	}
	return s.view()
}

// Cancel gives up what is going on: a drag, then the tool, then the selection.
func (s *Stage) Cancel() View {
	s.guides = nil
	switch {
	case s.drag != nil:
		s.fig, s.drag = s.drag.before, nil
		if s.tool == Crop {
			s.crop = s.cut()
		}
	case s.tool != "":
		s.keep = false
		s.setTool("")
	default:
		s.dropEmpty("")
		s.selected, s.fresh = nil, ""
	}
	return s.view()
}

func (s *Stage) unit() float64 { return figure.Unit(s.geo.Frame) }

// chosen is the one chosen mark; nil where none or several are.
func (s *Stage) chosen() *figure.Mark {
	if len(s.selected) != 1 {
		return nil
	}
	if i := s.fig.Find(s.selected[0]); i >= 0 {
		return &s.fig.Marks[i]
	}
	return nil
}

// edit changes copies of the chosen marks, so that views handed out earlier stay as they were.
func (s *Stage) edit(change func(m *figure.Mark)) {
	s.fig = s.fig.Clone()
	for i := range s.fig.Marks {
		if m := &s.fig.Marks[i]; slices.Contains(s.selected, m.ID) {
			change(m)
			s.changed = true
		}
	}
}

// dropEmpty removes a text or note that was drawn and never written, unless it stays selected.
func (s *Stage) dropEmpty(next string) {
	m := s.chosen()
	if m != nil && m.ID != next && m.Kind.Speaks() && m.Text == "" {
		s.remove(m.ID)
	}
}

// remove takes marks away; arrows that followed them stay where they are.
func (s *Stage) remove(ids ...string) {
	s.fig = s.fig.Clone()
	gone := func(id string) bool { return slices.Contains(ids, id) }
	tied := figure.Tied(s.fig.Marks, s.unit())
	marks := make([]figure.Mark, 0, len(tied))
	for i, m := range s.fig.Marks {
		if gone(m.ID) {
			s.changed = true
			continue
		}
		if gone(m.From) || gone(m.To) {
			m = cloned(tied[i])
			if gone(m.From) {
				m.From = ""
			}
			if gone(m.To) {
				m.To = ""
			}
		}
		marks = append(marks, m)
	}
	s.fig.Marks = marks
	s.selected = slices.DeleteFunc(slices.Clone(s.selected), gone)
}

// add puts a new mark on top of a picture that is not full, and selects it.
func (s *Stage) add(m figure.Mark) {
	s.fig = s.fig.Clone()
	m.ID = s.NewID()
	for _, o := range s.fig.Marks {
		m.Turn = max(m.Turn, o.Turn+1)
	}
	s.fig.Marks = append(s.fig.Marks, m)
	s.selected = []string{m.ID}
}

// full tells whether the picture has as many marks as it can have.
func (s *Stage) full() bool { return len(s.fig.Marks) >= figure.MostMarks }

// made is a new mark of a kind, in the manner of the last of its kind.
func (s *Stage) made(kind figure.Kind, pts ...scene.Point) figure.Mark {
	style, ok := s.manners[kind]
	if !ok {
		style = kind.Usual()
	}
	return figure.Mark{Kind: kind, Points: pts, Style: style}
}

// Manners are the styles in which the next mark of each kind is drawn.
func (s *Stage) Manners() map[figure.Kind]figure.Style { return s.manners }

// SetManners brings back the manners of an earlier sitting.
func (s *Stage) SetManners(m map[figure.Kind]figure.Style) {
	s.manners = map[figure.Kind]figure.Style{}
	for kind, style := range m {
		if kind == "loupe" { // what a detail was called once
			kind = figure.Detail
		}
		if slices.Contains(figure.Kinds, kind) {
			s.manners[kind] = style
		}
	}
}

package figure

import (
	"fmt"
	"slices"

	"raconte/core/scene"
)

// Shown is a figure as it is seen at one moment: of a still picture always the same, of a clip with the marks of that
// moment, where they are then. Only it is drawn, only it says what is covered, and only it tells which picture of a
// recording is meant, so that none is ever seen with the covers of another.
type Shown struct {
	Figure     // its Clip is nil
	At     int // milliseconds of the recording; 0 of a still picture
	Moves  bool
}

// Slack is how much earlier than it is said, in milliseconds, what a cover follows may have been at a place: it is
// looked for so often. All the way since then stays covered, so that what jumps is never seen beside its cover.
const Slack = 200

// Shown is the figure at a moment of its recording. A picture said to be of that moment may be of one up to within
// milliseconds before or after it, as pictures at a steady rate are. Markers keep the numbers that they have in the
// whole, the first being first.
func (f Figure) Shown(at, within, first int) Shown {
	if f.Clip == nil {
		return Shown{Figure: f}
	}
	numbers := f.Numbers(first)
	around := Span{at - within, at + within}
	marks := make([]Mark, 0, len(f.Marks))
	for _, m := range f.Marks {
		if m.Kind.Covers() {
			if !m.coversIn(around) {
				continue
			}
			m = m.swept(Span{around.From - Slack, around.To})
		} else if m.During != nil && !m.During.Holds(at) {
			continue
		} else {
			m = m.ShiftedBy(m.shift(at))
		}
		if m.Kind == Marker {
			m.Start = numbers[m.ID].N
		}
		m.During, m.Path = nil, nil
		marks = append(marks, m)
	}
	f.Marks, f.Clip = marks, nil
	return Shown{f, at, true}
}

// Taken is the figure as it covers the picture that was taken of its shot, whose words are known: of a recording, that
// of a moment. False where the figure does not show that moment.
func (f Figure) Taken(at int) (Shown, bool) {
	return f.Shown(at, Slack, 1), f.Clip == nil || f.Clip.shows(at)
}

// Still is the figure as it stands where nothing moves: of a clip, at the moment that was chosen for it.
func (f Figure) Still(first int) Shown {
	if f.Clip == nil {
		return Shown{Figure: f}
	}
	return f.Shown(f.Clip.Stands(), Slack, first)
}

// Covers are the concealments and patches of the moment, in pixels of the shot: what lies under them is nobody's to
// see.
func (s Shown) Covers() []Mark {
	var covers []Mark
	for _, m := range s.Marks {
		if m.Kind.Covers() && len(m.Points) >= 2 {
			covers = append(covers, m)
		}
	}
	return covers
}

// Hidden are the places of the shot that lie under covers.
func (s Shown) Hidden() []scene.Rect {
	var all []scene.Rect
	for _, m := range s.Covers() {
		all = append(all, m.corners().Outward())
	}
	return all
}

// Hides tells whether any of a place of the shot lies under a cover.
func (s Shown) Hides(r scene.Rect) bool {
	return slices.ContainsFunc(s.Covers(), func(m Mark) bool {
		return !m.corners().Outward().Intersect(r).Empty()
	})
}

// coversIn tells whether a cover is there at any time of a span.
func (m Mark) coversIn(s Span) bool {
	return m.During == nil || m.During.From <= s.To && m.During.To >= s.From
}

// swept is a cover that covers all places it has in a span, and all the way between the known ones around it.
func (m Mark) swept(s Span) Mark {
	if len(m.Path) == 0 {
		return m
	}
	find := func(at int) int {
		i, _ := slices.BinarySearchFunc(m.Path, at, func(p Place, at int) int { return p.At - at })
		return i
	}
	from, to := find(s.From), min(find(s.To), len(m.Path)-1)
	if from > 0 && (from == len(m.Path) || m.Path[from].At > s.From) {
		from--
	}
	r := m.corners()
	var all scene.Rect
	for _, p := range m.Path[from : max(from, to)+1] {
		all = all.Union(scene.Rect{X: r.X + p.By.X, Y: r.Y + p.By.Y, W: r.W, H: r.H})
	}
	m.Points = []scene.Point{{X: all.X, Y: all.Y}, {X: all.X + all.W, Y: all.Y + all.H}}
	return m
}

// Area is a place of a shot that is withheld: in pixels of the shot and, of a recording, when and how it moves.
type Area struct {
	scene.Rect
	During *Span   `json:"during,omitempty"`
	Path   []Place `json:"path,omitempty"`
}

// Check tells what is wrong with an area that came from outside; nil where nothing is.
func (a Area) Check() error {
	return Figure{ID: "area", Shot: "area", Marks: []Mark{a.cover("area")}}.Check()
}

func (a Area) cover(id string) Mark {
	return Mark{ID: id, Kind: Concealment, Style: Style{Ink: "dark", Weight: Fine}, During: a.During, Path: a.Path,
		Points: []scene.Point{{X: a.X, Y: a.Y}, {X: a.X + a.W, Y: a.Y + a.H}}}
}

// Withholding is the figure with areas of its shots concealed, whatever its own marks say: plain, in the house's dark
// ink. Areas are by shot. Where a recording is shown as a still picture, they cover all places that they ever have; an
// inset of which something is withheld shows nothing of its shot.
func (f Figure) Withholding(areas map[string][]Area) Figure {
	out := f
	for i, a := range areas[f.Shot] {
		m := a.cover(fmt.Sprint("withheld-", i))
		if f.Clip == nil && len(m.Path) > 0 {
			m = m.swept(Span{m.Path[0].At, m.Path[len(m.Path)-1].At})
		}
		if f.Clip == nil {
			m.During, m.Path = nil, nil
		}
		out = out.with(m)
	}
	for i, m := range f.Marks {
		if m.Kind == Inset && len(areas[m.Shot]) > 0 {
			over := Area{Rect: m.corners(), During: m.During, Path: m.Path}
			out = out.with(over.cover(fmt.Sprint("withheld-inset-", i)))
		}
	}
	return out
}

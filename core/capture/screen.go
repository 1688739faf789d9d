package capture

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"raconte/core/id"
	"raconte/core/scene"
)

// Screen is what a source knows of the screen at one moment. Places are in pixels of the picture that
// the source gives of everything it sees.
type Screen struct {
	W        float64   `json:"w"`
	H        float64   `json:"h"`
	Monitors []Monitor `json:"monitors"`
	Windows  []Window  `json:"windows"`  // the front one first
	Elements []Element `json:"elements"` // later ones lie on earlier ones
}

// Monitor is one screen of several.
type Monitor struct {
	ID    string     `json:"id"`
	Rect  scene.Rect `json:"rect"`
	Scale float64    `json:"scale"` // pixels to a unit of the desktop; 1 on plain screens
}

// Window is a window without its shadow; Shadow is how far that reaches around it.
type Window struct {
	Title  string     `json:"title"`
	Rect   scene.Rect `json:"rect"`
	Shadow float64    `json:"shadow,omitempty"`
}

// Element is one thing on the screen that a person can name and use, as an accessibility layer tells it.
type Element struct {
	Name   string     `json:"name"`
	Role   string     `json:"role"` // see the roles in describe.go
	Rect   scene.Rect `json:"rect"`
	Window string     `json:"window,omitempty"`
	Asks   string     `json:"asks,omitempty"`   // what a field wants: "the bin count"
	On     bool       `json:"on,omitempty"`     // a tick box or toggle: whether it is on
	Leads  bool       `json:"leads,omitempty"`  // a link to another page, that does nothing else
	Secret bool       `json:"secret,omitempty"` // a password field: what is typed there is never told
}

// Action is what the person did when a shot was taken.
type Action struct {
	Kind    string   `json:"kind"`
	Element *Element `json:"element,omitempty"`
	// Of keys: what is in the field now; of a shortcut: its keys, as "Ctrl+P"; of a choice or a slider: what it is then;
	// of a drag: where to; of another tab: its title.
	Text string `json:"text,omitempty"`
}

// The kinds of actions.
const (
	Click       = "click"
	DoubleClick = "double-click"
	RightClick  = "right-click"
	PointAt     = "point"
	Keys        = "keys"
	Shortcut    = "shortcut"
	Choose      = "choose" // in a list, which is the element
	Set         = "set"    // a slider
	Dragged     = "drag"
	ChooseFile  = "file"
	ScrollTo    = "scroll" // until the element is seen
	GoBack      = "back"
	OtherTab    = "tab"
	End         = "end" // nothing more: what is seen when all is done
)

// Pointer is the mouse pointer in a shot. It is in the picture itself where Drawn; else it is known apart
// from it and can be shown, moved or left out.
type Pointer struct {
	X     float64 `json:"x"`
	Y     float64 `json:"y"`
	Drawn bool    `json:"drawn,omitempty"`
}

// About is what is known of a shot's capture. Places are in pixels of the shot.
type About struct {
	Taken    time.Time   `json:"taken"`
	Source   string      `json:"source"` // screen, clipboard, file, practice or feed
	Monitor  string      `json:"monitor,omitempty"`
	Scale    float64     `json:"scale,omitempty"`
	Window   *Window     `json:"window,omitempty"`
	Address  string      `json:"address,omitempty"` // of the page, without query
	Pointer  *Pointer    `json:"pointer,omitempty"`
	Action   *Action     `json:"action,omitempty"`
	Elements []Element   `json:"elements,omitempty"`
	Crop     *scene.Rect `json:"crop,omitempty"` // what was meant of a shot that holds more
	Replay   *Replay     `json:"replay,omitempty"`
	Note     string      `json:"note,omitempty"` // what was done to it on the way in: "clamped to the screen"
}

// Replay says of a shot that it was taken when a run was checked, and how what was used in it was found again.
type Replay struct {
	Of  string `json:"of"` // the shot of the run
	Fit Fit    `json:"fit"`
}

// Fit is how what was used is there today.
type Fit string

// The fits.
const (
	FitSame    Fit = "same"
	FitMoved   Fit = "moved"
	FitChanged Fit = "changed" // of another name or kind
	FitGone    Fit = "gone"
)

// The most that is kept of what a source tells.
const (
	mostElements = 500
	longestName  = 300 // characters of a name or title
	longestText  = 2000
)

// Bounds of what a source may tell.
const (
	farthest     = 1e6 // pixels of a place from the shot's corner
	largestScale = 16  // pixels to a unit of the desktop
	earliest     = 1990
	latest       = 2199
)

// Check tells what in a is no place, scale or time; nil where nothing is. What is too long is no fault: Trimmed cuts
// it.
func (a About) Check() error {
	if y := a.Taken.Year(); !a.Taken.IsZero() && (y < earliest || y > latest) {
		return errors.New("the time the shot was taken can't be right")
	}
	if math.IsNaN(a.Scale) || a.Scale < 0 || a.Scale > largestScale {
		return fmt.Errorf("the scale is not between 0 and %d", largestScale)
	}
	if r := a.Replay; r != nil && (!id.Valid(r.Of) || !slices.Contains([]Fit{FitSame, FitMoved, FitChanged, FitGone}, r.Fit)) {
		return errors.New("what the shot says of the run it checks is not in order")
	}
	rects := []*scene.Rect{a.Crop}
	if a.Window != nil {
		rects = append(rects, &a.Window.Rect, &scene.Rect{W: a.Window.Shadow})
	}
	if a.Pointer != nil {
		rects = append(rects, &scene.Rect{X: a.Pointer.X, Y: a.Pointer.Y})
	}
	if a.Action != nil && a.Action.Element != nil {
		rects = append(rects, &a.Action.Element.Rect)
	}
	for i := range a.Elements {
		rects = append(rects, &a.Elements[i].Rect)
	}
	for _, r := range rects {
		if r == nil {
			continue
		}
		for _, v := range []float64{r.X, r.Y, r.W, r.H} {
			if math.IsNaN(v) || math.Abs(v) > farthest {
				return errors.New("a place lies too far off the shot")
			}
		}
		if r.W < 0 || r.H < 0 {
			return errors.New("a rectangle has a negative size")
		}
	}
	return nil
}

// Trimmed is a with everything bounded and all that is secret left out, so that it can be kept.
func (a About) Trimmed() About {
	a.Source, a.Monitor, a.Note = cut(a.Source, 32), cut(a.Monitor, 64), cut(a.Note, longestName)
	a.Address, _, _ = strings.Cut(cut(a.Address, longestText), "?") // queries carry names and keys
	if a.Window != nil {
		w := *a.Window
		w.Title = cut(w.Title, longestName)
		a.Window = &w
	}
	if len(a.Elements) > mostElements {
		a.Elements = a.Elements[:mostElements]
	}
	elements := make([]Element, len(a.Elements))
	for i, e := range a.Elements {
		elements[i] = e.trimmed()
	}
	a.Elements = elements
	if a.Action != nil {
		act := *a.Action
		act.Kind, act.Text = cut(act.Kind, 32), cut(act.Text, longestText)
		if act.Element != nil {
			e := act.Element.trimmed()
			act.Element = &e
			if e.Secret {
				act.Text = ""
			}
		}
		a.Action = &act
	}
	return a
}

func (e Element) trimmed() Element {
	e.Name, e.Role, e.Window, e.Asks = cut(e.Name, longestName), cut(e.Role, 64), cut(e.Window, longestName), cut(e.Asks, longestName)
	e.Secret = e.Secret || e.Role == RolePassword
	return e
}

func cut(s string, most int) string {
	if r := []rune(s); len(r) > most {
		return string(r[:most])
	}
	return s
}

// At is the topmost element under a point; false where there is none.
func (s Screen) At(p scene.Point) (Element, bool) {
	for i := len(s.Elements) - 1; i >= 0; i-- {
		if s.Elements[i].Rect.Contains(p) {
			return s.Elements[i], true
		}
	}
	return Element{}, false
}

// WindowAt is the front window under a point; false where there is none.
func (s Screen) WindowAt(p scene.Point) (Window, bool) {
	for _, w := range s.Windows {
		if w.Rect.Contains(p) {
			return w, true
		}
	}
	return Window{}, false
}

// MonitorAt is the monitor under a point, or the first; false where none is known.
func (s Screen) MonitorAt(p scene.Point) (Monitor, bool) {
	for _, m := range s.Monitors {
		if m.Rect.Contains(p) {
			return m, true
		}
	}
	if len(s.Monitors) > 0 {
		return s.Monitors[0], true
	}
	return Monitor{}, false
}

// Scaled is what is known of a copy that is k times as large.
func (a About) Scaled(k float64) About {
	by := func(r scene.Rect) scene.Rect { return scene.Rect{X: r.X * k, Y: r.Y * k, W: r.W * k, H: r.H * k} }
	a = a.Trimmed()
	a.Scale *= k
	if a.Window != nil {
		a.Window.Rect = by(a.Window.Rect)
	}
	if a.Pointer != nil {
		a.Pointer = &Pointer{X: a.Pointer.X * k, Y: a.Pointer.Y * k, Drawn: a.Pointer.Drawn}
	}
	for i := range a.Elements {
		a.Elements[i].Rect = by(a.Elements[i].Rect)
	}
	if a.Action != nil && a.Action.Element != nil {
		a.Action.Element.Rect = by(a.Action.Element.Rect)
	}
	if a.Crop != nil {
		crop := by(*a.Crop)
		a.Crop = &crop
	}
	return a
}

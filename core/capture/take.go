// Package capture holds the rules of taking shots: what is meant of a screen, the same area again, when it has settled,
// how shots are named, ordered and worded, and how a run of them becomes steps.
package capture

import (
	"errors"

	"raconte/core/scene"
)

// What says which part of the screen is meant.
type What string

// What can be taken. A page is a window's contents from top to end, stitched while it is scrolled.
const (
	Everything What = "everything"
	OneMonitor What = "monitor"
	OneWindow  What = "window"
	OneElement What = "element"
	Area       What = "region"
	Outline    What = "outline"
	WindowBand What = "band"
	Page       What = "page"
)

// Wish is what a person wants taken.
type Wish struct {
	What    What          `json:"what"`
	At      scene.Point   `json:"at"`     // the pointer: it chooses the monitor, window or element
	Region  *scene.Rect   `json:"region"` // for region and page
	Outline []scene.Point `json:"outline"`
	Share   float64       `json:"share"`  // for band
	Shadow  bool          `json:"shadow"` // for window: with its shadow
	Pointer string        `json:"pointer"`
}

// How the pointer is taken.
const (
	PointerIn    = "in"    // in the picture
	PointerOut   = "out"   // not at all
	PointerApart = "apart" // as a mark of its own that can be moved and removed
)

// Cut is what to cut from the whole picture, and what is then known of it.
type Cut struct {
	Rect    scene.Rect    `json:"rect"`
	Outline []scene.Point `json:"outline,omitempty"` // in pixels of the whole picture; what lies outside is transparent
	About   About         `json:"about"`
	Kept    *Region       `json:"kept,omitempty"` // for "same area again"
}

// The errors of Cut, in words for people.
var (
	ErrNoWindow  = errors.New("there is no window under the pointer: point at one, or take a region")
	ErrNoElement = errors.New("nothing under the pointer has a name: point at something else, or take a region")
	ErrNoRegion  = errors.New("no region is chosen yet: draw one on the picture")
	ErrTooSmall  = errors.New("the region is too small: it needs at least 8 pixels a side")
)

// Cut finds what a wish means on the screen.
func (s Screen) Cut(w Wish) (Cut, error) {
	whole := scene.Rect{W: s.W, H: s.H}
	window, hasWindow := s.WindowAt(w.At)
	var c Cut
	switch w.What {
	case OneMonitor:
		m, ok := s.MonitorAt(w.At)
		if !ok {
			m.Rect = whole
		}
		c.Rect = m.Rect
	case OneWindow, WindowBand:
		if !hasWindow && len(s.Windows) > 0 {
			return c, ErrNoWindow
		}
		if !hasWindow {
			window.Rect = whole // nothing tells windows: what is shared is taken for one
		}
		c.Rect = window.Rect
		if w.Shadow && w.What == OneWindow {
			c.Rect = window.Rect.Grow(window.Shadow)
		}
	case OneElement:
		e, ok := s.At(w.At)
		if !ok {
			return c, ErrNoElement
		}
		c.Rect = e.Rect.Grow(2)
	case Area, Page:
		if w.Region == nil {
			return c, ErrNoRegion
		}
		c.Rect = *w.Region
	case Outline:
		if len(w.Outline) < 3 {
			return c, ErrNoRegion
		}
		c.Outline = w.Outline
		x0, y0, x1, y1 := w.Outline[0].X, w.Outline[0].Y, w.Outline[0].X, w.Outline[0].Y
		for _, p := range w.Outline {
			x0, y0, x1, y1 = min(x0, p.X), min(y0, p.Y), max(x1, p.X), max(y1, p.Y)
		}
		c.Rect = scene.Rect{X: x0, Y: y0, W: x1 - x0, H: y1 - y0}
	default:
		c.Rect = whole
	}
	c.Rect = Whole(c.Rect.Intersect(whole))
	if c.Rect.W < Smallest || c.Rect.H < Smallest {
		return c, ErrTooSmall
	}
	if w.What == Area || w.What == Outline || w.What == Page {
		kept := s.Remember(c.Rect)
		c.Kept = &kept
		window, hasWindow = s.WindowAt(c.Rect.Center())
	}
	c.About = s.about(c.Rect, w)
	if hasWindow {
		win := window
		win.Rect = moved(win.Rect, c.Rect)
		c.About.Window = &win
	}
	if w.What == WindowBand {
		band := moved(Band(window.Rect, w.At.Y, w.Share), c.Rect)
		c.About.Crop = &band
	}
	return c, nil
}

// about is what is known of the part of the screen in r.
func (s Screen) about(r scene.Rect, w Wish) About {
	var a About
	if m, ok := s.MonitorAt(r.Center()); ok {
		a.Monitor, a.Scale = m.ID, m.Scale
	}
	if w.Pointer != PointerOut && r.Contains(w.At) {
		a.Pointer = &Pointer{X: w.At.X - r.X, Y: w.At.Y - r.Y, Drawn: w.Pointer == PointerIn}
	}
	for _, e := range s.Elements {
		if seen := e.Rect.Intersect(r); !seen.Empty() {
			e.Rect = moved(e.Rect, r)
			a.Elements = append(a.Elements, e)
		}
	}
	return a
}

// Did adds what the person did: the element is given in pixels of the whole picture, as the cut is.
func (c *Cut) Did(act Action) {
	if act.Element != nil {
		e := *act.Element
		e.Rect = moved(e.Rect, c.Rect)
		act.Element = &e
	}
	c.About.Action = &act
}

// moved is r in pixels of a part of the screen.
func moved(r, part scene.Rect) scene.Rect {
	r.X, r.Y = r.X-part.X, r.Y-part.Y
	return r
}

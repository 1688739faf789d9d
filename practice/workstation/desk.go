// Package workstation is the simulated computer that ships with Raconte: two monitors, windows, and Lotroom, a
// made-up program that books lots of fruit into cold rooms. It takes pointer and key events, draws its
// frames with the core's own primitives, and tells its windows and elements as a desktop's
// accessibility layer would. Its clock stands still unless it is told that time passes, so that the
// same events give the same pixels.
package workstation

import (
	"time"

	"raconte/core/capture"
	"raconte/core/scene"
)

// The two monitors, side by side, and the desktop around both.
var (
	Main = scene.Rect{W: 1920, H: 1080}
	Side = scene.Rect{X: 1920, W: 1280, H: 1024}
	Both = scene.Rect{W: 3200, H: 1080}
)

// Desk is the computer as it is now. It is not for use by several goroutines at once.
type Desk struct {
	now     time.Time
	rested  time.Time // since when the pointer has not moved
	pointer scene.Point
	windows []*window // back to front
	focus   string    // the id of the control that has the keyboard
	marked  bool      // all of it is chosen, so that what is typed takes its place
	open    string    // the id of the control whose list or menu is open
	drag    *drag
	program *lotroom
	shots   map[string]drawn  // pictures of layers that were drawn before, by the layer's id
	last    look              // of what was drawn last
	told    map[string]string // what was in fields when a recording last told of them, by the control's id
}

// window is a window's frame; draw draws what is in it, anew each time, from the program's state.
type window struct {
	id, title string
	rect      scene.Rect // frame and title bar included
	modal     bool       // nothing else can be used while it is open
	draw      func(u *ui)
}

type drag struct {
	window *window
	grip   scene.Point // from the window's top left to where it was taken
}

// New is a computer that was just started, with Lotroom's sign-in dialog and the door log open.
func New(now time.Time) *Desk {
	d := &Desk{now: now, rested: now, pointer: scene.Point{X: 960, Y: 980}, shots: map[string]drawn{}, told: map[string]string{}}
	d.program = &lotroom{desk: d}
	d.program.start()
	return d
}

// Now is the time on the computer's clock.
func (d *Desk) Now() time.Time { return d.now }

// Pass lets time pass: the clock, the caret and tooltips go on.
func (d *Desk) Pass(t time.Duration) { d.now = d.now.Add(t) }

// Move moves the pointer; a window that is held goes with it.
func (d *Desk) Move(p scene.Point) {
	if p == d.pointer {
		return
	}
	d.pointer, d.rested = p, d.now
	if d.drag != nil {
		r := &d.drag.window.rect
		at := p.Minus(d.drag.grip)
		r.X, r.Y = min(max(at.X, 40-r.W), Both.W-40), min(max(at.Y, 0), Main.H-80)
	}
}

// Press presses the mouse button. A menu or list that is open closes when anything else is pressed, and a
// field that is left completes itself.
func (d *Desk) Press(p scene.Point) {
	d.Move(p)
	d.rested = d.now.Add(time.Hour) // no tooltip until the pointer moves again
	layers := d.layers()
	l, c := under(layers, p)
	if d.open != "" && (l == nil || !l.popup) && (c == nil || c.id != d.open) {
		d.open = ""
	}
	if l == nil {
		d.leave("")
		return
	}
	if l.window != nil && !d.blocked(l.window) {
		d.raise(l.window)
		if c == nil && p.Y < l.rect.Y+titleBar {
			d.drag = &drag{l.window, p.Minus(scene.Point{X: l.rect.X, Y: l.rect.Y})}
		}
	}
	if c == nil || (l.window != nil && d.blocked(l.window)) {
		return
	}
	if c.field != nil {
		d.leave(c.id)
	} else if !l.popup {
		d.leave("")
	}
	if c.do != nil {
		c.do()
	}
}

// Release lets the mouse button go.
func (d *Desk) Release() { d.drag = nil }

// Wheel scrolls what is under the pointer by a distance in pixels.
func (d *Desk) Wheel(p scene.Point, by float64) {
	d.Move(p)
	if l, _ := under(d.layers(), p); l != nil && l.scroll != nil {
		l.scroll(by)
	}
}

// leave moves the keyboard to another control; the field that loses it completes itself. What the next one holds by
// then was not typed into it.
func (d *Desk) leave(next string) {
	before := d.focus
	d.focus, d.marked = next, false
	if before == next {
		return
	}
	d.complete(before)
	if _, holds, ok := d.Focused(); ok {
		d.told[next] = holds
	}
}

func (d *Desk) complete(id string) {
	for _, l := range d.layers() {
		for _, c := range l.controls {
			if c.id == id && c.field != nil && c.field.complete != nil {
				c.field.complete()
				return
			}
		}
	}
}

func (d *Desk) front() *window {
	if len(d.windows) == 0 {
		return nil
	}
	return d.windows[len(d.windows)-1]
}

// blocked tells whether a dialog in front keeps the window from being used.
func (d *Desk) blocked(w *window) bool {
	f := d.front()
	return f != nil && f.modal && f != w
}

func (d *Desk) raise(w *window) {
	for i, o := range d.windows {
		if o == w {
			d.windows = append(append(d.windows[:i:i], d.windows[i+1:]...), w)
			return
		}
	}
}

// show opens a window, or brings it to the front where it is open.
func (d *Desk) show(w *window) {
	if o := d.find(w.id); o != nil {
		d.raise(o)
		return
	}
	d.open = ""
	d.leave("")
	d.windows = append(d.windows, w)
}

func (d *Desk) close(id string) {
	for i, w := range d.windows {
		if w.id == id {
			d.windows = append(d.windows[:i:i], d.windows[i+1:]...)
			d.focus, d.open = "", ""
			return
		}
	}
}

func (d *Desk) find(id string) *window {
	for _, w := range d.windows {
		if w.id == id {
			return w
		}
	}
	return nil
}

// Screen is what an accessibility layer would tell of the desktop. What lies under another window is left out.
func (d *Desk) Screen() capture.Screen {
	s := capture.Screen{
		W: Both.W, H: Both.H,
		Monitors: []capture.Monitor{{ID: "main", Rect: Main, Scale: 1}, {ID: "side", Rect: Side, Scale: 1}},
		Windows:  []capture.Window{}, Elements: []capture.Element{},
	}
	layers := d.layers()
	for i, l := range layers {
		if l.window != nil {
			w := capture.Window{Title: l.window.title, Rect: l.rect, Shadow: shadowReach}
			s.Windows = append([]capture.Window{w}, s.Windows...)
		}
		for _, c := range l.controls {
			covered := false
			for _, above := range layers[i+1:] {
				covered = covered || above.rect.Contains(c.Rect.Center())
			}
			if !covered {
				s.Elements = append(s.Elements, c.Element)
			}
		}
	}
	return s
}

// Focused is the control that has the keyboard and what is typed in it; false where there is none.
func (d *Desk) Focused() (e capture.Element, typed string, ok bool) {
	for _, l := range d.layers() {
		for _, c := range l.controls {
			if c.id == d.focus && c.field != nil {
				return c.Element, *c.field.value, true
			}
		}
	}
	return capture.Element{}, "", false
}

func under(layers []layer, p scene.Point) (*layer, *control) {
	for i := len(layers) - 1; i >= 0; i-- {
		l := &layers[i]
		if l.tip || !l.rect.Contains(p) {
			continue
		}
		for j := len(l.controls) - 1; j >= 0; j-- {
			if c := &l.controls[j]; c.Role != capture.RoleWindow && c.Rect.Contains(p) {
				return l, c
			}
		}
		return l, nil
	}
	return nil, nil
}

package workstation

import (
	"regexp"
	"time"

	"raconte/core/capture"
	"raconte/core/scene"
)

// Before is what a recording keeps before a press at a point takes effect: what was typed into the field that
// is left by it, if anything was, and the press itself. Places are in pixels of the desktop.
func (d *Desk) Before(p scene.Point, kind string) []capture.Action {
	var acts []capture.Action
	_, c := under(d.layers(), p)
	if e, typed, ok := d.Focused(); ok && typed != d.told[d.focus] && (c == nil || c.id != d.focus) {
		acts = append(acts, d.typed(e, typed))
	}
	act := capture.Action{Kind: kind}
	if c != nil {
		e := c.Element
		act.Element = &e
		if c.field != nil {
			return acts // a press into a field only begins the typing
		}
	}
	return append(acts, act)
}

// BeforeKey is what a recording keeps before a key takes effect: what was typed into the field that the key may
// leave, and the key itself where it does something. Keys that only write have nothing kept before them.
func (d *Desk) BeforeKey(name string) []capture.Action {
	var acts []capture.Action
	shortcut := name == "Enter" || name == "Escape" || functionKey.MatchString(name)
	if !shortcut && name != "Tab" {
		return acts
	}
	if act, ok := d.Typing(); ok {
		acts = append(acts, act)
	}
	if shortcut {
		acts = append(acts, capture.Action{Kind: capture.Shortcut, Text: name})
	}
	return acts
}

var functionKey = regexp.MustCompile(`^F\d+$`)

// Typing is what was typed and not yet told, as when the recording ends.
func (d *Desk) Typing() (capture.Action, bool) {
	e, typed, ok := d.Focused()
	if !ok || typed == d.told[d.focus] {
		return capture.Action{}, false
	}
	return d.typed(e, typed), true
}

func (d *Desk) typed(e capture.Element, text string) capture.Action {
	d.told[d.focus] = text
	if e.Secret {
		text = ""
	}
	return capture.Action{Kind: capture.Keys, Element: &e, Text: text}
}

// Print is a fingerprint of what the desktop shows but for the pointer, the caret, tooltips and the clock: it
// changes when something happened.
func (d *Desk) Print() uint64 {
	now, rested := d.now, d.rested
	defer func() { d.now, d.rested = now, rested }()
	d.now = time.Time{} // the caret of a computer whose time stands still does not blink
	d.rested = d.now
	print := uint64(0)
	for _, l := range d.layers() {
		if l.id != stripLayer {
			print = print*31 + fingerprint(l.drawn) + uint64(l.rect.X)*7 + uint64(l.rect.Y)
		}
	}
	return print
}

package workstation

import (
	"unicode"
	"unicode/utf8"
)

// longestEntry is the most that a field holds, in characters.
const longestEntry = 120

// Key presses a key, named as in the UI Events standard: "a", "Enter", "Tab", "Backspace", "Escape", "F8".
func (d *Desk) Key(name string) {
	d.rested = d.now
	switch name {
	case "Escape":
		if d.open != "" {
			d.open = ""
		} else if f := d.front(); f != nil && f.modal && f.id != signInDialog {
			d.close(f.id)
		}
		return
	case "Tab":
		d.next()
		return
	}
	if d.focus != "" && d.edit(name) {
		return
	}
	d.program.key(name)
}

// edit changes the field that has the keyboard; false where the key is not for it.
func (d *Desk) edit(key string) bool {
	for _, l := range d.layers() {
		for _, c := range l.controls {
			if c.id != d.focus || c.field == nil {
				continue
			}
			value := []rune(*c.field.value)
			if d.marked && (key == "Backspace" || len(key) > 0 && utf8.RuneCountInString(key) == 1) {
				value, *c.field.value = nil, ""
			}
			d.marked = key == "Control+a"
			if d.marked {
				return true
			}
			switch r, size := utf8.DecodeRuneInString(key); {
			case key == "Backspace":
				*c.field.value = string(value[:max(0, len(value)-1)])
			case size == len(key) && unicode.IsPrint(r):
				if len(value) < longestEntry {
					*c.field.value += key
				}
			default:
				return false
			}
			return true
		}
	}
	return false
}

// next moves the keyboard to the next field of the front window.
func (d *Desk) next() {
	var fields []string
	for _, l := range d.layers() {
		if l.window != d.front() {
			continue
		}
		for _, c := range l.controls {
			if c.field != nil {
				fields = append(fields, c.id)
			}
		}
	}
	if len(fields) == 0 {
		return
	}
	to := fields[0]
	for i, id := range fields {
		if id == d.focus {
			to = fields[(i+1)%len(fields)]
		}
	}
	d.leave(to)
}

package workstation

import (
	"raconte/core/capture"
	"raconte/core/scene"
	"raconte/core/text"
)

// The colours of the desktop and of Lotroom.
var (
	sky       = scene.Hex("#4a6873")
	hillFar   = scene.Hex("#415d66")
	hillNear  = scene.Hex("#374f57")
	green     = scene.Hex("#2f6b52")
	deepGreen = scene.Hex("#24533f")
	pale      = scene.Hex("#edf2ec")
	paleLine  = scene.Hex("#d5dfd6")
	white     = scene.Hex("#ffffff")
	dark      = scene.Hex("#1d2b25")
	gray      = scene.Hex("#5d6b64")
	edge      = scene.Hex("#aebab3")
	cold      = scene.Hex("#2b6d9b")
	warn      = scene.Hex("#b4471f")
	warnPale  = scene.Hex("#fbeae2")
	chosen    = scene.Hex("#dcebe2")
)

// control is an element that can be used. Its rectangle is in pixels of the desktop.
type control struct {
	capture.Element
	id    string
	tip   string
	do    func()
	field *field
}

// field is what can be typed into.
type field struct {
	value    *string
	complete func() // when the keyboard leaves it; may be nil
}

// ui draws what is in a layer and registers its controls, both anew for each frame. Places are in
// pixels from the layer's top left.
type ui struct {
	desk     *Desk
	owner    string // id of the layer
	name     string // title of the window
	rect     scene.Rect
	drawn    scene.Scene
	controls []control
	popups   []layer
	scroll   func(by float64)
}

func (u *ui) register(role, name string, r scene.Rect) *control {
	r.X, r.Y = r.X+u.rect.X, r.Y+u.rect.Y
	u.controls = append(u.controls, control{
		Element: capture.Element{Name: name, Role: role, Rect: r, Window: u.name}, id: u.owner + "/" + role + "/" + name,
	})
	return &u.controls[len(u.controls)-1]
}

func (u *ui) element(role, name string, r scene.Rect, do func()) *control {
	c := u.register(role, name, r)
	c.do = do
	return c
}

func (u *ui) box(r scene.Rect, radius float64, fill scene.Color) {
	u.drawn.Fill(scene.Rounded(r, radius), fill)
}

func (u *ui) frame(r scene.Rect, radius, width float64, c scene.Color) {
	u.drawn.Fill(scene.Frame(r.Grow(-width/2), radius, width), c)
}

func (u *ui) say(face string, size, x, baseline float64, words string, c scene.Color) {
	text.Set(&u.drawn, face, size, x, baseline, words, c)
}

func (u *ui) sayRight(face string, size, right, baseline float64, words string, c scene.Color) {
	u.say(face, size, right-text.Width(face, size, words), baseline, words, c)
}

func (u *ui) sayCenter(face string, size float64, r scene.Rect, words string, c scene.Color) {
	u.say(face, size, r.X+(r.W-text.Width(face, size, words))/2, r.Y+r.H/2+size*text.CapTop/2, words, c)
}

// button draws a button; the main one of a window is filled.
func (u *ui) button(name string, x, y float64, main bool, tip string, do func()) scene.Rect {
	r := scene.Rect{X: x, Y: y, W: text.Width(text.Bold, 16, name) + 44, H: 42}
	if main {
		u.box(r, 4, green)
		u.sayCenter(text.Bold, 16, r, name, white)
	} else {
		u.box(r, 4, white)
		u.frame(r, 4, 1.5, green)
		u.sayCenter(text.Bold, 16, r, name, green)
	}
	u.element(capture.RoleButton, name, r, do).tip = tip
	return r
}

// entry says how a field is.
type entry struct {
	hint, asks string
	secret     bool
	complete   func()
	label      float64 // room for the label before it; 0 is the usual
}

// field draws a labelled field; the one with the keyboard has a heavier frame and a caret.
func (u *ui) field(name string, value *string, x, y, w float64, e entry) *control {
	if e.label == 0 {
		e.label = 130
	}
	u.say(text.Regular, 15, x, y+27, name, gray)
	r := scene.Rect{X: x + e.label, Y: y, W: w, H: 40}
	role := capture.RoleField
	shown := *value
	if e.secret {
		role = capture.RolePassword
		if shown != "" {
			shown = "••••••••" // however long it is: a picture must not tell
		}
	}
	c := u.register(role, name, r)
	c.Asks, c.Secret, c.field = e.asks, e.secret, &field{value, e.complete}
	u.box(r, 3, white)
	focused := u.desk.focus == c.id
	if focused {
		u.frame(r, 3, 2.5, green)
	} else {
		u.frame(r, 3, 1.2, edge)
	}
	u.say(text.Regular, 16, r.X+12, y+26, shown, dark)
	if focused && u.desk.now.UnixMilli()/blink.Milliseconds()%2 == 0 {
		u.box(scene.Rect{X: r.X + 13 + text.Width(text.Regular, 16, shown), Y: y + 10, W: 2, H: 20}, 0, dark)
	}
	if e.hint != "" {
		u.say(text.Regular, 14, r.X+w+14, y+26, e.hint, gray)
	}
	return c
}

// choice draws a field that opens a list.
func (u *ui) choice(name, value string, x, y, w float64, items []string, pick func(i int)) {
	u.say(text.Regular, 15, x, y+27, name, gray)
	r := scene.Rect{X: x + 130, Y: y, W: w, H: 40}
	u.box(r, 3, white)
	u.frame(r, 3, 1.2, edge)
	u.say(text.Regular, 16, r.X+12, y+26, value, dark)
	cx, cy := r.X+r.W-20, r.Y+18
	u.drawn.Fill(scene.Stroke([]scene.Point{{X: cx - 5, Y: cy}, {X: cx, Y: cy + 5}, {X: cx + 5, Y: cy}}, 1.8, false), gray)
	c := u.register(capture.RoleChoice, name, r)
	u.opens(c, capture.RoleOption, items, scene.Rect{X: r.X, Y: r.Y + r.H + 3, W: r.W + 60}, pick)
}

// opens makes a control open a list below it.
func (u *ui) opens(c *control, role string, items []string, at scene.Rect, pick func(i int)) {
	d, id := u.desk, c.id
	c.do = func() {
		if d.open == id {
			d.open = ""
		} else {
			d.open = id
		}
	}
	if d.open != id {
		return
	}
	at.X, at.Y, at.H = at.X+u.rect.X, at.Y+u.rect.Y, float64(len(items))*38+10
	list := &ui{desk: d, owner: id, name: u.name, rect: at}
	list.drawn = scene.Scene{W: at.W, H: at.H}
	list.box(scene.Rect{W: at.W, H: at.H}, 5, edge)
	list.box(scene.Rect{X: 1, Y: 1, W: at.W - 2, H: at.H - 2}, 4, white)
	for i, item := range items {
		row := scene.Rect{X: 5, Y: 5 + float64(i)*38, W: at.W - 10, H: 38}
		onDesk := scene.Rect{X: row.X + at.X, Y: row.Y + at.Y, W: row.W, H: row.H}
		if onDesk.Contains(d.pointer) {
			list.box(row, 3, chosen)
		}
		list.say(text.Regular, 16, row.X+10, row.Y+25, item, dark)
		list.element(role, item, row, func() { d.open = ""; pick(i) })
	}
	u.popups = append(u.popups, layer{id: id, popup: true, rect: at, drawn: list.drawn, controls: list.controls})
}

// tick draws a tick box.
func (u *ui) tick(name string, on *bool, x, y float64) {
	r := scene.Rect{X: x, Y: y, W: 22, H: 22}
	u.box(r, 3, white)
	u.frame(r, 3, 1.5, gray)
	if *on {
		u.box(r, 3, green)
		u.drawn.Fill(scene.Stroke([]scene.Point{{X: x + 5, Y: y + 11}, {X: x + 9.5, Y: y + 16}, {X: x + 17, Y: y + 6}}, 2.4, false), white)
	}
	u.say(text.Regular, 16, x+34, y+17, name, dark)
	r.W = 34 + text.Width(text.Regular, 16, name)
	u.element(capture.RoleTick, name, r, func() { *on = !*on }).On = *on
}

// toggle draws a switch.
func (u *ui) toggle(name string, on *bool, x, y float64, tip string) {
	r := scene.Rect{X: x, Y: y, W: 46, H: 24}
	fill, at := edge, x+12
	if *on {
		fill, at = green, x+34
	}
	u.box(r, 12, fill)
	u.drawn.Fill(scene.Disc(scene.Point{X: at, Y: y + 12}, 9), white)
	u.say(text.Regular, 16, x+58, y+18, name, dark)
	r.W = 58 + text.Width(text.Regular, 16, name)
	c := u.element(capture.RoleSwitch, name, r, func() { *on = !*on })
	c.On, c.tip = *on, tip
}

// message draws a strip that tells what happened.
func (u *ui) message(words string, x, y, w float64, bad bool) {
	if words == "" {
		return
	}
	r := scene.Rect{X: x, Y: y, W: w, H: 46}
	fill, c := chosen, deepGreen
	if bad {
		fill, c = warnPale, warn
	}
	u.box(r, 4, fill)
	u.box(scene.Rect{X: x, Y: y, W: 5, H: 46}, 0, c)
	u.say(text.Bold, 16, x+20, y+29, words, c)
	u.element(capture.RoleLabel, words, r, nil)
}

// table draws a table. A row whose first cell is marked is lit; a cell that begins with "!" is a warning.
func (u *ui) table(x, y float64, heads []string, widths []float64, rows [][]string, marked string, pick func(row string)) {
	total := 0.0
	for _, w := range widths {
		total += w
	}
	u.box(scene.Rect{X: x, Y: y, W: total, H: 40}, 0, pale)
	cx := x
	for i, h := range heads {
		u.say(text.Bold, 14, cx+12, y+26, h, gray)
		cx += widths[i]
	}
	for i, row := range rows {
		ry := y + 40 + float64(i)*44
		r := scene.Rect{X: x, Y: ry, W: total, H: 44}
		if row[0] == marked {
			u.box(r, 0, chosen)
		}
		u.box(scene.Rect{X: x, Y: ry + 43.2, W: total, H: 0.8}, 0, paleLine)
		cx = x
		for j, cell := range row {
			face, c := text.Regular, dark
			if j == 0 {
				face = text.Bold
			}
			if len(cell) > 1 && cell[0] == '!' {
				cell, c, face = cell[1:], warn, text.Bold
			}
			u.say(face, 16, cx+12, ry+28, cell, c)
			u.element(capture.RoleCell, heads[j]+" of "+row[0], scene.Rect{X: cx, Y: ry, W: widths[j], H: 44}, nil)
			cx += widths[j]
		}
		u.element(capture.RoleRow, row[0], r, func() {
			if pick != nil {
				pick(row[0])
			}
		})
	}
	u.frame(scene.Rect{X: x, Y: y, W: total, H: 40 + float64(len(rows))*44}, 0, 1, paleLine)
}

package workstation

import (
	"strconv"
	"strings"

	"raconte/core/capture"
	"raconte/core/scene"
	"raconte/core/text"
)

// lotroom is the program's state. Its windows are drawn from it and from nothing else.
type lotroom struct {
	desk    *Desk
	known   []*window // every window that can be open, in the order of the strip
	user    string
	section string

	mail, password, refused string

	bin, grower, variety, bins, weight, room string
	said                                     string // what the section tells of the last thing done
	saidBad                                  bool

	chosenRoom  string
	warmOnly    bool
	chosenLot   string
	moveTo      string
	reason      string
	label       string
	found       bool // the label's lot was found
	printer     string
	copies      string
	chosenAlarm string
	alarm       string // "", seen, closed
	cause, note string
	siren       bool

	trouble string // what the error dialog says

	plan     plan
	scrolled float64 // of the door log
}

// The sections of Lotroom.
const (
	receiving = "Receiving"
	roomsPart = "Rooms"
	movesPart = "Moves"
	labelPart = "Labels"
	alarmPart = "Alarms"
)

// The ids of windows.
const (
	mainWindow   = "lotroom"
	signInDialog = "sign-in"
	errorDialog  = "error"
	logWindow    = "door-log"
	planWindow   = "plan"
)

// rooms are the cold rooms: name, temperature now and set, space, door.
var rooms = [][]string{
	{"Room 1", "1.4 °C", "1.5 °C", "212 of 240 bins", "closed"},
	{"Room 2", "1.6 °C", "1.5 °C", "240 of 240 bins", "closed"},
	{"Room 3", "!6.8 °C", "1.5 °C", "96 of 240 bins", "!open 12 min"},
	{"Room 4", "0.9 °C", "1.0 °C", "148 of 180 bins", "closed"},
	{"Room 5", "3.2 °C", "3.0 °C", "60 of 180 bins", "closed"},
	{"Room 6", "2.1 °C", "2.0 °C", "64 of 180 bins", "closed"},
}

var roomItems = []string{"Room 2, 1.6 °C, full", "Room 4, 0.9 °C, 32 free", "Room 5, 3.2 °C, 120 free", "Room 6, 2.1 °C, 116 free"}

// lots are what bin cards say: lot, grower, variety, bins, room.
var lots = [][]string{
	{"24-1187", "Vennaker Farm", "Belle d’Ostrave", "18", "Room 3"},
	{"24-1190", "Hollin Bank", "Winter Crane", "24", "Room 3"},
	{"24-1193", "Osk & Daughters", "Red Tamsin", "12", "Room 3"},
}

func (l *lotroom) start() {
	l.section, l.siren, l.copies = receiving, true, "1"
	l.plan.rooms = map[string]*bool{}
	for _, r := range rooms {
		l.plan.rooms[r[0]] = new(bool)
	}
	l.known = []*window{
		{id: mainWindow, title: "Lotroom: Receiving", rect: scene.Rect{X: 220, Y: 84, W: 1440, H: 850}, draw: l.drawMain},
		{id: planWindow, title: "Season plan", rect: scene.Rect{X: 560, Y: 190, W: 760, H: 560}, draw: l.drawPlan},
		{id: logWindow, title: "Door log", rect: scene.Rect{X: 2010, Y: 90, W: 860, H: 760}, draw: l.drawLog},
		{id: signInDialog, title: "Sign in to Lotroom", rect: scene.Rect{X: 660, Y: 300, W: 600, H: 420}, modal: true, draw: l.drawSignIn},
		{id: errorDialog, title: "Lotroom", rect: scene.Rect{X: 690, Y: 380, W: 560, H: 240}, modal: true, draw: l.drawError},
	}
	l.desk.show(l.window(logWindow))
	l.desk.show(l.window(signInDialog))
}

func (l *lotroom) window(id string) *window {
	for _, w := range l.known {
		if w.id == id {
			return w
		}
	}
	panic("workstation: no window " + id)
}

// goTo opens a section.
func (l *lotroom) goTo(section string) {
	l.section, l.said = section, ""
	l.window(mainWindow).title = "Lotroom: " + section
}

func (l *lotroom) fail(words string) {
	l.trouble = words
	l.desk.show(l.window(errorDialog))
}

// key does what a key does that no field takes.
func (l *lotroom) key(name string) {
	front := l.desk.front()
	if front == nil {
		return
	}
	switch {
	case front.id == signInDialog && name == "Enter":
		l.signIn()
	case front.id == errorDialog && name == "Enter":
		l.desk.close(errorDialog)
	case front.id == logWindow:
		l.scrollLog(map[string]float64{"ArrowDown": rowHeight, "ArrowUp": -rowHeight, "PageDown": logView - 2*rowHeight, "PageUp": 2*rowHeight - logView}[name])
	case front.id != mainWindow:
	case name == "Enter" && strings.HasSuffix(l.desk.focus, "/Lot"):
		l.findLabel()
	case name == "Enter":
		l.desk.leave("")
	case name == "F6" && l.section == receiving:
		l.weigh()
	case name == "F8" && l.section == receiving:
		l.receive()
	}
}

const column = 210.0 // width of the sections' column
const left = column + 40
const top = 72.0 // title bar and menus

// drawMain draws Lotroom's own window.
func (l *lotroom) drawMain(u *ui) {
	w, h := u.rect.W, u.rect.H
	u.box(scene.Rect{X: 1, Y: titleBar, W: w - 2, H: top - titleBar}, 0, green)
	l.menus(u)
	u.sayRight(text.Regular, 15, w-24, titleBar+23, l.user+", dock 2", scene.Hex("#dbe9e1"))
	u.box(scene.Rect{X: 1, Y: top, W: column, H: h - top - 2}, 0, pale)
	u.box(scene.Rect{X: column, Y: top, W: 1, H: h - top - 1}, 0, paleLine)
	for i, name := range []string{receiving, roomsPart, movesPart, labelPart, alarmPart} {
		r := scene.Rect{X: 10, Y: top + 28 + float64(i)*50, W: column - 20, H: 44}
		face, c := text.Regular, dark
		if name == l.section {
			u.box(r, 4, white)
			face, c = text.Bold, deepGreen
		}
		u.say(face, 17, 28, r.Y+28, name, c)
		u.element(capture.RoleTab, name, r, func() { l.goTo(name) })
	}
	u.box(scene.Rect{X: column + 1, Y: h - 41, W: w - column - 2, H: 40}, 0, scene.Hex("#f6f8f5"))
	u.say(text.Regular, 14, column+32, h-16, "Pellworth Growers’ Cooperative, dock 2", gray)
	u.sayRight(text.Regular, 14, w-24, h-16, "Scanner ready   Printer LP-2 ready", gray)
	switch l.section {
	case receiving:
		l.drawReceiving(u)
	case roomsPart:
		l.drawRooms(u)
	case movesPart:
		l.drawMoves(u)
	case labelPart:
		l.drawLabels(u)
	case alarmPart:
		l.drawAlarms(u)
	}
}

func (l *lotroom) menus(u *ui) {
	x := 14.0
	menu := func(name string, items []string, pick func(i int)) {
		r := scene.Rect{X: x, Y: titleBar + 3, W: text.Width(text.Regular, 16, name) + 28, H: 28}
		c := u.register(capture.RoleMenu, name, r)
		if u.desk.open == c.id {
			u.box(r, 3, deepGreen)
		}
		u.sayCenter(text.Regular, 16, r, name, white)
		u.opens(c, capture.RoleMenuItem, items, scene.Rect{X: r.X, Y: r.Y + r.H + 4, W: 260}, pick)
		x += r.W + 4
	}
	menu("Lot", []string{"New lot", "Print label", "Book a move"}, func(i int) {
		l.clear()
		l.goTo([]string{receiving, labelPart, movesPart}[i])
	})
	menu("Show", []string{"Door log", "Season plan", "Temperature alarms"}, func(i int) {
		switch i {
		case 0:
			l.desk.show(l.window(logWindow))
		case 1:
			l.plan.page = 0
			l.desk.show(l.window(planWindow))
		default:
			l.goTo(alarmPart)
		}
	})
	menu("Help", []string{"Call maintenance", "About Lotroom"}, func(i int) {
		l.fail([]string{"Maintenance answers on 4410, day and night.", "Lotroom 7.2, made for Pellworth Growers’ Cooperative."}[i])
	})
}

func (u *ui) heading(title, under string) {
	u.say(text.Bold, 26, left, 128, title, dark)
	u.say(text.Regular, 16, left, 156, under, gray)
}

// number reads a count as people write it: with spaces or commas between thousands.
func number(s string) (int, bool) {
	n, err := strconv.Atoi(strings.NewReplacer(" ", "", ",", "", " ", "").Replace(s))
	return n, err == nil && n > 0
}

package workstation

import (
	"fmt"
	"strings"
	"time"

	"raconte/core/capture"
	"raconte/core/scene"
	"raconte/core/text"
)

func (l *lotroom) signIn() {
	if !strings.Contains(l.mail, "@") || l.password == "" {
		l.refused = "Type your e-mail address and your password."
		return
	}
	l.user = "Ines Brackwater"
	l.refused, l.password = "", ""
	l.desk.close(signInDialog)
	l.desk.show(l.window(mainWindow))
}

func (l *lotroom) drawSignIn(u *ui) {
	u.say(text.Bold, 26, 50, 100, "Good morning, dock 2", dark)
	u.say(text.Regular, 16, 50, 130, "Sign in to receive lots and answer alarms.", gray)
	u.field("E-mail", &l.mail, 50, 168, 370, entry{asks: "your e-mail address"})
	u.field("Password", &l.password, 50, 226, 370, entry{asks: "your password", secret: true})
	u.button("Sign in", 180, 296, true, "", l.signIn)
	u.say(text.Regular, 15, 50, 384, l.refused, warn)
}

func (l *lotroom) drawError(u *ui) {
	c := scene.Point{X: 62, Y: 104}
	u.drawn.Fill(scene.Disc(c, 24), warn)
	u.box(scene.Rect{X: c.X - 2, Y: c.Y - 13, W: 4, H: 16}, 1, white)
	u.drawn.Fill(scene.Disc(scene.Point{X: c.X, Y: c.Y + 10}, 2.6), white)
	for i, line := range text.Wrap(text.Regular, 17, 420, l.trouble) {
		u.say(text.Regular, 17, 110, 100+float64(i)*25, line, dark)
	}
	u.element(capture.RoleLabel, l.trouble, scene.Rect{X: 110, Y: 78, W: 420, H: 60}, nil)
	u.button("OK", u.rect.W-130, 176, true, "", func() { l.desk.close(errorDialog) })
}

// plan is the state of the wizard that plans a season: five pages in one frame.
type plan struct {
	page     int
	name     string
	rooms    map[string]*bool
	celsius  string
	alarmAt  string
	doorRule bool
}

const planPages = 5

func (l *lotroom) drawPlan(u *ui) {
	p := &l.plan
	w, h := u.rect.W, u.rect.H
	u.box(scene.Rect{X: 1, Y: titleBar, W: 190, H: h - titleBar - 1}, 0, pale)
	for i, name := range []string{"Season", "Rooms", "Temperatures", "Doors", "Check"} {
		face, c := text.Regular, gray
		if i == p.page {
			face, c = text.Bold, deepGreen
			u.box(scene.Rect{X: 1, Y: 68 + float64(i)*44, W: 5, H: 32}, 0, green)
		}
		u.say(face, 16, 26, 90+float64(i)*44, fmt.Sprintf("%d  %s", i+1, name), c)
	}
	x := 226.0
	head := func(title, under string) {
		u.say(text.Bold, 23, x, 92, title, dark)
		u.say(text.Regular, 16, x, 120, under, gray)
	}
	switch p.page {
	case 0:
		head("Plan a season", "Which rooms are used, how cold, and who is told.")
		u.field("Name", &p.name, x, 160, 300, entry{asks: "the season’s name", label: 110})
	case 1:
		head("Rooms", "Tick the rooms that will hold fruit.")
		for i, r := range rooms {
			u.tick(r[0], p.rooms[r[0]], x, 156+float64(i)*42)
		}
	case 2:
		head("Temperatures", "The same for all rooms of the season.")
		u.field("Keep at", &p.celsius, x, 160, 90, entry{asks: "the temperature to keep", hint: "°C", label: 110})
		u.field("Alarm above", &p.alarmAt, x, 220, 90, entry{asks: "the temperature that raises an alarm", hint: "°C", label: 110})
	case 3:
		head("Doors", "An open door warms a room by a degree in six minutes.")
		u.toggle("Alarm when a door is open for ten minutes", &p.doorRule, x, 162, "Sounds the siren on the dock")
	case 4:
		head("Check", "Nothing is changed until you press Finish.")
		var used []string
		for _, r := range rooms {
			if *p.rooms[r[0]] {
				used = append(used, r[0])
			}
		}
		door := "not watched"
		if p.doorRule {
			door = "alarm after ten minutes"
		}
		for i, line := range [][2]string{{"Season", p.name}, {"Rooms", strings.Join(used, ", ")}, {"Keep at", p.celsius + " °C"}, {"Alarm above", p.alarmAt + " °C"}, {"Doors", door}} {
			u.say(text.Regular, 15, x, 176+float64(i)*38, line[0], gray)
			u.say(text.Regular, 16, x+120, 176+float64(i)*38, line[1], dark)
		}
	}
	u.box(scene.Rect{X: 191, Y: h - 76, W: w - 192, H: 1}, 0, paleLine)
	if p.page > 0 {
		u.button("Back", w-260, h-58, false, "", func() { p.page-- })
	}
	if p.page < planPages-1 {
		u.button("Next", w-140, h-58, true, "", func() { p.page++ })
	} else {
		u.button("Finish", w-150, h-58, true, "", func() { l.desk.close(planWindow) })
	}
}

// The door log is a list much longer than its window.
const (
	rowHeight = 36.0
	logRows   = 160
	logTop    = 128.0 // title bar, heading and the table's heads
	logFoot   = 44.0
	logView   = 760 - logTop - logFoot
)

func (l *lotroom) scrollLog(by float64) {
	l.scrolled = min(max(l.scrolled+by, 0), logRows*rowHeight-logView)
}

var doorUsers = []string{"R. Hask", "I. Brackwater", "T. Ferrow", "P. Oduya", "M. Lindqvist"}

func (l *lotroom) drawLog(u *ui) {
	w, h := u.rect.W, u.rect.H
	began := time.Date(2026, 11, 23, 10, 41, 0, 0, time.UTC)
	first := int(l.scrolled / rowHeight)
	for i := first; i < logRows && float64(i)*rowHeight < l.scrolled+logView; i++ {
		y := logTop + float64(i)*rowHeight - l.scrolled
		if i%2 == 1 {
			u.box(scene.Rect{X: 1, Y: y, W: w - 16, H: rowHeight}, 0, scene.Hex("#f6f8f5"))
		}
		at := began.Add(-time.Duration(i*17+i*i%11) * time.Minute)
		open := 20 + i*37%260
		c := dark
		if open > 200 {
			c = warn
		}
		for j, cell := range []string{
			at.Format("02 Jan 15:04"), fmt.Sprintf("Room %d", 1+i*7%6), doorUsers[i*3%5], fmt.Sprintf("%d s", open), fmt.Sprintf("%.1f °C", 1.4+float64(i*13%27)/10),
		} {
			u.say(text.Regular, 15, 22+[]float64{0, 170, 300, 500, 620}[j], y+24, cell, c)
		}
		if y >= logTop && y+rowHeight <= h-logFoot {
			u.element(capture.RoleRow, fmt.Sprintf("Entry %d", logRows-i), scene.Rect{X: 1, Y: y, W: w - 16, H: rowHeight}, nil)
		}
	}
	u.box(scene.Rect{X: 1, Y: titleBar, W: w - 2, H: logTop - titleBar}, 0, white)
	u.say(text.Bold, 20, 22, titleBar+32, "Doors opened", dark)
	u.sayRight(text.Regular, 15, w-26, titleBar+32, fmt.Sprintf("%d entries", logRows), gray)
	u.box(scene.Rect{X: 1, Y: logTop - 40, W: w - 2, H: 40}, 0, pale)
	for j, head := range []string{"When", "Room", "Who", "Open for", "Warmest"} {
		u.say(text.Bold, 14, 22+[]float64{0, 170, 300, 500, 620}[j], logTop-14, head, gray)
	}
	u.box(scene.Rect{X: 1, Y: h - logFoot, W: w - 2, H: logFoot - 1}, 0, scene.Hex("#f6f8f5"))
	u.box(scene.Rect{X: 1, Y: h - logFoot, W: w - 2, H: 1}, 0, paleLine)
	u.say(text.Regular, 14, 22, h-17, "Kept for two years", gray)
	track := h - logTop - logFoot - 8
	bar := track * logView / (logRows * rowHeight)
	u.box(scene.Rect{X: w - 12, Y: logTop + 4 + (track-bar)*l.scrolled/(logRows*rowHeight-logView), W: 8, H: bar}, 4, edge)
	u.scroll = l.scrollLog
	u.element(roleList, "Doors opened", scene.Rect{X: 1, Y: logTop, W: w - 2, H: logView}, nil)
	// Rows lie on the list, so that a row is what is pointed at.
	last := u.controls[len(u.controls)-1]
	u.controls = append([]control{u.controls[0], last}, u.controls[1:len(u.controls)-1]...)
}

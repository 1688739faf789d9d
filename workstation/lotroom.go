package workstation

import (
	"strconv"

	"raconte/core/scene"
	"raconte/core/text"
)

// State is what a person has done in Lotroom so far. Screens are drawn from it and from nothing
// else, so that a script gives the same shots every time.
type State struct {
	User    string
	Clock   string
	Focus   string // the field being typed in
	Open    string // the choice whose list is open
	Marked  int    // the item lit in that list, or -1
	Message string
	Bad     bool // the message is about a failure

	Lot, Grower, Variety, Bins, Weight, Room string
	To, Reason                               string
	Chosen                                   string // the row lit in a table
	Copies                                   string
	Printer                                  string
	Alarm                                    string // what has been done about the alarm
}

// Rooms are the cold rooms: name, temperature now and set, space.
var rooms = [][]string{
	{"Room 1", "1.4 °C", "1.5 °C", "212 of 240 bins", "closed"},
	{"Room 2", "1.6 °C", "1.5 °C", "240 of 240 bins", "closed"},
	{"Room 3", "!6.8 °C", "1.5 °C", "96 of 240 bins", "!open 12 min"},
	{"Room 4", "0.9 °C", "1.0 °C", "148 of 180 bins", "closed"},
	{"Room 5", "3.2 °C", "3.0 °C", "60 of 180 bins", "closed"},
	{"Room 6", "2.1 °C", "2.0 °C", "64 of 180 bins", "closed"},
}

// Section is a part of Lotroom, chosen in the column at the left.
type Section string

// The sections.
const (
	Receiving Section = "Receiving"
	Rooms     Section = "Rooms"
	Moves     Section = "Moves"
	Labels    Section = "Labels"
	Alarms    Section = "Alarms"
)

const column = 210.0 // width of the sections' column

// Show draws a section in a state.
func Show(section Section, st State) *Screen {
	s := shell("Lotroom: "+string(section), st)
	for i, name := range []Section{Receiving, Rooms, Moves, Labels, Alarms} {
		r := scene.Rect{Y: 84 + float64(i)*50, W: column, H: 46}
		face, c := text.Regular, dark
		if name == section {
			s.box(scene.Rect{X: 10, Y: r.Y, W: column - 20, H: 44}, 4, white)
			face, c = text.Bold, deepGreen
		}
		s.say(face, 17, 28, r.Y+28, string(name), c)
		s.element("section", string(name), scene.Rect{X: 10, Y: r.Y, W: column - 20, H: 44})
	}
	switch section {
	case Receiving:
		receiving(s, st)
	case Rooms:
		roomList(s, st)
	case Moves:
		moves(s, st)
	case Labels:
		labels(s, st)
	case Alarms:
		alarms(s, st)
	}
	return s
}

// shell draws the window: title bar, column and foot.
func shell(title string, st State) *Screen {
	s := &Screen{Title: title, drawn: scene.Scene{W: Width, H: Height}}
	s.box(scene.Rect{W: Width, H: Height}, 0, white)
	s.box(scene.Rect{W: Width, H: 56}, 0, green)
	s.box(scene.Rect{X: 24, Y: 17, W: 22, H: 22}, 4, scene.Hex("#f0c46a"))
	s.box(scene.Rect{X: 30, Y: 23, W: 10, H: 10}, 5, green)
	s.say(text.Bold, 18, 58, 35, title, white)
	s.sayRight(text.Regular, 15, Width-24, 34, st.Clock+"   "+st.User, scene.Hex("#dbe9e1"))
	s.box(scene.Rect{Y: 56, W: column, H: Height - 56}, 0, pale)
	s.box(scene.Rect{X: column, Y: 56, W: 1, H: Height - 56}, 0, paleLine)
	s.box(scene.Rect{X: column, Y: Height - 40, W: Width - column, H: 40}, 0, scene.Hex("#f6f8f5"))
	s.say(text.Regular, 14, column+32, Height-15, "Pellworth Growers’ Cooperative, dock 2", gray)
	s.sayRight(text.Regular, 14, Width-24, Height-15, "Scanner ready   Printer LP-2 ready", gray)
	return s
}

const left = column + 40

func heading(s *Screen, title, under string) {
	s.say(text.Bold, 26, left, 112, title, dark)
	s.say(text.Regular, 16, left, 140, under, gray)
}

func receiving(s *Screen, st State) {
	title := "New lot"
	if st.Lot != "" {
		title = "Lot " + st.Lot
		if st.Variety != "" {
			title += ", " + st.Variety
		}
	}
	heading(s, title, "Receive bins from a grower and book them into a cold room.")
	s.field("Bin card", st.Lot, "", left, 178, 300, st.Focus == "Bin card")
	s.field("Grower", st.Grower, "", left, 234, 300, false)
	s.field("Variety", st.Variety, "", left, 290, 300, false)
	s.field("Bins", st.Bins, "as counted on the dock", left, 346, 110, st.Focus == "Bins")
	s.field("Weight", st.Weight, "from the dock scale", left, 402, 150, st.Focus == "Weight")
	s.choice("Room", st.Room, left, 458, 240)
	s.button("Receive lot", left+130, 530, true)
	s.button("Clear", left+300, 530, false)
	card(s, st)
	if st.Message != "" {
		s.message(st.Message, left, 620, 760, st.Bad)
	}
	if st.Open == "Room" {
		s.list("Room", []string{"Room 4, 0.9 °C, 32 free", "Room 5, 3.2 °C, 120 free", "Room 6, 2.1 °C, 116 free"}, st.Marked)
	}
}

// card draws what the scanned bin card says, at the right.
func card(s *Screen, st State) {
	r := scene.Rect{X: Width - 380, Y: 178, W: 330, H: 264}
	s.box(r, 6, scene.Hex("#f6f8f5"))
	s.frame(r, 6, 1, paleLine)
	s.element("label", "Bin card scan", r)
	s.say(text.Bold, 15, r.X+20, r.Y+34, "Last scan", gray)
	if st.Grower == "" {
		s.say(text.Regular, 16, r.X+20, r.Y+70, "Hold a bin card under the reader.", gray)
		return
	}
	for i, l := range [][2]string{{"Lot", st.Lot}, {"Grower", st.Grower}, {"Variety", st.Variety}, {"Picked", "14 October 2026"}, {"Bins", "18"}} {
		y := r.Y + 70 + float64(i)*38
		s.say(text.Regular, 15, r.X+20, y, l[0], gray)
		s.say(text.Regular, 16, r.X+110, y, l[1], dark)
	}
}

func roomList(s *Screen, st State) {
	heading(s, "Cold rooms", "Temperatures are read every minute. A room above 4 °C raises an alarm.")
	s.table(left, 176, []string{"Room", "Now", "Set", "Filled", "Door"}, []float64{160, 150, 150, 230, 200}, rooms, st.Chosen)
	s.button("Show lots", left, 520, true)
	s.button("Print door log", left+160, 520, false)
	if st.Message != "" {
		s.message(st.Message, left, 600, 760, st.Bad)
	}
}

func moves(s *Screen, st State) {
	heading(s, "Move a lot", "A move is booked when the lot has left one room and is in the other.")
	rows := [][]string{
		{"24-1187", "Vennaker Farm", "Belle d’Ostrave", "18", "Room 3"},
		{"24-1190", "Hollin Bank", "Winter Crane", "24", "Room 3"},
		{"24-1193", "Osk & Daughters", "Red Tamsin", "12", "Room 3"},
	}
	s.table(left, 176, []string{"Lot", "Grower", "Variety", "Bins", "Is in"}, []float64{140, 230, 230, 110, 160}, rows, st.Chosen)
	s.choice("Move to", st.To, left, 392, 240)
	s.choice("Reason", st.Reason, left, 448, 300)
	s.button("Book move", left+130, 520, true)
	if st.Message != "" {
		s.message(st.Message, left, 600, 760, st.Bad)
	}
	switch st.Open {
	case "Move to":
		s.list("Move to", []string{"Room 4, 0.9 °C, 32 free", "Room 5, 3.2 °C, 120 free", "Room 6, 2.1 °C, 116 free"}, st.Marked)
	case "Reason":
		s.list("Reason", []string{"Room too warm", "Make space", "Ripeness"}, st.Marked)
	}
}

func labels(s *Screen, st State) {
	heading(s, "Lot labels", "Find a lot and print its label again.")
	s.field("Lot", st.Lot, "", left, 178, 240, st.Focus == "Lot")
	s.choice("Printer", st.Printer, left, 234, 300)
	s.field("Copies", st.Copies, "one for each side of the bin", left, 290, 90, st.Focus == "Copies")
	s.button("Print label", left+130, 362, true)
	s.button("Preview", left+290, 362, false)
	if st.Open == "Printer" {
		s.list("Printer", []string{"LP-1, office", "LP-2, dock 2", "LP-3, packing"}, st.Marked)
	}
	if st.Variety != "" {
		lotLabel(s, st)
	}
	if st.Message != "" {
		s.message(st.Message, left, 620, 760, st.Bad)
	}
}

// lotLabel draws the label as it will be printed.
func lotLabel(s *Screen, st State) {
	r := scene.Rect{X: Width - 480, Y: 178, W: 420, H: 270}
	s.box(r, 3, white)
	s.frame(r, 3, 1.5, edge)
	s.element("label", "Label preview", r)
	s.say(text.Bold, 34, r.X+24, r.Y+56, st.Lot, dark)
	s.say(text.Regular, 20, r.X+24, r.Y+92, st.Variety, dark)
	s.say(text.Regular, 17, r.X+24, r.Y+122, st.Grower+", "+st.Room, gray)
	x := r.X + 24
	for i, c := range st.Lot + st.Lot + st.Lot + st.Lot {
		w := 1.5 + float64((int(c)*7+i*3)%4)*1.4
		s.box(scene.Rect{X: x, Y: r.Y + 152, W: w, H: 84}, 0, dark)
		x += w + 1.8 + float64((int(c)+i)%3)*1.3
		if x > r.X+r.W-130 {
			break
		}
	}
	s.sayRight(text.Bold, 46, r.X+r.W-24, r.Y+218, st.Bins, dark)
	s.sayRight(text.Regular, 15, r.X+r.W-24, r.Y+240, "bins", gray)
}

func alarms(s *Screen, st State) {
	state := "!new"
	switch st.Alarm {
	case "seen", "noted":
		state = "seen by " + st.User
	case "closed":
		state = "closed"
	}
	heading(s, "Temperature alarms", "An alarm stays open until someone says what was done.")
	s.table(left, 176, []string{"Room", "Since", "Highest", "State"}, []float64{180, 180, 180, 300},
		[][]string{{"Room 3", "10:31", "!6.8 °C", state}, {"Room 5", "09:02", "4.3 °C", "closed"}}, st.Chosen)
	s.button("I have seen it", left, 330, st.Alarm == "")
	s.button("Silence the siren", left+190, 330, false)
	if st.Alarm != "" {
		s.choice("Cause", st.Reason, left, 410, 320)
		s.field("Note", st.To, "", left, 466, 520, st.Focus == "Note")
		s.button("Close alarm", left+130, 536, true)
	}
	if st.Open == "Cause" {
		s.list("Cause", []string{"Door left open", "Compressor stopped", "Sensor fault", "Warm fruit loaded"}, st.Marked)
	}
	curve(s)
	if st.Message != "" {
		s.message(st.Message, left, 640, 760, st.Bad)
	}
}

// curve draws the temperature of the last hour.
func curve(s *Screen) {
	r := scene.Rect{X: Width - 370, Y: 330, W: 320, H: 210}
	s.box(r, 6, scene.Hex("#f6f8f5"))
	s.frame(r, 6, 1, paleLine)
	s.element("label", "Temperature curve", r)
	s.say(text.Bold, 15, r.X+18, r.Y+30, "Room 3, last hour", gray)
	y := func(celsius float64) float64 { return r.Y + 185 - celsius*19 }
	for _, c := range []int{0, 4} {
		s.box(scene.Rect{X: r.X + 50, Y: y(float64(c)), W: r.W - 70, H: 1}, 0, edge)
		s.sayRight(text.Regular, 13, r.X+42, y(float64(c))+5, strconv.Itoa(c)+" °C", gray)
	}
	var pts []scene.Point
	for i, c := range []float64{1.5, 1.6, 1.5, 1.4, 1.6, 1.9, 2.8, 3.9, 5.2, 6.1, 6.6, 6.8} {
		pts = append(pts, scene.Point{X: r.X + 56 + float64(i)*21, Y: y(c)})
	}
	s.drawn.Fill(scene.Stroke(pts[:8], 2.5, false), cold)
	s.drawn.Fill(scene.Stroke(pts[7:], 2.5, false), warn)
}

// SignIn draws the dialog that opens Lotroom.
func SignIn(badge, message string) *Screen {
	s := &Screen{Title: "Lotroom: Sign in", drawn: scene.Scene{W: Width, H: Height}}
	s.box(scene.Rect{W: Width, H: Height}, 0, pale)
	s.box(scene.Rect{W: Width, H: 56}, 0, green)
	s.say(text.Bold, 18, 24, 35, "Lotroom", white)
	r := scene.Rect{X: Width/2 - 280, Y: 190, W: 560, H: 360}
	s.box(r.Grow(1), 7, paleLine)
	s.box(r, 6, white)
	s.say(text.Bold, 26, r.X+50, r.Y+70, "Good morning, dock 2", dark)
	s.say(text.Regular, 16, r.X+50, r.Y+102, "Hold your badge under the reader, or type its number.", gray)
	s.field("Badge", badge, "", r.X+50, r.Y+150, 260, true)
	s.button("Sign in", r.X+180, r.Y+226, true)
	if message != "" {
		s.say(text.Regular, 15, r.X+50, r.Y+318, message, gray)
	}
	return s
}

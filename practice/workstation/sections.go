package workstation

import (
	"strconv"
	"strings"

	"raconte/core/capture"
	"raconte/core/scene"
	"raconte/core/text"
)

func (l *lotroom) clear() {
	l.bin, l.grower, l.variety, l.bins, l.weight, l.room, l.said = "", "", "", "", "", "", ""
}

// scan fills in what the bin card says.
func (l *lotroom) scan() {
	for _, lot := range lots {
		if lot[0] == strings.TrimSpace(l.bin) {
			l.grower, l.variety = lot[1], lot[2]
		}
	}
}

// completeGrower completes a grower's name from its beginning.
func (l *lotroom) completeGrower() {
	typed := strings.ToLower(strings.TrimSpace(l.grower))
	for _, lot := range lots {
		if typed != "" && strings.HasPrefix(strings.ToLower(lot[1]), typed) {
			l.grower = lot[1]
		}
	}
}

func (l *lotroom) weigh() {
	if n, ok := number(l.bins); ok {
		kg := n * 360
		l.weight = strconv.Itoa(kg/1000) + " " + strconv.Itoa(1000 + kg%1000)[1:] + " kg"
		l.desk.focus = mainWindow + "/" + capture.RoleField + "/Weight"
	}
}

func (l *lotroom) receive() {
	n, ok := number(l.bins)
	switch {
	case l.variety == "":
		l.fail("There is no lot yet. Scan a bin card first.")
	case !ok:
		l.fail("Bins must be a number. Count the bins on the dock.")
	case l.room == "":
		l.fail("Choose a room for the lot.")
	case l.room == "Room 2":
		l.fail("Room 2 is full. Choose another room.")
	case n > 116:
		l.fail("That are more bins than the room has space for.")
	default:
		l.desk.focus = ""
		l.said, l.saidBad = "Lot "+l.bin+" is booked into "+l.room+". The label is printing.", false
	}
}

func (l *lotroom) drawReceiving(u *ui) {
	title := "New lot"
	if l.variety != "" {
		title = "Lot " + l.bin + ", " + l.variety
	}
	u.heading(title, "Receive bins from a grower and book them into a cold room.")
	u.field("Bin card", &l.bin, left, 194, 300, entry{asks: "the lot number", complete: l.scan})
	u.field("Grower", &l.grower, left, 250, 300, entry{asks: "the grower’s name", complete: l.completeGrower})
	u.field("Variety", &l.variety, left, 306, 300, entry{asks: "the variety"})
	u.field("Bins", &l.bins, left, 362, 110, entry{hint: "as counted on the dock", asks: "the bin count"})
	u.field("Weight", &l.weight, left, 418, 150, entry{hint: "from the dock scale", asks: "the weight"})
	u.choice("Room", l.room, left, 474, 240, roomItems, func(i int) { l.room = roomItems[i][:6] })
	u.button("Receive lot", left+130, 546, true, "Books the lot and prints its label (F8)", l.receive)
	u.button("Clear", left+300, 546, false, "Empties the form", l.clear)
	l.drawCard(u)
	u.message(l.said, left, 636, 760, l.saidBad)
}

// drawCard draws what the scanned bin card says, at the right.
func (l *lotroom) drawCard(u *ui) {
	r := scene.Rect{X: u.rect.W - 380, Y: 194, W: 330, H: 264}
	u.box(r, 6, scene.Hex("#f6f8f5"))
	u.frame(r, 6, 1, paleLine)
	u.element(capture.RoleLabel, "Bin card scan", r, nil)
	u.say(text.Bold, 15, r.X+20, r.Y+34, "Last scan", gray)
	if l.variety == "" {
		u.say(text.Regular, 16, r.X+20, r.Y+70, "Hold a bin card under the reader.", gray)
		return
	}
	for i, line := range [][2]string{{"Lot", l.bin}, {"Grower", l.grower}, {"Variety", l.variety}, {"Picked", "14 October 2026"}, {"Bins", "18"}} {
		y := r.Y + 70 + float64(i)*38
		u.say(text.Regular, 15, r.X+20, y, line[0], gray)
		u.say(text.Regular, 16, r.X+110, y, line[1], dark)
	}
}

func (l *lotroom) drawRooms(u *ui) {
	u.heading("Cold rooms", "Temperatures are read every minute. A room above 4 °C raises an alarm.")
	shown := rooms
	if l.warmOnly {
		shown = nil
		for _, r := range rooms {
			if !strings.HasPrefix(r[1], "!") {
				shown = append(shown, r)
			}
		}
	}
	u.tick("Below 4 °C", &l.warmOnly, left+730, 140)
	u.table(left, 192, []string{"Room", "Now", "Set", "Filled", "Door"}, []float64{160, 150, 150, 230, 200}, shown, l.chosenRoom,
		func(room string) { l.chosenRoom = room })
	u.button("Show lots", left, 536, true, "Lists what is in the chosen room", func() {
		if l.chosenRoom == "" {
			l.fail("Choose a room first.")
			return
		}
		l.goTo(movesPart)
	})
	u.button("Door log", left+150, 536, false, "Every time a door was opened", func() { l.desk.show(l.window(logWindow)) })
}

func (l *lotroom) drawMoves(u *ui) {
	u.heading("Move a lot", "A move is booked when the lot has left one room and is in the other.")
	u.table(left, 192, []string{"Lot", "Grower", "Variety", "Bins", "Is in"}, []float64{140, 230, 230, 110, 160}, lots, l.chosenLot,
		func(lot string) { l.chosenLot = lot })
	u.choice("Move to", l.moveTo, left, 408, 240, roomItems, func(i int) { l.moveTo = roomItems[i][:6] })
	reasons := []string{"Room too warm", "Make space", "Ripeness"}
	u.choice("Reason", l.reason, left, 464, 300, reasons, func(i int) { l.reason = reasons[i] })
	u.button("Book move", left+130, 536, true, "Only when the bins stand in the new room", func() {
		switch {
		case l.chosenLot == "" || l.moveTo == "" || l.reason == "":
			l.fail("Choose a lot, a room and a reason.")
		case l.moveTo == "Room 2":
			l.fail("Room 2 is full. Choose another room.")
		default:
			for _, lot := range lots {
				if lot[0] == l.chosenLot {
					l.said, l.saidBad = lot[3]+" bins of lot "+lot[0]+" are booked into "+l.moveTo+".", false
				}
			}
		}
	})
	u.message(l.said, left, 616, 760, l.saidBad)
}

func (l *lotroom) findLabel() {
	l.found = false
	for _, lot := range lots {
		l.found = l.found || lot[0] == strings.TrimSpace(l.label)
	}
	if !l.found {
		l.fail("There is no lot " + strings.TrimSpace(l.label) + ".")
		return
	}
	l.desk.focus = ""
}

func (l *lotroom) drawLabels(u *ui) {
	u.heading("Lot labels", "Find a lot and print its label again.")
	u.field("Lot", &l.label, left, 194, 240, entry{asks: "the lot number"})
	printers := []string{"LP-1, office", "LP-2, dock 2", "LP-3, packing"}
	u.choice("Printer", l.printer, left, 250, 300, printers, func(i int) { l.printer = printers[i] })
	u.field("Copies", &l.copies, left, 306, 90, entry{hint: "one for each side of the bin", asks: "the number of copies"})
	u.button("Print label", left+130, 378, true, "", func() {
		if n, ok := number(l.copies); !l.found || l.printer == "" || !ok {
			l.fail("Choose a lot and a printer, and say how many copies.")
		} else {
			l.said, l.saidBad = strconv.Itoa(n)+" labels sent to "+l.printer[:4]+".", false
		}
	})
	u.button("Preview", left+290, 378, false, "Shows the label without printing it", l.findLabel)
	if l.found {
		l.drawLabel(u)
	}
	u.message(l.said, left, 636, 760, l.saidBad)
}

// drawLabel draws the label as it will be printed.
func (l *lotroom) drawLabel(u *ui) {
	lot := lots[0]
	for _, o := range lots {
		if o[0] == strings.TrimSpace(l.label) {
			lot = o
		}
	}
	r := scene.Rect{X: u.rect.W - 480, Y: 194, W: 420, H: 270}
	u.box(r, 3, white)
	u.frame(r, 3, 1.5, edge)
	u.element(capture.RoleLabel, "Label preview", r, nil)
	u.say(text.Bold, 34, r.X+24, r.Y+56, lot[0], dark)
	u.say(text.Regular, 20, r.X+24, r.Y+92, lot[2], dark)
	u.say(text.Regular, 17, r.X+24, r.Y+122, lot[1]+", Room 6", gray)
	x := r.X + 24
	for i, c := range strings.Repeat(lot[0], 4) {
		w := 1.5 + float64((int(c)*7+i*3)%4)*1.4
		u.box(scene.Rect{X: x, Y: r.Y + 152, W: w, H: 84}, 0, dark)
		x += w + 1.8 + float64((int(c)+i)%3)*1.3
		if x > r.X+r.W-130 {
			break
		}
	}
	u.sayRight(text.Bold, 46, r.X+r.W-24, r.Y+218, lot[3], dark)
	u.sayRight(text.Regular, 15, r.X+r.W-24, r.Y+240, "bins", gray)
}

func (l *lotroom) drawAlarms(u *ui) {
	state := map[string]string{"": "!new", "seen": "seen by " + l.user, "closed": "closed"}[l.alarm]
	u.heading("Temperature alarms", "An alarm stays open until someone says what was done.")
	u.toggle("Siren", &l.siren, left+690, 138, "The siren on the dock")
	u.table(left, 192, []string{"Room", "Since", "Highest", "State"}, []float64{180, 180, 180, 300},
		[][]string{{"Room 3", "10:31", "!6.8 °C", state}, {"Room 5", "09:02", "4.3 °C", "closed"}}, l.chosenAlarm,
		func(room string) { l.chosenAlarm = room })
	u.button("I have seen it", left, 346, l.alarm == "", "Stops the siren", func() { l.alarm, l.siren, l.chosenAlarm = "seen", false, "Room 3" })
	u.button("Silence the siren", left+190, 346, false, "Only if it does not stop by itself", func() { l.siren = false })
	if l.alarm != "" {
		causes := []string{"Door left open", "Compressor stopped", "Sensor fault", "Warm fruit loaded"}
		u.choice("Cause", l.cause, left, 426, 320, causes, func(i int) { l.cause = causes[i] })
		u.field("Note", &l.note, left, 482, 520, entry{asks: "what you found and what you did"})
		u.button("Close alarm", left+130, 552, true, "", func() {
			if l.cause == "" || l.note == "" {
				l.fail("Say what the cause was and what was done.")
				return
			}
			l.desk.focus, l.alarm, l.said, l.saidBad = "", "closed", "The alarm for Room 3 is closed.", false
		})
	}
	drawCurve(u)
	u.message(l.said, left, 656, 760, l.saidBad)
}

// drawCurve draws the temperature of the last hour.
func drawCurve(u *ui) {
	r := scene.Rect{X: u.rect.W - 370, Y: 346, W: 320, H: 210}
	u.box(r, 6, scene.Hex("#f6f8f5"))
	u.frame(r, 6, 1, paleLine)
	u.element(capture.RoleLabel, "Temperature curve", r, nil)
	u.say(text.Bold, 15, r.X+18, r.Y+30, "Room 3, last hour", gray)
	y := func(celsius float64) float64 { return r.Y + 185 - celsius*19 }
	for _, c := range []int{0, 4} {
		u.box(scene.Rect{X: r.X + 50, Y: y(float64(c)), W: r.W - 70, H: 1}, 0, edge)
		u.sayRight(text.Regular, 13, r.X+42, y(float64(c))+5, strconv.Itoa(c)+" °C", gray)
	}
	var pts []scene.Point
	for i, c := range []float64{1.5, 1.6, 1.5, 1.4, 1.6, 1.9, 2.8, 3.9, 5.2, 6.1, 6.6, 6.8} {
		pts = append(pts, scene.Point{X: r.X + 56 + float64(i)*21, Y: y(c)})
	}
	u.drawn.Fill(scene.Stroke(pts[:8], 2.5, false), cold)
	u.drawn.Fill(scene.Stroke(pts[7:], 2.5, false), warn)
}

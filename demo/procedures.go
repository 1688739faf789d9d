package demo

import (
	"raconte/core/figure"
	ws "raconte/workstation"
)

// Procedures are the demo's procedures.
func Procedures() []Procedure {
	return []Procedure{reprint(), answerAlarm(), moveLot(), receive()}
}

var ines = ws.State{User: "Ines Brackwater", Clock: "10:42", Marked: -1}

// with is ines' state after a change.
func with(change func(*ws.State)) ws.State {
	st := ines
	change(&st)
	return st
}

func scanned(st *ws.State) {
	st.Lot, st.Grower, st.Variety = "24-1187", "Vennaker Farm", "Belle d’Ostrave"
}

func receive() Procedure {
	return build("Receive a lot into a cold room", "ines", true, []step{
		{screen: ws.SignIn("4471", ""), crop: "Badge|Sign in", alt: "The sign-in dialog with a badge number in it",
			words: "Hold your badge under the reader. If the reader does not answer, type the number and press *Sign in* {1}.",
			marks: []mark{{kind: figure.Box, at: "Sign in"}, {kind: figure.Marker, at: "Sign in"}}},
		{screen: ws.Show(ws.Receiving, with(func(st *ws.State) { st.Focus = "Bin card" })),
			alt:   "Lotroom with the section Receiving open and an empty form",
			words: "Choose *Receiving* {1} at the left. The form for a new lot opens.",
			marks: []mark{{kind: figure.Box, at: "Receiving"}, {kind: figure.Marker, at: "Receiving"}}},
		{screen: ws.Show(ws.Receiving, with(func(st *ws.State) { scanned(st) })), crop: "Bin card|Variety|Bin card scan",
			alt:   "The form with lot, grower and variety filled in from the card",
			words: "Scan the bin card. Lot, grower and variety fill in by themselves. Check them against the card {1}.",
			marks: []mark{{kind: figure.Box, at: "Bin card scan"}, {kind: figure.Marker, at: "Bin card scan", dx: -356, dy: -132}}},
		{screen: ws.Show(ws.Receiving, with(func(st *ws.State) { scanned(st); st.Bins, st.Focus = "18", "Bins" })),
			alt:   "The field Bins with 18 typed in",
			words: "Count the bins on the dock and type the number in *Bins* {1}. Count, do not copy it from the card.",
			marks: []mark{{kind: figure.Box, at: "Bins"}, {kind: figure.Text, at: "Bins", text: "Counted, not copied", dx: 20, dy: 0}, {kind: figure.Marker, at: "Bins", dx: -166, dy: 0}}},
		{screen: ws.Show(ws.Receiving, with(func(st *ws.State) { scanned(st); st.Bins, st.Weight, st.Focus = "18", "6 480 kg", "Weight" })), crop: "Bins|Weight|Receive lot",
			alt:   "The field Weight with 6 480 kg in it",
			words: "Press [F6] to take the weight from the dock scale. A lot of 18 bins weighs between 6 000 and 7 000 kg.",
			marks: []mark{{kind: figure.Box, at: "Weight"}}},
		{screen: ws.Show(ws.Receiving, with(func(st *ws.State) {
			scanned(st)
			st.Bins, st.Weight, st.Open, st.Marked = "18", "6 480 kg", "Room", 2
		})),
			alt:   "The list of rooms with Room 6 lit",
			words: "Open *Room* {1} and choose a room that is below 4 °C and has space for all bins {2}.",
			marks: []mark{{kind: figure.Marker, at: "Room"}, {kind: figure.Box, at: "Room 6, 2.1 °C, 116 free"}, {kind: figure.Marker, at: "Room 6, 2.1 °C, 116 free"}}},
		{screen: ws.Show(ws.Receiving, with(func(st *ws.State) {
			scanned(st)
			st.Bins, st.Weight, st.Room = "18", "6 480 kg", "Room 6"
			st.Message = "Lot 24-1187 is booked into Room 6. The label is printing."
		})),
			alt:   "The message that the lot is booked into Room 6",
			words: "Press *Receive lot* {1} or [F8]. Lotroom answers that the lot is booked {2} and prints its label.\nStick the label on the side of the first bin.",
			marks: []mark{{kind: figure.Marker, at: "Receive lot", dx: -180, dy: 0}, {kind: figure.Box, at: "Lot 24-1187 is booked into Room 6. The label is printing.", ink: "green"}, {kind: figure.Marker, at: "Lot 24-1187 is booked into Room 6. The label is printing.", ink: "green"}}},
	})
}

func moveLot() Procedure {
	lot := func(change func(*ws.State)) ws.State {
		return with(func(st *ws.State) { st.Chosen = "24-1187"; change(st) })
	}
	return build("Move a lot between rooms", "tomasz", true, []step{
		{screen: ws.Show(ws.Rooms, with(func(st *ws.State) { st.Chosen = "Room 3" })), alt: "The list of cold rooms; Room 3 is at 6.8 °C",
			words: "Open *Rooms* and look for the room that is too warm {1}. Here it is Room 3: its door has been open for 12 minutes.",
			marks: []mark{{kind: figure.Box, at: "Room 3"}, {kind: figure.Marker, at: "Room 3"}}},
		{screen: ws.Show(ws.Rooms, with(func(st *ws.State) { st.Chosen = "Room 6" })), alt: "Room 6 has space for 116 bins",
			words: "Find a room for the fruit. It must be:\n- below 4 °C\n- with space for all bins of the lot\n- not older fruit of the same variety, if you can help it",
			marks: []mark{{kind: figure.Box, at: "Now of Room 6", ink: "green"}, {kind: figure.Box, at: "Filled of Room 6", ink: "green"}}},
		{screen: ws.Show(ws.Moves, lot(func(*ws.State) {})), alt: "The list of lots in Room 3, lot 24-1187 lit",
			words: "Choose *Moves*, then the lot {1}. Start with the lot that has been in the room longest.",
			marks: []mark{{kind: figure.Box, at: "24-1187"}, {kind: figure.Marker, at: "24-1187"}}},
		{screen: ws.Show(ws.Moves, lot(func(st *ws.State) { st.Open, st.Marked = "Move to", 2 })), alt: "The list of rooms to move to",
			words: "Open *Move to* {1} and choose the room.",
			marks: []mark{{kind: figure.Marker, at: "Move to"}, {kind: figure.Arrow, at: "Room 6, 2.1 °C, 116 free"}}},
		{screen: ws.Show(ws.Moves, lot(func(st *ws.State) { st.To, st.Open, st.Marked = "Room 6", "Reason", 0 })), alt: "The list of reasons",
			words: "Choose the *Reason*. Quality reads these every Monday, so be honest.",
			marks: []mark{{kind: figure.Box, at: "Room too warm"}}},
		{screen: ws.Show(ws.Moves, lot(func(st *ws.State) {
			st.To, st.Reason, st.Message = "Room 6", "Room too warm", "18 bins of lot 24-1187 are booked into Room 6."
		})), alt: "The move is booked",
			words: "When the bins stand in the new room, press *Book move* {1}. Not before: a booked lot is counted where it is booked.",
			marks: []mark{{kind: figure.Marker, at: "Book move"}, {kind: figure.Text, at: "Book move", text: "Only when the bins are there", dx: -90, dy: 0}}},
	})
}

func answerAlarm() Procedure {
	return build("Answer a temperature alarm", "ines", false, []step{
		{screen: ws.Show(ws.Alarms, with(func(st *ws.State) { st.Chosen = "Room 3" })), alt: "The list of alarms with a new one for Room 3",
			words: "When the siren sounds, open *Alarms* {1} on the nearest computer. The new alarm is at the top {2}.",
			marks: []mark{{kind: figure.Marker, at: "Alarms"}, {kind: figure.Box, at: "Room 3"}, {kind: figure.Marker, at: "Room 3"}}},
		{screen: ws.Show(ws.Alarms, with(func(st *ws.State) { st.Chosen = "Room 3" })), crop: "I have seen it|Silence the siren", alt: "The buttons under the list",
			words: "Press *I have seen it* {1}. The siren stops by itself; use *Silence the siren* only if it does not.",
			marks: []mark{{kind: figure.Box, at: "I have seen it"}, {kind: figure.Marker, at: "I have seen it", dx: -26, dy: -42}}},
		{screen: ws.Show(ws.Alarms, with(func(st *ws.State) { st.Chosen, st.Alarm = "Room 3", "seen" })), crop: "Temperature curve", alt: "The temperature rose above 4 °C within half an hour",
			words: "Look at the curve {1}. A steep rise is an open door, a slow one a compressor.",
			marks: []mark{{kind: figure.Marker, at: "Temperature curve", dx: -50, dy: -80}}},
		{screen: ws.Show(ws.Rooms, with(func(st *ws.State) { st.Chosen = "Room 3" })),
			marks: []mark{{kind: figure.Box, at: "Door of Room 3"}}},
		{screen: ws.Show(ws.Alarms, with(func(st *ws.State) { st.Chosen, st.Alarm, st.Open, st.Marked = "Room 3", "seen", "Cause", 0 })), alt: "The list of causes",
			words: "Go to the room, mend what you can, then choose the *Cause* {1}.",
			marks: []mark{{kind: figure.Marker, at: "Cause"}}},
		{screen: ws.Show(ws.Alarms, with(func(st *ws.State) {
			st.Chosen, st.Alarm, st.Reason, st.To = "Room 3", "noted", "Door left open", "Bins stood in the doorway. Moved and door closed 10:49."
			st.Focus = "Note"
		})), crop: "Cause|Note|Close alarm", alt: "A note that says what was found and done",
			words: "Write what you found and what you did in *Note*, with the time. Two sentences are enough.",
			marks: []mark{{kind: figure.Box, at: "Note"}}},
		{screen: ws.Show(ws.Alarms, with(func(st *ws.State) {
			st.Chosen, st.Alarm, st.Reason, st.To = "Room 3", "closed", "Door left open", "Bins stood in the doorway. Moved and door closed 10:49."
			st.Message = "The alarm for Room 3 is closed."
		})), alt: "The alarm is closed",
			words: "When the room is below 4 °C again, press *Close alarm* {1}. If it is not within 30 minutes, call maintenance: <mailto:maintenance@pellworth.example|maintenance@pellworth.example>.",
			marks: []mark{{kind: figure.Marker, at: "Close alarm"}}},
	})
}

func reprint() Procedure {
	found := func(change func(*ws.State)) ws.State {
		return with(func(st *ws.State) {
			scanned(st)
			st.Bins, st.Room, st.Printer, st.Copies = "18", "Room 6", "LP-2, dock 2", "2"
			change(st)
		})
	}
	return build("Reprint a lot label", "tomasz", true, []step{
		{screen: ws.Show(ws.Labels, with(func(st *ws.State) { st.Lot, st.Focus = "24-1187", "Lot" })), alt: "The section Labels with a lot number typed in",
			words: "Choose *Labels*, type the lot number in *Lot* {1} and press [Enter].",
			marks: []mark{{kind: figure.Box, at: "Labels"}, {kind: figure.Marker, at: "Lot"}}},
		{screen: ws.Show(ws.Labels, found(func(*ws.State) {})), alt: "The preview of the label",
			words: "Compare the preview {1} with the bin card. If the number of bins differs, stop and ask quality.",
			marks: []mark{{kind: figure.Box, at: "Label preview"}, {kind: figure.Marker, at: "Label preview", dx: -450, dy: -120}}},
		{screen: ws.Show(ws.Labels, found(func(st *ws.State) { st.Printer, st.Open, st.Marked = "", "Printer", 1 })), crop: "Lot|Printer|LP-3, packing", alt: "The list of printers",
			words: "Choose the printer next to you. On the dock this is *LP-2* {1}.",
			marks: []mark{{kind: figure.Marker, at: "LP-2, dock 2"}}},
		{screen: ws.Show(ws.Labels, found(func(st *ws.State) { st.Focus = "Copies" })), crop: "Lot|Copies|Print label", alt: "Copies is set to 2",
			words: "Ask for two *Copies*, one for each long side of the bin.",
			marks: []mark{{kind: figure.Arrow, at: "Copies", dx: 120, dy: 0}}},
		{screen: ws.Show(ws.Labels, found(func(st *ws.State) { st.Message = "2 labels sent to LP-2." })), alt: "The message that two labels were sent",
			words: "Press *Print label* {1}. Take the old label off before you stick the new one on: scanners read whichever they see first.",
			marks: []mark{{kind: figure.Marker, at: "Print label", dx: -160, dy: 0}, {kind: figure.Box, at: "2 labels sent to LP-2.", ink: "green"}}},
	})
}

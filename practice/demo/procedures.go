package demo

import (
	"raconte/core/figure"
	"raconte/practice/workstation"
)

// Procedures makes the demo's procedures.
func Procedures() []Procedure {
	return []Procedure{reprint(), answerAlarm(), moveLot(), receive()}
}

func receive() Procedure {
	return build("Receive a lot into a cold room", "ines", true, []step{
		{do: []string{"type ines@pellworth.example into E-mail", "type orchard-gate into Password"}, alt: "The sign-in dialog with an e-mail address and a password in it",
			words: "Type your e-mail address and your password, then press *Sign in* {1} or [Enter].",
			marks: []mark{{kind: figure.Concealment, at: "E-mail", look: "hatched"}, {kind: figure.Concealment, at: "Password", look: "hatched"},
				{kind: figure.Box, at: "Sign in"}, {kind: figure.Marker, at: "Sign in"}}},
		{do: []string{"click Sign in", "click Bin card"},
			alt:   "Lotroom with the section Receiving open and an empty form",
			words: "Choose *Receiving* {1} at the left. The form for a new lot opens.",
			marks: []mark{{kind: figure.Box, at: "Receiving"}, {kind: figure.Marker, at: "Receiving"}}},
		{do: []string{"type 24-1187", "key Enter"}, crop: "Bin card|Variety|Bin card scan",
			alt:   "The form with lot, grower and variety filled in from the card",
			words: "Scan the bin card. Lot, grower and variety fill in by themselves. Check them against the card {1}.",
			marks: []mark{{kind: figure.Box, at: "Bin card scan"}, {kind: figure.Marker, at: "Bin card scan", dx: -356, dy: -132}}},
		{do: []string{"type 18 into Bins"},
			alt:   "The field Bins with 18 typed in",
			words: "Count the bins on the dock and type the number in *Bins* {1}. Count, do not copy it from the card.",
			marks: []mark{{kind: figure.Box, at: "Bins"}, {kind: figure.Note, at: "Bins", text: "Counted, not copied", dx: 120, dy: 10}, {kind: figure.Marker, at: "Bins", dx: -166, dy: 0}}},
		{do: []string{"key F6"}, crop: "Bins|Weight|Receive lot",
			alt:   "The field Weight with 6 480 kg in it",
			words: "Press [F6] to take the weight from the dock scale. A lot of 18 bins weighs between 6 000 and 7 000 kg.",
			marks: []mark{{kind: figure.Detail, at: "Weight", dx: 225, dy: 0, look: "round"}}},
		{do: []string{"click Room", "point at Room 6, 2.1 °C, 116 free"},
			alt:   "The list of rooms with Room 6 lit",
			words: "Open *Room* {1} and choose a room that is below 4 °C and has space for all bins {2}.",
			marks: []mark{{kind: figure.Marker, at: "Room"}, {kind: figure.Box, at: "Room 6, 2.1 °C, 116 free"}, {kind: figure.Marker, at: "Room 6, 2.1 °C, 116 free"}}},
		{do: []string{"click Room 6, 2.1 °C, 116 free", "click Receive lot"},
			alt:   "The message that the lot is booked into Room 6",
			words: "Press *Receive lot* {1} or [F8]. Lotroom answers that the lot is booked {2} and prints its label.\nStick the label on the side of the first bin.",
			marks: []mark{{kind: figure.Marker, at: "Receive lot", dx: -180, dy: 0}, {kind: figure.Box, at: "Lot 24-1187 is booked into Room 6. The label is printing.", ink: "green"}, {kind: figure.Marker, at: "Lot 24-1187 is booked into Room 6. The label is printing.", ink: "green"}}},
	})
}

func moveLot() Procedure {
	return build("Move a lot between rooms", "tomasz", true, []step{
		{do: []string{"sign in", "click Rooms", "click Room 3"}, alt: "The list of cold rooms; Room 3 is at 6.8 °C",
			words: "Open *Rooms* and look for the room that is too warm {1}. Here it is Room 3: its door has been open for 12 minutes.",
			marks: []mark{{kind: figure.Box, at: "Room 3"}, {kind: figure.Marker, at: "Room 3"}}},
		{do: []string{"click Room 6"}, alt: "Room 6 has space for 116 bins",
			words: "Find a room for the fruit. It must be:\n- below 4 °C\n- with space for all bins of the lot\n- not older fruit of the same variety, if you can help it",
			marks: []mark{{kind: figure.Box, at: "Now of Room 6", ink: "green"}, {kind: figure.Box, at: "Filled of Room 6", ink: "green"}}},
		{do: []string{"click Moves", "click 24-1187"}, alt: "The list of lots in Room 3, lot 24-1187 lit",
			words: "Choose *Moves*, then the lot {1}. Start with the lot that has been in the room longest.",
			marks: []mark{{kind: figure.Highlight, at: "24-1187"}, {kind: figure.Marker, at: "24-1187"}}},
		{do: []string{"click Move to", "point at Room 6, 2.1 °C, 116 free"}, alt: "The list of rooms to move to",
			words: "Open *Move to* {1} and choose the room.",
			marks: []mark{{kind: figure.Marker, at: "Move to"}, {kind: figure.Arrow, at: "Room 6, 2.1 °C, 116 free", way: "curved"}}},
		{do: []string{"click Room 6, 2.1 °C, 116 free", "click Reason", "point at Room too warm"}, alt: "The list of reasons",
			words: "Choose the *Reason*. Quality reads these every Monday, so be honest.",
			marks: []mark{{kind: figure.Box, at: "Room too warm"}}},
		{do: []string{"click Room too warm", "click Book move"}, alt: "The move is booked",
			words: "When the bins stand in the new room, press *Book move* {1}. Not before: a booked lot is counted where it is booked.",
			marks: []mark{{kind: figure.Marker, at: "Book move"}, {kind: figure.Note, at: "Book move", text: "Only when the bins are there", dx: 20, dy: 90}}},
	})
}

func answerAlarm() Procedure {
	return build("Answer a temperature alarm", "ines", false, []step{
		{do: []string{"sign in", "click Alarms", "click Room 3"}, alt: "The list of alarms with a new one for Room 3",
			words: "When the siren sounds, open *Alarms* {1} on the nearest computer. The new alarm is at the top {2}.",
			marks: []mark{{kind: figure.Marker, at: "Alarms"}, {kind: figure.Box, at: "Room 3"}, {kind: figure.Marker, at: "Room 3"}}},
		{do: nil, crop: "I have seen it|Silence the siren", alt: "The buttons under the list",
			words: "Press *I have seen it* {1}. The siren stops by itself; use *Silence the siren* only if it does not.",
			marks: []mark{{kind: figure.Box, at: "I have seen it"}, {kind: figure.Marker, at: "I have seen it", dx: -26, dy: -42}}},
		{do: []string{"click I have seen it"}, crop: "Temperature curve", alt: "The temperature rose above 4 °C within half an hour",
			words: "Look at the curve {1}. A steep rise is an open door, a slow one a compressor.",
			marks: []mark{{kind: figure.Marker, at: "Temperature curve", dx: -50, dy: -80}}},
		{do: []string{"click Rooms", "click Room 3"},
			marks: []mark{{kind: figure.Ellipse, at: "Door of Room 3"}}},
		{do: []string{"click Alarms", "click Cause", "point at Door left open"}, alt: "The list of causes",
			words: "Go to the room, mend what you can, then choose the *Cause* {1}.",
			marks: []mark{{kind: figure.Marker, at: "Cause"}}},
		{do: []string{"click Door left open", "type Bins stood in the doorway. Moved and door closed 10:49. into Note"}, crop: "Cause|Note|Close alarm", alt: "A note that says what was found and done",
			words: "Write what you found and what you did in *Note*, with the time. Two sentences are enough.",
			marks: []mark{{kind: figure.Box, at: "Note"}}},
		{do: []string{"click Close alarm"}, alt: "The alarm is closed",
			words: "When the room is below 4 °C again, press *Close alarm* {1}. If it is not within 30 minutes, call maintenance: <mailto:maintenance@pellworth.example|maintenance@pellworth.example>.",
			marks: []mark{{kind: figure.Marker, at: "Close alarm"}}},
	})
}

func reprint() Procedure {
	return build("Reprint a lot label", "tomasz", true, []step{
		{do: []string{"sign in", "click Labels", "type 24-1187 into Lot"}, alt: "The section Labels with a lot number typed in",
			words: "Choose *Labels*, type the lot number in *Lot* {1} and press [Enter].",
			marks: []mark{{kind: figure.Box, at: "Labels"}, {kind: figure.Marker, at: "Lot"}}},
		{do: []string{"key Enter"}, alt: "The preview of the label",
			words: "Compare the preview {1} with the bin card. If the number of bins differs, stop and ask quality.",
			marks: []mark{{kind: figure.Light, at: "Label preview"}, {kind: figure.Marker, at: "Label preview", dx: -450, dy: -120}}},
		{do: []string{"click Printer", "point at LP-2, dock 2"}, crop: "Lot|Printer|LP-3, packing", alt: "The list of printers",
			words: "Choose the printer next to you. On the dock this is *LP-2* {1}.",
			marks: []mark{{kind: figure.Marker, at: "LP-2, dock 2"}}},
		{do: []string{"click LP-2, dock 2", "click Copies", "key Backspace", "type 2"}, crop: "Lot|Copies|Print label", alt: "Copies is set to 2",
			words: "Ask for two *Copies*, one for each long side of the bin.",
			marks: []mark{{kind: figure.Arrow, at: "Copies", dx: 120, dy: 0}}},
		{do: []string{"click Print label"}, alt: "The message that two labels were sent",
			words: "Press *Print label* {1}. Take the old label off before you stick the new one on: scanners read whichever they see first.",
			marks: []mark{{kind: figure.Marker, at: "Print label", dx: -160, dy: 0}, {kind: figure.Box, at: "2 labels sent to LP-2.", ink: "green"}}},
	})
}

// SeasonPlan is a session whose shots are not placed yet: the five pages of a wizard, with what a person
// takes twice while doing it.
func SeasonPlan() Session {
	s := Session{Name: "Season plan", id: id("session", "season plan")}
	p := workstation.NewPlayer()
	s.take(p, "start 11:04", "sign in", "click Show", "record clicks", "click Season plan", "type Winter 2026 into Name", "click Next",
		"click Room 1", "click Room 4", "click Next", "type 1.5 into Keep at", "type 4 into Alarm above", "click Next",
		"stop recording", "take monitor", "wait 75s", "take monitor", "pointer in", "take window", "point at Back", "take window", "take window", "pointer out",
		"record clicks", "click Alarm when a door is open for ten minutes", "click Next", "click Finish")
	s.take(p, "stop recording", "take page Doors opened")
	return s
}

package demo

import (
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/words"
)

// written is a document of the house that is made of words, and what controls it.
type written struct {
	title  string
	author string // the account's name
	folder string
	kind   document.Kind
	ready  bool
	facts  document.Facts // its title comes from title
	review int            // days from today to the next review; 0 for none
	blocks []document.Block
	state  document.State // that it has in the end; "" as ready says
	start  bool           // offered as a start for others
}

// The demo's folders, and who may open the closed one.
const (
	receiving = "Receiving"
	coldRooms = "Cold rooms"
	quality   = "Quality"
)

// lead is the id that a title stands for in blocks, until the documents are there.
func lead(title string) string { return id(title) }

func (w *written) add(b document.Block) *document.Block {
	b.ID = id(w.title, len(w.blocks))
	if b.Figures == nil {
		b.Figures = []figure.Figure{}
	}
	w.blocks = append(w.blocks, b)
	return &w.blocks[len(w.blocks)-1]
}

func (w *written) section(heading string) {
	w.add(document.NewSection("", 1, words.Plain(heading)))
}

func (w *written) step(said string, seconds int) *document.Block {
	b := document.NewStep("", write(said, nil))
	b.Seconds = seconds
	return w.add(b)
}

func (w *written) passage(said string) *document.Block {
	return w.add(document.NewPassage("", write(said, nil)))
}

func (w *written) does(title, said string) {
	b := document.NewStep("", write(said, nil))
	b.Document = lead(title)
	w.add(b)
}

func (w *written) chapter(title string) {
	w.add(document.Block{Content: document.Content{Type: document.Chapter, Document: lead(title), Words: words.Plain("")}})
}

// table is a table whose first row are headings.
func table(rows ...[]string) words.Node {
	t := words.Node{Type: "table"}
	for i, r := range rows {
		row := words.Node{Type: "tableRow"}
		for _, c := range r {
			kind := "tableCell"
			if i == 0 {
				kind = "tableHeader"
			}
			row.Content = append(row.Content, words.Node{Type: kind, Content: words.Plain(c).Content})
		}
		t.Content = append(t.Content, row)
	}
	return t
}

// refers is a text that ends with a reference.
func refers(said string, kind words.Kind, to, after string) words.Node {
	w := write(said, nil)
	last := &w.Content[len(w.Content)-1]
	last.Content = append(last.Content, words.Node{Type: "reference", Attrs: &words.Attrs{Kind: kind, To: to}}, words.Node{Type: "text", Text: after})
	return w
}

// house are the documents of the house besides those with pictures, each after those that it leads to.
func house() []written {
	return []written{closeRoom(), cleanScale(), recount(), startDock(), trainHand(), handbook(), usualParts()}
}

func closeRoom() written {
	w := written{title: "Close a cold room for the season", author: "tomasz", folder: coldRooms, ready: true, review: 12}
	w.facts.Control = document.Control{Owner: "Adaeze Quillan", Author: "Tomasz Ferrow", Approver: "Adaeze Quillan", Every: 12, Effective: "2026-11-02", Classification: "Internal", Keywords: []string{"winter", "compressor"}}
	w.facts.Counting = document.Anew
	intro := w.passage("Do this when the last lot has left the room. Two people do it together, because the door can't be opened from inside once the seal is on.")
	intro.Words.Content = append(intro.Words.Content, table([]string{"What you need", "Where it is"}, []string{"Key of the compressor cabinet", "Office, hook 4"}, []string{"Seal and pliers", "Drawer of dock 2"}, []string{"Torch", "Beside the door"}))
	w.section("Empty the room")
	w.step("Open *Rooms* in Lotroom and choose the room. *Filled* must be 0 of 180 bins.", 60)
	w.step("Walk through the room with the torch. Look behind the fans: single fruit there rots all winter.", 240)
	w.step("Sweep the floor towards the door.", 600)
	w.section("Switch the cooling off")
	b := w.step("Set *Keep at* to 12 °C and wait until the fans stand still.", 900)
	b.Notice = &document.Notice{Signal: document.Warning, Hazard: "The fans start by themselves.", Consequence: "Hands and hair are caught.", Avoid: "Keep out of the room until they stand still."}
	b = w.step("Turn the compressor's key to 0 and take it out.", 30)
	b.Critical = true
	second := b.ID
	w.add(document.NewStep("", refers("Hang the key back. If the compressor still hums, go back to ", words.ToStep, second, "."))).Seconds = 30
	w.section("Seal the door")
	b = w.step("Call into the room, close the door and put the seal on.", 120)
	b.Critical = true
	b.Notice = &document.Notice{Signal: document.Danger, Hazard: "The door can't be opened from inside.", Consequence: "Whoever is in the room suffocates.", Avoid: "Count both of you before you close it."}
	w.step("Write the seal's number in the door log.", 60)
	return w
}

func cleanScale() written {
	w := written{title: "Clean the dock scale", author: "ines", folder: receiving, ready: true, review: -20}
	w.facts.Control = document.Control{Owner: "Ines Brackwater", Author: "Ines Brackwater", Effective: "2026-04-01", Lettered: true, Keywords: []string{"weight", "calibration"}}
	w.facts.Notice = &document.Notice{Signal: document.Damage, Hazard: "The load cells can't stand a jet of water.", Consequence: "The scale weighs wrong for weeks.", Avoid: "Use a damp cloth only."}
	w.step("Take all bins off the platform and wait until the display shows 0.", 60)
	w.step("Wipe the platform, then the gap around it, with a damp cloth.", 300)
	w.step("Press [Zero] on the display.", 10)
	b := w.step("Put the 500 kg test weight on. The display must show 499 to 501 kg.", 120)
	b.Beside = []document.WebLink{{Address: "https://films.pellworth.example/test-weight", Title: "Lifting the test weight", Film: true}}
	w.step("Write day, reading and your name in the scale book.", 60)
	return w
}

func recount() written {
	w := written{title: "Recount a lot by hand", author: "tomasz", folder: receiving, ready: true, state: document.Retired}
	w.facts.Owner = "Ines Brackwater"
	w.step("Take the counting sheet and walk along the row.", 60)
	w.step("Count every bin of the lot aloud, with a second person writing.", 900)
	w.step("Type the number in *Bins* and write your initials in the sheet.", 60)
	return w
}

func startDock() written {
	w := written{title: "Start the dock in the morning", author: "ines", folder: receiving, ready: true, review: 150}
	w.facts.Control = document.Control{Owner: "Ines Brackwater", Author: "Ines Brackwater", Approver: "Adaeze Quillan", Every: 12, Effective: "2026-09-01"}
	w.passage("Before you start: your own sign-in, the dock's key, and the list of growers who bring fruit today.\n- The gate opens at six.\n- Lots that came in overnight are booked first.")
	w.step("Unlock the dock and switch the lights on, the left switch first.", 60)
	w.step("Sign in to Lotroom and open *Alarms*. If an alarm is new, answer it before anything else.", 60)
	w.does("Clean the dock scale", "")
	w.does("Receive a lot into a cold room", "Once for each lot that stands on the dock.")
	w.does("Reprint a lot label", "For every bin whose label is torn.")
	w.step("Open the gate.", 30)
	return w
}

func trainHand() written {
	w := written{title: "Train a new store hand", author: "ines", folder: receiving}
	w.facts.Owner = "Ines Brackwater"
	w.section("First day")
	w.step("Walk through the cold rooms together and show where the doors open from inside.", 1800)
	w.does("Start the dock in the morning", "Let them watch, then do it together.")
	w.section("Second day")
	w.does("Recount a lot by hand", "")
	w.step("Ask them to show a move, without helping.", 900)
	w.section("Third day")
	return w
}

func handbook() written {
	w := written{title: "Dock 2 handbook", author: "ines", folder: receiving, kind: document.Manual, ready: true, review: 200}
	w.facts.Control = document.Control{Owner: "Ines Brackwater", Author: "Ines Brackwater", Approver: "Adaeze Quillan", Every: 12, Effective: "2026-11-09", Classification: "Internal"}
	w.facts.Indexed = []string{"bin card", "label", "scale", "siren"}
	w.passage("This handbook holds what a store hand does at dock 2 in a day, in the order of the day. Each chapter is also a procedure of its own, and is always the one that is valid.")
	w.chapter("Start the dock in the morning")
	w.chapter("Receive a lot into a cold room")
	w.chapter("Move a lot between rooms")
	w.chapter("Reprint a lot label")
	w.passage("Ask Ines Brackwater where anything here is not as you find it.")
	return w
}

func usualParts() written {
	w := written{title: "Procedure with the usual parts", author: "ines", start: true}
	w.passage("What it is for, and when it is done.")
	w.passage("Before you start: tools, rights, and the state to begin from.")
	w.section("Do it")
	w.step("", 0)
	w.section("Check it")
	w.step("", 0)
	return w
}

// filed are two PDFs from before: what stands on them, page by page, line by line.
var filed = []struct {
	name, title, folder string
	pages               [][]string
}{
	{"Ammonia leak 2019.pdf", "Ammonia leak: what to do", quality, [][]string{{
		"Ammonia leak: what to do", "", "Pellworth Growers' Cooperative, edition of March 2019", "",
		"1 Whoever smells it first", "",
		"1. Leave the room at once, against the wind.", "2. Press the red button beside the gate. The siren sounds at both docks.",
		"3. Call the fire brigade: 112. Say ammonia, Pellworth, dock 2.", "4. Count everybody at the meeting point by the weighbridge.", "",
		"2 The shift leader", "", "1. Close the main valve if it can be reached from outside.", "2. Wait for the brigade at the gate and hand over the plan of the pipes.",
	}, {
		"After the leak", "", "1. Nobody goes in before the brigade says so.", "2. Fruit that stood open is not sold. Ask quality.", "3. Write the report within a day.",
	}}},
	{"Door log sheet.pdf", "Door log sheet", coldRooms, [][]string{{
		"Door log sheet", "", "Fill in one line each time a door stands open for more than ten minutes.", "",
		"Room      From      To      Reason      Initials",
	}}},
}

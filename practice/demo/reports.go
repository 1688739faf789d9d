package demo

import (
	"context"
	"errors"
	"fmt"
	"strconv"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/receiver"
	"raconte/core/report"
	"raconte/core/words"
	"raconte/practice/standin/chat"
	"raconte/practice/standin/tracker"
	"raconte/store"
	"raconte/works"
)

// loadReports makes a bug report and a support request of pictures that the procedures show, and a stock answer.
func loadReports(ctx context.Context, s *store.Store, people, made map[string]string) error {
	answer := document.Document{ID: "new", Kind: document.Answer, Facts: document.Facts{Title: "The labels come out blank"}, Blocks: []document.Block{
		document.NewPassage(id("blank labels", 1), words.Plain("Dear {name},")),
		document.NewStep(id("blank labels", 2), words.Plain("Open the lid of the label printer and take the roll out.")),
		document.NewStep(id("blank labels", 3), words.Plain("Put it in again with the smooth side up: the printer writes on that side alone.")),
		document.NewStep(id("blank labels", 4), words.Plain("Close the lid and print the labels of lot {lot} again.")),
	}}
	if _, err := s.Documents.CreateWhole(ctx, answer, "", people["tomasz"]); err != nil {
		return fmt.Errorf("loading a stock answer: %w", err)
	}
	for _, r := range []struct {
		kind    document.Kind
		title   string
		author  string
		from    string // the procedure whose last picture it shows
		answers map[document.Question]string
		where   []report.Fact
		again   []string
		showing document.Question // in the answer to it
	}{
		{
			kind: document.Report, title: "The alarm stays on after the room is cold again", author: "tomasz", from: "Answer a temperature alarm", showing: document.Happened,
			answers: map[document.Question]string{
				document.Happened: "Room 3 is back at 1.5 °C, but Alarms still says that it is too warm. The siren has stopped.",
				document.Expected: "The alarm goes away by itself once the room has been cold for ten minutes, as before the last update.",
				document.Often:    "Every time", document.Bad: "There is a way around it",
			},
			where: []report.Fact{{Name: "Window", Value: "Lotroom: Alarms"}, {Name: "Browser", Value: "Chromium on Linux"}, {Name: "Screen", Value: "1920 × 1080"}},
			again: []string{"Leave the door of Room 3 open until the alarm comes.", "Close the door and wait until Rooms shows less than 4 °C.", "Open Alarms: it still lists Room 3."},
		},
		{
			kind: document.Request, title: "The labels come out blank", author: "ines", from: "Reprint a lot label", showing: document.Wrong,
			answers: map[document.Question]string{
				document.Wanted: "Print the labels of a lot again, as in “Reprint a lot label”.",
				document.Wrong:  "The printer feeds two labels, and both are blank. Lotroom says that they are printed.",
				document.Tried:  "Another roll, and the printer off and on.",
				document.Urgent: "Today", document.Reach: "Dock 2, telephone 214, until 16:00",
			},
		},
	} {
		from, err := s.Documents.Whole(ctx, made[r.from])
		if err != nil {
			return fmt.Errorf("finding %q: %w", r.from, err)
		}
		d := document.Document{ID: "new", Kind: r.kind, Facts: document.Facts{Title: r.title}}
		n := 0
		newID := func() string { n++; return id(r.title, n) }
		for _, q := range r.kind.Asks() {
			b := document.NewPassage(newID(), write(r.answers[q], nil))
			if q == document.Where {
				b.Words = report.Listed(r.where)
			}
			if b.Asks = q; q == r.showing {
				for _, row := range from.Rows {
					if len(row.Content.Figures) > 0 {
						f := row.Content.Figures[0].Clone()
						f.ID = newID()
						b.Figures = []figure.Figure{f}
					}
				}
			}
			d.Blocks = append(d.Blocks, b)
		}
		for _, step := range r.again {
			d.Blocks = append(d.Blocks, document.NewStep(newID(), words.Plain(step)))
		}
		doc, err := s.Documents.CreateWhole(ctx, d, "", people[r.author])
		if err != nil {
			return fmt.Errorf("loading %q: %w", r.title, err)
		}
		made[r.title] = doc.ID
	}
	return nil
}

// SetUp sets up the stand-ins as receivers, where they are not there yet; mailPort is the first of the stand-ins'
// ports.
func SetUp(ctx context.Context, w *works.Works, mailPort int) error {
	admin, err := w.Store.Identity.AccountNamed(ctx, Accounts[len(Accounts)-1].Name)
	if err != nil {
		return fmt.Errorf("finding the administrator: %w", err)
	}
	for _, r := range Receivers(mailPort) {
		if _, err := w.Store.Exchange.Receiver(ctx, r.ID); !errors.Is(err, store.ErrNotFound) {
			if err != nil {
				return err
			}
			continue
		}
		if err := r.Check(); err != nil {
			return fmt.Errorf("the receiver %q: %w", r.Name, err)
		}
		sealed, err := w.Sealed(r, receiver.Receiver{})
		if err != nil {
			return err
		}
		if _, err := w.Store.Exchange.SaveReceiver(ctx, store.Receiver{ID: r.ID, Name: r.Name, Content: sealed}, admin.ID); err != nil {
			return err
		}
	}
	return nil
}

// Receivers are the demo's: the stand-ins for a tracker, a chat and a mailbox, and a place of the house.
func Receivers(mailPort int) []receiver.Receiver {
	at := func(above int) string { return "http://127.0.0.1:" + strconv.Itoa(mailPort+above) }
	faults, help := at(3), at(4)+"/api/rooms/help"
	issue := `{"title": "{title}", "text": "{text}", "reporter": "{sender}", "link": "{link}"}`
	pictures := []string{"image/png", "image/jpeg"}
	return []receiver.Receiver{
		{
			ID: tracker.Receiver, Name: "Lotroom’s tracker (a stand-in)", Way: receiver.HTTP,
			Takes: receiver.Takes{Text: receiver.Markdown, LongestText: 20_000, Pictures: append(append([]string{"video/mp4"}, pictures...), "image/gif"), LargestFile: 2_000_000, LargestSum: 8_000_000, MostFiles: 20},
			Reached: receiver.Reached{
				Make:   receiver.Call{Address: faults + "/api/issues", Body: issue},
				Change: receiver.Call{Method: "PUT", Address: faults + "/api/issues/{number}", Body: issue},
				File:   receiver.Call{Address: faults + "/api/issues/{number}/files", Type: "file"},
				Header: []receiver.Header{{Name: "Authorization", Value: "Bearer " + tracker.Token, Secret: true}},
				Number: "issue.number", Link: "issue.url", Told: tracker.Token,
			},
		},
		{
			ID: "standin-chat", Name: "Support chat (a stand-in)", Way: receiver.HTTP,
			Takes: receiver.Takes{Text: receiver.Plain, LongestText: 4000, Pictures: pictures, LargestFile: chat.Largest, MostFiles: 5},
			Reached: receiver.Reached{
				Make:   receiver.Call{Address: help + "/messages", Body: `{"by": "{sender}", "text": "{title}\n\n{text}"}`},
				File:   receiver.Call{Address: help + "/messages/{number}/files", Type: "file"},
				Ask:    receiver.Call{Address: help},
				Header: []receiver.Header{{Name: "X-Chat-Token", Value: chat.Token, Secret: true}},
				Number: "message.id", Link: "message.url", Files: "files",
			},
		},
		{
			ID: "standin-mailbox", Name: "Lotroom’s support by mail (a stand-in)", Way: receiver.Mail,
			Takes:   receiver.Takes{Text: receiver.HTML, Pictures: pictures, PDF: true, LargestSum: 5_000_000},
			Reached: receiver.Reached{To: "support@lotroom.example"},
		},
		{
			ID: "demo-intranet", Name: "Folder on the intranet", Way: receiver.Folder,
			Takes:   receiver.Takes{Text: receiver.Markdown, Pictures: []string{"image/png"}, PDF: true},
			Reached: receiver.Reached{Place: "Intranet"},
		},
	}
}

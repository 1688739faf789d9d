package works

import (
	"context"
	"fmt"
	"strings"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/refusal"
	"raconte/core/text"
	"raconte/core/words"
	"raconte/store"

	"github.com/google/uuid"
)

// Receive keeps a request that came in: what its asker answered to each question, and their pictures. By is who answers
// for the door; follow is the token of the link by which the asker follows it.
func (w *Works) Receive(ctx context.Context, a store.Incoming, said map[document.Question]string, figures []figure.Figure, by, follow, hash string) (store.Incoming, error) {
	d := document.Document{ID: "new", Kind: document.Request, Facts: document.Facts{Title: titleOf(said)}}
	for _, q := range document.Request.Asks() {
		b := document.NewPassage(uuid.NewString(), words.Told(readable(said[q])))
		if b.Asks = q; q == document.Wrong {
			b.Figures = append(b.Figures, figures...)
		}
		d.Blocks = append(d.Blocks, b)
	}
	if err := d.Check(); err != nil {
		return a, refusal.New("The request can’t be taken as it is: %s. Nothing of it was kept.", err)
	}
	if sealed, err := w.Key.Seal(follow, "asker"); err == nil {
		a.Link = sealed
	}
	a, err := w.Store.Exchange.Receive(ctx, a, d, by, hash)
	if err != nil {
		return a, err
	}
	w.tellAsked(ctx, a, fmt.Sprintf("%s asks: %s", a.Asker, a.Title), by)
	return a, nil
}

// readable is a text as people write it: without characters that steer, but with its lines.
func readable(s string) string {
	lines := strings.Split(s, "\n")
	for i, line := range lines {
		lines[i] = text.Plain(line)
	}
	return strings.Join(lines, "\n")
}

// titleOf is what a request is called: the first line of what goes wrong.
func titleOf(said map[document.Question]string) string {
	for _, q := range []document.Question{document.Wrong, document.Wanted} {
		line, _, _ := strings.Cut(strings.TrimSpace(readable(said[q])), "\n")
		if r := []rune(strings.Join(strings.Fields(line), " ")); len(r) > 0 {
			if len(r) > 80 {
				return string(r[:79]) + "…"
			}
			return string(r)
		}
	}
	return "A question"
}

// tellAsked tells whoever answers for a request of something about it. The request is kept whether or not that
// succeeds.
func (w *Works) tellAsked(ctx context.Context, a store.Incoming, told, to string) {
	d, err := w.Store.Documents.Head(ctx, a.DocumentID)
	if err == nil {
		err = w.Tell(ctx, d, store.Notice{Kind: store.AboutTold, Ref: uuid.NewString(), Who: a.Asker, Told: told}, to)
	}
	if err != nil {
		w.Log.Error("telling of a request", "document", a.DocumentID, "error", err)
	}
	if w.Asked != nil {
		w.Asked(a.DocumentID)
	}
}

// AskedAgain says that an asker has said more.
func (w *Works) AskedAgain(ctx context.Context, document, said, by string) error {
	a, err := w.Store.Exchange.AskedOf(ctx, document)
	if err == nil {
		err = w.Store.Exchange.AskedAgain(ctx, document)
	}
	if err != nil {
		return err
	}
	if a.TakenBy != nil {
		by = *a.TakenBy
	}
	w.tellAsked(ctx, a, fmt.Sprintf("%s says of “%s”: %s", a.Asker, a.Title, said), by)
	return nil
}

// Answered says that a request is answered, and writes to its asker where they have left an address.
func (w *Works) Answered(ctx context.Context, document, by string) error {
	whole, err := w.Store.Documents.Whole(ctx, document)
	if err != nil {
		return err
	}
	if open := whole.Core().Unfilled(); len(open) > 0 {
		return refusal.New("The answer still has a place to fill in: {%s}. It was not sent. Write what belongs there, then send it.", strings.Join(open, "}, {"))
	}
	if err := w.Store.Exchange.SetAsked(ctx, document, store.AskedAnswered, by); err != nil {
		return err
	}
	a, err := w.Store.Exchange.AskedOf(ctx, document)
	if err != nil || a.Address == "" {
		return err
	}
	l := Letter{To: a.Address, Name: a.Asker, Subject: "Re: " + a.Title, Lines: answerOf(whole)}
	if token, err := w.Key.Open(a.Link, "asker"); err == nil {
		l.Link, l.Press = w.Address+"/s/"+token, "See the answer with its pictures"
	}
	return w.WriteTo(ctx, by, l)
}

// answerOf are the lines of what was answered.
func answerOf(whole store.Whole) []string {
	lines := []string{}
	d := whole.Core()
	n := d.Numbers()
	for _, b := range d.Blocks {
		if b.Asks != document.Reply && b.Type != document.Step || b.Words.Empty() {
			continue
		}
		said := b.Words.Reading(n.Markers)
		if number := n.Blocks[b.ID]; number != "" {
			said = number + ". " + said
		}
		lines = append(lines, strings.Split(said, "\n")...)
	}
	if len(lines) == 0 {
		lines = append(lines, "Your request is answered.")
	}
	return lines
}

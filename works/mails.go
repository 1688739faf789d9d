package works

import (
	"bytes"
	"context"
	_ "embed"
	"errors"
	"fmt"
	html "html/template"
	"slices"
	"strings"
	text "text/template"
	"time"

	"raconte/core/document"
	"raconte/core/refusal"
	shown "raconte/core/text"
	"raconte/platform/mail"
	"raconte/store"
	"raconte/works/jobs"
)

// Letter is what a mail to a person says.
type Letter struct {
	To       string   `json:"to"`             // an e-mail address
	Name     string   `json:"name,omitempty"` // of one who has no account
	Subject  string   `json:"subject"`
	Lines    []string `json:"lines"`
	Link     string   `json:"link,omitempty"` // where it leads; forgotten once it is sent
	Press    string   `json:"press,omitempty"`
	Document string   `json:"document,omitempty"` // whose first picture it shows
	Items    []Item   `json:"items,omitempty"`
}

// Item is one of several things that a letter tells of.
type Item struct {
	Told string `json:"told"`
	Link string `json:"link"`
}

// Write queues a letter to someone, where the house has a mail server and they have an address.
func (w *Works) Write(ctx context.Context, to store.Account, l Letter) (bool, error) {
	if !w.Mail.On() || to.Email == nil || to.DisabledAt != nil {
		return false, nil
	}
	l.To = *to.Email
	payload, err := w.sealedLetter(l)
	if err != nil {
		return false, err
	}
	_, err = w.mails.Add(ctx, store.Job{Kind: mailJob, Payload: payload, Owner: to.ID})
	return err == nil, err
}

// WriteTo queues a letter to someone without an account, as somebody of the house.
func (w *Works) WriteTo(ctx context.Context, by string, l Letter) error {
	if !w.Mail.On() {
		return nil
	}
	payload, err := w.sealedLetter(l)
	if err != nil {
		return err
	}
	_, err = w.mails.Add(ctx, store.Job{Kind: mailJob, Payload: payload, Owner: by})
	return err
}

const (
	firstRetry  = 30 * time.Second
	longestWait = time.Hour
	tryFor      = 3 * 24 * time.Hour
)

// mail sends a letter. A server that is down is asked again, after waits that grow with the letter's age.
func (w *Works) mail(ctx context.Context, j store.Job, _ func(done, all int)) (jobs.Result, error) {
	l, err := w.openLetter(j.Payload)
	if err != nil {
		return jobs.Result{}, err
	}
	m, err := w.written(ctx, j, l)
	if err != nil {
		return jobs.Result{}, err
	}
	err = w.Mail.Send(ctx, m)
	age := w.age(j)
	switch {
	case err == nil:
		l.Link = "" // it may let someone in
		sent, err := w.sealedLetter(l)
		return jobs.Result{Payload: sent}, err
	case errors.Is(err, mail.ErrRefused):
		return jobs.Result{}, refusal.New("The mail server does not take mail for %s.", l.To)
	case age > tryFor:
		return jobs.Result{}, refusal.New("The mail server could not be reached for three days.")
	}
	err = errors.Join(refusal.New("The mail server could not be reached. It is tried again."), err)
	return jobs.Result{}, jobs.Later{After: min(max(age, firstRetry), longestWait), Err: err}
}

//go:embed mail.txt
var plainMail string

//go:embed mail.html
var htmlMail string

var (
	asText = text.Must(text.New("mail.txt").Funcs(text.FuncMap{"shown": shown.Shown}).Parse(plainMail))
	asHTML = html.Must(html.New("mail.html").Funcs(html.FuncMap{"shown": shown.Shown}).Parse(htmlMail))
)

// written is a letter as a mail.
func (w *Works) written(ctx context.Context, j store.Job, l Letter) (mail.Mail, error) {
	to, err := w.Store.Identity.Account(ctx, j.Owner)
	if err != nil {
		return mail.Mail{}, fmt.Errorf("finding whom a mail is for: %w", err)
	}
	about := struct {
		Letter
		Name, House, Address string
		Picture              bool
	}{Letter: l, Name: to.DisplayName, House: w.House, Address: w.Address}
	m := mail.Mail{ID: j.ID, To: l.To, Subject: strings.Join(strings.Fields(shown.Shown(l.Subject)), " ")}
	if l.Name != "" {
		about.Name = l.Name
	}
	if l.Document != "" {
		m.Picture = w.pictureOf(ctx, l.Document)
		about.Picture = m.Picture != nil
	}
	var plain, page bytes.Buffer
	if err := errors.Join(asText.Execute(&plain, about), asHTML.Execute(&page, about)); err != nil {
		return m, fmt.Errorf("writing a mail: %w", err)
	}
	m.Text, m.HTML = plain.String(), page.String()
	return m, nil
}

const mailedWidth = 480 // pixels of a picture in a mail

// pictureOf is the first picture of a document's valid revision, finished; nil where it has none. A draft's is not
// sent: a mail lies about for years.
func (w *Works) pictureOf(ctx context.Context, id string) []byte {
	doc, err := w.Store.Documents.LastRevision(ctx, id)
	if err != nil {
		return nil
	}
	d := doc.Core()
	at := slices.IndexFunc(d.Blocks, func(b document.Block) bool { return len(b.Figures) > 0 })
	if at < 0 {
		return nil
	}
	first := d.Blocks[at].Figures[0]
	file, err := w.Pictures.Finished(ctx, first, d.Numbers().Markers[first.ID], mailedWidth)
	if err != nil || file.Type != "image/png" {
		return nil
	}
	return file.Data
}

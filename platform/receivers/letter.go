package receivers

import (
	"context"
	"errors"
	"fmt"

	"raconte/core/receiver"
	"raconte/platform/mail"
)

// letter is a mailbox. The mail's id is that of the sending, so that one that comes twice is known.
type letter struct {
	server mail.Server
	to     string
}

// Open is always: mail waits.
func (l letter) Open(context.Context) (bool, error) { return true, nil }

// Send hands the mail to the house's server.
func (l letter) Send(ctx context.Context, p Parcel, kept Kept) error {
	m := mail.Mail{ID: p.ID, To: l.to, Subject: p.Title, Text: p.Text}
	if p.Form == receiver.HTML {
		m.Text, m.HTML = p.Title+"\n\n"+p.Link, p.Text
	}
	for _, f := range p.Files {
		m.Files = append(m.Files, mail.File{Name: f.Name, Type: f.Type, Data: f.Data})
	}
	err := l.server.Send(ctx, m)
	switch {
	case errors.Is(err, mail.ErrRefused):
		return errors.Join(Refused{Why: "The mail server does not take it."}, err)
	case err != nil && ctx.Err() == nil:
		return errors.Join(Busy{Why: "The mail server can’t be reached."}, err)
	case err != nil:
		return fmt.Errorf("sending a mail: %w", err)
	}
	return kept(Made{}, 1+len(p.Files))
}

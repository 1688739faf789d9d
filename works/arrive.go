package works

import (
	"context"
	"crypto/rand"
	"encoding/base64"
	"errors"
	"fmt"
	"slices"
	"strings"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/refusal"
	"raconte/core/text"
	"raconte/platform/mail"
	"raconte/store"
	"raconte/works/pictures"

	"github.com/google/uuid"
)

// Arrive keeps a mail that came in as a request, with its pictures; one that answers a request that is there is said of
// that. The same mail that comes twice is kept once.
func (w *Works) Arrive(ctx context.Context, m mail.Arrived) error {
	if m.From == "" || !strings.Contains(m.From, "@") || len(m.From) > 254 {
		return mail.ErrUnwanted
	}
	by, err := w.Store.Identity.FirstAdministrator(ctx)
	if err != nil {
		return err
	}
	subject := text.Plain(strings.Join(strings.Fields(m.Subject), " "))
	said := cutTo(m.Text, 4000)
	if again, is := answers(subject); is {
		a, err := w.Store.Exchange.AskedBy(ctx, m.From, again)
		if err == nil {
			return w.sayAgain(ctx, a, m, said, by)
		}
		if !errors.Is(err, store.ErrNotFound) {
			return err
		}
	}
	figures, left, err := w.keepPictures(ctx, m, by)
	if err != nil {
		return err
	}
	came := "mail " + m.ID
	a := store.Incoming{Asker: cutTo(text.Plain(m.Name), 60), Address: m.From, CameAs: &came}
	if a.Asker == "" {
		a.Asker = cutTo(m.From, 60)
	}
	wrong := said
	if subject != "" {
		wrong = strings.TrimSpace(subject + "\n" + said)
	}
	wrong = strings.TrimSpace(wrong + left)
	var secret [32]byte
	_, _ = rand.Read(secret[:]) // never fails: Go 1.24 and newer
	follow := base64.RawURLEncoding.EncodeToString(secret[:])
	_, err = w.Receive(ctx, a, map[document.Question]string{document.Wrong: wrong}, figures, by, follow, store.HashToken(follow))
	if errors.Is(err, store.ErrConflict) {
		return nil // it came before
	}
	return err
}

// keepPictures keeps the pictures of a mail. Left says in words which could not be taken, and why; the error is one
// that may be gone when the mail is sent again.
func (w *Works) keepPictures(ctx context.Context, m mail.Arrived, by string) (figures []figure.Figure, left string, err error) {
	for i, data := range m.Pictures {
		id := uuid.NewSHA1(uuid.NameSpaceURL, fmt.Append(nil, "mail ", m.ID, " ", i)).String()
		shot, err := w.Pictures.Keep(pictures.For(ctx, by), pictures.Arrival{ID: id, Name: "picture", Data: data, By: by})
		var refused refusal.Error
		if errors.As(err, &refused) {
			left += fmt.Sprintf("\n(Picture %d of the mail could not be taken: %s)", i+1, refused.Reason)
			continue
		}
		if err != nil {
			return nil, "", fmt.Errorf("keeping a picture of a mail: %w", err)
		}
		w.Arrived(ctx, shot)
		figures = append(figures, figure.Figure{ID: uuid.NewString(), Shot: shot.ID, Marks: []figure.Mark{}})
	}
	return figures, left, nil
}

// sayAgain adds a mail to the request that it answers, its pictures to those that the request came with.
func (w *Works) sayAgain(ctx context.Context, a store.Incoming, m mail.Arrived, said, by string) error {
	figures, left, err := w.keepPictures(ctx, m, by)
	if err != nil {
		return err
	}
	said = strings.TrimSpace(said + left)
	if len(figures) > 0 {
		fit, err := w.addPictures(ctx, a.DocumentID, figures, m.ID, by)
		if err != nil {
			return err
		}
		said = strings.TrimSpace(fmt.Sprintf("%s\n(%d of %d pictures of this mail are among those of the question.)", said, fit, len(figures)))
	}
	if said == "" {
		return nil
	}
	c := store.Comment{
		ID: uuid.NewSHA1(uuid.NameSpaceURL, []byte("mail "+m.ID+a.DocumentID)).String(), DocumentID: a.DocumentID, Body: said, Mentions: []string{}, MadeBy: by, Guest: a.Asker,
	}
	if err := w.Store.Reviews.AddComment(ctx, c); err != nil {
		return err
	}
	return w.AskedAgain(ctx, a.DocumentID, said, by)
}

// addPictures puts pictures to those of what goes wrong, once for each mail, as many as fit; someone may be writing in
// the request meanwhile.
func (w *Works) addPictures(ctx context.Context, id string, figures []figure.Figure, mail, by string) (fit int, err error) {
	account, err := w.Store.Identity.Account(ctx, by)
	if err != nil {
		return 0, err
	}
	for range 4 {
		whole, err := w.Store.Documents.Whole(ctx, id)
		if err != nil {
			return 0, err
		}
		at := slices.IndexFunc(whole.Rows, func(b store.Block) bool { return b.Content.Asks == document.Wrong })
		if at < 0 {
			return 0, nil
		}
		b := whole.Rows[at]
		fit = min(len(figures), document.MostFigures-len(b.Content.Figures))
		b.Content.Figures = append(slices.Clone(b.Content.Figures), figures[:fit]...)
		_, err = w.Store.Documents.Apply(ctx, id, store.Change{
			ID:     uuid.NewSHA1(uuid.NameSpaceURL, []byte("mail "+mail)).String(),
			Blocks: []store.BlockEdit{{ID: b.ID, Base: b.Version, OrderKey: b.OrderKey, Content: b.Content}},
		}, account.Viewer())
		if !errors.Is(err, store.ErrConflict) {
			return fit, err
		}
	}
	return 0, store.ErrConflict
}

// answers tells whether a subject is that of an answer, and to what.
func answers(subject string) (string, bool) {
	rest, is := subject, false
	for _, word := range []string{"re:", "aw:", "sv:", "antw:", "rép:"} {
		if len(rest) > len(word) && strings.EqualFold(rest[:len(word)], word) {
			rest, is = strings.TrimSpace(rest[len(word):]), true
		}
	}
	return rest, is
}

func cutTo(s string, most int) string {
	if r := []rune(s); len(r) > most {
		return string(r[:most])
	}
	return s
}

package works

import (
	"context"
	"crypto/rand"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/text"
	"raconte/mail"
	"raconte/pictures"
	"raconte/store"

	"github.com/google/uuid"
)

// Arrive keeps a mail that came in as a request, with its pictures; one that answers a request that is there is said of that.
// The same mail that comes twice is kept once.
func (w *Works) Arrive(ctx context.Context, m mail.Arrived) error {
	if m.From == "" || !strings.Contains(m.From, "@") || len(m.From) > 254 {
		return mail.ErrUnwanted
	}
	by, err := w.Store.FirstAdministrator(ctx)
	if err != nil {
		return err
	}
	subject := text.Plain(strings.Join(strings.Fields(m.Subject), " "))
	said := cutTo(m.Text, 4000)
	if again, is := answers(subject); is {
		a, err := w.Store.AskedBy(ctx, m.From, again)
		if err == nil {
			return w.sayAgain(ctx, a, m, said, by)
		}
		if !errors.Is(err, store.ErrNotFound) {
			return err
		}
	}
	var figures []figure.Figure
	for i, data := range m.Pictures {
		id := uuid.NewSHA1(uuid.NameSpaceURL, fmt.Append(nil, "mail ", m.ID, " ", i)).String()
		shot, err := w.Pictures.Keep(pictures.For(ctx, by), pictures.Arrival{ID: id, Name: "picture", Data: data, By: by})
		if err != nil {
			w.Log.Warn("a picture of a mail is left out", "error", err)
			continue
		}
		w.Arrived(ctx, shot)
		figures = append(figures, figure.Figure{ID: uuid.NewString(), Shot: shot.ID, Marks: []figure.Mark{}})
	}
	came := "mail " + cutTo(m.ID, 240)
	a := store.Incoming{Asker: cutTo(text.Plain(m.Name), 60), Address: m.From}
	if m.ID != "" {
		a.CameAs = &came
	}
	if a.Asker == "" {
		a.Asker = cutTo(m.From, 60)
	}
	wrong := said
	if subject != "" {
		wrong = strings.TrimSpace(subject + "\n" + said)
	}
	var secret [32]byte
	_, _ = rand.Read(secret[:]) // never fails: Go 1.24 and newer
	follow := base64.RawURLEncoding.EncodeToString(secret[:])
	_, err = w.Receive(ctx, a, map[document.Question]string{document.Wrong: wrong}, figures, by, follow, store.HashToken(follow))
	if errors.Is(err, store.ErrConflict) {
		return nil // it came before
	}
	return err
}

// sayAgain adds a mail to the request that it answers.
func (w *Works) sayAgain(ctx context.Context, a store.Incoming, m mail.Arrived, said, by string) error {
	if said == "" {
		return nil
	}
	c := store.Comment{
		ID: uuid.NewSHA1(uuid.NameSpaceURL, []byte("mail "+m.ID+a.DocumentID)).String(), DocumentID: a.DocumentID, Body: said, Mentions: []string{}, MadeBy: by, Guest: a.Asker,
	}
	if err := w.Store.AddComment(ctx, c); err != nil {
		return err
	}
	return w.AskedAgain(ctx, a.DocumentID, said, by)
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

package receivers

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"mime/multipart"
	"net/http"
	"net/textproto"
	"net/url"
	"strconv"
	"strings"

	"raconte/core/receiver"
)

// web is a tracker, a chat, or anything else that is reached by HTTP.
type web struct{ receiver.Reached }

// Open asks whether files are taken now, where the receiver can be asked.
func (w web) Open(ctx context.Context) (bool, error) {
	if w.Ask.Address == "" || w.Files == "" {
		return true, nil
	}
	answer, err := call(ctx, or(w.Ask.Method, http.MethodGet), at(w.Ask.Address, nil), nil, w.signed)
	if err != nil {
		return false, err
	}
	switch receiver.Found(answer, w.Files) {
	case "true":
		return true, nil
	case "false":
		return false, nil
	}
	return false, Busy{Why: "It does not say whether it takes files."}
}

// Send makes something, or changes what is there, and then sends the files to it. Each request bears a key by which the
// receiver can tell that it has seen it (draft-ietf-httpapi-idempotency-key-header).
func (w web) Send(ctx context.Context, p Parcel, kept Kept) error {
	v := receiver.Values{"title": p.Title, "text": p.Text, "id": p.ID, "number": p.Number, "sender": p.Sender, "link": p.Link}
	made := Made{Number: p.Number}
	if p.Handed == 0 {
		var err error
		if made, err = w.text(ctx, p, v); gone(err) && p.Number != "" { // it was deleted there: it is made anew
			p.Number, v["number"] = "", ""
			made, err = w.text(ctx, p, v)
		}
		if err != nil {
			return err
		}
		if err := kept(made, 1); err != nil {
			return err
		}
		v["number"] = made.Number
	}
	for _, f := range p.Files {
		if f.Place+1 < p.Handed {
			continue
		}
		if err := w.file(ctx, f, p.ID+"-"+strconv.Itoa(f.Place), v); err != nil {
			return err
		}
		if err := kept(made, f.Place+2); err != nil {
			return err
		}
	}
	return nil
}

// gone tells whether something is not there any more.
func gone(err error) bool {
	var r Refused
	return errors.As(err, &r) && (r.Status == http.StatusNotFound || r.Status == http.StatusGone)
}

// text makes a thing of a parcel's text, or changes the one that is there.
func (w web) text(ctx context.Context, p Parcel, v receiver.Values) (Made, error) {
	c, made := w.Make, Made{}
	if p.Number != "" && w.Change.Address != "" {
		c, made.Number = w.Change, p.Number
	}
	mediaType := or(c.Type, "application/json")
	body := strings.NewReader(receiver.Filled(c.Body, mediaType, v))
	answer, err := call(ctx, or(c.Method, http.MethodPost), at(c.Address, v), body, func(r *http.Request) {
		r.Header.Set("Content-Type", mediaType)
		r.Header.Set("Idempotency-Key", p.ID)
		w.signed(r)
	})
	if err != nil {
		return made, err
	}
	if n := receiver.Found(answer, w.Number); n != "" && len(n) <= 200 {
		made.Number = n
	}
	made.Link = page(receiver.Found(answer, w.Link))
	if made.Number == "" && w.Number != "" {
		return made, Busy{Why: "Its answer can’t be read."}
	}
	return made, nil
}

// file sends one file, as a form with a field for it.
func (w web) file(ctx context.Context, f File, key string, v receiver.Values) error {
	var body bytes.Buffer
	form := multipart.NewWriter(&body)
	header := textproto.MIMEHeader{}
	header.Set("Content-Disposition", multipart.FileContentDisposition(or(w.File.Type, "file"), f.Name))
	header.Set("Content-Type", f.Type)
	part, err := form.CreatePart(header)
	if err == nil {
		_, err = part.Write(f.Data)
	}
	if err == nil {
		err = form.Close()
	}
	if err != nil {
		return fmt.Errorf("writing a form: %w", err)
	}
	_, err = call(ctx, or(w.File.Method, http.MethodPost), at(w.File.Address, v), &body, func(r *http.Request) {
		r.Header.Set("Content-Type", form.FormDataContentType())
		r.Header.Set("Idempotency-Key", key)
		w.signed(r)
	})
	return err
}

// at is an address with its placeholders filled in; "", which is no address, where that leads to another host than it
// was set up with.
func at(template string, v receiver.Values) string {
	plain, err := url.Parse(strings.NewReplacer("{", "", "}", "").Replace(template))
	filled, failed := url.Parse(receiver.FilledAddress(template, v))
	if err != nil || failed != nil || plain.Host != filled.Host || plain.Scheme != filled.Scheme || filled.Host == "" {
		return ""
	}
	return filled.String()
}

func (w web) signed(r *http.Request) {
	for _, h := range w.Header {
		r.Header.Set(h.Name, h.Value)
	}
	r.Header.Set("User-Agent", "Raconte")
}

// page is an address that people may follow; "" of anything else that a receiver says.
func page(s string) string {
	u, err := url.Parse(s)
	if err != nil || u.Scheme != "http" && u.Scheme != "https" || u.Host == "" || len(s) > 2000 {
		return ""
	}
	return u.String()
}

func or(s, usual string) string {
	if s == "" {
		return usual
	}
	return s
}

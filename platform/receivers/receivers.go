// Package receivers hands reports and requests to where they go: a driver for each way. It contacts nothing but what a
// receiver's own addresses name.
package receivers

import (
	"context"
	"errors"
	"fmt"
	"io"
	"time"

	"raconte/core/receiver"
	"raconte/platform/blobs"
	"raconte/platform/mail"
)

// Parcel is what is sent.
type Parcel struct {
	ID     string // of the sending: by it a receiver can tell that it has it already
	Title  string
	Text   string // in the form that the receiver takes
	Form   receiver.Form
	Sender string
	Link   string // to the document
	Number string // of what is there of an earlier sending; "" makes something new
	Files  []File
	// Handed is how much of it has been handed over by an earlier try: 1 for the text, and 1 for each file's place.
	Handed int
}

// File is one file of a parcel.
type File struct {
	Name  string
	Type  string // its media type
	Data  []byte
	Place int // among all files of what is sent, from 0: it stays the same when others are left out
}

// Made is what is there now.
type Made struct {
	Number string // by which the receiver knows it
	Link   string // its page; "" where the receiver has told of none
}

// Kept is told how much of a parcel its receiver has, and what is there of it.
type Kept func(m Made, handed int) error

// Driver reaches one receiver.
type Driver interface {
	// Open tells whether files are taken at the moment, as far as the receiver says.
	Open(ctx context.Context) (bool, error)
	// Send hands over what of a parcel has not been handed over. Kept is told of each part that the receiver has, so that
	// it does not get it twice.
	Send(ctx context.Context, p Parcel, kept Kept) error
}

// Busy is the error of a receiver that can't take it now, and may later.
type Busy struct {
	Why   string        // for people
	After time.Duration // that it asks to wait; 0 where it does not say
}

// Error is why.
func (b Busy) Error() string { return b.Why }

// ErrTooLarge says that the receiver takes no file, or body, as large as it was sent (413 of RFC 9110).
var ErrTooLarge = errors.New("the receiver says that it is too large")

// Refused is the error of a receiver that will never take it.
type Refused struct {
	Why    string // for people
	Status int    // of HTTP, where it answered with one
}

// Error is why.
func (r Refused) Error() string { return r.Why }

// Means are what the house has to reach receivers by.
type Means struct {
	Mail  mail.Server
	Place func(name string) *blobs.Bucket // nil where there is none of that name
}

// Of is the driver of a receiver, whose secrets are open.
func Of(r receiver.Receiver, m Means) (Driver, error) {
	switch r.Way {
	case receiver.HTTP:
		return web{r.Reached}, nil
	case receiver.Mail:
		if !m.Mail.On() {
			return nil, Refused{Why: "This Raconte has no mail server. Tell your administrator."}
		}
		return letter{m.Mail, r.Reached.To}, nil
	case receiver.WebDAV:
		return dav{r.Reached}, nil
	case receiver.Folder:
		bucket := m.Place(r.Reached.Place)
		if bucket == nil {
			return nil, Refused{Why: fmt.Sprintf("There is no place “%s” in this house. Tell your administrator.", r.Reached.Place)}
		}
		return folder{bucket}, nil
	}
	return nil, Refused{Why: "This Raconte knows no way to it."}
}

const (
	longestCall  = 30 * time.Second
	mostAnswered = 1 << 20 // bytes of an answer
)

// read is an answer, as far as it is read.
func read(r io.Reader) ([]byte, error) {
	out, err := io.ReadAll(io.LimitReader(r, mostAnswered))
	if err != nil {
		return nil, fmt.Errorf("reading an answer: %w", err)
	}
	return out, nil
}

package receivers

import (
	"bytes"
	"context"
	"errors"
	"net/http"
	"net/url"
	"strings"

	"raconte/core/receiver"
)

// dav is a folder on the network, by WebDAV (RFC 4918). What is sent lies in a folder of its own, named by its number:
// the id of its first sending. Putting the same again changes nothing.
type dav struct{ receiver.Reached }

// Open is always: a folder takes what fits.
func (d dav) Open(context.Context) (bool, error) { return true, nil }

// Send puts the text and the files into the folder.
func (d dav) Send(ctx context.Context, p Parcel, kept Kept) error {
	number := or(p.Number, p.ID)
	base := strings.TrimRight(d.Address, "/") + "/" + url.PathEscape(number)
	made := Made{Number: number, Link: page(base + "/")}
	if _, err := call(ctx, "MKCOL", base+"/", nil, d.signed); err != nil && !there(err) {
		return err
	}
	for i, f := range filesOf(p) {
		if _, err := call(ctx, http.MethodPut, base+"/"+url.PathEscape(f.Name), bytes.NewReader(f.Data), func(r *http.Request) {
			r.Header.Set("Content-Type", f.Type)
			d.signed(r)
		}); err != nil {
			return err
		}
		if err := kept(made, i+1); err != nil {
			return err
		}
	}
	return nil
}

func (d dav) signed(r *http.Request) {
	if d.Name != "" {
		r.SetBasicAuth(d.Name, d.Password)
	}
}

// there tells whether a folder could not be made since it is there (405 of RFC 4918, 9.3.1).
func there(err error) bool {
	var r Refused
	return errors.As(err, &r) && r.Status == http.StatusMethodNotAllowed
}

// filesOf are a parcel's text as a file, and its files.
func filesOf(p Parcel) []File {
	name, mediaType := "text.txt", "text/plain; charset=utf-8"
	switch p.Form {
	case receiver.Markdown:
		name, mediaType = "text.md", "text/markdown; charset=utf-8"
	case receiver.HTML:
		name, mediaType = "text.html", "text/html; charset=utf-8"
	}
	return append([]File{{Name: name, Type: mediaType, Data: []byte(p.Text)}}, p.Files...)
}

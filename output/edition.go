package output

import (
	"context"
	"fmt"
	"strings"
	"time"

	"raconte/core/approval"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/page"
	"raconte/core/story"
	"raconte/core/style"

	"github.com/skip2/go-qrcode"
)

// Edition says how a document goes out: in which style, and which of its states.
type Edition struct {
	Style    style.Style
	Address  string // where the document is read; "" where it has no address
	Revision string // as people read it; "" of a draft
	Replaced string // the revision that is valid instead; "" where this one is, or none
	State    string // instead of "Draft" or "Revision 3"
	Changed  string // who changed it last; may be empty
	At       time.Time
	Signed   []approval.Signature // of a revision that was approved
	House    string
	Draft    bool // stamped as such
}

// state is what the edition is, in words; "" of what is sent rather than released.
func (e Edition) state(of document.Kind) string {
	switch {
	case e.State != "":
		return e.State
	case e.Revision == "" && of.Sent():
		return ""
	case e.Revision == "":
		return e.Style.Said("draft")
	}
	return e.Style.Said("revision") + " " + e.Revision
}

// Meta is the line under the title.
func (e Edition) Meta(s story.Story) string {
	meta := e.state(s.Kind)
	if s.Steps > 0 || !s.Kind.Sent() {
		meta = joined(meta, e.Style.CountedSteps(s.Steps))
	}
	if s.Time.Seconds > 0 {
		meta = joined(meta, e.About(s.Time))
	}
	if meta != "" {
		meta += "."
	}
	if e.Changed != "" {
		meta = strings.TrimSpace(meta + " " + e.Style.Said("changed", "name", e.Changed, "date", e.date()))
	}
	for _, one := range e.Signed {
		// The beginning of the digest is enough to tell revisions apart; the whole stands in the trail.
		meta += " " + e.Style.Said("approved", "name", one.Name, "date", e.day(one.At), "digest", one.Digest[:min(12, len(one.Digest))])
	}
	return meta
}

// joined are two parts of a line.
func joined(a, b string) string { return strings.TrimPrefix(a+", "+b, ", ") }

// About is a time as it is told: "about 12 min", "at least 30 s".
func (e Edition) About(t document.Time) string {
	t = t.Rounded()
	key := "about"
	if t.Least {
		key = "least"
	}
	return e.Style.Said(key, "time", document.SayTime(t.Seconds))
}

// date is the day of the last change: in words in English, as ISO 8601 has it elsewhere.
func (e Edition) date() string {
	if e.At.IsZero() {
		return ""
	}
	return e.day(e.At)
}

func (e Edition) day(t time.Time) string {
	if e.Style.Language == style.English {
		return t.Format("2 January 2006")
	}
	return t.Format(time.DateOnly)
}

// Values are what the placeholders of headers, footers and templates stand for, but those of pages.
func (e Edition) Values(s story.Story) map[string]string {
	c := s.Control
	return map[string]string{
		"title": s.Title, "kind": e.Style.Said(string(s.Kind)), "number": c.Number, "revision": e.Revision, "state": e.state(s.Kind),
		"date": e.date(), "effective": c.Effective, "review": c.Review, "owner": c.Owner, "author": c.Author, "approver": c.Approver,
		"classification": c.Classification, "house": e.House,
	}
}

// stamp is what marks each page.
func (e Edition) stamp() page.Stamp {
	s := e.Style
	switch {
	case e.Draft && s.Stamps.Draft:
		return page.Stamp{Words: s.Said("draft stamp"), Large: s.Said("stamp draft")}
	case e.Replaced != "" && s.Stamps.Replaced:
		return page.Stamp{Words: s.Said("replaced stamp", "n", e.Replaced), Large: s.Said("stamp replaced")}
	}
	return page.Stamp{}
}

// Pages lays a document out in a layout, or that of its style; sizes are those of its shots. It stops soon after ctx is
// done.
func (e Edition) Pages(ctx context.Context, s story.Story, sizes map[string]figure.Size, layout style.Layout) (page.Pages, error) {
	req := page.Request{
		Story: s, Style: e.Style, Layout: layout, Sizes: sizes, Address: e.Address, Meta: e.Meta(s), Values: e.Values(s),
		Stamp: e.stamp(), Codes: map[string][][]bool{},
	}
	if e.Address != "" {
		code, err := codeOf(e.Address)
		if err != nil {
			return page.Pages{}, fmt.Errorf("making the QR code: %w", err)
		}
		req.Code = code
	}
	for _, address := range s.Addresses() {
		if code, err := codeOf(address); err == nil { // one too long for a code stands without
			req.Codes[address] = code
		}
	}
	return page.Lay(ctx, req)
}

// codeOf is the QR code of an address, rows of dark or light modules.
func codeOf(address string) ([][]bool, error) {
	code, err := qrcode.New(address, qrcode.Medium)
	if err != nil {
		return nil, err
	}
	code.DisableBorder = true
	return code.Bitmap(), nil
}

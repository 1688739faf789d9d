package output

import (
	"context"
	"fmt"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/page"
	"raconte/core/story"

	"github.com/skip2/go-qrcode"
)

// Edition says how a document is printed.
type Edition struct {
	Layout  page.Layout
	Address string // where the document is read; "" where it has no address
	State   string // the line under the title says it first: "Draft", "Ready, revision 2"
	Changed string // and who changed it when; may be empty
	House   string // at the foot of each page
	Draft   bool
}

// Pages lays a document out; sizes are those of its shots. It stops soon after ctx is done.
func Pages(ctx context.Context, s story.Story, sizes map[string]figure.Size, e Edition) (page.Pages, error) {
	req := page.Request{
		Story: s, Layout: e.Layout, Sizes: sizes, Address: e.Address, Draft: e.Draft, Footer: s.Title,
	}
	if e.House != "" {
		req.Footer = e.House + " · " + s.Title
	}
	steps := "1 step"
	if n := s.Steps; n != 1 {
		steps = fmt.Sprintf("%d steps", n)
	}
	if time := document.AboutTime(s.Seconds); time != "" {
		steps += ", " + time
	}
	req.Meta = e.State + ", " + steps + "."
	if e.Changed != "" {
		req.Meta += " " + e.Changed
	}
	if e.Address != "" {
		code, err := qrcode.New(e.Address, qrcode.Medium)
		if err != nil {
			return page.Pages{}, fmt.Errorf("making the QR code: %w", err)
		}
		code.DisableBorder = true
		req.Code = code.Bitmap()
	}
	req.Codes = map[string][][]bool{}
	for _, address := range s.Addresses() {
		if code, err := qrcode.New(address, qrcode.Medium); err == nil { // one too long for a code stands without
			code.DisableBorder = true
			req.Codes[address] = code.Bitmap()
		}
	}
	return page.Lay(ctx, req)
}

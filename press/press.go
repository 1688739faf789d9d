// Package press prints kept documents: it lays out the pages that the preview shows and writes the
// same pages as a PDF.
package press

import (
	"context"
	"fmt"
	"io"
	"strings"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/page"
	"raconte/core/refusal"
	"raconte/output"
	"raconte/output/pdf"
	"raconte/output/picture"
	"raconte/pictures"
	"raconte/store"
)

// Press prints documents of one house.
type Press struct {
	Pictures *pictures.Maker
	Address  string // of the application, as colleagues reach it: "http://127.0.0.1:8420"
	House    string // at the foot of each page
}

// Pages lays a document out; it stops soon after ctx is done.
func (p Press) Pages(ctx context.Context, w store.Whole, layout page.Layout) (page.Pages, error) {
	sizes := make(map[string]figure.Size, len(w.Shots))
	for _, s := range w.Shots {
		sizes[s.ID] = figure.Size{W: s.Width, H: s.Height}
	}
	e := output.Edition{
		Layout: layout, Address: p.Address + "/d/" + w.ID, House: p.House, Draft: w.State != document.Ready,
		State:   "Draft",
		Changed: fmt.Sprintf("Changed by %s on %s.", w.ChangedName, w.ChangedAt.Format("2 January 2006")),
	}
	if !e.Draft {
		e.State = fmt.Sprintf("Revision %d", w.Revision)
	}
	return output.Pages(ctx, w.Core(), sizes, e)
}

// PDF writes a document as PDF.
func (p Press) PDF(ctx context.Context, out io.Writer, w store.Whole, layout page.Layout, progress func(done, all int)) error {
	pages, err := p.Pages(ctx, w, layout)
	if err != nil {
		return err
	}
	d := w.Core()
	return pdf.Write(ctx, out, pdf.Job{
		Pages: pages, Title: w.Title, Made: w.ChangedAt, Progress: progress,
		Picture: func(ctx context.Context, ref string, width int) (picture.File, error) {
			if err := ctx.Err(); err != nil {
				return picture.File{}, err
			}
			f, step, first, ok := d.Figure(strings.TrimPrefix(ref, page.FigureRef("")))
			if !ok {
				return picture.File{}, fmt.Errorf("the document has no picture %s", ref)
			}
			file, err := p.Pictures.Finished(ctx, f, first, width)
			if reason, refused := refusal.Reason(err); refused {
				err = refusal.New("The picture of step %d can't be made: %s", step+1, reason)
			}
			return picture.File{Data: file.Data, Type: file.Type}, err
		},
	})
}

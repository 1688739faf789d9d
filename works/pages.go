package works

import (
	"context"
	"fmt"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/page"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/output"
	"raconte/store"
)

// Pages lays a kept document out, as the preview shows it and every paged format writes it; it stops soon after ctx is
// done.
func (w *Works) Pages(ctx context.Context, doc store.Whole, layout style.Layout) (page.Pages, error) {
	e, err := w.edition(ctx, doc)
	if err != nil {
		return page.Pages{}, err
	}
	if layout == style.Own {
		layout = doc.Facts.Layout
	}
	return e.Pages(ctx, story.Of(doc.Core(), doc.Around, e.Style.Said), sizesOf(doc), layout)
}

// edition says how a kept document goes out.
func (w *Works) edition(ctx context.Context, doc store.Whole) (output.Edition, error) {
	st, err := w.StyleOf(ctx, doc)
	e := output.Edition{
		Style: st, Address: w.Address + "/d/" + doc.ID, House: w.House, Draft: doc.State != document.Ready && !doc.Kind.Sent(),
		Changed: doc.ChangedName, At: w.Store.Here(doc.ChangedAt),
	}
	if doc.State == document.Ready {
		e.Revision = doc.Facts.SayRevision(doc.Revision)
		e.Address += fmt.Sprintf("?printed=%d", doc.Revision) // where one is told whether it is still valid
		signed := doc.Signed
		if !doc.Revised && err == nil {
			signed, err = w.Store.Releases.Signatures(ctx, doc.ID, doc.Revision)
		}
		for _, one := range signed {
			one.At = w.Store.Here(one.At)
			e.Signed = append(e.Signed, one)
		}
	}
	if doc.Revised && doc.Latest > doc.Revision {
		e.Replaced = doc.Facts.SayRevision(doc.Latest)
	}
	return e, err
}

// Around is what a document leads to, as a viewer may see it, with the addresses where that is read.
func (w *Works) Around(ctx context.Context, id string, valid bool, v access.Viewer) (document.Around, error) {
	around, err := w.Store.Documents.AroundOf(ctx, id, valid, v)
	if err == nil {
		around, err = w.Store.Documents.Timed(ctx, around, v)
	}
	return w.Addressed(around), err
}

// Addressed is what is around with the addresses where it is read.
func (w *Works) Addressed(around document.Around) document.Around {
	for id, o := range around {
		o.Address = w.Address + "/d/" + id
		around[id] = o
	}
	return around
}

package works

import (
	"context"
	"fmt"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/page"
	"raconte/core/story"
	"raconte/output"
	"raconte/store"
)

// Pages lays a kept document out, as the preview shows it and every paged format writes it; it stops soon after ctx is
// done.
func (w *Works) Pages(ctx context.Context, doc store.Whole, layout page.Layout) (page.Pages, error) {
	sizes := make(map[string]figure.Size, len(doc.Shots))
	for _, s := range doc.Shots {
		sizes[s.ID] = figure.Size{W: s.Width, H: s.Height}
	}
	e := output.Edition{
		Layout: layout, Address: w.Address + "/d/" + doc.ID, House: w.House, Draft: doc.State != document.Ready,
		State:   "Draft",
		Changed: fmt.Sprintf("Changed by %s on %s.", doc.ChangedName, doc.ChangedAt.Format("2 January 2006")),
	}
	if !e.Draft {
		e.State = fmt.Sprintf("Revision %d", doc.Revision)
	}
	return output.Pages(ctx, story.Of(doc.Core()), sizes, e)
}

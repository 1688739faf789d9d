package store

import (
	"context"
	"errors"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/refusal"

	"github.com/google/uuid"
)

// Restore makes a document as it was in a revision, by a change like any other: it is a draft then, and what is
// restored can be changed back. ErrConflict where it is not in the state that was seen.
func (s *Documents) Restore(ctx context.Context, id string, revision int, seen int64, who access.Viewer) error {
	now, err := s.Whole(ctx, id)
	if err != nil {
		return err
	}
	if now.Seq != seen {
		return ErrConflict
	}
	then, err := s.Revision(ctx, id, revision)
	if errors.Is(err, ErrNotFound) {
		return refusal.New("There is no such revision.")
	}
	if err != nil {
		return err
	}
	if then.Kind != now.Kind {
		return refusal.New("The revision is of a filed PDF, and this is written by now.")
	}
	versions := map[string]int{}
	for _, b := range append(now.Rows, now.Removed...) {
		versions[b.ID] = b.Version
	}
	c := Change{ID: "restore-" + uuid.NewString(), Facts: &FactsEdit{Base: now.FactsVersion, Facts: then.Facts}}
	c.Facts.Facts.Number, c.Facts.Facts.Reason = now.Facts.Number, "" // a number is given once; each change has a reason of its own
	kept := map[string]bool{}
	keys := document.Arrange(nil, 0, len(then.Rows)).Keys
	for i, b := range then.Rows {
		kept[b.ID] = true
		c.Blocks = append(c.Blocks, BlockEdit{ID: b.ID, Base: versions[b.ID], OrderKey: keys[i], Content: b.Content})
	}
	for _, b := range now.Rows {
		if !kept[b.ID] {
			c.Blocks = append(c.Blocks, BlockEdit{ID: b.ID, Base: b.Version, OrderKey: b.OrderKey, Removed: true, Content: b.Content})
		}
	}
	_, err = s.Apply(ctx, id, c, who)
	return err
}

package works

import (
	"context"
	"time"

	"raconte/works/pictures"
)

// KeepDeliveries is how long deliveries and their files are kept.
const KeepDeliveries = 30 * 24 * time.Hour

// Sweep removes what is kept no longer: documents and blocks that were deleted, deliveries, shots and pictures.
func (w *Works) Sweep(ctx context.Context, now time.Time) error {
	if err := w.Store.PurgeBefore(ctx, now.Add(-pictures.KeepDeleted)); err != nil {
		return err
	}
	if err := w.Store.DropJobs(ctx, now.Add(-KeepDeliveries)); err != nil {
		return err
	}
	if err := w.Pictures.SweepBlobs(ctx, "deliveries/", now, w.Store.FilesOfJobs); err != nil {
		return err
	}
	if err := w.Pictures.SweepBlobs(ctx, "files/", now, w.Store.HasFiles); err != nil {
		return err
	}
	if err := w.Pictures.SweepBlobs(ctx, "attached/", now, w.Store.HasAttached); err != nil {
		return err
	}
	if err := w.Store.DropPages(ctx); err != nil {
		return err
	}
	return w.Pictures.Sweep(ctx, now)
}

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
	if err := w.Store.Documents.PurgeBefore(ctx, now.Add(-pictures.KeepDeleted)); err != nil {
		return err
	}
	if err := w.Store.Jobs.DropJobs(ctx, now.Add(-KeepDeliveries)); err != nil {
		return err
	}
	if err := w.Pictures.SweepBlobs(ctx, "deliveries/", now, w.Store.Jobs.FilesOfJobs); err != nil {
		return err
	}
	if err := w.Pictures.SweepBlobs(ctx, "files/", now, w.Store.Documents.HasFiles); err != nil {
		return err
	}
	if err := w.Pictures.SweepBlobs(ctx, "attached/", now, w.Store.Documents.HasAttached); err != nil {
		return err
	}
	if err := w.Store.Documents.DropPages(ctx); err != nil {
		return err
	}
	return w.Pictures.Sweep(ctx, now)
}

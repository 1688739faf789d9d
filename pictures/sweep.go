package pictures

import (
	"context"
	"errors"
	"fmt"
	"path"
	"time"
)

// How long things that nothing uses are kept.
const (
	keepDeleted    = 30 * 24 * time.Hour // documents, steps and shots: time to change one's mind
	keepRenditions = 60 * 24 * time.Hour
	keepStray      = 24 * time.Hour // blobs without a row: an upload may be on its way
)

// Sweep removes what nothing uses any more: first rows, then the blobs that have none. It removes
// no blob that a row names, whatever is brought in meanwhile.
func (m *Maker) Sweep(ctx context.Context, now time.Time) error {
	if err := m.store.PurgeBefore(ctx, now.Add(-keepDeleted)); err != nil {
		return err
	}
	if err := m.store.DropUnused(ctx, now.Add(-keepDeleted)); err != nil {
		return err
	}
	if err := m.store.DropRenditions(ctx, now.Add(-keepRenditions)); err != nil {
		return fmt.Errorf("dropping old pictures: %w", err)
	}
	results, err := m.store.DropJobs(ctx, now.Add(-keepDeleted))
	for _, key := range results {
		err = errors.Join(err, m.blobs.Delete(ctx, key))
	}
	if err != nil {
		return err
	}
	if err := m.sweepPrefix(ctx, "shots/", now, m.store.HasBlob); err != nil {
		return err
	}
	return m.sweepPrefix(ctx, "renditions/", now, m.store.HasRendition)
}

func (m *Maker) sweepPrefix(ctx context.Context, prefix string, now time.Time, used func(context.Context, string) (bool, error)) error {
	var stray []string
	err := m.blobs.Each(ctx, prefix, func(key string, put time.Time) error {
		if now.Sub(put) > keepStray {
			stray = append(stray, key)
		}
		return nil
	})
	if err != nil {
		return err
	}
	for _, key := range stray {
		if err := m.sweepOne(ctx, key, used); err != nil {
			return err
		}
	}
	return nil
}

func (m *Maker) sweepOne(ctx context.Context, key string, used func(context.Context, string) (bool, error)) error {
	m.gate.Lock()
	defer m.gate.Unlock()
	inUse, err := used(ctx, path.Base(key))
	if err != nil || inUse {
		return err
	}
	return m.blobs.Delete(ctx, key)
}

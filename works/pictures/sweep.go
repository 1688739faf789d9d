package pictures

import (
	"context"
	"fmt"
	"path"
	"slices"
	"time"
)

// How long things that nothing uses are kept.
const (
	KeepDeleted    = 30 * 24 * time.Hour // documents, steps and shots: time to change one's mind
	keepRenditions = 60 * 24 * time.Hour
	keepStray      = 24 * time.Hour // blobs without a row: an upload may be on its way
)

// Sweep removes the shots and pictures that nothing uses any more: first rows, then the blobs that have none.
func (m *Maker) Sweep(ctx context.Context, now time.Time) error {
	if err := m.store.Captures.DropUnused(ctx, now.Add(-KeepDeleted)); err != nil {
		return err
	}
	if err := m.store.Captures.DropRenditions(ctx, now.Add(-keepRenditions)); err != nil {
		return fmt.Errorf("dropping old pictures: %w", err)
	}
	if err := m.SweepBlobs(ctx, "shots/", now, m.store.Captures.HasBlobs); err != nil {
		return err
	}
	if err := m.SweepBlobs(ctx, "clips/", now, m.store.Captures.HasRecordings); err != nil {
		return err
	}
	return m.SweepBlobs(ctx, "renditions/", now, m.store.Captures.HasRenditions)
}

// sweptAtOnce is how many blobs the database is asked about at a time.
const sweptAtOnce = 500

// SweepBlobs removes the blobs below a prefix that are a day old and that used does not find in use by the last part of
// their keys. One that is brought in anew meanwhile stays: its row comes within that day.
func (m *Maker) SweepBlobs(ctx context.Context, prefix string, now time.Time, used func(context.Context, []string) (map[string]bool, error)) error {
	var old []string
	err := m.blobs.Each(ctx, prefix, func(key string, put time.Time) error {
		if now.Sub(put) > keepStray {
			old = append(old, path.Base(key))
		}
		return nil
	})
	if err != nil {
		return err
	}
	for part := range slices.Chunk(old, sweptAtOnce) {
		inUse, err := used(ctx, part)
		if err != nil {
			return err
		}
		for _, name := range part {
			if inUse[name] {
				continue
			}
			if err := m.blobs.DeleteOlder(ctx, prefix+name, now.Add(-keepStray)); err != nil {
				return err
			}
		}
	}
	return nil
}

package works

import (
	"context"
	"fmt"
	"io"

	"raconte/core/document"
	"raconte/core/style"
	"raconte/core/text"
	"raconte/store"
)

// StyleOf is the style that a kept document goes out in: a revision's is that which it was released with, and so is
// that of a document which has not changed since. The faces that it names are ready.
func (w *Works) StyleOf(ctx context.Context, doc store.Whole) (style.Style, error) {
	st := style.Default() // of revisions from before there were several
	var err error
	kept := doc.Style
	released := doc.Revised || doc.State == document.Ready
	if released && !doc.Revised {
		kept, err = w.Store.Setup.RevisionStyle(ctx, doc.ID, doc.Document.Revision)
	}
	switch {
	case kept != nil:
		st = *kept
	case err == nil && !released:
		st, err = w.Store.Setup.StyleNamed(ctx, doc.Facts.Style)
	}
	if err == nil {
		err = w.Faces(ctx, st)
	}
	return st, err
}

// Faces makes the house's faces that a style names known to core/text. One that is gone is set in the face that ships.
func (w *Works) Faces(ctx context.Context, st style.Style) error {
	for use, sha := range map[string]string{
		text.Regular: st.Faces.Regular, text.Bold: st.Faces.Bold, text.Italic: st.Faces.Italic, text.BoldItalic: st.Faces.BoldItalic, text.Mono: st.Faces.Mono,
	} {
		name := text.House(use, sha)
		if sha == "" || text.TTF(name) != nil {
			continue
		}
		data, err := w.HouseFile(ctx, sha)
		if err != nil {
			return err
		}
		if err := text.Register(name, data); err != nil {
			return fmt.Errorf("reading a face of the house: %w", err)
		}
	}
	return nil
}

// mostHouseFile bounds a file of the house, in bytes.
const mostHouseFile = 20 << 20

// HouseFile is a face or a logo of the house, by its SHA-256.
func (w *Works) HouseFile(ctx context.Context, sha string) ([]byte, error) {
	blob, err := w.Blobs.Open(ctx, HouseKey(sha))
	if err != nil {
		return nil, fmt.Errorf("opening a file of the house: %w", err)
	}
	defer blob.Close()
	return io.ReadAll(io.LimitReader(blob, mostHouseFile))
}

// HouseKey is where a file of the house is kept.
func HouseKey(sha string) string { return "house/" + sha }

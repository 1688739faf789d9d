package works

import (
	"context"
	"errors"
	"fmt"
	"maps"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/refusal"
	"raconte/store"
)

// Which says in which state a document is read.
type Which struct {
	Draft    bool // as it is being written, where the viewer may see that
	Asked    bool // a request as it is being written, for who has asked it
	Revision int  // else a revision; 0 is the valid one
	Apart    bool // a manual without its chapters, where the viewer may write it
}

// Reading is a document as someone may read it. Key names all that it was made of.
type Reading struct {
	store.Whole
	Key string
}

// ErrUnreleased is for what nobody can read yet but those who write it.
var ErrUnreleased = fmt.Errorf("no revision was released: %w", store.ErrNotFound)

// Reading is the one way to what of a document a viewer may read: with what was withheld since concealed in it, what it
// leads to, and of a manual its chapters read in, as far as the viewer may open them. What is in a closed folder, was
// retired, or told before what is concealed now, is refused to whom it is not meant for. Parsed documents are kept,
// since a page of pictures asks for the same one many times.
func (w *Works) Reading(ctx context.Context, v access.Viewer, id string, which Which) (Reading, error) {
	head, err := w.Store.Documents.Head(ctx, id)
	if err != nil {
		return Reading{}, err
	}
	if !access.May(v, access.Read, access.Thing{Folder: of(head.FolderID)}) {
		_, ask, err := w.Store.Setup.Whereabouts(ctx, id)
		return Reading{}, errors.Join(err, refusal.New("The document is in a closed folder.%s", asked(ask)))
	}
	reviews := access.May(v, access.Review, access.Thing{})
	draft := which.Revision == 0 && (which.Draft && reviews || which.Asked && head.Kind.Sent())
	key := fmt.Sprintf("%s draft %d", id, head.Seq)
	if !draft {
		if key, err = w.releasedKey(ctx, v, head, which.Revision); err != nil {
			return Reading{}, err
		}
	}
	around, err := w.Store.Documents.AroundOf(ctx, id, !draft, v)
	apart := which.Apart && reviews
	if err == nil && len(around) > 0 {
		made, failed := w.Store.Documents.Composition(ctx, around)
		key, err = fmt.Sprintf("%s %t %s", key, apart, made), failed
	}
	if err != nil {
		return Reading{}, err
	}
	if doc, there := w.Kept(key); there {
		return Reading{doc, key}, nil
	}
	var doc store.Whole
	switch {
	case draft:
		doc, err = w.Store.Documents.Whole(ctx, id)
	case which.Revision == 0:
		doc, err = w.Store.Documents.LastRevision(ctx, id)
	default:
		doc, err = w.Store.Documents.Revision(ctx, id, which.Revision)
	}
	if err == nil {
		around, err = w.Store.Documents.Timed(ctx, around, v)
	}
	if doc.Around = w.Addressed(around); err == nil && !apart {
		doc, err = w.Store.Documents.Composed(ctx, doc, v)
	}
	if err == nil && (!draft || doc.Seq == head.Seq) {
		w.readings.Add(key, doc)
		doc.Around = maps.Clone(doc.Around)
	}
	return Reading{doc, key}, err
}

// Kept is a document that was read under a key, while it is kept. What it leads to is a copy: it is kept for others, to
// whom more of that may be told.
func (w *Works) Kept(key string) (store.Whole, bool) {
	doc, there := w.readings.Get(key)
	doc.Around = maps.Clone(doc.Around)
	return doc, there
}

// releasedKey names a revision, 0 the valid one, as it is read now; the error is why a viewer does not get it.
func (w *Works) releasedKey(ctx context.Context, v access.Viewer, d store.Document, number int) (string, error) {
	if number == 0 {
		number = d.Revision
	}
	if number == 0 {
		return "", ErrUnreleased
	}
	withheld, err := w.Store.Releases.WithheldKey(ctx, d.ID, number)
	if err == nil && !access.May(v, access.Review, access.Thing{}) {
		switch {
		case d.State == document.Retired:
			err = w.retired(ctx, v, d)
		case withheld != "" && number != d.Revision: // its pictures conceal it; its words may still tell it
			err = refusal.New("Something in this revision was concealed since, so that it is not shown any more. Ask for the valid revision, or for a link to it.")
		}
	}
	return fmt.Sprintf("%s revision %d of %d %s", d.ID, number, d.Revision, withheld), err
}

// retired is the refusal of a retired document, with what to follow instead.
func (w *Works) retired(ctx context.Context, v access.Viewer, d store.Document) error {
	if d.ReplacedBy != nil {
		other, err := w.Store.Documents.Head(ctx, *d.ReplacedBy)
		if err == nil && access.May(v, access.Read, access.Thing{Folder: of(other.FolderID)}) {
			return refusal.New("“%s” is retired: it is not valid any more. “%s” takes its place.", d.Title, other.Title)
		}
	}
	return refusal.New("“%s” is retired: it is not valid any more. Nobody should follow it.", d.Title)
}

// mostReadings bounds the documents that were read, in memory, in bytes.
const mostReadings = 160 << 20

// sizeOf is about how much a document takes in memory, in bytes: several times its stored content.
func sizeOf(doc store.Whole) int {
	n := 4096 + 1000*len(doc.Shots)
	for _, rows := range [][]store.Block{doc.Rows, doc.Removed} {
		for _, r := range rows {
			n += 500 + 8*max(r.Bytes, 500)
		}
	}
	return n
}

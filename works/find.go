package works

import (
	"context"
	"errors"
	"strings"
	"time"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/secrets"
	"raconte/core/sight"
	"raconte/platform/together"
	"raconte/store"
)

const (
	findEvery = 600 * time.Millisecond
	findAtA   = 20 // documents
)

// findable keeps the search in step with the documents until ctx is done.
func (w *Works) findable(ctx context.Context) {
	for tick := time.NewTicker(findEvery); ; {
		docs, err := w.Store.Search.Unfound(ctx, findAtA)
		if err != nil && ctx.Err() == nil {
			w.Log.Warn("looking for documents to make findable", "error", err)
		}
		failed := 0
		for _, d := range docs {
			if !w.found(ctx, d) {
				failed++
			}
		}
		if len(docs) == findAtA && failed == 0 {
			continue // there are more
		}
		select {
		case <-ctx.Done():
			tick.Stop()
			return
		case <-tick.C:
		}
	}
}

// found makes a document findable; false where that failed, for reasons that may pass. One that can't be read is set
// aside as it is, told once: it keeps no other from being found.
func (w *Works) found(ctx context.Context, d store.Document) bool {
	err := together.Guarded(func() error { return w.makeFindable(ctx, d) })
	if err == nil || ctx.Err() != nil {
		return err == nil
	}
	if store.Unreachable(err) || errors.Is(err, context.DeadlineExceeded) {
		return false
	}
	w.Log.Error("a document can't be made findable and is set aside until it changes", "document", d.ID, "error", err)
	if err := w.Store.Search.SetAsideFinding(ctx, d); err != nil {
		w.Log.Warn("setting a document aside", "document", d.ID, "error", err)
		return false
	}
	return true
}

// FindAll makes all documents findable that are not yet.
func (w *Works) FindAll(ctx context.Context) error {
	for {
		docs, err := w.Store.Search.Unfound(ctx, findAtA)
		if err != nil || len(docs) == 0 {
			return err
		}
		for _, d := range docs {
			if !w.found(ctx, d) {
				return errors.Join(ctx.Err(), errors.New("the database does not answer"))
			}
		}
	}
}

func (w *Works) makeFindable(ctx context.Context, d store.Document) error {
	if d.FoundSeq < d.Seq {
		rows, err := w.Store.Documents.ChangedBlocks(ctx, d.ID, d.FoundSeq)
		if err != nil {
			return err
		}
		var removed []string
		changed := document.Document{ID: d.ID, Kind: d.Kind, Facts: d.Facts}
		for _, r := range rows {
			if r.Removed {
				removed = append(removed, r.ID)
			} else {
				changed.Blocks = append(changed.Blocks, document.Block{ID: r.ID, Content: r.Content})
			}
		}
		found, err := w.told(ctx, changed, false)
		if err != nil {
			return err
		}
		if err := w.Store.Search.PutFindable(ctx, d, false, found, d.FoundSeq < 0, removed); err != nil {
			return err
		}
	}
	if d.FoundRevision >= d.Revision {
		return nil
	}
	last, err := w.Store.Documents.LastRevision(ctx, d.ID)
	if err != nil {
		return err
	}
	found, err := w.told(ctx, last.Core(), true)
	if err != nil {
		return err
	}
	return w.Store.Search.PutFindable(ctx, d, true, found, true, nil)
}

// told is what the search is told of a document: its title, each block's words and what is to be read in its pictures,
// and the pages of a filed PDF.
func (w *Works) told(ctx context.Context, d document.Document, valid bool) ([]store.Findable, error) {
	f := d.Facts
	rows := []store.Findable{{DocumentID: d.ID, Valid: valid, Words: strings.Join(append([]string{f.Title, f.Number}, f.Keywords...), " ")}}
	shots, err := w.Store.Captures.WordsOf(ctx, d.Shots())
	if err != nil {
		return nil, err
	}
	for i, b := range d.Blocks {
		row := store.Findable{DocumentID: d.ID, Valid: valid, BlockID: b.ID, Place: i, Words: b.Words.Reading(counted(b))}
		if b.Notice != nil {
			row.Words += "\n" + strings.Join(b.Notice.Lines(), "\n")
		}
		for j, fig := range b.Figures {
			if j == 0 {
				row.FigureID = fig.ID
			}
			shot := shots[fig.Shot]
			for _, word := range showing(shot, fig) {
				row.Pictured += word.Text + " "
			}
		}
		rows = append(rows, row)
	}
	if f.File != nil {
		pages, err := w.Store.Documents.PagesOf(ctx, f.File.SHA256)
		if err != nil {
			return nil, err
		}
		for i, text := range pages {
			rows = append(rows, store.Findable{DocumentID: d.ID, Valid: valid, BlockID: "page", Place: i + 1, Words: text})
		}
	}
	return rows, nil
}

// counted are the numbers of a block's markers, as its words show them.
func counted(b document.Block) map[string]int {
	numbers := map[string]int{}
	for id, tag := range (document.Document{Blocks: []document.Block{b}}).Numbers().Tags(b.Figures) {
		numbers[id] = tag.Number
	}
	return numbers
}

func showing(shot store.Shot, f figure.Figure) []sight.Word {
	now, seen := f.Taken(shot.Recording.Poster)
	if !seen {
		return nil
	}
	return secrets.Showing(shot.Words, now, figure.Size{W: shot.Width, H: shot.Height})
}

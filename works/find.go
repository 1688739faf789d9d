package works

import (
	"context"
	"strings"
	"time"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/secrets"
	"raconte/core/sight"
	"raconte/store"
)

const (
	findEvery = 600 * time.Millisecond
	findAtA   = 20 // documents
)

// findable keeps the search in step with the documents until ctx is done.
func (w *Works) findable(ctx context.Context) {
	for tick := time.NewTicker(findEvery); ; {
		docs, err := w.Store.Unfound(ctx, findAtA)
		for _, d := range docs {
			if err == nil {
				err = w.makeFindable(ctx, d)
			}
		}
		if err != nil && ctx.Err() == nil {
			w.Log.Warn("making documents findable", "error", err)
		}
		if len(docs) == findAtA && err == nil {
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

// FindAll makes all documents findable that are not yet.
func (w *Works) FindAll(ctx context.Context) error {
	for {
		docs, err := w.Store.Unfound(ctx, findAtA)
		if err != nil || len(docs) == 0 {
			return err
		}
		for _, d := range docs {
			if err := w.makeFindable(ctx, d); err != nil {
				return err
			}
		}
	}
}

func (w *Works) makeFindable(ctx context.Context, d store.Document) error {
	if d.FoundSeq < d.Seq {
		rows, err := w.Store.ChangedBlocks(ctx, d.ID, d.FoundSeq)
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
		if err := w.Store.PutFindable(ctx, d, false, found, d.FoundSeq < 0, removed); err != nil {
			return err
		}
	}
	if d.FoundRevision >= d.Revision {
		return nil
	}
	last, err := w.Store.LastRevision(ctx, d.ID)
	if err != nil {
		return err
	}
	found, err := w.told(ctx, last.Core(), true)
	if err != nil {
		return err
	}
	return w.Store.PutFindable(ctx, d, true, found, true, nil)
}

// told is what the search is told of a document: its title, each block's words and what is to be read in its pictures,
// and the pages of a filed PDF.
func (w *Works) told(ctx context.Context, d document.Document, valid bool) ([]store.Findable, error) {
	f := d.Facts
	rows := []store.Findable{{DocumentID: d.ID, Valid: valid, Words: strings.Join(append([]string{f.Title, f.Number}, f.Keywords...), " ")}}
	shots, err := w.Store.WordsOf(ctx, d.Shots())
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
		pages, err := w.Store.PagesOf(ctx, f.File.SHA256)
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

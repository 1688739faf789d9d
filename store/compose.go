package store

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/refusal"
	"raconte/core/words"
)

// mostComposed bounds the blocks of a manual with its chapters read in.
const mostComposed = 6000

// AroundOf is what a document leads to, and what its chapters lead to, as a viewer may see it.
func (s *Documents) AroundOf(ctx context.Context, id string, valid bool, v access.Viewer) (document.Around, error) {
	var ids []string
	err := s.on(ctx).Raw(`SELECT to_id FROM document_links WHERE document_id = ? AND valid = ?
		UNION SELECT l.to_id FROM document_links c JOIN document_links l ON l.document_id = c.to_id AND l.valid
			WHERE c.document_id = ? AND c.valid = ? AND c.how = 'holds'`, id, valid, id, valid).Scan(&ids).Error
	if err != nil {
		return nil, err
	}
	return s.Around(ctx, ids, v)
}

// Composition names all that a document with what it leads to is made of besides itself: what is around, and whether
// anything was released or withheld since, of whatever document.
func (s *Documents) Composition(ctx context.Context, around document.Around) (string, error) {
	var n struct{ Revisions, Withheld int }
	err := s.on(ctx).Raw("SELECT (SELECT COUNT(*) FROM revisions) AS revisions, (SELECT COUNT(*) FROM withheld) AS withheld").Scan(&n).Error
	return fmt.Sprint(n, around), err // maps are printed in the order of their keys
}

// missing is what stands for a chapter that can't be read in.
func missing(o document.Other) string {
	switch {
	case o.Closed && o.Ask != "":
		return "A chapter in a closed folder: ask " + o.Ask + " for it"
	case o.Closed:
		return "A chapter in a closed folder"
	case o.Retired:
		return o.Title + " (retired)"
	case o.ID == "":
		return "A chapter that is gone"
	}
	return o.Title + " (not ready yet)"
}

// Composed is a manual with its chapters read in, as far as a viewer may open them; anything else is as it is. A
// chapter shows the valid revision of its procedure, or the one that is named.
func (s *Documents) Composed(ctx context.Context, w Whole, v access.Viewer) (Whole, error) {
	if w.Kind != document.Manual {
		return w, nil
	}
	shots := slices.Clone(w.Shots)
	var failed error
	d := w.Core().Composed(func(b document.Block) (document.Document, bool) {
		o, there := w.Around[b.Document]
		if !there || o.Closed || o.Retired || failed != nil {
			return document.Document{}, false
		}
		number := o.Revision
		if b.Revision > 0 {
			number = b.Revision
		}
		chapter, err := s.Revision(ctx, b.Document, number)
		if err != nil {
			if !errors.Is(err, ErrNotFound) {
				failed = err
			}
			return document.Document{}, false
		}
		shots = append(shots, chapter.Shots...)
		return chapter.Core(), true
	})
	if failed != nil {
		return w, failed
	}
	if len(d.Blocks) > mostComposed {
		return w, refusal.New("The manual has more than %d steps with all its chapters. Make two manuals of it.", mostComposed)
	}
	for i, b := range d.Blocks {
		if b.Type == document.Chapter && b.Words.Empty() {
			d.Blocks[i].Words = words.Plain(missing(w.Around[b.Document]))
		}
	}
	own := map[string]Block{}
	for _, r := range w.Rows {
		own[r.ID] = r
	}
	w.Rows = make([]Block, 0, len(d.Blocks))
	for _, b := range d.Blocks {
		r := own[b.ID]
		r.DocumentID, r.ID, r.Type, r.Content = w.ID, b.ID, b.Type, b.Content
		w.Rows = append(w.Rows, r)
	}
	slices.SortFunc(shots, func(a, b Shot) int { return strings.Compare(a.ID, b.ID) })
	w.Shots = slices.CompactFunc(shots, func(a, b Shot) bool { return a.ID == b.ID })
	w.Steps = d.Numbers().Steps
	return w, nil
}

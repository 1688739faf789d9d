package store

import (
	"context"

	"raconte/core/access"
)

// Alike is a document that shares steps with another.
type Alike struct {
	Document
	Share int // percent of the other's steps
}

const (
	leastShare = 50 // percent
	leastSteps = 3  // that are shared
	mostAlike  = 5
	shortest   = 12 // characters of the words of a step that tell something
)

// Alike are the documents whose drafts share many of their steps' words, or shots, with one, the most first.
func (s *Search) Alike(ctx context.Context, id string, v access.Viewer) ([]Alike, error) {
	var steps int
	err := s.on(ctx).Raw(`SELECT COUNT(*) FROM findable WHERE document_id = ? AND NOT valid AND block_id <> '' AND CHAR_LENGTH(words) >= ?`, id, shortest).Scan(&steps).Error
	if err != nil || steps < leastSteps {
		return []Alike{}, err
	}
	all := []Alike{}
	q := scope(s.documents.documents(ctx), v).Where("deleted_at IS NULL AND documents.id <> ? AND state <> 'retired'", id).
		Joins(`JOIN (SELECT o.document_id, COUNT(DISTINCT m.block_id) AS shared FROM findable m
			JOIN findable o ON o.hash = m.hash AND o.document_id <> m.document_id AND NOT o.valid AND o.block_id <> ''
			WHERE m.document_id = ? AND NOT m.valid AND m.block_id <> '' AND CHAR_LENGTH(m.words) >= ? GROUP BY o.document_id) alike ON alike.document_id = documents.id`, id, shortest).
		Where("alike.shared >= ? AND alike.shared * 100 >= ? * ?", leastSteps, steps, leastShare).
		Select(withName+", ROUND(alike.shared * 100 / ?) AS share", steps)
	err = q.Order("share DESC, documents.id").Limit(mostAlike).Scan(&all).Error
	return all, err
}

package store

import (
	"context"

	"raconte/core/access"

	"gorm.io/gorm"
)

// Relation is another document that one was made of, or that was made of it.
type Relation struct {
	ID    string
	Title string
	Kind  string
	Made  bool   // it was made of the document that was asked about
	Block string // that it was made of, or that the document was made of
}

// Relate keeps that a document was made of another, or of a block of it.
func (s *Documents) Relate(ctx context.Context, made, from, block string) error {
	return s.on(ctx).Exec("INSERT IGNORE INTO relations (made, made_from, block) VALUES (?, ?, ?)", made, from, block).Error
}

// Related are the documents that one was made of, and those that were made of it, as far as a viewer may open them.
func (s *Documents) Related(ctx context.Context, id string, v access.Viewer) ([]Relation, error) {
	all := []Relation{}
	ask := func(join, where string, made bool) error {
		var some []Relation
		q := s.on(ctx).Table("documents").Select("documents.id, " + titleFor(v) + ", documents.kind, relations.block").Joins(join)
		err := scope(q, v).Where("documents.deleted_at IS NULL").Where(where, id).Order("documents.changed_at DESC").Limit(50).Find(&some).Error
		for _, r := range some {
			r.Made = made
			all = append(all, r)
		}
		return err
	}
	err := ask("JOIN relations ON relations.made_from = documents.id", "relations.made = ?", false)
	if err == nil {
		err = ask("JOIN relations ON relations.made = documents.id", "relations.made_from = ?", true)
	}
	return all, err
}

// Used counts that a stock answer was used.
func (s *Documents) Used(ctx context.Context, id string) error {
	return one(s.on(ctx).Table("documents").Where("id = ? AND deleted_at IS NULL", id).Update("uses", gorm.Expr("uses + 1")))
}

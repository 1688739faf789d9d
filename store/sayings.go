package store

import (
	"context"

	"raconte/core/film"

	"gorm.io/gorm"
)

const sayings = "sayings"

// Sayings are how the house says words, in order, and how often the list was replaced.
func (s *Setup) Sayings(ctx context.Context) (all []film.Saying, version int, err error) {
	all = []film.Saying{}
	err = s.within(ctx, func(_ context.Context, tx *gorm.DB) error {
		if err := tx.Table("list_versions").Where("list = ?", sayings).Pluck("version", &version).Error; err != nil {
			return err
		}
		return tx.Table(sayings).Order("word").Find(&all).Error
	})
	return all, version, err
}

// SetSayings replaces them, where they are still the version that the person has seen; else ErrConflict.
func (s *Setup) SetSayings(ctx context.Context, all []film.Saying, version int) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if err := replaced(tx, sayings, version); err != nil {
			return err
		}
		if err := tx.Exec("DELETE FROM sayings").Error; err != nil {
			return err
		}
		for _, one := range all {
			if err := tx.Exec("INSERT IGNORE INTO sayings (word, said) VALUES (?, ?)", one.Word, one.Said).Error; err != nil {
				return err
			}
		}
		return nil
	})
}

// replaced counts that a list is replaced by someone who has seen a version of it; ErrConflict where it is another.
func replaced(tx *gorm.DB, list string, version int) error {
	res := tx.Exec("UPDATE list_versions SET version = version + 1 WHERE list = ? AND version = ?", list, version)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrConflict
	}
	return res.Error
}

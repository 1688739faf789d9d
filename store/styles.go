package store

import (
	"context"
	"time"

	"raconte/core/figure"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// NamedStyle is a look of marks that the team shares.
type NamedStyle struct {
	ID     string
	Name   string
	Kind   figure.Kind
	Style  figure.Style `gorm:"serializer:json"`
	MadeBy string
	MadeAt time.Time
}

// TableName is that of the migrations.
func (NamedStyle) TableName() string { return "styles" }

// Styles are all named styles, by kind and name.
func (s *Setup) Styles(ctx context.Context) ([]NamedStyle, error) {
	var all []NamedStyle
	err := s.on(ctx).Order("kind, name").Find(&all).Error
	return all, err
}

// AddStyle names a style; one of the same name and kind is replaced.
func (s *Setup) AddStyle(ctx context.Context, name string, kind figure.Kind, style figure.Style, by string) (NamedStyle, error) {
	n := NamedStyle{ID: uuid.NewString(), Name: name, Kind: kind, Style: style, MadeBy: by, MadeAt: s.now()}
	db := s.on(ctx)
	err := db.Clauses(clause.OnConflict{DoUpdates: clause.AssignmentColumns([]string{"style", "made_by", "made_at"})}).Create(&n).Error
	if err != nil {
		return n, err
	}
	var kept NamedStyle
	err = db.Where("kind = ? AND name = ?", kind, name).Take(&kept).Error
	return kept, found(err)
}

// DeleteStyle forgets a named style.
func (s *Setup) DeleteStyle(ctx context.Context, id string) error {
	res := s.on(ctx).Where("id = ?", id).Delete(&NamedStyle{})
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}

const secretWords = "secret-words"

// SecretWords are the team's own words to conceal, in order, and how often the list was replaced.
func (s *Setup) SecretWords(ctx context.Context) (words []string, version int, err error) {
	words = []string{}
	err = s.within(ctx, func(_ context.Context, tx *gorm.DB) error {
		if err := tx.Table("list_versions").Where("list = ?", secretWords).Pluck("version", &version).Error; err != nil {
			return err
		}
		return tx.Table("secret_words").Order("word").Pluck("word", &words).Error
	})
	return words, version, err
}

// SetSecretWords replaces them, where they are still the version that the person has seen; else ErrConflict.
func (s *Setup) SetSecretWords(ctx context.Context, words []string, version int) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if err := replaced(tx, secretWords, version); err != nil {
			return err
		}
		if err := tx.Exec("DELETE FROM secret_words").Error; err != nil {
			return err
		}
		for _, word := range words {
			if err := tx.Exec("INSERT IGNORE INTO secret_words (word) VALUES (?)", word).Error; err != nil {
				return err
			}
		}
		return nil
	})
}

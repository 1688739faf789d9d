package store

import (
	"context"
	"fmt"

	"raconte/core/document"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

type filePage struct {
	SHA256 string `gorm:"column:sha256"`
	Page   int
	Text   string
}

// TableName is that of the migrations.
func (filePage) TableName() string { return "file_pages" }

// documentFile is a file that a document uses: a filed PDF, or a voice.
type documentFile struct {
	DocumentID string
	SHA256     string `gorm:"column:sha256"`
}

// AddPages keeps the text of a PDF's pages, from the first.
func (s *Store) AddPages(ctx context.Context, sha string, texts []string) error {
	rows := make([]filePage, 0, len(texts))
	for i, t := range texts {
		rows = append(rows, filePage{sha, i + 1, t})
	}
	if len(rows) == 0 {
		return nil
	}
	err := s.db.WithContext(ctx).Clauses(clause.OnConflict{UpdateAll: true}).CreateInBatches(rows, 200).Error
	if err != nil {
		return fmt.Errorf("keeping the pages of a PDF: %w", err)
	}
	return nil
}

// PagesOf are the texts of a PDF's pages.
func (s *Store) PagesOf(ctx context.Context, sha string) ([]string, error) {
	var texts []string
	err := s.db.WithContext(ctx).Table("file_pages").Where("sha256 = ?", sha).Order("page").Pluck("text", &texts).Error
	return texts, err
}

// HasFiles are those of some SHA-256 sums of PDFs that documents hold.
func (s *Store) HasFiles(ctx context.Context, sums []string) (map[string]bool, error) {
	return s.present(ctx, "document_files", "sha256", sums, "1 = 1")
}

// DropPages forgets the text of PDFs that no document holds any more.
func (s *Store) DropPages(ctx context.Context) error {
	return s.db.WithContext(ctx).Exec("DELETE FROM file_pages WHERE sha256 NOT IN (SELECT sha256 FROM document_files)").Error
}

// Rewrite makes a procedure of a filed PDF: a draft with the same facts, number and history, whose last revision stays
// the PDF until the draft is released.
func (s *Store) Rewrite(ctx context.Context, id string, change Change, by string) error {
	return s.within(ctx, func(tx *gorm.DB) error {
		d, err := lock(tx, id)
		if err != nil {
			return err
		}
		if d.Kind != document.Filed {
			return ErrConflict
		}
		d.Kind, d.Facts.File = document.Procedure, nil
		rows, err := s.merge(tx, d, change, d.Seq+1, by)
		if err != nil {
			return err
		}
		if err := saveBlocks(tx, rows); err != nil {
			return err
		}
		set, err := beside(d.Facts)
		if err != nil {
			return err
		}
		set["kind"], set["state"], set["seq"], set["steps"] = d.Kind, "draft", d.Seq+1, Whole{Document: d, Rows: rows}.Core().Numbers().Steps
		set["facts_version"], set["changed_by"], set["changed_at"], set["found_seq"] = d.FactsVersion+1, by, s.now(), -1
		return tx.Table("documents").Where("id = ?", id).Updates(set).Error
	})
}

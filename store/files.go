package store

import (
	"context"
	"fmt"
	"slices"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/refusal"

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
func (s *Documents) AddPages(ctx context.Context, sha string, texts []string) error {
	rows := make([]filePage, 0, len(texts))
	for i, t := range texts {
		rows = append(rows, filePage{sha, i + 1, t})
	}
	if len(rows) == 0 {
		return nil
	}
	err := s.on(ctx).Clauses(clause.OnConflict{UpdateAll: true}).CreateInBatches(rows, 200).Error
	if err != nil {
		return fmt.Errorf("keeping the pages of a PDF: %w", err)
	}
	return nil
}

// PagesOf are the texts of a PDF's pages.
func (s *Documents) PagesOf(ctx context.Context, sha string) ([]string, error) {
	var texts []string
	err := s.on(ctx).Table("file_pages").Where("sha256 = ?", sha).Order("page").Pluck("text", &texts).Error
	return texts, err
}

// HasFiles are those of some SHA-256 sums of PDFs that documents hold.
func (s *Documents) HasFiles(ctx context.Context, sums []string) (map[string]bool, error) {
	return s.present(ctx, "document_files", "sha256", sums, "1 = 1")
}

// KeepVoice notes that a voice was brought in for a document.
func (s *Documents) KeepVoice(ctx context.Context, documentID, sha string) error {
	return s.on(ctx).Exec("INSERT IGNORE INTO voices (document_id, sha256) VALUES (?, ?)", documentID, sha).Error
}

// HasVoice tells whether a document holds a voice.
func (s *Documents) HasVoice(ctx context.Context, documentID, sha string) (bool, error) {
	var n int64
	err := s.on(ctx).Table("voices").Where("document_id = ? AND sha256 = ?", documentID, sha).Count(&n).Error
	return n > 0, err
}

// MayPlay tells whether an account may take over all of some voices: those of documents that it may open. A file is
// never had by its sum alone.
func (s *Documents) MayPlay(ctx context.Context, voices []string, who access.Viewer) (bool, error) {
	return mayPlayAll(s.on(ctx), "", voices, who)
}

func mayPlayAll(db *gorm.DB, documentID string, voices []string, who access.Viewer) (bool, error) {
	for part := range slices.Chunk(unique(voices), 1000) {
		var may []string
		here := db.Session(&gorm.Session{NewDB: true}).Where("voices.document_id = ?", documentID).Or("voices.document_id IN (?)", scope(db.Table("documents").Select("id"), who))
		err := db.Table("voices").Where("voices.sha256 IN ?", part).Where(here).Distinct().Pluck("voices.sha256", &may).Error
		if err != nil || len(may) < len(part) {
			return false, err
		}
	}
	return true, nil
}

// mayPlay refuses rows that hold a voice which the account may not take over.
func mayPlay(tx *gorm.DB, documentID string, rows []Block, who access.Viewer) error {
	var voices []string
	for _, r := range rows {
		voices = append(voices, (document.Document{Blocks: []document.Block{{Content: r.Content}}}).Voices()...)
	}
	may, err := mayPlayAll(tx, documentID, voices, who)
	if err == nil && !may {
		err = refusal.New("A step holds a voice that has not arrived. Bring it in first.")
	}
	return err
}

// DropPages forgets the text of PDFs that no document holds any more.
func (s *Documents) DropPages(ctx context.Context) error {
	return s.on(ctx).Exec("DELETE FROM file_pages WHERE sha256 NOT IN (SELECT sha256 FROM document_files)").Error
}

// Rewrite makes a procedure of a filed PDF: a draft with the same facts, number and history, whose last revision stays
// the PDF until the draft is released.
func (s *Documents) Rewrite(ctx context.Context, id string, change Change, by string) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
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
		if err := wrote(tx, id, by, d.Seq+1); err != nil {
			return err
		}
		return s.touch(tx, d, by, &d.Facts, map[string]any{
			"kind": d.Kind, "state": document.Draft, "steps": Whole{Document: d, Rows: rows}.Core().Numbers().Steps, "found_seq": -1,
		})
	})
}

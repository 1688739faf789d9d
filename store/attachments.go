package store

import (
	"context"
	"fmt"
	"time"

	"raconte/core/refusal"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Attachment is a file beside a report: a log, an export. It goes along when the report is sent.
type Attachment struct {
	ID         string
	DocumentID string
	Name       string
	Bytes      int64
	SHA256     string `gorm:"column:sha256"`
	AddedBy    string
	AddedAt    time.Time
}

// The limits of attachments.
const (
	MostAttachments = 10
	MostAttached    = 5 << 20 // bytes of one
)

// Attachments are those of a document, in the order in which they came.
func (s *Documents) Attachments(ctx context.Context, document string) ([]Attachment, error) {
	all := []Attachment{}
	err := s.on(ctx).Where("document_id = ?", document).Order("added_at, id").Find(&all).Error
	return all, err
}

// Attachment is one of a document's.
func (s *Documents) Attachment(ctx context.Context, document, id string) (Attachment, error) {
	var a Attachment
	err := s.on(ctx).Where("document_id = ? AND id = ?", document, id).Take(&a).Error
	return a, found(err)
}

// Attach keeps that a file is beside a document. The same file attached again is kept once.
func (s *Documents) Attach(ctx context.Context, a Attachment) error {
	a.ID, a.AddedAt = uuid.NewString(), s.now()
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if _, err := lock(tx, a.DocumentID); err != nil {
			return err
		}
		var n int64
		if err := tx.Model(&Attachment{}).Where("document_id = ? AND sha256 <> ?", a.DocumentID, a.SHA256).Count(&n).Error; err != nil {
			return err
		}
		if n >= MostAttachments {
			return refusal.New("A document has at most %d files beside it. Take some out first.", MostAttachments)
		}
		if err := tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&a).Error; err != nil {
			return fmt.Errorf("keeping an attachment: %w", err)
		}
		return nil
	})
}

// Detach takes a file from a document.
func (s *Documents) Detach(ctx context.Context, document, id string) error {
	return one(s.on(ctx).Where("document_id = ? AND id = ?", document, id).Delete(&Attachment{}))
}

// HasAttached are those of some SHA-256 sums of files that documents have beside them.
func (s *Documents) HasAttached(ctx context.Context, sums []string) (map[string]bool, error) {
	return s.present(ctx, "attachments", "sha256", sums, "1 = 1")
}

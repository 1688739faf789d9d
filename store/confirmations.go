package store

import (
	"context"
	"time"

	"raconte/core/access"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Confirmation is that someone is asked to confirm that they have read and understood a document, and whether they
// have.
type Confirmation struct {
	DocumentID  string
	AccountID   string
	AskedAt     time.Time
	Due         *time.Time
	FromRev     int // the first revision that counts
	Revision    int // that was confirmed; 0 is none yet
	ConfirmedAt *time.Time

	Name  string `gorm:"->;-:migration"`
	Title string `gorm:"->;-:migration"`
	Valid int    `gorm:"->;-:migration"` // the document's valid revision
}

// Confirmed tells whether they have confirmed a revision that counts.
func (c Confirmation) Confirmed() bool { return c.Revision >= c.FromRev && c.Revision > 0 }

// AskToConfirm asks people to confirm the valid revision of a document. Again asks those anew who confirmed an earlier
// one; the others keep what they have confirmed.
func (s *Reviews) AskToConfirm(ctx context.Context, d Document, people []string, due *time.Time, again bool, by string) error {
	if d.Revision == 0 {
		return ErrNotFound
	}
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		for _, p := range unique(people) {
			c := Confirmation{DocumentID: d.ID, AccountID: p, AskedAt: s.now(), Due: due, FromRev: d.Revision}
			set := map[string]any{"asked_at": s.now(), "due": due}
			if again {
				set["from_rev"] = d.Revision
			}
			if err := tx.Omit("name", "title", "valid").Clauses(clause.OnConflict{DoUpdates: clause.Assignments(set)}).Create(&c).Error; err != nil {
				return err
			}
		}
		return s.trail.noteOf(tx, d, by, ActConfirmed, "Asked to be confirmed")
	})
}

// Confirm keeps that someone has read and understood a revision.
func (s *Reviews) Confirm(ctx context.Context, d Document, revision int, account string) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		err := one(tx.Table("confirmations").Where("document_id = ? AND account_id = ?", d.ID, account).
			Updates(map[string]any{"revision": revision, "confirmed_at": s.now()}))
		if err != nil {
			return err
		}
		return s.trail.noteOf(tx, d, account, ActConfirmed, "Revision "+d.Facts.SayRevision(revision))
	})
}

// StopConfirming asks someone no longer.
func (s *Reviews) StopConfirming(ctx context.Context, document, account string) error {
	return one(s.on(ctx).Table("confirmations").Where("document_id = ? AND account_id = ?", document, account).Delete(nil))
}

// ConfirmationsOf are those that a document asks for.
func (s *Reviews) ConfirmationsOf(ctx context.Context, document string) ([]Confirmation, error) {
	all := []Confirmation{}
	err := s.confirmations(ctx, "documents.title").Where("c.document_id = ?", document).Order("a.display_name, a.id").Find(&all).Error
	return all, err
}

// ConfirmationsAsked are those that someone is asked for, as far as they may open the documents.
func (s *Reviews) ConfirmationsAsked(ctx context.Context, v access.Viewer) ([]Confirmation, error) {
	all := []Confirmation{}
	err := scope(s.confirmations(ctx, titleFor(v)), v).Where("c.account_id = ?", v.Account).Order("c.due IS NULL, c.due, c.asked_at").Limit(mostListed).Find(&all).Error
	return all, err
}

// DueConfirmations are those that were not confirmed and are due by a day.
func (s *Reviews) DueConfirmations(ctx context.Context, by string) ([]Confirmation, error) {
	all := []Confirmation{}
	err := s.confirmations(ctx, "documents.title").Where("c.due <= ? AND (c.revision = 0 OR c.revision < c.from_rev)", by).Order("c.due, c.document_id, c.account_id").Limit(10_000).Find(&all).Error
	return all, err
}

// AllConfirmations are all that are asked for in the house.
func (s *Reviews) AllConfirmations(ctx context.Context) ([]Confirmation, error) {
	all := []Confirmation{}
	err := s.confirmations(ctx, "documents.title").Order("a.display_name, a.id, documents.title").Limit(100_000).Find(&all).Error
	return all, err
}

func (s *Reviews) confirmations(ctx context.Context, title string) *gorm.DB {
	return s.on(ctx).Table("confirmations c").Select("c.*, a.display_name AS name, documents.revision AS valid, " + title).
		Joins("JOIN accounts a ON a.id = c.account_id").Joins("JOIN documents ON documents.id = c.document_id").
		Where("documents.deleted_at IS NULL AND documents.state <> 'retired' AND a.disabled_at IS NULL")
}

package store

import (
	"context"
	"fmt"
	"time"

	"raconte/core/access"

	"github.com/google/uuid"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Notice tells someone of what concerns them.
type Notice struct {
	ID         string
	AccountID  string
	Kind       string // one of those below
	DocumentID string
	Ref        string // what it is about, so that nobody is told of the same twice
	Who        string // whose act it tells of; "" where it is the calendar's
	Told       string
	At         time.Time
	ReadAt     *time.Time
	MailedAt   *time.Time
}

// What notices are about.
const (
	AboutMention  = "mention"
	AboutReview   = "review"
	AboutAnswer   = "answer"
	AboutApproval = "approval"
	AboutDue      = "due"
	AboutReleased = "released"
	AboutConfirm  = "confirm"
	AboutTold     = "told" // by a receiver
)

const (
	mostNotices = 200
	keepNotices = 180 * 24 * time.Hour
)

// Tell keeps a notice; false where that person was told of the same before.
func (s *Trail) Tell(ctx context.Context, n Notice) (Notice, bool, error) {
	n.ID, n.At, n.Told = uuid.NewString(), s.now(), cut(n.Told, 500)
	res := s.on(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&n)
	if res.Error != nil {
		return n, false, fmt.Errorf("keeping a notice: %w", res.Error)
	}
	return n, res.RowsAffected > 0, nil
}

// noticesOf are someone's notices of documents that they may know of by now.
func (s *Trail) noticesOf(ctx context.Context, v access.Viewer) *gorm.DB {
	q := s.on(ctx).Table("notices").Where("account_id = ?", v.Account)
	if len(v.Closed) == 0 {
		return q
	}
	return q.Where("document_id IS NULL OR document_id NOT IN (SELECT id FROM documents WHERE folder_id IN ?)", v.Closed)
}

// Notices are someone's, the last first.
func (s *Trail) Notices(ctx context.Context, v access.Viewer) ([]Notice, error) {
	all := []Notice{}
	err := s.noticesOf(ctx, v).Order("at DESC, id").Limit(mostNotices).Find(&all).Error
	return all, err
}

// HaveRead keeps that someone has read a notice, or, where id is "", all of theirs.
func (s *Trail) HaveRead(ctx context.Context, account, id string) error {
	q := s.on(ctx).Table("notices").Where("account_id = ? AND read_at IS NULL", account)
	if id != "" {
		q = q.Where("id = ?", id)
	}
	return q.Update("read_at", s.now()).Error
}

// Mailed keeps that notices went out by mail.
func (s *Trail) Mailed(ctx context.Context, ids ...string) error {
	return s.on(ctx).Table("notices").Where("id IN ?", ids).Update("mailed_at", s.now()).Error
}

// ToSum are the notices of those who get them once a day, whose last summary was made before a time: unread, and not
// mailed yet. The summary is taken for made.
func (s *Trail) ToSum(ctx context.Context, before time.Time) (map[string][]Notice, error) {
	var ids []string
	err := s.on(ctx).Table("accounts").Where("mails = ? AND disabled_at IS NULL AND email IS NOT NULL AND (summed_at IS NULL OR summed_at < ?)", Daily, before).Pluck("id", &ids).Error
	all := map[string][]Notice{}
	for _, id := range ids {
		res := s.on(ctx).Exec("UPDATE accounts SET summed_at = ? WHERE id = ? AND (summed_at IS NULL OR summed_at < ?)", s.now(), id, before)
		if res.Error != nil {
			return all, res.Error
		}
		if res.RowsAffected == 0 { // another server was first
			continue
		}
		var mine []Notice
		if err := s.on(ctx).Where("account_id = ? AND mailed_at IS NULL AND read_at IS NULL", id).Order("at").Limit(mostNotices).Find(&mine).Error; err != nil {
			return all, err
		}
		if len(mine) > 0 {
			all[id] = mine
		}
	}
	return all, err
}

// DueDocument is a document whose next review is due, and the account that answers for it.
type DueDocument struct {
	Document
	OwnerID string
}

// DueDocuments are those whose next review is due by a day and of which their owner was not told yet, the next ones
// after an id. Those whose owner is nobody's name are not among them: the library shows them as due.
func (s *Trail) DueDocuments(ctx context.Context, by, after string) ([]DueDocument, error) {
	all := []DueDocument{}
	err := s.on(ctx).Table("documents").Select("documents.*, a.id AS owner_id").
		Joins("JOIN accounts a ON a.display_name = documents.owner COLLATE utf8mb4_nopad_bin AND a.disabled_at IS NULL").
		Where("documents.id > ? AND review <= ? AND deleted_at IS NULL AND state <> 'retired'", after, by).
		Where("NOT EXISTS (SELECT 1 FROM notices n WHERE n.account_id = a.id AND n.kind = ? AND n.ref = CONCAT(documents.id, ' ', documents.review))", AboutDue).
		Order("documents.id").Limit(mostListed).Find(&all).Error
	return all, err
}

// Following are the accounts that have pinned a document.
func (s *Trail) Following(ctx context.Context, document string) ([]string, error) {
	var all []string
	err := s.on(ctx).Table("shelf").Where("document_id = ? AND pinned", document).Pluck("account_id", &all).Error
	return all, err
}

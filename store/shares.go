package store

import (
	"context"
	"fmt"
	"strings"
	"time"

	"raconte/core/access"
	"raconte/core/refusal"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Share is a link by which a document is read without an account.
type Share struct {
	ID           string
	DocumentID   string
	TokenHash    string
	Name         string     // whom or what it is for
	Revision     int        // a fixed one; 0 is always the valid one
	PasswordHash string     // "" where none is asked for
	LastDay      *time.Time // on which it opens
	Most         int        // openings; 0 is as many as are wanted
	Openings     int
	Comments     bool
	Downloads    bool
	Converses    bool // its reader is an asker, who follows a request as it is written, and what is said of it
	MadeBy       string
	MadeAt       time.Time
	OpenedAt     *time.Time
	RevokedAt    *time.Time

	MadeName string `gorm:"->;-:migration"`
	Title    string `gorm:"->;-:migration"`
}

const (
	mostShares   = 200 // of one document
	openingLasts = 12 * time.Hour
	mostOpen     = 5_000 // openings of one link that let their readers go on; the oldest go first
)

// AddShare keeps a link.
func (s *Exchange) AddShare(ctx context.Context, sh Share) (Share, error) {
	sh.ID, sh.MadeAt = uuid.NewString(), s.now()
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		d, err := lock(tx, sh.DocumentID)
		if err != nil {
			return err
		}
		if d.Revision == 0 || sh.Revision > d.Revision {
			return refusal.New("There is no such revision that could be shared. Release the document first.")
		}
		var n int64
		if err := tx.Table("shares").Where("document_id = ? AND revoked_at IS NULL", d.ID).Count(&n).Error; err != nil {
			return err
		}
		if n >= mostShares {
			return refusal.New("A document has at most %d links. Revoke some first.", mostShares)
		}
		if err := tx.Omit("made_name", "title").Create(&sh).Error; err != nil {
			return fmt.Errorf("keeping a link: %w", err)
		}
		return s.trail.noteOf(tx, d, sh.MadeBy, ActShared, "A link for "+sh.Name)
	})
	return sh, err
}

func (s *Exchange) shares(ctx context.Context) *gorm.DB {
	return s.on(ctx).Table("shares").Select("shares.*, a.display_name AS made_name, documents.title").
		Joins("JOIN accounts a ON a.id = shares.made_by").Joins("JOIN documents ON documents.id = shares.document_id").
		Where("shares.revoked_at IS NULL AND documents.deleted_at IS NULL").Order("shares.made_at DESC, shares.id")
}

// Shares are the links of a document, the last made first, or, where document is "", of all that a viewer may open.
func (s *Exchange) Shares(ctx context.Context, document string, v access.Viewer) ([]Share, error) {
	q := scope(s.shares(ctx), v)
	if document != "" {
		q = q.Where("shares.document_id = ?", document)
	}
	all := []Share{}
	err := q.Limit(2000).Find(&all).Error
	return all, err
}

// RevokeShare ends a link of a document, at once and for good.
func (s *Exchange) RevokeShare(ctx context.Context, document, id, by string) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		var sh Share
		if err := tx.Where("id = ? AND document_id = ? AND revoked_at IS NULL", id, document).Take(&sh).Error; err != nil {
			return found(err)
		}
		if err := tx.Table("shares").Where("id = ?", id).Update("revoked_at", s.now()).Error; err != nil {
			return err
		}
		var d Document
		if err := tx.Where("id = ?", document).Take(&d).Error; err != nil {
			return found(err)
		}
		return s.trail.noteOf(tx, d, by, ActShared, "The link for "+sh.Name+" was revoked")
	})
}

// ShareWith is the link with a token, as long as it holds. ErrNotFound where it was revoked, its last day is over, its
// document deleted, or whoever made it disabled.
func (s *Exchange) ShareWith(ctx context.Context, tokenHash string) (Share, error) {
	var sh Share
	err := s.shares(ctx).Where("shares.token_hash = ? AND a.disabled_at IS NULL AND (shares.last_day IS NULL OR shares.last_day >= ?)", tokenHash, s.Today()).Take(&sh).Error
	return sh, found(err)
}

// OpenShare counts an opening of a link, and keeps the hash of what lets its reader go on. ErrLimit where it has been
// opened as often as it may.
func (s *Exchange) OpenShare(ctx context.Context, id, openingHash string) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		res := tx.Exec("UPDATE shares SET openings = openings + 1, opened_at = ? WHERE id = ? AND (most = 0 OR openings < most)", s.now(), id)
		if res.Error == nil && res.RowsAffected == 0 {
			return ErrLimit
		}
		if res.Error != nil {
			return res.Error
		}
		if err := tx.Exec("DELETE FROM share_openings WHERE opened_at < ?", s.now().Add(-openingLasts)).Error; err != nil {
			return err
		}
		if err := tx.Exec(`DELETE FROM share_openings WHERE share_id = ? AND opened_at <= (SELECT opened_at FROM
			(SELECT opened_at FROM share_openings WHERE share_id = ? ORDER BY opened_at DESC LIMIT 1 OFFSET ?) oldest)`, id, id, mostOpen-1).Error; err != nil {
			return err
		}
		return tx.Exec("INSERT INTO share_openings (hash, share_id, opened_at) VALUES (?, ?, ?)", openingHash, id, s.now()).Error
	})
}

// HasOpened tells whether what lets a reader go on is of a link, and not too old.
func (s *Exchange) HasOpened(ctx context.Context, id, openingHash string) (bool, error) {
	var n int64
	err := s.on(ctx).Table("share_openings").Where("hash = ? AND share_id = ? AND opened_at > ?", openingHash, id, s.now().Add(-openingLasts)).Count(&n).Error
	return n > 0, err
}

// GuestViewer is what someone without an account may see of what a document leads to: what a reader may who is a member
// of no closed folder. That the link's own document may be read is decided by the link.
func (s *Exchange) GuestViewer(ctx context.Context, sh Share) (access.Viewer, error) {
	v := access.Viewer{Account: "guest of " + sh.ID, Role: access.Reader}
	var err error
	v.Closed, err = s.setup.ClosedTo(ctx, Account{ID: v.Account, Role: v.Role})
	return v, err
}

// Frames are the origins of pages that may show links in a frame.
func (s *Exchange) Frames(ctx context.Context) ([]string, error) {
	var lines []string
	err := s.on(ctx).Raw("SELECT COALESCE(frames, '') FROM house WHERE id = 1").Scan(&lines).Error
	if err != nil || len(lines) == 0 {
		return nil, err
	}
	return strings.Fields(lines[0]), nil
}

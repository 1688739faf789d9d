package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"raconte/core/comment"
	"raconte/core/figure"
	"raconte/core/words"

	"gorm.io/gorm"
)

// Comment is what someone has said of a document.
type Comment struct {
	ID         string
	DocumentID string
	Thread     string        // the first comment, which says what all are about
	Place      comment.Place `gorm:"serializer:json"` // of the first
	Body       string
	Mentions   []string `gorm:"serializer:json"` // accounts
	MadeBy     string
	Guest      string // the name that someone without an account gave; MadeBy is then who made their link, or sent it
	Via        string // the receiver where they said it; "" where they came by a link
	MadeAt     time.Time
	EditedAt   *time.Time
	Deleted    bool
	ResolvedBy *string // of the first
	ResolvedAt *time.Time
	Suggestion *Suggestion `gorm:"serializer:json"` // of the first; nil where it suggests nothing
	Outcome    string      // of a suggestion: Taken, Refused, or "" where it is open

	MadeName     string `gorm:"->;-:migration"`
	ResolvedName string `gorm:"->;-:migration"`
}

// Suggestion is other words for a block, or another look of one of its pictures.
type Suggestion struct {
	From   words.Node `json:"from,omitzero"` // as they were
	To     words.Node `json:"to,omitzero"`
	Figure *Redrawn   `json:"figure,omitempty"` // nil where words are suggested
}

// Redrawn is a picture as it was, and as it is suggested.
type Redrawn struct {
	From figure.Figure `json:"from"`
	To   figure.Figure `json:"to"`
}

// Taken says that the words of a suggestion are the block's now; that it was not taken is Refused.
const Taken = "taken"

// mostComments bounds the comments of a document.
const mostComments = 5000

// Comments are those of a document, in the order in which they were made.
func (s *Reviews) Comments(ctx context.Context, document string) ([]Comment, error) {
	all := []Comment{}
	err := s.comments(ctx).Where("comments.document_id = ?", document).Order("comments.made_at, comments.id <> comments.thread, comments.id").Limit(mostComments).Find(&all).Error
	return all, err
}

func (s *Reviews) comments(ctx context.Context) *gorm.DB {
	return s.on(ctx).Table("comments").Select("comments.*, IF(comments.guest = '', m.display_name, CONCAT(comments.guest, IF(comments.via = '', ' (by a link)', CONCAT(' (', comments.via, ')')))) AS made_name, COALESCE(r.display_name, '') AS resolved_name").
		Joins("JOIN accounts m ON m.id = comments.made_by").Joins("LEFT JOIN accounts r ON r.id = comments.resolved_by")
}

// Comment is one of a document's.
func (s *Reviews) Comment(ctx context.Context, document, id string) (Comment, error) {
	var c Comment
	err := s.comments(ctx).Where("comments.document_id = ? AND comments.id = ? AND NOT comments.deleted", document, id).Take(&c).Error
	return c, found(err)
}

// AddComment keeps a comment. One that is there already, as it is sent again, is left as it is. ErrNotFound where the
// thread that it belongs to is none of the document's; ErrLimit where there are as many as may be.
func (s *Reviews) AddComment(ctx context.Context, c Comment) error {
	c.MadeAt = s.now()
	if c.Thread == "" {
		c.Thread = c.ID
	}
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if _, err := lock(tx, c.DocumentID); err != nil {
			return err
		}
		var there Comment
		err := tx.Where("id = ?", c.ID).Take(&there).Error
		if err == nil && (there.DocumentID != c.DocumentID || there.MadeBy != c.MadeBy) {
			return ErrConflict
		}
		if err == nil || !errors.Is(err, gorm.ErrRecordNotFound) {
			return err
		}
		var n int64
		if err := tx.Model(&Comment{}).Where("document_id = ?", c.DocumentID).Count(&n).Error; err != nil {
			return err
		}
		if n >= mostComments {
			return ErrLimit
		}
		if c.Thread != c.ID {
			var first Comment
			if err := tx.Where("id = ? AND thread = id AND document_id = ?", c.Thread, c.DocumentID).Take(&first).Error; err != nil {
				return found(err)
			}
		}
		if err := tx.Omit("made_name", "resolved_name").Create(&c).Error; err != nil {
			return fmt.Errorf("keeping a comment: %w", err)
		}
		return nil
	})
}

// RewordComment changes what someone's own comment says.
func (s *Reviews) RewordComment(ctx context.Context, document, id, by, body string, mentions []string) error {
	now := s.now()
	c := Comment{Body: body, Mentions: mentions, EditedAt: &now}
	return one(s.on(ctx).Model(&Comment{}).Where("document_id = ? AND id = ? AND made_by = ? AND guest = '' AND NOT deleted", document, id, by).
		Select("body", "mentions", "edited_at").Updates(c))
}

// ResolveComments says that a thread is done with, or is not any more.
func (s *Reviews) ResolveComments(ctx context.Context, document, thread, by string, resolved bool) error {
	c := Comment{}
	if now := s.now(); resolved {
		c.ResolvedBy, c.ResolvedAt = &by, &now
	}
	return one(s.on(ctx).Model(&Comment{}).Where("document_id = ? AND id = ? AND thread = id", document, thread).
		Select("resolved_by", "resolved_at").Updates(c))
}

// MoveComment keeps where what a comment is about is now.
func (s *Reviews) MoveComment(ctx context.Context, id string, place comment.Place) error {
	return s.on(ctx).Model(&Comment{}).Where("id = ?", id).Select("place").Updates(Comment{Place: place}).Error
}

// DecideSuggestion keeps what came of an open suggestion, and settles its thread.
func (s *Reviews) DecideSuggestion(ctx context.Context, document, thread, by, outcome string) error {
	now := s.now()
	return one(s.on(ctx).Model(&Comment{}).Where("document_id = ? AND id = ? AND thread = id AND suggestion IS NOT NULL AND outcome = ''", document, thread).
		Select("outcome", "resolved_by", "resolved_at").Updates(Comment{Outcome: outcome, ResolvedBy: &by, ResolvedAt: &now}))
}

// DeleteComment takes back someone's own comment: its words are gone. Others that answered it stay.
func (s *Reviews) DeleteComment(ctx context.Context, document, id, by string) error {
	return one(s.on(ctx).Model(&Comment{}).Where("document_id = ? AND id = ? AND made_by = ? AND guest = '' AND NOT deleted", document, id, by).
		Select("body", "mentions", "deleted").Updates(Comment{Mentions: []string{}, Deleted: true}))
}

// one is ErrNotFound where nothing was changed.
func one(res *gorm.DB) error {
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}

package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"raconte/core/access"
	"raconte/core/document"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// PublishJob is the kind of job that makes a standing delivery; its payload is the id of that.
const PublishJob = "publish"

// Standing is a delivery that is made again at each release, into a place of the house.
type Standing struct {
	ID         string
	DocumentID string
	Payload    string   // what is ordered
	Place      string   // by its name in the configuration
	Path       string   // in it
	Revision   int      // that lies there; 0 where none does
	Files      []string `gorm:"serializer:json"` // that were put there
	Error      string
	MadeBy     string
	MadeAt     time.Time
	PutAt      *time.Time
	Deleted    bool
	Turn       int64 // of whoever puts it: an older one puts nothing any more

	Title    string `gorm:"->;-:migration"` // of the document
	MadeName string `gorm:"->;-:migration"`
}

// mostStandings bounds how many a document may have.
const mostStandings = 20

// AddStanding keeps a standing delivery, and queues it once.
func (s *Exchange) AddStanding(ctx context.Context, n Standing) (Standing, error) {
	n.ID, n.MadeAt, n.Files = uuid.NewString(), s.now(), []string{}
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		var there int64
		if err := tx.Model(&Standing{}).Where("document_id = ? AND NOT deleted", n.DocumentID).Count(&there).Error; err != nil {
			return err
		}
		if there >= mostStandings {
			return ErrLimit
		}
		if err := tx.Omit("title", "made_name").Create(&n).Error; err != nil {
			return fmt.Errorf("keeping a standing delivery: %w", err)
		}
		return s.jobs.queueStandings(tx, n.DocumentID)
	})
	return n, err
}

// ErrLimit is that there are as many of something as may be.
var ErrLimit = errors.New("there are as many as may be")

// Standings are the standing deliveries of documents that a viewer may open, by the title of these.
func (s *Exchange) Standings(ctx context.Context, v access.Viewer) ([]Standing, error) {
	all := []Standing{}
	q := s.on(ctx).Table("standings").Select("standings.*, documents.title AS title, accounts.display_name AS made_name").
		Joins("JOIN documents ON documents.id = standings.document_id AND documents.deleted_at IS NULL").Joins("JOIN accounts ON accounts.id = standings.made_by")
	err := scope(q, v).Where("NOT standings.deleted").Order("documents.title, standings.id").Limit(500).Find(&all).Error
	return all, err
}

// Standing is one of them, also one whose files are still to be taken away.
func (s *Exchange) Standing(ctx context.Context, id string) (Standing, error) {
	var n Standing
	err := s.on(ctx).Where("id = ?", id).Take(&n).Error
	return n, found(err)
}

// StandingAt tells whether another standing delivery has put a file at a place.
func (s *Exchange) StandingAt(ctx context.Context, place, file, but string) (bool, error) {
	var there int64
	err := s.on(ctx).Model(&Standing{}).Where("place = ? AND id <> ? AND JSON_CONTAINS(files, JSON_QUOTE(?))", place, but, file).Count(&there).Error
	return there > 0, err
}

// BeginStanding takes a turn at putting a standing delivery: whoever began before has none any more.
func (s *Exchange) BeginStanding(ctx context.Context, id string) (Standing, error) {
	var n Standing
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if err := tx.Clauses(forUpdate).Where("id = ?", id).Take(&n).Error; err != nil {
			return found(err)
		}
		n.Turn++
		return tx.Table("standings").Where("id = ?", id).Update("turn", n.Turn).Error
	})
	return n, err
}

// StillStands tells whether a turn is the newest, and a document still is at a revision with all that was withheld of
// it.
func (s *Exchange) StillStands(ctx context.Context, n Standing, revision int, composition string) (bool, error) {
	now, err := s.Standing(ctx, n.ID)
	if err != nil || now.Turn != n.Turn || now.Deleted != n.Deleted {
		return false, err
	}
	head, err := s.documents.Head(ctx, n.DocumentID)
	if errors.Is(err, ErrNotFound) {
		return revision == 0, nil
	}
	if err != nil || head.State == document.Retired {
		return revision == 0 && err == nil, err
	}
	is, err := s.Stands(ctx, n.DocumentID)
	return head.Revision == revision && is == composition, err
}

// Stands names all that what is put of a document depends on and may change: what is withheld, and what its chapters
// are.
func (s *Exchange) Stands(ctx context.Context, documentID string) (string, error) {
	around, err := s.documents.AroundOf(ctx, documentID, true, access.House)
	if err != nil {
		return "", err
	}
	return s.documents.Composition(ctx, around)
}

// Put notes what a standing delivery has put where, or why it could not.
func (s *Exchange) Put(ctx context.Context, n Standing) error {
	if r := []rune(n.Error); len(r) > 500 {
		n.Error = string(r[:500])
	}
	now := s.now()
	n.PutAt = &now
	return s.on(ctx).Model(&Standing{}).Where("id = ? AND turn = ?", n.ID, n.Turn).Select("revision", "files", "error", "put_at").Updates(n).Error
}

// DeleteStanding ends a standing delivery: nothing is put any more, and what was is to be taken away.
func (s *Exchange) DeleteStanding(ctx context.Context, id string) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		var n Standing
		if err := tx.Where("id = ? AND NOT deleted", id).Take(&n).Error; err != nil {
			return found(err)
		}
		if err := tx.Exec("UPDATE standings SET deleted = TRUE WHERE id = ?", id).Error; err != nil {
			return err
		}
		return s.jobs.queue(tx, n)
	})
}

// ForgetStanding removes one whose files are gone.
func (s *Exchange) ForgetStanding(ctx context.Context, id string) error {
	return s.on(ctx).Exec("DELETE FROM standings WHERE id = ? AND deleted", id).Error
}

// QueueStanding queues one of them.
func (s *Exchange) QueueStanding(ctx context.Context, id string) error {
	n, err := s.Standing(ctx, id)
	if err == nil {
		err = s.jobs.queue(s.on(ctx), n)
	}
	return err
}

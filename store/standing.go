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
func (s *Store) AddStanding(ctx context.Context, n Standing) (Standing, error) {
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
		return s.queueStandings(tx, n.DocumentID)
	})
	return n, err
}

// ErrLimit is that there are as many of something as may be.
var ErrLimit = errors.New("there are as many as may be")

// Standings are the standing deliveries of documents that a viewer may open, by the title of these.
func (s *Store) Standings(ctx context.Context, v access.Viewer) ([]Standing, error) {
	all := []Standing{}
	q := s.on(ctx).Table("standings").Select("standings.*, documents.title AS title, accounts.display_name AS made_name").
		Joins("JOIN documents ON documents.id = standings.document_id AND documents.deleted_at IS NULL").Joins("JOIN accounts ON accounts.id = standings.made_by")
	err := scope(q, v).Where("NOT standings.deleted").Order("documents.title, standings.id").Limit(500).Find(&all).Error
	return all, err
}

// Standing is one of them, also one whose files are still to be taken away.
func (s *Store) Standing(ctx context.Context, id string) (Standing, error) {
	var n Standing
	err := s.on(ctx).Where("id = ?", id).Take(&n).Error
	return n, found(err)
}

// StandingAt tells whether another standing delivery has put a file at a place.
func (s *Store) StandingAt(ctx context.Context, place, file, but string) (bool, error) {
	var there int64
	err := s.on(ctx).Model(&Standing{}).Where("place = ? AND id <> ? AND JSON_CONTAINS(files, JSON_QUOTE(?))", place, but, file).Count(&there).Error
	return there > 0, err
}

// BeginStanding takes a turn at putting a standing delivery: whoever began before has none any more.
func (s *Store) BeginStanding(ctx context.Context, id string) (Standing, error) {
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
func (s *Store) StillStands(ctx context.Context, n Standing, revision int, composition string) (bool, error) {
	now, err := s.Standing(ctx, n.ID)
	if err != nil || now.Turn != n.Turn || now.Deleted != n.Deleted {
		return false, err
	}
	head, err := s.Head(ctx, n.DocumentID)
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
func (s *Store) Stands(ctx context.Context, documentID string) (string, error) {
	around, err := s.AroundOf(ctx, documentID, true, access.House)
	if err != nil {
		return "", err
	}
	return s.Composition(ctx, around)
}

// Put notes what a standing delivery has put where, or why it could not.
func (s *Store) Put(ctx context.Context, n Standing) error {
	if r := []rune(n.Error); len(r) > 500 {
		n.Error = string(r[:500])
	}
	now := s.now()
	n.PutAt = &now
	return s.on(ctx).Model(&Standing{}).Where("id = ? AND turn = ?", n.ID, n.Turn).Select("revision", "files", "error", "put_at").Updates(n).Error
}

// DeleteStanding ends a standing delivery: nothing is put any more, and what was is to be taken away.
func (s *Store) DeleteStanding(ctx context.Context, id string) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		var n Standing
		if err := tx.Where("id = ? AND NOT deleted", id).Take(&n).Error; err != nil {
			return found(err)
		}
		if err := tx.Exec("UPDATE standings SET deleted = TRUE WHERE id = ?", id).Error; err != nil {
			return err
		}
		return s.queue(tx, n)
	})
}

// ForgetStanding removes one whose files are gone.
func (s *Store) ForgetStanding(ctx context.Context, id string) error {
	return s.on(ctx).Exec("DELETE FROM standings WHERE id = ? AND deleted", id).Error
}

// QueueStanding queues one of them.
func (s *Store) QueueStanding(ctx context.Context, id string) error {
	n, err := s.Standing(ctx, id)
	if err == nil {
		err = s.queue(s.on(ctx), n)
	}
	return err
}

// queueStandings queues the standing deliveries of a document, and of manuals that hold it: with what changes its valid
// revision, so that none is missed.
func (s *Store) queueStandings(tx *gorm.DB, document string) error {
	var all []Standing
	if err := tx.Where("NOT deleted AND (document_id = ? OR document_id IN (SELECT document_id FROM document_links WHERE to_id = ? AND how = 'holds'))", document, document).Find(&all).Error; err != nil {
		return err
	}
	for _, n := range all {
		if err := s.queue(tx, n); err != nil {
			return err
		}
	}
	return nil
}

// queue queues a standing delivery; one that waits already, for its place to be there again, waits no longer.
func (s *Store) queue(tx *gorm.DB, n Standing) error {
	waits := tx.Table("jobs").Where("kind = ? AND payload = ? AND state = ?", PublishJob, n.ID, Waiting).Update("not_before", nil)
	if waits.Error != nil || waits.RowsAffected > 0 {
		return waits.Error
	}
	j := Job{ID: uuid.NewString(), Kind: PublishJob, Payload: n.ID, State: Waiting, Owner: n.MadeBy, DocumentID: &n.DocumentID, CreatedAt: s.now()}
	return tx.Omit("owner_name", "taken_by").Create(&j).Error
}

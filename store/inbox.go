package store

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"strings"
	"time"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/refusal"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Door is a link by which people without an account ask for help.
type Door struct {
	ID        string
	Name      string
	TokenHash string
	MadeBy    string
	MadeAt    time.Time
	RevokedAt *time.Time
	MadeName  string `gorm:"->;-:migration"`
}

// The most that doors take.
const (
	mostDoors  = 50
	MostADay   = 200 // requests by one door in a day
	mostInside = 200 // requests that are listed
)

// Doors are those that are open.
func (s *Exchange) Doors(ctx context.Context) ([]Door, error) {
	all := []Door{}
	err := s.doors(ctx).Order("doors.made_at DESC").Limit(mostDoors).Find(&all).Error
	return all, err
}

func (s *Exchange) doors(ctx context.Context) *gorm.DB {
	return s.on(ctx).Table("doors").Select("doors.*, a.display_name AS made_name").
		Joins("JOIN accounts a ON a.id = doors.made_by AND a.disabled_at IS NULL").Where("doors.revoked_at IS NULL")
}

// DoorWith is the door with a token. ErrNotFound where it was closed, or whoever made it disabled.
func (s *Exchange) DoorWith(ctx context.Context, tokenHash string) (Door, error) {
	var d Door
	err := s.doors(ctx).Where("doors.token_hash = ?", tokenHash).Take(&d).Error
	return d, found(err)
}

// AddDoor opens a door.
func (s *Exchange) AddDoor(ctx context.Context, d Door) (Door, error) {
	d.ID, d.MadeAt = uuid.NewString(), s.now()
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		var n int64
		if err := tx.Table("doors").Where("revoked_at IS NULL").Count(&n).Error; err != nil {
			return err
		}
		if n >= mostDoors {
			return refusal.New("There are as many doors as a house may have. Close one first.")
		}
		if err := tx.Omit("made_name").Create(&d).Error; err != nil {
			return fmt.Errorf("keeping a door: %w", err)
		}
		return s.trail.note(tx, Act{Act: ActShared, AccountID: &d.MadeBy, About: d.Name, Told: "A door for requests"})
	})
	return d, err
}

// CloseDoor closes a door for good. What came in stays, and those who asked still follow it.
func (s *Exchange) CloseDoor(ctx context.Context, id, by string) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		var d Door
		if err := tx.Omit("made_name").Where("id = ? AND revoked_at IS NULL", id).Take(&d).Error; err != nil {
			return found(err)
		}
		if err := tx.Table("doors").Where("id = ?", id).Update("revoked_at", s.now()).Error; err != nil {
			return err
		}
		return s.trail.note(tx, Act{Act: ActShared, AccountID: orNil(by), About: d.Name, Told: "A door for requests was closed"})
	})
}

// The states of a request that came in.
const (
	AskedNew      = "new"
	AskedTaken    = "taken"
	AskedAnswered = "answered"
	AskedClosed   = "closed"
)

// Incoming is a request that came in.
type Incoming struct {
	DocumentID string `gorm:"primaryKey"`
	DoorID     *string
	CameAs     *string // the id of the mail or the sending that it is
	Asker      string
	Address    string // of mail
	Link       string // by which its asker follows it, sealed
	State      string
	TakenBy    *string
	AskedAt    time.Time
	ChangedAt  time.Time
	Folder     string `gorm:"-"` // where its document is put, as it comes in

	Title     string `gorm:"->;-:migration"`
	TakenName string `gorm:"->;-:migration"`
}

// TableName is that of requests that came in.
func (Incoming) TableName() string { return "inbox" }

// Receive keeps a request that came in by a door or as a mail: its document, of someone who answers for it, and the
// link by which its asker follows it. ErrConflict where that mail came before; a refusal where a door has taken as many
// as it may in a day.
func (s *Exchange) Receive(ctx context.Context, a Incoming, d document.Document, by, linkHash string) (Incoming, error) {
	now := s.now()
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if a.DoorID != nil { // one after the other: the same may be sent thirty times at once
			var door Door
			if err := tx.Clauses(forUpdate).Where("id = ?", *a.DoorID).Omit("made_name").Take(&door).Error; err != nil {
				return found(err)
			}
			var today int64
			if err := tx.Table("inbox").Where("door_id = ? AND asked_at > ?", *a.DoorID, now.Add(-24*time.Hour)).Count(&today).Error; err != nil {
				return err
			}
			if today >= MostADay {
				return refusal.New("So many have asked here today that no more are taken. Try again tomorrow, or ask by telephone.")
			}
		}
		if a.CameAs != nil {
			var there int64
			if err := tx.Table("inbox").Where("came_as = ?", *a.CameAs).Count(&there).Error; err != nil || there > 0 {
				return orConflict(err)
			}
		}
		doc, err := s.documents.CreateWhole(ctx, d, a.Folder, by)
		if err != nil {
			return err
		}
		a.DocumentID, a.Title, a.State, a.AskedAt, a.ChangedAt = doc.ID, doc.Title, AskedNew, now, now
		err = tx.Omit("title", "taken_name").Create(&a).Error
		if errors.Is(err, gorm.ErrDuplicatedKey) {
			return ErrConflict
		}
		if err != nil {
			return fmt.Errorf("keeping a request: %w", err)
		}
		share := Share{ID: uuid.NewString(), DocumentID: doc.ID, TokenHash: linkHash, Name: a.Asker, Comments: true, Converses: true, MadeBy: by, MadeAt: now}
		err = tx.Omit("made_name", "title").Create(&share).Error
		if errors.Is(err, gorm.ErrDuplicatedKey) {
			return refusal.New("Another request is followed by the same link. Open the page anew and send this one again. Nothing of it was kept.")
		}
		if err != nil {
			return fmt.Errorf("keeping an asker's link: %w", err)
		}
		return nil
	})
	return a, err
}

func orConflict(err error) error {
	if err == nil {
		return ErrConflict
	}
	return err
}

func (s *Exchange) inbox(ctx context.Context, v access.Viewer) *gorm.DB {
	q := s.on(ctx).Table("inbox").Select("inbox.*, documents.title, COALESCE(t.display_name, '') AS taken_name").
		Joins("JOIN documents ON documents.id = inbox.document_id AND documents.deleted_at IS NULL").Joins("LEFT JOIN accounts t ON t.id = inbox.taken_by")
	return scope(q, v)
}

// Inbox are the requests that came in, as a viewer may open them: those in a state ("" is all that are not closed),
// taken by someone, with all words of a text in their title, their asker or what they say.
func (s *Exchange) Inbox(ctx context.Context, v access.Viewer, state, takenBy, text string) ([]Incoming, error) {
	q := s.inbox(ctx, v)
	if state != "" {
		q = q.Where("inbox.state = ?", state)
	} else if strings.TrimSpace(text) == "" {
		q = q.Where("inbox.state <> 'closed'")
	}
	if takenBy != "" {
		q = q.Where("inbox.taken_by = ?", takenBy)
	}
	for i, word := range strings.Fields(text) {
		if i == mostWords {
			break
		}
		like := "%" + escapeLike(word) + "%"
		q = q.Where("(documents.title LIKE ? OR inbox.asker LIKE ? OR EXISTS (SELECT 1 FROM blocks b WHERE b.document_id = documents.id AND NOT b.removed AND b.content LIKE ?))", like, like, like)
	}
	all := []Incoming{}
	err := q.Order("FIELD(inbox.state, 'new', 'taken', 'answered', 'closed'), inbox.changed_at DESC, inbox.document_id").Limit(mostInside).Find(&all).Error
	return all, err
}

// AskedOf is the request that a document is; ErrNotFound where it is none.
func (s *Exchange) AskedOf(ctx context.Context, document string) (Incoming, error) {
	var a Incoming
	err := s.inbox(ctx, access.House).Where("inbox.document_id = ?", document).Take(&a).Error
	return a, found(err)
}

// SetAsked changes how a request stands, and who has taken it ("" leaves that).
func (s *Exchange) SetAsked(ctx context.Context, document, state, takenBy string) error {
	set := map[string]any{"state": state, "changed_at": s.now()}
	if takenBy != "" {
		set["taken_by"] = takenBy
	}
	return one(s.on(ctx).Table("inbox").Where("document_id = ?", document).Updates(set))
}

// AskedAgain says that an asker has said more: a request that was answered or closed is someone's again, or new.
func (s *Exchange) AskedAgain(ctx context.Context, document string) error {
	return s.on(ctx).Exec("UPDATE inbox SET state = IF(taken_by IS NULL, 'new', 'taken'), changed_at = ? WHERE document_id = ?", s.now(), document).Error
}

// AskedBy is the last request from an address with a title.
func (s *Exchange) AskedBy(ctx context.Context, address, title string) (Incoming, error) {
	var a Incoming
	err := s.inbox(ctx, access.House).Where("inbox.address = ? AND documents.title = ?", address, title).
		Order("inbox.asked_at DESC").Limit(1).Take(&a).Error
	return a, found(err)
}

// HashToken is what is kept of a token that lets someone in: its SHA-256, in hexadecimal.
func HashToken(token string) string {
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}

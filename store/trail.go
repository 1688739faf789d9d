package store

import (
	"context"
	"time"

	"raconte/core/access"

	"gorm.io/gorm"
)

// Act is one line of the trail: what someone did. The trail is only ever added to, which the database itself holds.
type Act struct {
	ID         int64
	At         time.Time
	AccountID  *string // nil where it was the calendar, or someone without an account
	Who        string  // their name as it was
	Act        string
	DocumentID *string
	About      string // the document's title, the person's or the folder's name, as it was
	Told       string
}

// TableName is the trail.
func (Act) TableName() string { return "trail" }

// What the trail tells of.
const (
	ActCreated    = "created"
	ActReleased   = "released"
	ActReview     = "review"
	ActApproved   = "approved"
	ActShared     = "shared"
	ActDownloaded = "downloaded"
	ActRetired    = "retired"
	ActMoved      = "moved" // to another folder
	ActDeleted    = "deleted"
	ActConfirmed  = "confirmed"
	ActAccess     = "access"
	ActSent       = "sent"     // to a receiver
	ActReceiver   = "receiver" // one was set up, changed or taken out
)

// note adds to the trail, in the transaction of what it tells of.
func (s *Trail) note(tx *gorm.DB, a Act) error {
	a.At = s.now()
	a.Who, a.About, a.Told = cut(a.Who, 100), cut(a.About, 250), cut(a.Told, 500)
	if a.Who == "" && a.AccountID != nil {
		var names []string
		if err := tx.Session(&gorm.Session{NewDB: true}).Table("accounts").Where("id = ?", *a.AccountID).Pluck("display_name", &names).Error; err != nil {
			return err
		}
		if len(names) > 0 {
			a.Who = names[0]
		}
	}
	return tx.Session(&gorm.Session{NewDB: true}).Create(&a).Error
}

// noteOf adds what someone did with a document.
func (s *Trail) noteOf(tx *gorm.DB, d Document, by, act, told string) error {
	return s.note(tx, Act{Act: act, AccountID: orNil(by), DocumentID: &d.ID, About: d.Title, Told: told})
}

// Note adds what someone did with a document to the trail.
func (s *Trail) Note(ctx context.Context, d Document, by, act, told string) error {
	return s.noteOf(s.on(ctx), d, by, act, told)
}

func cut(text string, most int) string {
	if r := []rune(text); len(r) > most {
		return string(r[:most])
	}
	return text
}

// Asked says which lines of the trail are asked for.
type Asked struct {
	Document string // "" for all
	Act      string
	Account  string
	Since    *time.Time // and at that time
	Until    *time.Time // and not at that time
	Before   int64      // id; 0 begins with the last
	Most     int
}

// Trail is what was done, the last first, as far as a viewer may know of it: of documents that are open to them, and,
// for administrators, of all else.
func (s *Trail) Trail(ctx context.Context, q Asked, v access.Viewer) ([]Act, error) {
	db := s.on(ctx).Order("trail.id DESC").Limit(q.Most)
	if q.Document != "" {
		db = db.Where("trail.document_id = ?", q.Document)
	}
	if q.Act != "" {
		db = db.Where("act = ?", q.Act)
	}
	if q.Account != "" {
		db = db.Where("account_id = ?", q.Account)
	}
	if q.Since != nil {
		db = db.Where("at >= ?", *q.Since)
	}
	if q.Until != nil {
		db = db.Where("at < ?", *q.Until)
	}
	if q.Before > 0 {
		db = db.Where("trail.id < ?", q.Before)
	}
	if !access.May(v, access.Administer, access.Thing{}) {
		db = scope(db.Joins("JOIN documents ON documents.id = trail.document_id"), v)
	}
	all := []Act{}
	err := db.Find(&all).Error
	return all, err
}

package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"raconte/core/receiver"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Receiver is where reports and requests go. What is secret in its content is sealed.
type Receiver struct {
	ID        string
	Name      string
	Content   receiver.Receiver `gorm:"serializer:json"`
	Version   int
	ChangedBy string
	ChangedAt time.Time
	Deleted   bool
}

// mostReceivers bounds how many a house has.
const mostReceivers = 100

// Receivers are those of the house, by name.
func (s *Exchange) Receivers(ctx context.Context) ([]Receiver, error) {
	all := []Receiver{}
	err := s.on(ctx).Where("NOT deleted").Order("name, id").Limit(mostReceivers).Find(&all).Error
	return all, err
}

// Receiver is one of them; one that was taken out too.
func (s *Exchange) Receiver(ctx context.Context, id string) (Receiver, error) {
	var r Receiver
	err := s.on(ctx).Where("id = ?", id).Take(&r).Error
	return r, found(err)
}

// EveryReceiver are all that are kept, those that were taken out too.
func (s *Exchange) EveryReceiver(ctx context.Context) ([]Receiver, error) {
	var all []Receiver
	err := s.on(ctx).Order("id").Find(&all).Error
	return all, err
}

// SealReceiver keeps a receiver as it is, with more of it sealed.
func (s *Exchange) SealReceiver(ctx context.Context, r Receiver) error {
	r.Content.ID = ""
	return s.on(ctx).Model(&Receiver{}).Where("id = ? AND version = ?", r.ID, r.Version).Select("content").Updates(r).Error
}

// NewReceiver is the id of a receiver that is to be made.
func NewReceiver() string { return uuid.NewString() }

// SaveReceiver keeps a receiver: a new one of version 0, or a change of the version that someone has seen. ErrConflict
// where it is another by now; ErrLimit where there are as many as may be.
func (s *Exchange) SaveReceiver(ctx context.Context, r Receiver, by string) (Receiver, error) {
	r.Content.ID, r.Content.Name = "", ""
	seen := r.Version
	r.ChangedBy, r.ChangedAt, r.Version = by, s.now(), seen+1
	save := func(tx *gorm.DB) error {
		if seen > 0 {
			res := tx.Model(&Receiver{}).Where("id = ? AND version = ? AND NOT deleted", r.ID, seen).Select("name", "content", "version", "changed_by", "changed_at").Updates(r)
			if res.Error == nil && res.RowsAffected == 0 {
				return ErrConflict
			}
			return res.Error
		}
		var n int64
		if err := tx.Model(&Receiver{}).Where("NOT deleted").Count(&n).Error; err != nil {
			return err
		}
		if n >= mostReceivers {
			return ErrLimit
		}
		return tx.Create(&r).Error
	}
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if err := save(tx); err != nil {
			return err
		}
		return s.trail.note(tx, Act{Act: ActReceiver, AccountID: &by, About: r.Name})
	})
	return r, err
}

// DeleteReceiver takes a receiver out of the choice. What was sent there still tells where.
func (s *Exchange) DeleteReceiver(ctx context.Context, id, by string) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		r, err := s.Receiver(ctx, id)
		if err != nil {
			return err
		}
		if err := one(tx.Model(&Receiver{}).Where("id = ? AND NOT deleted", id).Update("deleted", true)); err != nil {
			return err
		}
		return s.trail.note(tx, Act{Act: ActReceiver, AccountID: &by, About: r.Name, Told: "taken out"})
	})
}

// Sending is what a document is at a receiver.
type Sending struct {
	ID         string
	DocumentID string
	ReceiverID string
	JobID      *string
	Times      int // that it was sent, or begun to be
	Handed     int // of the last time: 1 once the text is there, and 1 for each file
	Number     string
	Link       string
	Standing   string // as the receiver calls it: open, fixed
	Seq        int64
	SentBy     string
	SentAt     *time.Time

	ReceiverName string   `gorm:"->;-:migration"`
	SentName     string   `gorm:"->;-:migration"`
	JobState     JobState `gorm:"->;-:migration"`
	JobError     string   `gorm:"->;-:migration"`
	JobDone      int      `gorm:"->;-:migration"`
	JobTotal     int      `gorm:"->;-:migration"`
}

func (s *Exchange) sendings(ctx context.Context) *gorm.DB {
	return s.on(ctx).Table("sendings").
		Select("sendings.*, r.name AS receiver_name, a.display_name AS sent_name, COALESCE(j.state, '') AS job_state, COALESCE(j.error, '') AS job_error, COALESCE(j.done, 0) AS job_done, COALESCE(j.total, 0) AS job_total").
		Joins("JOIN receivers r ON r.id = sendings.receiver_id").Joins("JOIN accounts a ON a.id = sendings.sent_by").Joins("LEFT JOIN jobs j ON j.id = sendings.job_id")
}

// Sendings are those of a document, by the receiver's name.
func (s *Exchange) Sendings(ctx context.Context, document string) ([]Sending, error) {
	all := []Sending{}
	err := s.sendings(ctx).Where("sendings.document_id = ?", document).Order("r.name, sendings.id").Find(&all).Error
	return all, err
}

// Sending is one of them.
func (s *Exchange) Sending(ctx context.Context, id string) (Sending, error) {
	var n Sending
	err := s.sendings(ctx).Where("sendings.id = ?", id).Take(&n).Error
	return n, found(err)
}

// SendingAt is what a receiver knows by a number: what was sent last, where it has begun to count anew.
func (s *Exchange) SendingAt(ctx context.Context, receiver, number string) (Sending, error) {
	var n Sending
	err := s.sendings(ctx).Where("sendings.receiver_id = ? AND sendings.number = ?", receiver, number).Order("sendings.sent_at DESC").Limit(1).Take(&n).Error
	return n, found(err)
}

// BeginSending queues a document for a receiver, once: while it is on its way, it is not sent again (ErrConflict).
func (s *Exchange) BeginSending(ctx context.Context, document, receiver, by, kind string) (Sending, error) {
	var n Sending
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		d, err := lock(tx, document)
		if err != nil {
			return err
		}
		n = Sending{}
		err = tx.Omit(joined...).Where("document_id = ? AND receiver_id = ?", document, receiver).Take(&n).Error
		switch {
		case errors.Is(err, gorm.ErrRecordNotFound):
			n = Sending{ID: uuid.NewString(), DocumentID: document, ReceiverID: receiver}
		case err != nil:
			return err
		case n.JobID != nil:
			var going int64
			if err := tx.Model(&Job{}).Where("id = ? AND state IN ?", *n.JobID, []JobState{Waiting, Working}).Count(&going).Error; err != nil {
				return err
			}
			if going > 0 {
				return ErrConflict
			}
		}
		j := Job{ID: uuid.NewString(), Kind: kind, State: Waiting, Payload: n.ID, Owner: by, DocumentID: &document, CreatedAt: s.now()}
		if err := tx.Omit("owner_name", "taken_by").Create(&j).Error; err != nil {
			return fmt.Errorf("queueing a sending: %w", err)
		}
		n.JobID, n.Times, n.Handed, n.SentBy = &j.ID, n.Times+1, 0, by
		if err := tx.Omit(joined...).Save(&n).Error; err != nil {
			return fmt.Errorf("keeping a sending: %w", err)
		}
		r, err := s.Receiver(ctx, receiver)
		if err != nil {
			return err
		}
		return s.trail.note(tx, Act{Act: ActSent, AccountID: &by, DocumentID: &document, About: d.Title, Told: r.Name})
	})
	return n, err
}

// joined are the columns of a sending that are other tables'.
var joined = []string{"receiver_name", "sent_name", "job_state", "job_error", "job_done", "job_total"}

// KeepSending keeps how far a sending has come: what is there, how much of it, and of which state of the document.
func (s *Exchange) KeepSending(ctx context.Context, n Sending) error {
	return s.on(ctx).Model(&Sending{}).Where("id = ?", n.ID).Select("handed", "number", "link", "seq", "sent_at").Updates(n).Error
}

// SetStanding keeps how what was sent stands at its receiver.
func (s *Exchange) SetStanding(ctx context.Context, id, standing string) error {
	return s.on(ctx).Model(&Sending{}).Where("id = ?", id).Update("standing", cut(standing, 60)).Error
}

package store

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"raconte/core/access"
	"raconte/core/approval"
	"raconte/core/document"
	"raconte/core/readiness"
	"raconte/core/refusal"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Review is a document sent to people to be looked at, or to be signed.
type Review struct {
	ID         string
	DocumentID string
	Approval   bool
	Digest     string // of what was sent
	Note       string
	Due        *time.Time
	HoldsFrom  *time.Time // of an approval: the day from which the revision is valid
	AskedBy    string
	AskedAt    time.Time
	ClosedAt   *time.Time
	Outcome    string // Ended, Approved or Refused; "" while it is open

	People    []Reviewer `gorm:"-"`
	AskedName string     `gorm:"->;-:migration"`
	Title     string     `gorm:"->;-:migration"`
}

// How a review ends.
const (
	Ended    = "ended"
	Approved = "approved"
	Refused  = "refused"
)

// Reviewer is someone who is asked.
type Reviewer struct {
	ReviewID   string
	AccountID  string
	Place      int
	Answer     string // Fine, WantsChanges, Signed or Refused; "" while they have not answered
	Words      string
	Digest     string // of what they answered on
	AnsweredAt *time.Time
	Name       string `gorm:"->;-:migration"`
}

// TableName is that of the migrations.
func (Reviewer) TableName() string { return "review_people" }

// What people answer.
const (
	Fine         = "fine"
	WantsChanges = "changes"
	Signed       = "signed"
)

const mostReviewers = 200

// DigestOf is the digest of a document as it is (core/document.Digest).
func (s *Reviews) DigestOf(ctx context.Context, id string) (string, error) {
	w, err := s.documents.Whole(ctx, id)
	if err != nil {
		return "", err
	}
	return digestOf(w.Core(), w.Shots)
}

func digestOf(d document.Document, shots []Shot) (string, error) {
	sums := map[string]string{}
	for _, shot := range shots {
		sums[shot.ID] = shot.SHA256
	}
	return d.Digest(func(id string) string { return sums[id] })
}

// SendForReview sends a document to people. Where findings must be fixed first, nothing is sent and they are returned;
// what was sent of the same kind before and is still open has ended. The error is a refusal where someone of them may
// not see the document, or, of an approval, may not sign it, or they are too few. Seq is the state that the person has
// seen; ErrConflict where it is another now.
func (s *Reviews) SendForReview(ctx context.Context, r Review, people []Account, seq int64, by Account) (Review, []readiness.Finding, error) {
	if len(people) == 0 || len(people) > mostReviewers {
		return r, nil, refusal.New("Choose between 1 and %d people.", mostReviewers)
	}
	digest, err := s.DigestOf(ctx, r.DocumentID)
	if err != nil {
		return r, nil, err
	}
	var findings []readiness.Finding
	err = s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		d, err := lock(tx, r.DocumentID)
		if err != nil {
			return err
		}
		if d.Seq != seq {
			return ErrConflict
		}
		if d.State == document.Retired {
			return refusal.New("The document is retired. Make it a draft again first.")
		}
		if _, findings, err = s.releases.readyToRelease(tx, d); err != nil || len(findings) > 0 {
			return err
		}
		if err := s.mayReview(ctx, tx, d, r.Approval, people, by.ID); err != nil {
			return err
		}
		err = tx.Table("reviews").Where("document_id = ? AND approval = ? AND closed_at IS NULL", d.ID, r.Approval).
			Updates(map[string]any{"closed_at": s.now(), "outcome": Ended}).Error
		if err != nil {
			return err
		}
		r.ID, r.Digest, r.AskedBy, r.AskedAt = uuid.NewString(), digest, by.ID, s.now()
		if err := tx.Create(&r).Error; err != nil {
			return err
		}
		r.People = nil
		for i, p := range people {
			r.People = append(r.People, Reviewer{ReviewID: r.ID, AccountID: p.ID, Place: i, Name: p.DisplayName})
		}
		if err := tx.Omit("name").Create(&r.People).Error; err != nil {
			return err
		}
		told := "To be looked at"
		if r.Approval {
			told = "To be approved"
		}
		return s.trail.noteOf(tx, d, by.ID, ActReview, fmt.Sprintf("%s by %d", told, len(people)))
	})
	r.AskedName = by.DisplayName
	return r, findings, err
}

// mayReview refuses people who may not see a document, or not sign it.
func (s *Reviews) mayReview(ctx context.Context, tx *gorm.DB, d Document, toSign bool, people []Account, by string) error {
	rule, err := s.releases.rulesOf(tx, d)
	if err != nil {
		return err
	}
	folder := ""
	if d.FolderID != nil {
		folder = *d.FolderID
	}
	writers, err := s.writers(tx, d, by)
	if err != nil {
		return err
	}
	for i, p := range people {
		if p.Closed, err = s.setup.ClosedTo(ctx, p); err != nil {
			return err
		}
		if p.DisabledAt != nil || !access.May(p.Viewer(), access.Review, access.Thing{Folder: folder}) {
			return refusal.New("%s may not see drafts in this folder.", p.DisplayName)
		}
		if slices.ContainsFunc(people[:i], func(o Account) bool { return o.ID == p.ID }) {
			return refusal.New("%s is named twice.", p.DisplayName)
		}
		if !toSign {
			continue
		}
		if err := rule.May(p.Viewer(), folder, writers); err != nil {
			reason, _ := refusal.Reason(err)
			return refusal.New("%s can't be asked: %s", p.DisplayName, reason)
		}
	}
	if !toSign {
		return nil
	}
	if len(people) < rule.Needed() {
		return refusal.New("%s. Choose %d.", rule.Said(), rule.Needed())
	}
	all := make([]approval.Signature, len(people))
	for i, p := range people {
		all[i].Account = p.ID
	}
	if !rule.Enough(all, "", mayUnder(people, folder)) {
		return refusal.New("%s. Those who were chosen are not all who must.", rule.Said())
	}
	return nil
}

// mayUnder tells of each of some people whether they may sign under a rule.
func mayUnder(people []Account, folder string) func(approval.Rule, string) bool {
	return func(r approval.Rule, account string) bool {
		i := slices.IndexFunc(people, func(p Account) bool { return p.ID == account })
		return i >= 0 && r.May(people[i].Viewer(), folder, nil) == nil
	}
}

// signers is mayUnder for those who were asked to sign a document.
func (s *Reviews) signers(ctx context.Context, asked []Reviewer, d Document) (func(approval.Rule, string) bool, error) {
	people := make([]Account, len(asked))
	for i, p := range asked {
		var err error
		if people[i], err = s.identity.Account(ctx, p.AccountID); err == nil {
			people[i].Closed, err = s.setup.ClosedTo(ctx, people[i])
		}
		if err != nil {
			return nil, err
		}
	}
	folder := ""
	if d.FolderID != nil {
		folder = *d.FolderID
	}
	return mayUnder(people, folder), nil
}

// wrote keeps that someone has written in a document; seq is its state after that.
func wrote(tx *gorm.DB, documentID, account string, seq int64) error {
	return tx.Exec("INSERT INTO document_writers (document_id, account_id, seq) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE seq = GREATEST(seq, VALUES(seq))",
		documentID, account, seq).Error
}

// settled forgets what approval keeps of a document up to a revision that is valid now. Who has written since, and
// where it has lain since, is kept.
func settled(tx *gorm.DB, documentID string, number int) error {
	for _, table := range []string{"document_writers", "document_places"} {
		err := tx.Exec("DELETE FROM "+table+" WHERE document_id = ? AND seq <= (SELECT r.seq FROM revisions r WHERE r.document_id = ? AND r.number = ?)", documentID, documentID, number).Error
		if err != nil {
			return err
		}
	}
	return nil
}

// writers are all who have written in a document, its blocks or its facts, since it was released last, and who asks.
func (s *Reviews) writers(tx *gorm.DB, d Document, by string) ([]string, error) {
	var all []string
	err := tx.Session(&gorm.Session{NewDB: true}).Table("document_writers").Where("document_id = ?", d.ID).Pluck("account_id", &all).Error
	return append(all, by), err
}

// Reviews are those of a document, the last first.
func (s *Reviews) Reviews(ctx context.Context, document string) ([]Review, error) {
	return s.reviews(ctx, s.on(ctx).Where("reviews.document_id = ?", document).Order("reviews.asked_at DESC, reviews.id"))
}

// WaitingFor are open reviews that someone has still to answer, the soonest first.
func (s *Reviews) WaitingFor(ctx context.Context, v access.Viewer) ([]Review, error) {
	q := s.on(ctx).Where("reviews.closed_at IS NULL AND documents.deleted_at IS NULL").
		Where("EXISTS (SELECT 1 FROM review_people p WHERE p.review_id = reviews.id AND p.account_id = ? AND p.answer = '')", v.Account).
		Order("reviews.due IS NULL, reviews.due, reviews.asked_at")
	return s.reviews(ctx, scope(q, v))
}

// AskedFor are the open reviews that someone has asked for.
func (s *Reviews) AskedFor(ctx context.Context, v access.Viewer) ([]Review, error) {
	return s.reviews(ctx, scope(s.on(ctx).Where("reviews.closed_at IS NULL AND documents.deleted_at IS NULL AND reviews.asked_by = ?", v.Account), v).
		Order("reviews.due IS NULL, reviews.due, reviews.asked_at"))
}

// OpenReviews are all that are open, for reminding.
func (s *Reviews) OpenReviews(ctx context.Context) ([]Review, error) {
	return s.reviews(ctx, s.on(ctx).Where("reviews.closed_at IS NULL AND documents.deleted_at IS NULL AND reviews.due IS NOT NULL").Order("reviews.due"))
}

func (s *Reviews) reviews(ctx context.Context, q *gorm.DB) ([]Review, error) {
	all := []Review{}
	err := q.Table("reviews").Select("reviews.*, a.display_name AS asked_name, documents.title").
		Joins("JOIN accounts a ON a.id = reviews.asked_by").Joins("JOIN documents ON documents.id = reviews.document_id").Limit(mostListed).Find(&all).Error
	if err != nil || len(all) == 0 {
		return all, err
	}
	ids := make([]string, len(all))
	for i, r := range all {
		ids[i] = r.ID
	}
	var people []Reviewer
	err = s.on(ctx).Table("review_people").Select("review_people.*, accounts.display_name AS name").
		Joins("JOIN accounts ON accounts.id = review_people.account_id").Where("review_id IN ?", ids).Order("place").Find(&people).Error
	for _, p := range people {
		i := slices.Index(ids, p.ReviewID)
		all[i].People = append(all[i].People, p)
	}
	return all, err
}

// Answer keeps what someone says who was asked to look at a document.
func (s *Reviews) Answer(ctx context.Context, document, review, account, answer, words string) (Review, error) {
	digest, err := s.DigestOf(ctx, document)
	if err != nil {
		return Review{}, err
	}
	err = s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		d, err := lock(tx, document)
		if err != nil {
			return err
		}
		var r Review
		if err := tx.Where("id = ? AND document_id = ? AND NOT approval AND closed_at IS NULL", review, document).Take(&r).Error; err != nil {
			return found(err)
		}
		if err := s.answered(tx, r, account, answer, words, digest); err != nil {
			return err
		}
		var waits int64
		if err := tx.Table("review_people").Where("review_id = ? AND answer = ''", review).Count(&waits).Error; err != nil {
			return err
		}
		if waits == 0 { // all have answered
			if err := tx.Table("reviews").Where("id = ?", review).Updates(map[string]any{"closed_at": s.now(), "outcome": Ended}).Error; err != nil {
				return err
			}
		}
		return s.trail.noteOf(tx, d, account, ActReview, map[string]string{Fine: "No objection", WantsChanges: "Changes asked"}[answer])
	})
	if err != nil {
		return Review{}, err
	}
	return s.review(ctx, document, review)
}

func (s *Reviews) answered(tx *gorm.DB, r Review, account, answer, words, digest string) error {
	return one(tx.Table("review_people").Where("review_id = ? AND account_id = ?", r.ID, account).
		Updates(map[string]any{"answer": answer, "words": words, "digest": digest, "answered_at": s.now()}))
}

func (s *Reviews) review(ctx context.Context, document, review string) (Review, error) {
	all, err := s.Reviews(ctx, document)
	i := slices.IndexFunc(all, func(r Review) bool { return r.ID == review })
	if err != nil || i < 0 {
		return Review{}, errors.Join(err, ErrNotFound)
	}
	return all[i], nil
}

// EndReview ends an open review before all have answered.
func (s *Reviews) EndReview(ctx context.Context, document, review string) error {
	return one(s.on(ctx).Table("reviews").Where("id = ? AND document_id = ? AND closed_at IS NULL", review, document).
		Updates(map[string]any{"closed_at": s.now(), "outcome": Ended}))
}

// Sign keeps that someone signs a document, or refuses to; digest is of what they have seen. Where the signatures are
// enough, the revision is released at once, or kept for its day. The error is a refusal where the document has changed
// since, or it is not theirs to sign.
func (s *Reviews) Sign(ctx context.Context, id, review string, who Account, digest, words string, refuse bool) (Review, error) {
	seen, err := s.documents.Whole(ctx, id)
	if err != nil {
		return Review{}, err
	}
	present, err := digestOf(seen.Core(), seen.Shots)
	if err != nil {
		return Review{}, err
	}
	err = s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		d, err := lock(tx, id)
		if err != nil {
			return err
		}
		var r Review
		if err := tx.Where("id = ? AND document_id = ? AND approval AND closed_at IS NULL", review, id).Take(&r).Error; err != nil {
			return found(err)
		}
		var people []Reviewer
		err = tx.Table("review_people").Select("review_people.*, accounts.display_name AS name").Joins("JOIN accounts ON accounts.id = review_people.account_id").
			Where("review_id = ?", review).Order("place").Find(&people).Error
		if err != nil {
			return err
		}
		// What was written since the digest was taken would be released under a signature of something else.
		if r.Digest != present || digest != present || d.Seq != seen.Seq {
			return refusal.New("The document has changed since approval was asked for. %s has to ask again.", s.nameOf(tx, r.AskedBy))
		}
		rule, err := s.releases.rulesOf(tx, d)
		if err != nil {
			return err
		}
		signed, err := s.maySign(tx, d, rule, r, people, who)
		if err != nil {
			return err
		}
		if refuse {
			if err := s.answered(tx, r, who.ID, Refused, words, digest); err != nil {
				return err
			}
			if err := tx.Table("reviews").Where("id = ?", review).Updates(map[string]any{"closed_at": s.now(), "outcome": Refused}).Error; err != nil {
				return err
			}
			return s.trail.noteOf(tx, d, who.ID, ActReview, "Approval refused")
		}
		if err := s.answered(tx, r, who.ID, Signed, words, digest); err != nil {
			return err
		}
		if err := s.trail.noteOf(tx, d, who.ID, ActApproved, "SHA-256 "+digest); err != nil {
			return err
		}
		signed = append(signed, approval.Signature{Account: who.ID, Name: who.DisplayName, At: s.now(), Digest: digest})
		may, err := s.signers(ctx, people, d)
		if err != nil {
			return err
		}
		if !rule.Enough(signed, digest, may) {
			return nil
		}
		how := revising{by: r.AskedBy, signatures: signed, digest: digest}
		if r.HoldsFrom != nil && r.HoldsFrom.Format(time.DateOnly) > s.Today() {
			how.holdsFrom = r.HoldsFrom
		}
		if findings, err := s.releases.release(tx, d, how); err != nil || len(findings) > 0 {
			return errors.Join(err, refuseFindings(findings))
		}
		return tx.Table("reviews").Where("id = ?", review).Updates(map[string]any{"closed_at": s.now(), "outcome": Approved}).Error
	})
	if err != nil {
		return Review{}, err
	}
	return s.review(ctx, id, review)
}

func refuseFindings(all []readiness.Finding) error {
	if len(all) == 0 {
		return nil
	}
	return refusal.New("Something that the document leads to has changed, so that it can't be released: %s", all[0].Title)
}

// maySign refuses who may not sign now, and returns the signatures that there are.
func (s *Reviews) maySign(tx *gorm.DB, d Document, rule approval.Rules, r Review, people []Reviewer, who Account) ([]approval.Signature, error) {
	var asked, have []string
	var signed []approval.Signature
	for _, p := range people {
		asked = append(asked, p.AccountID)
		if p.Answer == Signed && p.Digest == r.Digest {
			have = append(have, p.AccountID)
			signed = append(signed, approval.Signature{Account: p.AccountID, Name: p.Name, At: *p.AnsweredAt, Digest: p.Digest})
		}
	}
	folder := ""
	if d.FolderID != nil {
		folder = *d.FolderID
	}
	writers, err := s.writers(tx, d, r.AskedBy)
	if err != nil {
		return nil, err
	}
	if err := rule.May(who.Viewer(), folder, writers); err != nil {
		return nil, err
	}
	return signed, rule.Turn(who.ID, asked, have, func(id string) string { return s.nameOf(tx, id) })
}

func (s *Reviews) nameOf(tx *gorm.DB, account string) string {
	var names []string
	if tx.Session(&gorm.Session{NewDB: true}).Table("accounts").Where("id = ?", account).Pluck("display_name", &names).Error != nil || len(names) == 0 {
		return "Someone"
	}
	return names[0]
}

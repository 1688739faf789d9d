package store

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"time"

	"raconte/core/access"
	"raconte/core/approval"
	"raconte/core/document"
	"raconte/core/readiness"
	"raconte/core/refusal"

	"gorm.io/gorm"
)

// SetState does an act of someone's that leads a document to another state; to be ready keeps a revision of it for
// readers. Where findings must be fixed first, nothing changes and they are returned. Seq is the state of the document
// that the person has seen; where it is another now, nothing changes and the error is ErrConflict. A release where the
// folder asks for approval is refused. Instead is what to follow instead of a document that is retired; "" for nothing.
func (s *Releases) SetState(ctx context.Context, id string, act document.Act, seq int64, instead string, who access.Viewer) ([]readiness.Finding, error) {
	var findings []readiness.Finding
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		d, err := lock(tx, id)
		if err != nil {
			return err
		}
		state, err := document.Next(d.State, act, who)
		if err != nil || d.State == state {
			return err
		}
		if d.Seq != seq {
			return ErrConflict
		}
		if state == document.Ready {
			rules, err := s.rulesOf(tx, d)
			if err != nil {
				return err
			}
			if rules.Needed() > 0 {
				return refusal.New("%s in this folder, or in one that it has been in since it was released last. Ask for approval.", rules.Said())
			}
			findings, err = s.release(tx, d, revising{by: who.Account})
			return err
		}
		set := map[string]any{"state": state, "replaced_by": nil}
		if state == document.Retired {
			set["replaced_by"] = orNil(instead)
			if err := s.trail.noteOf(tx, d, who.Account, ActRetired, ""); err != nil {
				return err
			}
		}
		if err := s.touch(tx, d, who.Account, nil, set); err != nil {
			return err
		}
		return s.jobs.queueStandings(tx, id)
	})
	return findings, err
}

// revising is how a revision is made.
type revising struct {
	by         string
	signatures []approval.Signature
	digest     string
	holdsFrom  *time.Time // in the future: it is kept, and valid from then
}

// release makes a revision of a locked document, unless there are findings that must be fixed first.
func (s *Releases) release(tx *gorm.DB, d Document, r revising) ([]readiness.Finding, error) {
	whole, findings, err := s.readyToRelease(tx, d)
	if err != nil || len(findings) > 0 {
		return findings, err
	}
	var coming int64
	if err := tx.Table("revisions").Where("document_id = ? AND number > ?", d.ID, d.Revision).Count(&coming).Error; err != nil {
		return nil, err
	}
	if coming > 0 {
		return nil, refusal.New("A revision is approved already and waits for its day. Withdraw it first.")
	}
	whole.Facts.Review = whole.Facts.NextReview(s.Today())
	if len(r.signatures) > 0 {
		whole.Facts.Approver = cut(namesOf(r.signatures), 100)
	}
	if err := s.keepRevision(tx, whole, d.Revision+1, d.Seq, r); err != nil {
		return nil, err
	}
	if r.holdsFrom != nil {
		return nil, nil
	}
	return nil, s.makeValid(tx, d, whole, d.Revision+1, r.by)
}

func namesOf(signed []approval.Signature) (names string) {
	for i, s := range signed {
		if i > 0 {
			names += ", "
		}
		names += s.Name
	}
	return names
}

// readyToRelease is a document as it would be released, or what must be fixed first.
func (s *Releases) readyToRelease(tx *gorm.DB, d Document) (document.Document, []readiness.Finding, error) {
	var rows []Block
	if err := tx.Where("document_id = ? AND NOT removed", d.ID).Order("order_key, id").Find(&rows).Error; err != nil {
		return document.Document{}, nil, err
	}
	whole := Whole{Document: d, Rows: rows}.Core()
	around, err := s.documents.Around(tx.Statement.Context, tos(whole.Leads()), access.House)
	if err != nil {
		return whole, nil, err
	}
	read, own, err := s.documents.Read(tx.Statement.Context, whole)
	if err != nil {
		return whole, nil, err
	}
	if findings := append(readiness.Repeated(whole, read, own), readiness.Check(whole, nil, around)...); readiness.Blocks(findings) {
		return whole, findings, nil
	}
	return whole, nil, nil
}

// makeValid makes a kept revision the one that readers follow. The document is ready where it still says the same.
func (s *Releases) makeValid(tx *gorm.DB, d Document, whole document.Document, number int, by string) error {
	set := map[string]any{"revision": number}
	changedBy := ""
	if same, err := s.saysTheSame(tx, d, whole); err != nil {
		return err
	} else if same {
		facts, err := beside(whole.Facts)
		if err != nil {
			return err
		}
		maps.Copy(set, facts)
		set["state"], changedBy = document.Ready, by
	}
	if err := keepLinks(tx, whole); err != nil {
		return err
	}
	if err := settled(tx, d.ID, number); err != nil {
		return err
	}
	if err := s.touch(tx, d, changedBy, nil, set); err != nil {
		return err
	}
	if err := s.trail.noteOf(tx, d, by, ActReleased, "Revision "+whole.Facts.SayRevision(number)); err != nil {
		return err
	}
	return s.jobs.queueStandings(tx, d.ID)
}

// saysTheSame tells whether a document says what a revision of it does.
func (s *Releases) saysTheSame(tx *gorm.DB, d Document, revised document.Document) (bool, error) {
	var rows []Block
	if err := tx.Where("document_id = ? AND NOT removed", d.ID).Order("order_key, id").Find(&rows).Error; err != nil {
		return false, err
	}
	now := Whole{Document: d, Rows: rows}.Core()
	now.Facts.Approver = revised.Facts.Approver // is filled in by the signatures
	itself := func(shot string) string { return shot }
	a, err := now.Digest(itself)
	if err != nil {
		return false, err
	}
	b, err := revised.Digest(itself)
	return a == b, err
}

func (s *Releases) keepRevision(tx *gorm.DB, d document.Document, number int, seq int64, how revising) error {
	r := Revision{
		Seq:        seq,
		DocumentID: d.ID, Number: number, Kind: d.Kind, Content: d, Title: d.Facts.Title, Steps: d.Numbers().Steps, MadeBy: how.by, MadeAt: s.now(),
		Digest: orNil(how.digest), Signatures: how.signatures, HoldsFrom: how.holdsFrom,
	}
	st, err := styleNamed(tx.Session(&gorm.Session{NewDB: true}), d.Facts.Style)
	if err != nil {
		return err
	}
	r.Style = &st
	if err := tx.Create(&r).Error; err != nil {
		return err
	}
	type revisionShot struct {
		DocumentID string
		Number     int
		ShotID     string
	}
	var shots []revisionShot
	for _, shot := range d.Shots() {
		shots = append(shots, revisionShot{d.ID, number, shot})
	}
	if len(shots) == 0 {
		return nil
	}
	return tx.Table("revision_shots").CreateInBatches(shots, 500).Error
}

// ReleaseDue makes valid what was approved for today or an earlier day, and tells which documents those are.
func (s *Releases) ReleaseDue(ctx context.Context) ([]Document, error) {
	var due []Revision
	err := s.on(ctx).Table("revisions").Select("revisions.*").Joins("JOIN documents ON documents.id = revisions.document_id").
		Where("revisions.number > documents.revision AND holds_from <= ? AND documents.deleted_at IS NULL AND documents.state <> 'retired'", s.Today()).
		Limit(50).Find(&due).Error
	if err != nil {
		return nil, fmt.Errorf("looking for what is released today: %w", err)
	}
	var released []Document
	var failed []error
	for _, r := range due {
		var d Document
		err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
			var err error
			if d, err = lock(tx, r.DocumentID); err != nil || d.Revision >= r.Number {
				return errors.Join(err, ErrNotFound)
			}
			if err := tx.Table("revisions").Where("document_id = ? AND number = ?", r.DocumentID, r.Number).Update("made_at", s.now()).Error; err != nil {
				return err
			}
			return s.makeValid(tx, d, r.Content, r.Number, r.MadeBy)
		})
		if errors.Is(err, ErrNotFound) { // another server was first, or it was deleted
			continue
		}
		if err != nil { // it keeps no other from its day
			failed = append(failed, fmt.Errorf("releasing %s: %w", r.DocumentID, err))
			continue
		}
		if d, err = s.documents.Head(ctx, r.DocumentID); err == nil {
			released = append(released, d)
		}
	}
	return released, errors.Join(failed...)
}

// Coming is the revision of a document that is approved and waits for its day; ErrNotFound where there is none.
func (s *Releases) Coming(ctx context.Context, id string) (Revision, error) {
	var r Revision
	err := s.on(ctx).Table("revisions").Select("revisions.*").Joins("JOIN documents ON documents.id = revisions.document_id").
		Where("document_id = ? AND revisions.number > documents.revision", id).Take(&r).Error
	return r, found(err)
}

// Withdraw takes back a revision that waits for its day.
func (s *Releases) Withdraw(ctx context.Context, id string, by string) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		d, err := lock(tx, id)
		if err != nil {
			return err
		}
		res := tx.Exec("DELETE FROM revisions WHERE document_id = ? AND number > ?", id, d.Revision)
		if res.Error == nil && res.RowsAffected == 0 {
			return ErrNotFound
		}
		if res.Error != nil {
			return res.Error
		}
		return s.trail.noteOf(tx, d, by, ActReview, "An approved revision was withdrawn before its day")
	})
}

// RulesOf are what is asked for before a revision of a document is released: the rule of where it lies, and of where it
// has lain since it was released last.
func (s *Releases) RulesOf(ctx context.Context, d Document) (approval.Rules, error) {
	return s.rulesOf(s.on(ctx), d)
}

func (s *Releases) rulesOf(tx *gorm.DB, d Document) (approval.Rules, error) {
	rule, err := s.ruleIn(tx, d.FolderID)
	if err != nil {
		return nil, err
	}
	rules := approval.Rules{rule}
	var places []string
	if err := tx.Session(&gorm.Session{NewDB: true}).Table("document_places").Where("document_id = ?", d.ID).Order("seq, folder_id").Pluck("folder_id", &places).Error; err != nil {
		return nil, err
	}
	for _, folder := range places {
		if rule, err = s.ruleIn(tx, orNil(folder)); err != nil {
			return nil, err
		}
		rules = append(rules, rule)
	}
	return rules, nil
}

// ruleIn is the rule of a folder, nil being none.
func (s *Releases) ruleIn(tx *gorm.DB, folder *string) (approval.Rule, error) {
	tx = tx.Session(&gorm.Session{NewDB: true})
	for folder != nil {
		var f Folder
		err := tx.Where("id = ?", *folder).Take(&f).Error
		if errors.Is(err, gorm.ErrRecordNotFound) {
			break // it was deleted since
		}
		if err != nil {
			return approval.Rule{}, fmt.Errorf("reading the folder's rule: %w", err)
		}
		if f.Rule != nil {
			return *f.Rule, nil
		}
		folder = f.ParentID
	}
	var h []House
	err := tx.Where("id = 1").Limit(1).Find(&h).Error
	if err != nil || len(h) == 0 {
		return approval.Rule{}, err
	}
	return h[0].Rule, nil
}

// RevisionHead is what a revision is called, who made it and when.
func (s *Releases) RevisionHead(ctx context.Context, id string, number int) (Revision, error) {
	var r Revision
	err := s.on(ctx).Table("revisions").Select("document_id, number, title, made_by, made_at").Where("document_id = ? AND number = ?", id, number).Take(&r).Error
	return r, found(err)
}

// StillValid keeps that a document was looked at and is still valid, and moves the day of its next review on.
func (s *Releases) StillValid(ctx context.Context, id, review, note, by string) (Document, error) {
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		d, err := lock(tx, id)
		if err != nil {
			return err
		}
		d.Facts.Review = review
		if err := s.documents.setFacts(tx, d, by); err != nil {
			return err
		}
		return s.trail.noteOf(tx, d, by, ActReview, "Still valid, next review "+review+". "+note)
	})
	if err != nil {
		return Document{}, err
	}
	return s.documents.Head(ctx, id)
}

// Signatures are those of a revision.
func (s *Releases) Signatures(ctx context.Context, id string, number int) ([]approval.Signature, error) {
	var r []Revision
	err := s.on(ctx).Select("signatures").Where("document_id = ? AND number = ?", id, number).Limit(1).Find(&r).Error
	if err != nil || len(r) == 0 {
		return nil, err
	}
	return r[0].Signatures, nil
}

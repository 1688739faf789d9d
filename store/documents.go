package store

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/readiness"
	"raconte/core/words"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Document is a document's row.
type Document struct {
	ID           string
	Kind         document.Kind
	Title        string
	TitleVersion int
	State        document.State
	Revision     int
	Seq          int64
	Steps        int
	ChangedBy    string
	ChangedAt    time.Time
	DeletedAt    *time.Time
	ChangedName  string `gorm:"->;-:migration"` // display name of who changed it, where it was joined in
}

// Step is a step's row. Removed steps stay, so that removing can be undone.
type Step struct {
	DocumentID  string `gorm:"primaryKey"`
	ID          string `gorm:"primaryKey"`
	OrderKey    string
	Content     Content `gorm:"serializer:json"`
	Version     int
	Seq         int64
	Removed     bool
	ChangedBy   string
	ChangedAt   time.Time
	ChangedName string `gorm:"->;-:migration"`
}

// Content is what a step says and shows.
type Content struct {
	Words   words.Node      `json:"words"`
	Figures []figure.Figure `json:"figures"`
}

// Whole is a document with its steps in order, those that were removed and can come back, and the
// shots that both use.
type Whole struct {
	Document
	Rows    []Step
	Removed []Step
	Shots   []Shot
}

// Core is the document as the core knows it.
func (w Whole) Core() document.Document {
	d := document.Document{ID: w.ID, Kind: w.Kind, Title: w.Title, Steps: make([]document.Step, 0, len(w.Rows))}
	for _, r := range w.Rows {
		d.Steps = append(d.Steps, document.Step{ID: r.ID, Words: r.Content.Words, Figures: r.Content.Figures})
	}
	return d
}

const withName = "documents.*, accounts.display_name AS changed_name"

func (s *Store) documents(ctx context.Context) *gorm.DB {
	return s.db.WithContext(ctx).Table("documents").Select(withName).
		Joins("JOIN accounts ON accounts.id = documents.changed_by")
}

// mostListed bounds the library's list.
const mostListed = 500

// List is the library: documents whose title has all the words asked for, last changed first;
// with onlyReady, those only that have a ready revision.
func (s *Store) List(ctx context.Context, title string, onlyReady bool) ([]Document, error) {
	q := s.documents(ctx).Where("deleted_at IS NULL")
	for _, word := range strings.Fields(title) {
		q = q.Where("title LIKE ?", "%"+strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(word)+"%")
	}
	if onlyReady {
		q = q.Where("revision > 0")
	}
	var docs []Document
	err := q.Order("changed_at DESC, documents.id").Limit(mostListed).Find(&docs).Error
	return docs, err
}

// Head is a document's row without its steps.
func (s *Store) Head(ctx context.Context, id string) (Document, error) {
	var d Document
	err := s.documents(ctx).Where("documents.id = ? AND deleted_at IS NULL", id).Take(&d).Error
	return d, found(err)
}

// Whole is a document with its steps.
func (s *Store) Whole(ctx context.Context, id string) (Whole, error) {
	var w Whole
	var err error
	if w.Document, err = s.Head(ctx, id); err != nil {
		return w, err
	}
	rows, err := s.steps(ctx, "document_id = ?", id)
	if err != nil {
		return w, err
	}
	for _, r := range rows {
		if r.Removed {
			w.Removed = append(w.Removed, r)
		} else {
			w.Rows = append(w.Rows, r)
		}
	}
	w.Shots, err = s.ShotsOf(ctx, rows)
	return w, err
}

// ChangedSteps are the steps, removed ones included, that changed after a state of the document.
func (s *Store) ChangedSteps(ctx context.Context, id string, since int64) ([]Step, error) {
	return s.steps(ctx, "document_id = ? AND seq > ?", id, since)
}

func (s *Store) steps(ctx context.Context, where string, args ...any) ([]Step, error) {
	var rows []Step
	err := s.db.WithContext(ctx).Table("steps").Select("steps.*, accounts.display_name AS changed_name").
		Joins("JOIN accounts ON accounts.id = steps.changed_by").
		Where(where, args...).Order("order_key, steps.id").Find(&rows).Error
	return rows, err
}

// Create adds an empty procedure.
func (s *Store) Create(ctx context.Context, title, by string) (Document, error) {
	d := Document{
		ID: uuid.NewString(), Kind: document.Procedure, Title: title, TitleVersion: 1, State: document.Draft,
		ChangedBy: by, ChangedAt: s.now(),
	}
	if err := s.db.WithContext(ctx).Create(&d).Error; err != nil {
		return d, fmt.Errorf("creating a document: %w", err)
	}
	return s.Head(ctx, d.ID)
}

// CreateWhole adds a document with its steps, all or nothing; its figures name shots that are kept.
func (s *Store) CreateWhole(ctx context.Context, d document.Document, by string) (Document, error) {
	id := uuid.NewString()
	err := s.within(ctx, func(tx *gorm.DB) error {
		row := Document{
			ID: id, Kind: d.Kind, Title: d.Title, TitleVersion: 1, State: document.Draft, Seq: 1,
			Steps: len(d.Steps), ChangedBy: by, ChangedAt: s.now(),
		}
		if err := tx.Create(&row).Error; err != nil {
			return err
		}
		keys := document.Arrange(nil, 0, len(d.Steps)).Keys
		rows := make([]Step, 0, len(d.Steps))
		for i, step := range d.Steps {
			rows = append(rows, Step{
				DocumentID: id, ID: step.ID, OrderKey: keys[i], Version: 1, Seq: 1,
				Content: Content{step.Words, step.Figures}, ChangedBy: by, ChangedAt: s.now(),
			})
		}
		return saveSteps(tx, rows)
	})
	if err != nil {
		return Document{}, fmt.Errorf("creating a document: %w", err)
	}
	return s.Head(ctx, id)
}

// Duplicate copies a document as a draft.
func (s *Store) Duplicate(ctx context.Context, id, by string) (Document, error) {
	w, err := s.Whole(ctx, id)
	if err != nil {
		return Document{}, err
	}
	d := w.Core()
	d.Title = "Copy of " + d.Title
	if r := []rune(d.Title); len(r) > document.LongestTitle {
		d.Title = string(r[:document.LongestTitle])
	}
	return s.CreateWhole(ctx, d, by)
}

// SetDeleted deletes a document, or brings it back, and returns its row.
func (s *Store) SetDeleted(ctx context.Context, id string, deleted bool) (Document, error) {
	var at *time.Time
	if deleted {
		now := s.now()
		at = &now
	}
	res := s.db.WithContext(ctx).Table("documents").
		Where("id = ? AND (deleted_at IS NULL) = ?", id, deleted).Update("deleted_at", at)
	if res.Error != nil {
		return Document{}, fmt.Errorf("deleting or restoring a document: %w", res.Error)
	}
	if res.RowsAffected == 0 {
		return Document{}, ErrNotFound
	}
	var d Document
	err := s.documents(ctx).Where("documents.id = ?", id).Take(&d).Error
	return d, found(err)
}

// SetState marks a document a draft, or ready, which keeps a revision of it for readers. Where
// findings must be fixed first, nothing changes and they are returned.
func (s *Store) SetState(ctx context.Context, id string, state document.State, by string) ([]readiness.Finding, error) {
	var findings []readiness.Finding
	err := s.within(ctx, func(tx *gorm.DB) error {
		d, err := lock(tx, id)
		if err != nil || d.State == state {
			return err
		}
		changes := map[string]any{"state": state, "seq": d.Seq + 1, "changed_by": by, "changed_at": s.now()}
		if state == document.Ready {
			var rows []Step
			if err := tx.Where("document_id = ? AND NOT removed", id).Order("order_key, id").Find(&rows).Error; err != nil {
				return err
			}
			whole := Whole{Document: d, Rows: rows}.Core()
			if findings = readiness.Check(whole); readiness.Blocks(findings) {
				return nil
			}
			findings = nil
			if err := s.keepRevision(tx, whole, d.Revision+1, by); err != nil {
				return err
			}
			changes["revision"] = d.Revision + 1
		}
		return tx.Table("documents").Where("id = ?", id).Updates(changes).Error
	})
	return findings, err
}

func lock(tx *gorm.DB, id string) (Document, error) {
	var d Document
	err := tx.Clauses(forUpdate).Where("id = ? AND deleted_at IS NULL", id).Take(&d).Error
	return d, found(err)
}

// Revision is an immutable state of a document.
type Revision struct {
	DocumentID string
	Number     int
	Content    document.Document `gorm:"serializer:json"`
	MadeBy     string
	MadeAt     time.Time
}

func (s *Store) keepRevision(tx *gorm.DB, d document.Document, number int, by string) error {
	r := Revision{DocumentID: d.ID, Number: number, Content: d, MadeBy: by, MadeAt: s.now()}
	if err := tx.Create(&r).Error; err != nil {
		return err
	}
	for _, shot := range d.Shots() {
		err := tx.Exec("INSERT INTO revision_shots (document_id, number, shot_id) VALUES (?, ?, ?)", d.ID, number, shot).Error
		if err != nil {
			return err
		}
	}
	return nil
}

// LastRevision is the ready revision that readers see, as a whole document: its state is ready, and
// who changed it and when are those of the revision.
func (s *Store) LastRevision(ctx context.Context, id string) (Whole, error) {
	d, err := s.Head(ctx, id)
	if err != nil {
		return Whole{}, err
	}
	var r Revision
	if err := s.db.WithContext(ctx).Where("document_id = ? AND number = ?", id, d.Revision).Take(&r).Error; err != nil {
		return Whole{}, found(err)
	}
	maker, err := s.Account(ctx, r.MadeBy)
	if err != nil {
		return Whole{}, err
	}
	d.Title, d.State, d.Steps = r.Content.Title, document.Ready, len(r.Content.Steps)
	d.ChangedBy, d.ChangedName, d.ChangedAt = r.MadeBy, maker.DisplayName, r.MadeAt
	w := Whole{Document: d}
	for _, step := range r.Content.Steps {
		w.Rows = append(w.Rows, Step{DocumentID: id, ID: step.ID, Content: Content{step.Words, step.Figures}})
	}
	w.Shots, err = s.ShotsOf(ctx, w.Rows)
	return w, err
}

// MarshalJSON writes empty lists as lists.
func (c Content) MarshalJSON() ([]byte, error) {
	type plain Content
	if c.Figures == nil {
		c.Figures = []figure.Figure{}
	}
	if c.Words.Type == "" {
		c.Words = words.Plain("")
	}
	return json.Marshal(plain(c))
}

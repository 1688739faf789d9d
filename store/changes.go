package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"raconte/core/document"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Change is a set of edits that are applied together.
type Change struct {
	ID    string // chosen by the client; the same change sent again does nothing more
	Title *TitleEdit
	Steps []StepEdit
}

// TitleEdit is a new title; Base is the version of the title that was edited.
type TitleEdit struct {
	Base int
	Text string
}

// StepEdit is a step's new state; Base is the version that was edited, 0 for a new step.
type StepEdit struct {
	ID       string
	Base     int
	OrderKey string
	Removed  bool
	Content  Content
}

// ErrConflict says that someone else changed the same since; nothing was applied.
var ErrConflict = errors.New("someone else changed this since")

// Conflict names the steps that someone else changed, and whether the title is among it. It is an ErrConflict.
type Conflict struct {
	Steps []string
	Title bool
}

func (c Conflict) Error() string   { return ErrConflict.Error() }
func (Conflict) Is(err error) bool { return err == ErrConflict }

// Invalid is an error in what was sent; its text is meant for people.
type Invalid struct{ Reason string }

func (i Invalid) Error() string { return i.Reason }

// Apply applies a change, all or nothing, and returns the document's new state number. Editing a
// ready document makes it a draft again; its ready revision stays for readers.
func (s *Store) Apply(ctx context.Context, documentID string, c Change, by string) (int64, error) {
	var seq int64
	err := s.within(ctx, func(tx *gorm.DB) error {
		d, err := lock(tx, documentID)
		if err != nil {
			return err
		}
		var before int64
		if err := tx.Raw("SELECT seq FROM changes WHERE document_id = ? AND id = ?", documentID, c.ID).Scan(&before).Error; err != nil {
			return err
		}
		if before > 0 {
			seq = before
			return nil
		}
		seq = d.Seq + 1
		rows, err := s.merge(tx, d, c, seq, by)
		if err != nil {
			return err
		}
		if err := saveSteps(tx, rows); err != nil {
			return err
		}
		var steps int64
		if err := tx.Table("steps").Where("document_id = ? AND NOT removed", documentID).Count(&steps).Error; err != nil {
			return err
		}
		if steps > document.MostSteps {
			return Invalid{fmt.Sprintf("A document can have at most %d steps.", document.MostSteps)}
		}
		update := map[string]any{
			"seq": seq, "steps": steps, "state": document.Draft, "changed_by": by, "changed_at": s.now(),
		}
		if c.Title != nil {
			update["title"], update["title_version"] = c.Title.Text, d.TitleVersion+1
		}
		if err := tx.Table("documents").Where("id = ?", documentID).Updates(update).Error; err != nil {
			return err
		}
		return tx.Exec("INSERT INTO changes (document_id, id, seq, made_at) VALUES (?, ?, ?, ?)", documentID, c.ID, seq, s.now()).Error
	})
	return seq, err
}

// merge makes the new rows, or a Conflict where a row is not as the client knew it.
func (s *Store) merge(tx *gorm.DB, d Document, c Change, seq int64, by string) ([]Step, error) {
	ids := make([]string, 0, len(c.Steps))
	for _, e := range c.Steps {
		ids = append(ids, e.ID)
	}
	versions := map[string]int{}
	if len(ids) > 0 {
		var present []Step
		if err := tx.Select("id", "version").Where("document_id = ? AND id IN ?", d.ID, ids).Find(&present).Error; err != nil {
			return nil, err
		}
		for _, p := range present {
			versions[p.ID] = p.Version
		}
	}
	conflict := Conflict{Title: c.Title != nil && c.Title.Base != d.TitleVersion}
	rows := make([]Step, 0, len(c.Steps))
	for _, e := range c.Steps {
		if versions[e.ID] != e.Base {
			conflict.Steps = append(conflict.Steps, e.ID)
		}
		rows = append(rows, Step{
			DocumentID: d.ID, ID: e.ID, OrderKey: e.OrderKey, Content: e.Content, Version: e.Base + 1, Seq: seq,
			Removed: e.Removed, ChangedBy: by, ChangedAt: s.now(),
		})
	}
	if conflict.Title || len(conflict.Steps) > 0 {
		return nil, conflict
	}
	return rows, nil
}

// saveSteps writes rows and which shots they hold.
func saveSteps(tx *gorm.DB, rows []Step) error {
	if len(rows) == 0 {
		return nil
	}
	if err := tx.Clauses(clause.OnConflict{UpdateAll: true}).CreateInBatches(rows, 200).Error; err != nil {
		return err
	}
	type stepShot struct{ DocumentID, StepID, ShotID string }
	ids := make([]string, 0, len(rows))
	var uses []stepShot
	for _, r := range rows {
		ids = append(ids, r.ID)
		step := document.Document{Steps: []document.Step{{Figures: r.Content.Figures}}}
		for _, shot := range step.Shots() {
			uses = append(uses, stepShot{r.DocumentID, r.ID, shot})
		}
	}
	if err := tx.Exec("DELETE FROM step_shots WHERE document_id = ? AND step_id IN ?", rows[0].DocumentID, ids).Error; err != nil {
		return err
	}
	if len(uses) == 0 {
		return nil
	}
	err := tx.Table("step_shots").CreateInBatches(uses, 500).Error
	if errors.Is(err, gorm.ErrForeignKeyViolated) {
		return Invalid{"A step shows a picture that has not arrived. Bring the picture in first."}
	}
	return err
}

// PurgeBefore forgets what has been deleted for good: documents deleted before a time, with their
// steps and revisions, and the records of changes applied before it.
func (s *Store) PurgeBefore(ctx context.Context, t time.Time) error {
	db := s.db.WithContext(ctx)
	if err := db.Exec("DELETE FROM documents WHERE deleted_at < ?", t).Error; err != nil {
		return fmt.Errorf("purging deleted documents: %w", err)
	}
	if err := db.Exec("DELETE FROM steps WHERE removed AND changed_at < ?", t).Error; err != nil {
		return fmt.Errorf("purging removed steps: %w", err)
	}
	if err := db.Exec("DELETE FROM changes WHERE made_at < ?", t).Error; err != nil {
		return fmt.Errorf("purging records of changes: %w", err)
	}
	return nil
}

// StepsByID are steps of a document, removed ones included.
func (s *Store) StepsByID(ctx context.Context, documentID string, ids []string) ([]Step, error) {
	if len(ids) == 0 {
		return []Step{}, nil
	}
	return s.steps(ctx, "document_id = ? AND steps.id IN ?", documentID, ids)
}

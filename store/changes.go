package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"raconte/core/document"
	"raconte/core/refusal"

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

// Apply applies a change, all or nothing, and returns the document's new state number. Editing a
// ready document makes it a draft again; its ready revision stays for readers. Where the document would be beyond its
// limits, or shows a shot that the account may not see, the error is a refusal.
func (s *Store) Apply(ctx context.Context, documentID string, c Change, by string) (int64, error) {
	var seq int64
	err := s.within(ctx, func(tx *gorm.DB) error {
		d, err := lock(tx, documentID)
		if err != nil {
			return err
		}
		var applied int64
		if err := tx.Raw("SELECT seq FROM changes WHERE document_id = ? AND id = ?", documentID, c.ID).Scan(&applied).Error; err != nil {
			return err
		}
		if applied > 0 {
			seq = applied
			return nil
		}
		seq = d.Seq + 1
		rows, err := s.merge(tx, d, c, seq, by)
		if err != nil {
			return err
		}
		if err := mayShow(tx, rows, by); err != nil {
			return err
		}
		before, err := measure(tx, documentID)
		if err != nil {
			return err
		}
		if err := saveSteps(tx, rows); err != nil {
			return err
		}
		after, err := measure(tx, documentID)
		if err != nil {
			return err
		}
		if over := after.overflow(); over != "" && after.beyond(before) {
			return refusal.Error{Reason: over}
		}
		update := map[string]any{
			"seq": seq, "steps": after.Steps, "state": document.Draft, "changed_by": by, "changed_at": s.now(),
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

// mayShow refuses rows that show a shot which the account may not see: placing it would let it be read.
func mayShow(tx *gorm.DB, rows []Step, account string) error {
	var shots []string
	for _, r := range rows {
		shots = append(shots, r.Content.shots()...)
	}
	for part := range slices.Chunk(unique(shots), 1000) {
		var may int64
		if err := tx.Table("shots").Where("id IN ? AND (created_by = ? OR "+isUsed+")", part, account).Count(&may).Error; err != nil {
			return err
		}
		if int(may) < len(part) {
			return refusal.New("A step shows a picture that has not arrived. Bring the picture in first.")
		}
	}
	return nil
}

func unique(ids []string) []string {
	slices.Sort(ids)
	return slices.Compact(ids)
}

// extent is how large a document is.
type extent struct {
	Steps    int
	Shots    int
	Content  int64 // bytes
	Pictures int64 // bytes
}

func measure(tx *gorm.DB, documentID string) (extent, error) {
	var e extent
	err := tx.Raw(`SELECT COUNT(*) AS steps, COALESCE(SUM(bytes), 0) AS content FROM steps WHERE document_id = ? AND NOT removed`, documentID).Scan(&e).Error
	if err != nil {
		return e, err
	}
	err = tx.Raw(`SELECT COUNT(*) AS shots, COALESCE(SUM(bytes), 0) AS pictures FROM (
		SELECT DISTINCT s.id, s.bytes FROM step_shots u JOIN steps p ON p.document_id = u.document_id AND p.id = u.step_id
		JOIN shots s ON s.id = u.shot_id WHERE u.document_id = ? AND NOT p.removed) used`, documentID).Row().Scan(&e.Shots, &e.Pictures)
	return e, err
}

func (e extent) overflow() string { return document.Overflow(e.Steps, e.Shots, e.Content, e.Pictures) }

// beyond tells whether e is larger than it was: what is beyond a limit already may be made smaller.
func (e extent) beyond(o extent) bool {
	return e.Steps > o.Steps || e.Shots > o.Shots || e.Content > o.Content || e.Pictures > o.Pictures
}

// saveSteps writes rows, which shots they hold, and, of those that are not removed, which figures.
func saveSteps(tx *gorm.DB, rows []Step) error {
	if len(rows) == 0 {
		return nil
	}
	type stepShot struct{ DocumentID, StepID, ShotID string }
	type stepFigure struct{ DocumentID, FigureID, StepID string }
	ids := make([]string, 0, len(rows))
	var uses []stepShot
	var figures []stepFigure
	for i, r := range rows {
		raw, err := json.Marshal(r.Content)
		if err != nil {
			return fmt.Errorf("writing the step %s: %w", r.ID, err)
		}
		if rows[i].Bytes = len(raw); len(raw) > document.MostStep {
			return refusal.New("The words and marks of one step take at most %d MB. Make two steps of it.", document.MostStep>>20)
		}
		ids = append(ids, r.ID)
		for _, shot := range r.Content.shots() {
			uses = append(uses, stepShot{r.DocumentID, r.ID, shot})
		}
		for _, f := range r.Content.Figures {
			if !r.Removed {
				figures = append(figures, stepFigure{r.DocumentID, f.ID, r.ID})
			}
		}
	}
	if err := tx.Clauses(clause.OnConflict{UpdateAll: true}).CreateInBatches(rows, 200).Error; err != nil {
		return err
	}
	for _, table := range []string{"step_shots", "step_figures"} {
		for part := range slices.Chunk(ids, 500) {
			if err := tx.Exec("DELETE FROM "+table+" WHERE document_id = ? AND step_id IN ?", rows[0].DocumentID, part).Error; err != nil {
				return err
			}
		}
	}
	if len(figures) > 0 {
		err := tx.Table("step_figures").CreateInBatches(figures, 500).Error
		if errors.Is(err, gorm.ErrDuplicatedKey) {
			return refusal.New("A picture stands in two steps under one id. Copy it anew.")
		}
		if err != nil {
			return err
		}
	}
	if len(uses) == 0 {
		return nil
	}
	err := tx.Table("step_shots").CreateInBatches(uses, 500).Error
	if errors.Is(err, gorm.ErrForeignKeyViolated) {
		return refusal.New("A step shows a picture that has not arrived. Bring the picture in first.")
	}
	return err
}

// PurgeBefore forgets what has been deleted for good: documents deleted before a time, with their
// steps and revisions, and the records of changes applied before it.
func (s *Store) PurgeBefore(ctx context.Context, t time.Time) error {
	for _, what := range []struct{ table, where string }{
		{"documents", "deleted_at < ?"}, {"steps", "removed AND changed_at < ?"}, {"changes", "made_at < ?"}, {"places", "seen_at < ?"},
	} {
		before := t
		if what.table == "places" {
			before = t.Add(-keepPlaces)
		}
		if err := s.deleteInParts(ctx, what.table, what.where, before); err != nil {
			return fmt.Errorf("purging %s: %w", what.table, err)
		}
	}
	return nil
}

// atATime is how many rows are deleted at a time, so that nobody waits long for a lock.
const atATime = 200

func (s *Store) deleteInParts(ctx context.Context, table, where string, args ...any) error {
	for {
		res := s.db.WithContext(ctx).Exec("DELETE FROM "+table+" WHERE "+where+fmt.Sprintf(" LIMIT %d", atATime), args...)
		if transient(res.Error) {
			continue
		}
		if res.Error != nil || res.RowsAffected < atATime {
			return res.Error
		}
	}
}

// StepsByID are steps of a document, removed ones included.
func (s *Store) StepsByID(ctx context.Context, documentID string, ids []string) ([]Step, error) {
	if len(ids) == 0 {
		return []Step{}, nil
	}
	return s.steps(ctx, "document_id = ? AND steps.id IN ?", documentID, ids)
}

package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/refusal"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Change is a set of edits that are applied together.
type Change struct {
	ID     string // chosen by the client; the same change sent again does nothing more
	Facts  *FactsEdit
	Blocks []BlockEdit
}

// FactsEdit is what the document's facts become; Base is the version of them that was edited.
type FactsEdit struct {
	Base  int
	Facts document.Facts
}

// BlockEdit is a block's new state; Base is the version that was edited, 0 for a new block.
type BlockEdit struct {
	ID       string
	Base     int
	OrderKey string
	Removed  bool
	Content  document.Content
}

// ErrConflict says that someone else changed the same since; nothing was applied.
var ErrConflict = errors.New("someone else changed this since")

// Conflict names the blocks that someone else changed, and whether the facts are among it. It is an ErrConflict.
type Conflict struct {
	Blocks []string
	Facts  bool
}

func (c Conflict) Error() string   { return ErrConflict.Error() }
func (Conflict) Is(err error) bool { return err == ErrConflict }

// Apply applies a change, all or nothing, and returns the document's new state number. Editing a
// ready document makes it a draft again; its ready revision stays for readers. Where the document would be beyond its
// limits, or shows a shot that the account may not see, the error is a refusal.
func (s *Documents) Apply(ctx context.Context, documentID string, c Change, who access.Viewer) (int64, error) {
	var seq int64
	by, number := who.Account, ""
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if c.leads() {
			if _, err := lockHouse(tx); err != nil {
				return err
			}
		}
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
		state, err := document.Next(d.State, document.Edit, who)
		if err != nil {
			return err
		}
		rows, err := s.merge(tx, d, c, seq, by)
		if err != nil {
			return err
		}
		if err := mayShow(tx, rows, who); err != nil {
			return err
		}
		if err := mayPlay(tx, documentID, rows, who); err != nil {
			return err
		}
		before, err := measure(tx, documentID)
		if err != nil {
			return err
		}
		if err := saveBlocks(tx, rows); err != nil {
			return err
		}
		if err := saveLinks(tx, documentID, rows); err != nil {
			return err
		}
		after, err := measure(tx, documentID)
		if err != nil {
			return err
		}
		if over := after.overflow(); over != "" && after.beyond(before) {
			return refusal.Error{Reason: over}
		}
		var facts *document.Facts
		if c.Facts != nil {
			if err := mayNumber(d.Facts, c.Facts.Facts); err != nil {
				return err
			}
			c.Facts.Facts.File = d.Facts.File // the PDF that was filed is no one's to change
			facts, number = &c.Facts.Facts, c.Facts.Facts.Number
		}
		if err := s.touch(tx, d, by, facts, map[string]any{"steps": after.Steps, "state": state}); err != nil {
			return err
		}
		if err := wrote(tx, documentID, by, seq); err != nil {
			return err
		}
		return tx.Exec("INSERT INTO changes (document_id, id, seq, made_at) VALUES (?, ?, ?, ?)", documentID, c.ID, seq, s.now()).Error
	})
	return seq, numbered(err, number)
}

// merge makes the new rows, or a Conflict where a row is not as the client knew it.
func (s *Documents) merge(tx *gorm.DB, d Document, c Change, seq int64, by string) ([]Block, error) {
	ids := make([]string, 0, len(c.Blocks))
	for _, e := range c.Blocks {
		ids = append(ids, e.ID)
	}
	versions := map[string]int{}
	if len(ids) > 0 {
		var present []Block
		if err := tx.Select("id", "version").Where("document_id = ? AND id IN ?", d.ID, ids).Find(&present).Error; err != nil {
			return nil, err
		}
		for _, p := range present {
			versions[p.ID] = p.Version
		}
	}
	conflict := Conflict{Facts: c.Facts != nil && c.Facts.Base != d.FactsVersion}
	rows := make([]Block, 0, len(c.Blocks))
	for _, e := range c.Blocks {
		if !d.Kind.Has(e.Content.Type) {
			return nil, refusal.New("A %s can't have a %s in it.", d.Kind, e.Content.Type)
		}
		if versions[e.ID] != e.Base {
			conflict.Blocks = append(conflict.Blocks, e.ID)
		}
		rows = append(rows, Block{
			DocumentID: d.ID, ID: e.ID, Type: e.Content.Type, OrderKey: e.OrderKey, Content: e.Content, Version: e.Base + 1, Seq: seq,
			Removed: e.Removed, ChangedBy: by, ChangedAt: s.now(),
		})
	}
	if conflict.Facts || len(conflict.Blocks) > 0 {
		return nil, conflict
	}
	return rows, nil
}

// mayShow refuses rows that show a shot which the account may not see: placing it would let it be read.
func mayShow(tx *gorm.DB, rows []Block, who access.Viewer) error {
	var shots []string
	for _, r := range rows {
		shots = append(shots, r.Content.Shots()...)
	}
	for part := range slices.Chunk(unique(shots), 1000) {
		var may int64
		if err := tx.Table("shots").Where("id IN ?", part).Where(seenBy(who)).Count(&may).Error; err != nil {
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
	Blocks   int
	Steps    int // of the blocks
	Shots    int
	Content  int64 // bytes
	Pictures int64 // bytes
}

func measure(tx *gorm.DB, documentID string) (extent, error) {
	var e extent
	err := tx.Raw(`SELECT COUNT(*) AS blocks, COALESCE(SUM(type = 'step'), 0) AS steps, COALESCE(SUM(bytes), 0) AS content FROM blocks WHERE document_id = ? AND NOT removed`, documentID).Scan(&e).Error
	if err != nil {
		return e, err
	}
	err = tx.Raw(`SELECT COUNT(*) AS shots, COALESCE(SUM(bytes), 0) AS pictures FROM (
		SELECT DISTINCT s.id, s.bytes FROM block_shots u JOIN blocks p ON p.document_id = u.document_id AND p.id = u.block_id
		JOIN shots s ON s.id = u.shot_id WHERE u.document_id = ? AND NOT p.removed) used`, documentID).Row().Scan(&e.Shots, &e.Pictures)
	return e, err
}

func (e extent) overflow() string { return document.Overflow(e.Blocks, e.Shots, e.Content, e.Pictures) }

// beyond tells whether e is larger than it was: what is beyond a limit already may be made smaller.
func (e extent) beyond(o extent) bool {
	return e.Blocks > o.Blocks || e.Shots > o.Shots || e.Content > o.Content || e.Pictures > o.Pictures
}

// saveBlocks writes rows, which shots they hold, and, of those that are not removed, which figures.
func saveBlocks(tx *gorm.DB, rows []Block) error {
	if len(rows) == 0 {
		return nil
	}
	type blockShot struct{ DocumentID, BlockID, ShotID string }
	type blockFigure struct{ DocumentID, FigureID, BlockID string }
	ids := make([]string, 0, len(rows))
	var uses []blockShot
	var voices []documentFile
	var figures []blockFigure
	for i, r := range rows {
		raw, err := json.Marshal(document.Store(r.Content))
		if err != nil {
			return fmt.Errorf("writing the block %s: %w", r.ID, err)
		}
		if rows[i].Bytes = len(raw); len(raw) > document.MostBlock {
			return refusal.New("The words and marks of one step take at most %d MB. Make two steps of it.", document.MostBlock>>20)
		}
		ids = append(ids, r.ID)
		for _, shot := range r.Content.Shots() {
			uses = append(uses, blockShot{r.DocumentID, r.ID, shot})
		}
		for _, sha := range (document.Document{Blocks: []document.Block{{Content: r.Content}}}).Voices() {
			voices = append(voices, documentFile{r.DocumentID, sha})
		}
		for _, f := range r.Content.Figures {
			if !r.Removed {
				figures = append(figures, blockFigure{r.DocumentID, f.ID, r.ID})
			}
		}
	}
	if err := tx.Clauses(clause.OnConflict{UpdateAll: true}).CreateInBatches(rows, 200).Error; err != nil {
		return err
	}
	for _, table := range []string{"block_shots", "block_figures"} {
		for part := range slices.Chunk(ids, 500) {
			if err := tx.Exec("DELETE FROM "+table+" WHERE document_id = ? AND block_id IN ?", rows[0].DocumentID, part).Error; err != nil {
				return err
			}
		}
	}
	if len(figures) > 0 {
		err := tx.Table("block_figures").CreateInBatches(figures, 500).Error
		if errors.Is(err, gorm.ErrDuplicatedKey) {
			return refusal.New("A picture stands in two steps under one id. Copy it anew.")
		}
		if err != nil {
			return err
		}
	}
	if len(voices) > 0 { // kept as long as the document is: earlier revisions may use them
		for _, table := range []string{"document_files", "voices"} {
			if err := tx.Table(table).Clauses(clause.OnConflict{DoNothing: true}).Create(&voices).Error; err != nil {
				return err
			}
		}
	}
	if len(uses) == 0 {
		return nil
	}
	err := tx.Table("block_shots").CreateInBatches(uses, 500).Error
	if errors.Is(err, gorm.ErrForeignKeyViolated) {
		return refusal.New("A step shows a picture that has not arrived. Bring the picture in first.")
	}
	return err
}

// PurgeBefore forgets what has been deleted for good: documents deleted before a time, with their
// blocks and revisions, and the records of changes applied before it.
func (s *Documents) PurgeBefore(ctx context.Context, t time.Time) error {
	for _, what := range []struct{ table, where string }{
		{"documents", "deleted_at < ?"}, {"blocks", "removed AND changed_at < ?"}, {"changes", "made_at < ?"}, {"places", "seen_at < ?"},
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

// BlocksByID are blocks of a document, removed ones included.
func (s *Documents) BlocksByID(ctx context.Context, documentID string, ids []string) ([]Block, error) {
	if len(ids) == 0 {
		return []Block{}, nil
	}
	return s.blocks(ctx, "document_id = ? AND blocks.id IN ?", documentID, ids)
}

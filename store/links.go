package store

import (
	"context"
	"slices"

	"raconte/core/access"
	"raconte/core/approval"
	"raconte/core/document"
	"raconte/core/refusal"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// DocumentLink is a place where a document leads to another.
type documentLink struct {
	DocumentID string
	Valid      bool // of the valid revision; else of the draft
	BlockID    string
	ToID       string
	How        document.How
}

// House is what holds for the whole house.
type House struct {
	ID       int
	Pattern  document.Pattern
	Numbered int
	Style    string        // of documents that name none
	Frames   *string       // addresses of pages that may show links in a frame, one on each line
	Rule     approval.Rule `gorm:"serializer:json"` // of what lies in no folder, or in one that says nothing
	Version  int           // counts the changes of its pattern, frames and rule, from 1
}

// TableName is that of the migrations.
func (House) TableName() string { return "house" }

// lockHouse makes others wait who change where documents lead, or number them. It comes first in a transaction, so that
// what is read then is what others have written.
func lockHouse(tx *gorm.DB) (House, error) {
	h := House{ID: 1, Pattern: document.UsualPattern}
	if err := tx.Clauses(clause.OnConflict{DoNothing: true}).Create(&h).Error; err != nil {
		return h, err
	}
	err := tx.Clauses(forUpdate).Where("id = 1").Take(&h).Error
	return h, err
}

// leads tells whether blocks of a change lead to other documents.
func (c Change) leads() bool {
	for _, e := range c.Blocks {
		if !e.Removed && len((document.Block{ID: e.ID, Content: e.Content}).Leads()) > 0 {
			return true
		}
	}
	return false
}

// saveLinks writes where blocks of a draft lead, and refuses what would lead back to the document itself.
func saveLinks(tx *gorm.DB, documentID string, rows []Block) error {
	ids := make([]string, 0, len(rows))
	var links []documentLink
	for _, r := range rows {
		ids = append(ids, r.ID)
		if r.Removed {
			continue
		}
		for _, l := range (document.Block{ID: r.ID, Content: r.Content}).Leads() {
			links = append(links, documentLink{documentID, false, l.Block, l.To, l.How})
		}
	}
	if err := deleteLinks(tx, documentID, ids); err != nil || len(links) == 0 {
		return err
	}
	if err := tx.CreateInBatches(links, 500).Error; err != nil {
		return err
	}
	return noLoop(tx, documentID)
}

func deleteLinks(tx *gorm.DB, documentID string, blocks []string) error {
	for len(blocks) > 0 {
		n := min(len(blocks), 500)
		if err := tx.Exec("DELETE FROM document_links WHERE document_id = ? AND NOT valid AND block_id IN ?", documentID, blocks[:n]).Error; err != nil {
			return err
		}
		blocks = blocks[n:]
	}
	return nil
}

// noLoop refuses where a document hands over, through any chain of drafts and valid revisions, to itself.
func noLoop(tx *gorm.DB, documentID string) error {
	var loops []string
	err := tx.Raw(`WITH RECURSIVE reached (id) AS (
			SELECT to_id FROM document_links WHERE document_id = ? AND how <> 'refers'
			UNION SELECT l.to_id FROM document_links l JOIN reached r ON l.document_id = r.id WHERE l.how <> 'refers')
		SELECT COALESCE(d.title, '') FROM reached r LEFT JOIN documents d ON d.id = r.id WHERE r.id = ?`, documentID, documentID).Scan(&loops).Error
	if err == nil && len(loops) > 0 {
		return refusal.New("This would lead back to “%s” itself: what a procedure hands over to can't, through any chain, hand over to it. Nothing was saved of this change.", loops[0])
	}
	return err
}

// keepLinks makes the draft's links those of the valid revision too.
func keepLinks(tx *gorm.DB, d document.Document) error {
	if err := tx.Exec("DELETE FROM document_links WHERE document_id = ? AND valid", d.ID).Error; err != nil {
		return err
	}
	var links []documentLink
	for _, l := range d.Leads() {
		links = append(links, documentLink{d.ID, true, l.Block, l.To, l.How})
	}
	if len(links) == 0 {
		return nil
	}
	return tx.CreateInBatches(links, 500).Error
}

// Linking is a document that leads to another.
type Linking struct {
	ID    string
	Title string
	How   document.How
	Block string
	Draft bool // only the draft leads there
}

// LinkedFrom are the documents that lead to one, as far as a viewer may open them.
func (s *Documents) LinkedFrom(ctx context.Context, id string, v access.Viewer) ([]Linking, error) {
	q := s.on(ctx).Table("document_links l").Joins("JOIN documents ON documents.id = l.document_id").
		Select("documents.id, "+titleFor(v)+", l.how, MIN(l.block_id) AS block, MAX(l.valid) = 0 AS draft").
		Where("l.to_id = ? AND documents.deleted_at IS NULL", id).Group("documents.id, documents.title, l.how").Order("documents.title, documents.id")
	if !reviews(v) {
		q = q.Where("l.valid")
	}
	all := []Linking{}
	err := scope(q, v).Limit(mostListed).Scan(&all).Error
	return all, err
}

// HoldsIn tells whether a document, its draft or its valid revision, holds chapters that lie in some folders.
func (s *Documents) HoldsIn(ctx context.Context, id string, folders []string) (bool, error) {
	var n int64
	err := s.on(ctx).Table("document_links l").Joins("JOIN documents d ON d.id = l.to_id").
		Where("l.document_id = ? AND l.how <> 'refers' AND d.folder_id IN ?", id, folders).Count(&n).Error
	return n > 0, err
}

// Around are the documents with some ids, as a viewer may see them; those that were deleted are not among them. Of a
// closed one nothing is told but whom to ask. How long they take is told by Timed.
func (s *Documents) Around(ctx context.Context, ids []string, v access.Viewer) (document.Around, error) {
	around := document.Around{}
	if len(ids) == 0 {
		return around, nil
	}
	var rows []struct {
		ID, Title string
		Kind      document.Kind
		Number    *string
		State     document.State
		Revision  int
		FolderID  *string
		Ask       *string
	}
	err := s.on(ctx).Raw(`SELECT d.id, COALESCE(r.title, d.title) AS title, COALESCE(r.kind, d.kind) AS kind, IF(r.number IS NULL, d.number, JSON_VALUE(r.content, '$.facts.number')) AS number, d.state, d.revision, d.folder_id, f.ask
		FROM documents d LEFT JOIN folders f ON f.id = d.folder_id LEFT JOIN revisions r ON r.document_id = d.id AND r.number = d.revision
		WHERE d.id IN ? AND d.deleted_at IS NULL`, unique(slices.Clone(ids))).Scan(&rows).Error
	if err != nil {
		return nil, err
	}
	for _, row := range rows {
		o := document.Other{ID: row.ID, Kind: row.Kind, Title: row.Title, Revision: row.Revision, Retired: row.State == document.Retired}
		if row.Revision == 0 && !reviews(v) {
			o = document.Other{ID: row.ID, Kind: row.Kind, Title: "A document that is not ready yet"}
		} else if row.Number != nil {
			o.Number = *row.Number
		}
		if row.FolderID != nil && !access.May(v, access.Read, access.Thing{Folder: *row.FolderID}) {
			o = document.Other{ID: row.ID, Closed: true, Revision: row.Revision}
			if row.Ask != nil {
				o.Ask = *row.Ask
			}
		}
		around[row.ID] = o
	}
	return around, nil
}

// deepestLinks bounds how far links are followed for the time that they take.
const deepestLinks = 8

// Timed is what is around with how long each takes, with all that it hands over to.
func (s *Documents) Timed(ctx context.Context, around document.Around, v access.Viewer) (document.Around, error) {
	known := document.Around{}
	if err := s.timed(ctx, known, around, v, deepestLinks); err != nil {
		return nil, err
	}
	out := document.Around{}
	for id := range around {
		out[id] = known[id]
	}
	return out, nil
}

func (s *Documents) timed(ctx context.Context, known, around document.Around, v access.Viewer, deep int) error {
	for id, o := range around {
		known[id] = o
	}
	for id, o := range around {
		if o.Closed || o.Revision == 0 || o.Kind != document.Procedure {
			continue
		}
		d, err := s.content(ctx, id, o.Revision)
		if err != nil {
			return err
		}
		var next []string
		for _, l := range d.Leads() {
			if _, told := known[l.To]; !told && l.How == document.Does {
				next = append(next, l.To)
			}
		}
		if len(next) > 0 && deep > 0 {
			more, err := s.Around(ctx, next, v)
			if err == nil {
				err = s.timed(ctx, known, more, v, deep-1)
			}
			if err != nil {
				return err
			}
		}
		o.Seconds = d.Timed(known).Time().Seconds
		known[id] = o
	}
	return nil
}

// content is what a revision holds, as it was made.
func (s *Documents) content(ctx context.Context, id string, number int) (document.Document, error) {
	var r Revision
	err := s.on(ctx).Where("document_id = ? AND number = ?", id, number).Take(&r).Error
	return r.Content, found(err)
}

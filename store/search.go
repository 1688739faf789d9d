package store

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/search"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Findable is what the search knows of a block, or, without one, of a document's title, number and keywords.
type Findable struct {
	DocumentID string
	Valid      bool // of the valid revision; else of the draft
	BlockID    string
	Place      int // of a filed PDF, the page
	Words      string
	Pictured   string // text in its pictures, as far as it shows
	FigureID   string // the first of its pictures
}

// TableName is that of the migrations.
func (Findable) TableName() string { return "findable" }

// Query is what is looked for.
type Query struct {
	Text   string
	Kind   document.Kind // "" for all, as the others
	State  document.State
	Folder string // and what lies in it
	Owner  string
	Due    string // "overdue" or "soon"
	UsedIn string // a document that leads there
	Pinned bool
	Sort   string // "title", "number", "review"; "" is the most likely, or what was changed last
	Starts bool   // starts for others instead of documents
	After  int    // how many to pass over
	Most   int
}

// Hit is something that was found. Of a search without words, only the document.
type Hit struct {
	Document
	BlockID  string
	Place    int
	Words    string
	Pictured string
	FigureID string
	Pinned   bool
	OpenedAt *time.Time
	Score    float64
}

// Search finds blocks and documents that a viewer may open, the most likely first, or, where no words are asked for,
// documents.
func (s *Search) Search(ctx context.Context, q Query, v access.Viewer) ([]Hit, error) {
	if asked := search.Asked(q.Text); len(asked) > 0 {
		return s.findBlocks(ctx, q, asked, v)
	}
	return s.listDocuments(ctx, q, v)
}

const shelved = ", COALESCE(shelf.pinned, 0) AS pinned, shelf.opened_at"

// mayList asks for the documents that a query is about, with the columns of a document.
func (s *Search) mayList(ctx context.Context, q Query, v access.Viewer) (db *gorm.DB, columns string, err error) {
	edits := access.May(v, access.Review, access.Thing{})
	db, columns = s.documents.documents(ctx), withName
	if !edits {
		db, columns = s.documents.released(ctx).Where("state <> 'retired'"), releasedColumns
	}
	db = scope(db, v).Where("deleted_at IS NULL AND template = ?", q.Starts).
		Joins("LEFT JOIN shelf ON shelf.document_id = documents.id AND shelf.account_id = ?", v.Account)
	db, err = s.filtered(ctx, db, q, v)
	return db, columns + shelved, err
}

// findBlocks finds what has all of some words.
func (s *Search) findBlocks(ctx context.Context, q Query, asked []string, v access.Viewer) ([]Hit, error) {
	db, columns, err := s.mayList(ctx, q, v)
	if err != nil {
		return nil, err
	}
	const match = "MATCH(findable.words, findable.pictured) AGAINST (? IN BOOLEAN MODE)"
	against := s.against(ctx, asked)
	db = db.Joins("JOIN findable ON findable.document_id = documents.id AND findable.valid = ?", !access.May(v, access.Review, access.Thing{})).
		Where(match, against)
	if order := orders[q.Sort]; order != "" {
		db = db.Order(order)
	} else { // a title that has the words is the most likely
		db = db.Order(clause.OrderBy{Expression: gorm.Expr("findable.block_id = '' DESC, "+match+" DESC, findable.document_id, findable.place", against)})
	}
	hits := []Hit{}
	err = db.Select(columns + ", findable.block_id, findable.place, findable.words, findable.pictured, findable.figure_id").
		Offset(q.After).Limit(q.Most).Scan(&hits).Error
	return hits, err
}

var orders = map[string]string{
	"title": "title, documents.id", "number": "documents.number IS NULL, documents.number, documents.id", "review": "review IS NULL, review, documents.id",
}

// listDocuments lists documents. They are put in order by what that needs alone, and only those of the page are read
// whole: their facts are long.
func (s *Search) listDocuments(ctx context.Context, q Query, v access.Viewer) ([]Hit, error) {
	edits := access.May(v, access.Review, access.Thing{})
	db, columns, err := s.mayList(ctx, q, v)
	if err != nil {
		return nil, err
	}
	order, told := orders[q.Sort], "documents.title, documents.changed_at"
	if order == "" {
		order = "pinned DESC, changed_at DESC, documents.id"
	}
	if !edits {
		told = "r.title AS title, r.made_at AS changed_at"
	}
	var ids []struct{ ID string }
	err = db.Session(&gorm.Session{}).Select("documents.id, review, COALESCE(shelf.pinned, 0) AS pinned, " + told).
		Order(order).Offset(q.After).Limit(q.Most).Scan(&ids).Error
	if err != nil || len(ids) == 0 {
		return []Hit{}, err
	}
	place := make(map[string]int, len(ids))
	page := make([]string, 0, len(ids))
	for i, id := range ids {
		place[id.ID] = i
		page = append(page, id.ID)
	}
	var hits []Hit
	figure := fmt.Sprintf(", (SELECT f.figure_id FROM findable f WHERE f.document_id = documents.id AND f.valid = %t AND f.figure_id <> '' ORDER BY f.place LIMIT 1) AS figure_id", !edits)
	err = db.Session(&gorm.Session{}).Where("documents.id IN ?", page).Select(columns + figure).Scan(&hits).Error
	slices.SortFunc(hits, func(a, b Hit) int { return place[a.ID] - place[b.ID] })
	return hits, err
}

// filtered asks for what a query says apart from its words.
func (s *Search) filtered(ctx context.Context, db *gorm.DB, q Query, v access.Viewer) (*gorm.DB, error) {
	edits := reviews(v)
	kind := "documents.kind"
	if !edits {
		kind = "r.kind"
	}
	if q.Kind != "" {
		db = db.Where(kind+" = ?", q.Kind)
	}
	if q.State != "" {
		db = db.Where("state = ?", q.State)
	}
	if q.Owner != "" {
		db = db.Where("owner = ?", q.Owner)
	}
	if q.Folder != "" {
		within, err := s.within3(ctx, q.Folder)
		if err != nil {
			return db, err
		}
		db = db.Where("documents.folder_id IN ?", within)
	}
	today := s.Here(s.now())
	switch q.Due {
	case "overdue":
		db = db.Where("review < ?", today.Format(time.DateOnly))
	case "soon":
		db = db.Where("review BETWEEN ? AND ?", today.Format(time.DateOnly), today.AddDate(0, 0, document.Soon).Format(time.DateOnly))
	}
	if q.UsedIn != "" {
		db = db.Where("documents.id IN (SELECT to_id FROM document_links WHERE document_id IN (?) AND (? OR valid))",
			scope(s.on(ctx).Table("documents").Select("id"), v).Where("id = ? AND deleted_at IS NULL", q.UsedIn), edits)
	}
	if q.Pinned {
		db = db.Where("shelf.pinned")
	}
	return db, nil
}

// within3 are a folder and all that lie in it.
func (s *Search) within3(ctx context.Context, folder string) ([]string, error) {
	all, err := s.setup.Folders(ctx)
	ids := []string{folder}
	for range deepestFolder {
		for _, f := range all {
			if f.ParentID != nil && slices.Contains(ids, *f.ParentID) && !slices.Contains(ids, f.ID) {
				ids = append(ids, f.ID)
			}
		}
	}
	return ids, err
}

// against is what is looked for in the words of MariaDB's full-text index: all words, or beginnings of them; one that
// is not known stands for those that it may have meant.
func (s *Search) against(ctx context.Context, asked []string) string {
	known := s.words.known(ctx, s)
	var all []string
	for _, w := range asked {
		at, _ := slices.BinarySearch(known, w)
		begins := at < len(known) && strings.HasPrefix(known[at], w)
		near := []string{}
		if !begins {
			near = search.Near(w, known)
		}
		if len(near) == 0 {
			all = append(all, "+"+w+"*")
			continue
		}
		all = append(all, "+("+strings.Join(near[:min(len(near), 12)], " ")+")")
	}
	return strings.Join(all, " ")
}

// Meant are the words that were asked for, a misspelt one with those that it may have meant.
func (s *Search) Meant(ctx context.Context, text string) []string {
	known := s.words.known(ctx, s)
	var all []string
	for _, w := range search.Asked(text) {
		all = append(all, w)
		if at, _ := slices.BinarySearch(known, w); at >= len(known) || !strings.HasPrefix(known[at], w) {
			all = append(all, search.Near(w, known)...)
		}
	}
	return all
}

// vocabulary holds the words there are, in their order. It is read once and grows with what is made findable.
type vocabulary struct {
	mu    sync.Mutex
	read  bool
	words []string
}

func (v *vocabulary) known(ctx context.Context, s *Search) []string {
	v.mu.Lock()
	defer v.mu.Unlock()
	if !v.read {
		if s.on(ctx).Table("findable_words").Order("word").Pluck("word", &v.words).Error == nil {
			slices.Sort(v.words)
			v.read = true
		}
	}
	return v.words
}

// learn adds words that are new, to the database too.
func (v *vocabulary) learn(ctx context.Context, s *Search, words []string) error {
	known := v.known(ctx, s)
	var fresh []map[string]any
	var added []string
	for _, w := range unique(words) {
		if _, there := slices.BinarySearch(known, w); !there {
			fresh = append(fresh, map[string]any{"word": w})
			added = append(added, w)
		}
	}
	if len(fresh) == 0 {
		return nil
	}
	if err := s.on(ctx).Table("findable_words").Clauses(clause.Insert{Modifier: "IGNORE"}).CreateInBatches(fresh, 500).Error; err != nil {
		return fmt.Errorf("keeping new words: %w", err)
	}
	v.mu.Lock()
	defer v.mu.Unlock()
	v.words = append(slices.Clone(v.words), added...)
	slices.Sort(v.words)
	v.words = slices.Compact(v.words)
	return nil
}

// Unfound are documents of which the search does not know the last state yet.
func (s *Search) Unfound(ctx context.Context, most int) ([]Document, error) {
	var docs []Document
	err := s.on(ctx).Table("documents").Where("unfound").Limit(most).Find(&docs).Error
	return docs, err
}

// SetAsideFinding takes a document for read as it is, though it could not be.
func (s *Search) SetAsideFinding(ctx context.Context, d Document) error {
	return s.on(ctx).Exec("UPDATE documents SET found_seq = GREATEST(found_seq, ?), found_revision = GREATEST(found_revision, ?) WHERE id = ?", d.Seq, d.Revision, d.ID).Error
}

// PutFindable makes a document's draft, or its valid revision, be found as rows say. Where whole is false, blocks that
// no row is of stay as they are, but for the removed ones. Seq and revision are the states that were read.
func (s *Search) PutFindable(ctx context.Context, d Document, valid bool, rows []Findable, whole bool, removed []string) error {
	var words []string
	ids := removed
	for _, r := range rows {
		words = append(append(words, search.Words(r.Words)...), search.Words(r.Pictured)...)
		ids = append(ids, r.BlockID)
		if len(words) > 100_000 {
			words = unique(words)
		}
	}
	if err := s.words.learn(ctx, s, words); err != nil {
		return err
	}
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if whole {
			if err := tx.Exec("DELETE FROM findable WHERE document_id = ? AND valid = ?", d.ID, valid).Error; err != nil {
				return err
			}
		} else {
			for part := range slices.Chunk(ids, 500) {
				if err := tx.Exec("DELETE FROM findable WHERE document_id = ? AND valid = ? AND block_id IN ?", d.ID, valid, part).Error; err != nil {
					return err
				}
			}
		}
		if len(rows) > 0 {
			if err := tx.CreateInBatches(rows, 300).Error; err != nil {
				return err
			}
		}
		if valid {
			return tx.Exec("UPDATE documents SET found_revision = ? WHERE id = ?", d.Revision, d.ID).Error
		}
		return tx.Exec("UPDATE documents SET found_seq = ? WHERE id = ?", d.Seq, d.ID).Error
	})
}

// FindAnew has the documents that show a shot be read anew: the text in it was read, or something of it was withheld.
func (s *Search) FindAnew(ctx context.Context, shot string) error {
	return s.on(ctx).Exec(`UPDATE documents SET found_seq = -1, found_revision = 0 WHERE
		id IN (SELECT document_id FROM block_shots WHERE shot_id = ?) OR id IN (SELECT document_id FROM revision_shots WHERE shot_id = ?)`, shot, shot).Error
}

// Opened notes that a person opened a document.
func (s *Search) Opened(ctx context.Context, account, documentID string) error {
	return s.on(ctx).Exec(`INSERT INTO shelf (account_id, document_id, opened_at) VALUES (?, ?, ?)
		ON DUPLICATE KEY UPDATE opened_at = VALUES(opened_at)`, account, documentID, s.now()).Error
}

// Pin keeps a document at hand for a person, or not any more.
func (s *Search) Pin(ctx context.Context, account, documentID string, pinned bool) error {
	return s.on(ctx).Exec(`INSERT INTO shelf (account_id, document_id, pinned) VALUES (?, ?, ?)
		ON DUPLICATE KEY UPDATE pinned = VALUES(pinned)`, account, documentID, pinned).Error
}

// Recent are the documents that a person opened last, the last first.
func (s *Search) Recent(ctx context.Context, v access.Viewer, most int) ([]Document, error) {
	db := s.documents.documents(ctx)
	if !access.May(v, access.Review, access.Thing{}) {
		db = s.documents.released(ctx).Where("state <> 'retired'")
	}
	docs := []Document{}
	err := scope(db, v).Joins("JOIN shelf ON shelf.document_id = documents.id AND shelf.account_id = ?", v.Account).
		Where("deleted_at IS NULL AND opened_at IS NOT NULL").Order("opened_at DESC").Limit(most).Find(&docs).Error
	return docs, err
}

package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"raconte/core/access"
	"raconte/core/approval"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/readiness"
	"raconte/core/refusal"
	"raconte/core/secrets"
	"raconte/core/style"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Document is a document's row.
type Document struct {
	ID            string
	Kind          document.Kind
	Title         string
	Facts         document.Facts `gorm:"serializer:json"` // the title is in them too
	FolderID      *string
	Number        *string // beside the facts, as the next three
	Owner         string
	Review        *time.Time
	Template      bool // a start for other documents
	FactsVersion  int
	State         document.State
	Revision      int
	Seq           int64
	FoundSeq      int64 // up to which the search knows the draft; -1 where it knows nothing
	FoundRevision int
	Steps         int
	ChangedBy     string
	ChangedAt     time.Time
	DeletedAt     *time.Time
	DeletedBy     *string
	Uses          int     // of a stock answer
	ReplacedBy    *string // what is to be followed instead of a retired one
	ChangedName   string  `gorm:"->;-:migration"` // display name of who changed it, where it was joined in
}

// Block is a block's row. Removed blocks stay, so that removing can be undone.
type Block struct {
	DocumentID  string `gorm:"primaryKey"`
	ID          string `gorm:"primaryKey"`
	Type        document.Type
	OrderKey    string
	Content     document.Content `gorm:"serializer:content"`
	Bytes       int              // of the stored content
	Version     int
	Seq         int64
	Removed     bool
	ChangedBy   string
	ChangedAt   time.Time
	ChangedName string `gorm:"->;-:migration"`
}

// Whole is a document with its blocks in order, those that were removed and can come back, and the
// shots that both use.
type Whole struct {
	Document
	Rows    []Block
	Removed []Block
	Shots   []Shot
	Around  document.Around      // what it leads to, where that was asked for
	Revised bool                 // it is a revision, not what is being written
	Latest  int                  // of a revision, the last that there is
	Signed  []approval.Signature // of a revision
	Style   *style.Style         // of a revision: the one that it was released with; nil of one from before there were several
}

// Core is the document as the core knows it.
func (w Whole) Core() document.Document {
	d := document.Document{ID: w.ID, Kind: w.Kind, Facts: w.Facts, Blocks: make([]document.Block, 0, len(w.Rows))}
	for _, r := range w.Rows {
		d.Blocks = append(d.Blocks, document.Block{ID: r.ID, Content: r.Content})
	}
	return d
}

const withName = "documents.*, accounts.display_name AS changed_name"

func (s *Documents) documents(ctx context.Context) *gorm.DB {
	return s.on(ctx).Table("documents").Select(withName).
		Joins("JOIN accounts ON accounts.id = documents.changed_by")
}

// mostListed bounds the library's list.
const mostListed = 500

// mostWords bounds the words that are looked for at once.
const mostWords = 12

// List is the library as a viewer may see it: documents whose title has all the words asked for, last changed first.
// For one who only reads, a document is what its last ready revision was: its title, its steps, who made it and when.
func (s *Documents) List(ctx context.Context, title string, v access.Viewer) ([]Document, error) {
	q := scope(s.documents(ctx), v)
	if !access.May(v, access.Review, access.Thing{}) {
		q = scope(s.released(ctx), v).Where("state <> 'retired'")
	}
	q = q.Where("deleted_at IS NULL")
	for i, word := range strings.Fields(title) {
		if i == mostWords {
			break
		}
		q = q.Having("title LIKE ?", "%"+escapeLike(word)+"%")
	}
	var docs []Document
	err := q.Order("changed_at DESC, documents.id").Limit(mostListed).Find(&docs).Error
	return docs, err
}

// releasedColumns are the columns of a document as readers know it.
const releasedColumns = `documents.id, r.kind AS kind, JSON_OBJECT('title', r.title) AS facts, r.title AS title, 1 AS facts_version,
	IF(state = 'retired', 'retired', 'ready') AS state, documents.folder_id, documents.number AS number, owner, review, template, revision, revision AS seq, r.steps AS steps,
	r.made_by AS changed_by, r.made_at AS changed_at, deleted_at, accounts.display_name AS changed_name`

// released are documents as readers know them.
func (s *Documents) released(ctx context.Context) *gorm.DB {
	return s.on(ctx).Table("documents").Select(releasedColumns).
		Joins("JOIN revisions r ON r.document_id = documents.id AND r.number = documents.revision").
		Joins("JOIN accounts ON accounts.id = r.made_by")
}

// Deleted are the documents that were deleted and can come back, the last one first, with who deleted them.
func (s *Documents) Deleted(ctx context.Context, v access.Viewer) ([]Document, error) {
	var docs []Document
	err := scope(s.on(ctx).Table("documents"), v).Select("documents.*, accounts.display_name AS changed_name").
		Joins("JOIN accounts ON accounts.id = COALESCE(documents.deleted_by, documents.changed_by)").
		Where("deleted_at IS NOT NULL").Order("deleted_at DESC, documents.id").Limit(mostListed).Find(&docs).Error
	return docs, err
}

// Head is a document's row without its blocks.
func (s *Documents) Head(ctx context.Context, id string) (Document, error) {
	var d Document
	err := s.documents(ctx).Where("documents.id = ? AND deleted_at IS NULL", id).Take(&d).Error
	return d, found(err)
}

// Whole is a document with its blocks.
func (s *Documents) Whole(ctx context.Context, id string) (Whole, error) {
	var w Whole
	var err error
	if w.Document, err = s.Head(ctx, id); err != nil {
		return w, err
	}
	rows, err := s.blocks(ctx, "document_id = ?", id)
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
	w.Shots, err = s.captures.ShotsOf(ctx, rows)
	return w, err
}

// ChangedBlocks are the blocks, removed ones included, that changed after a state of the document.
func (s *Documents) ChangedBlocks(ctx context.Context, id string, since int64) ([]Block, error) {
	return s.blocks(ctx, "document_id = ? AND seq > ?", id, since)
}

func (s *Documents) blocks(ctx context.Context, where string, args ...any) ([]Block, error) {
	var rows []Block
	err := s.on(ctx).Table("blocks").Select("blocks.*, accounts.display_name AS changed_name").
		Joins("JOIN accounts ON accounts.id = blocks.changed_by").
		Where(where, args...).Order("order_key, blocks.id").Find(&rows).Error
	return rows, err
}

// Create adds an empty document to a folder, "" for none.
func (s *Documents) Create(ctx context.Context, kind document.Kind, title, folder, by string) (Document, error) {
	d := Document{
		ID: uuid.NewString(), FoundSeq: -1, Kind: kind, FolderID: orNil(folder), Title: title, Facts: document.Facts{Title: title}, FactsVersion: 1, State: document.Draft,
		ChangedBy: by, ChangedAt: s.now(),
	}
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if err := tx.Create(&d).Error; err != nil {
			return err
		}
		if err := wrote(tx, d.ID, by, 0); err != nil {
			return err
		}
		return s.trail.noteOf(tx, d, by, ActCreated, "")
	})
	if err != nil {
		return d, fmt.Errorf("creating a document: %w", err)
	}
	return s.Head(ctx, d.ID)
}

func orNil(s string) *string {
	if s == "" {
		return nil
	}
	return &s
}

// CreateWhole adds a document with its blocks to a folder, "" for none, all or nothing; its figures name shots that are
// kept. A number that belongs to another is left out.
func (s *Documents) CreateWhole(ctx context.Context, d document.Document, folder, by string) (Document, error) {
	id := uuid.NewString()
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if d.Facts.Number != "" {
			var taken int64
			if err := tx.Table("documents").Where("number = ?", d.Facts.Number).Count(&taken).Error; err != nil {
				return err
			}
			if taken > 0 {
				d.Facts.Number = ""
			}
		}
		row := Document{
			ID: id, FoundSeq: -1, Kind: d.Kind, FolderID: orNil(folder), Number: orNil(d.Facts.Number), Owner: d.Facts.Owner, Review: dayOf(d.Facts.Review), Title: d.Facts.Title, Facts: d.Facts, FactsVersion: 1, State: document.Draft, Seq: 1,
			Steps: d.Numbers().Steps, ChangedBy: by, ChangedAt: s.now(),
		}
		if err := tx.Create(&row).Error; err != nil {
			return err
		}
		d = d.Apart()
		keys := document.Arrange(nil, 0, len(d.Blocks)).Keys
		rows := make([]Block, 0, len(d.Blocks))
		for i, b := range d.Blocks {
			rows = append(rows, Block{
				DocumentID: id, ID: b.ID, Type: b.Type, OrderKey: keys[i], Version: 1, Seq: 1, Content: b.Content, ChangedBy: by, ChangedAt: s.now(),
			})
		}
		if err := saveBlocks(tx, rows); err != nil {
			return err
		}
		if err := saveLinks(tx, id, rows); err != nil {
			return err
		}
		if err := wrote(tx, id, by, 1); err != nil {
			return err
		}
		if f := d.Facts.File; f != nil {
			if err := tx.Exec("INSERT IGNORE INTO document_files (document_id, sha256) VALUES (?, ?)", id, f.SHA256).Error; err != nil {
				return err
			}
		}
		e, err := measure(tx, id)
		if over := e.overflow(); err == nil && over != "" {
			return refusal.Error{Reason: over}
		}
		if err != nil {
			return err
		}
		return s.trail.noteOf(tx, row, by, ActCreated, "")
	})
	if err != nil {
		return Document{}, fmt.Errorf("creating a document: %w", err)
	}
	return s.Head(ctx, id)
}

// CreateShowing is CreateWhole for blocks that someone sent: of shots that they may not see the error is a refusal.
func (s *Documents) CreateShowing(ctx context.Context, d document.Document, folder string, who access.Viewer) (Document, error) {
	rows := make([]Block, 0, len(d.Blocks))
	for _, b := range d.Blocks {
		rows = append(rows, Block{Content: b.Content})
	}
	if err := mayShow(s.on(ctx), rows, who); err != nil {
		return Document{}, err
	}
	return s.CreateWhole(ctx, d, folder, who.Account)
}

// Duplicate copies a document as a draft without a number. Title "" says whose copy it is; folder nil is that of the
// document.
func (s *Documents) Duplicate(ctx context.Context, id, title string, folder *string, by string) (Document, error) {
	w, err := s.Whole(ctx, id)
	if err != nil {
		return Document{}, err
	}
	d := w.Core()
	if title == "" {
		title = "Copy of " + d.Facts.Title
	}
	if r := []rune(title); len(r) > document.LongestTitle {
		title = string(r[:document.LongestTitle])
	}
	d.Facts.Title, d.Facts.Number, d.Facts.Reason = title, "", ""
	if folder == nil {
		folder = w.FolderID
	}
	to := ""
	if folder != nil {
		to = *folder
	}
	return s.CreateWhole(ctx, d, to, by)
}

// SetDeleted deletes a document, or brings it back, and returns its row.
func (s *Documents) SetDeleted(ctx context.Context, id string, deleted bool, by string) (Document, error) {
	set := map[string]any{"deleted_at": nil, "deleted_by": nil}
	if deleted {
		set = map[string]any{"deleted_at": s.now(), "deleted_by": by}
	}
	var d Document
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		res := tx.Table("documents").Where("id = ? AND (deleted_at IS NULL) = ?", id, deleted).Updates(set)
		if res.Error != nil {
			return fmt.Errorf("deleting or restoring a document: %w", res.Error)
		}
		if res.RowsAffected == 0 {
			return ErrNotFound
		}
		if err := tx.Where("id = ?", id).Take(&d).Error; err != nil {
			return err
		}
		if err := s.trail.noteOf(tx, d, by, ActDeleted, map[bool]string{true: "", false: "Brought back"}[deleted]); err != nil {
			return err
		}
		return s.jobs.queueStandings(tx, id)
	})
	if err != nil {
		return Document{}, err
	}
	err = s.documents(ctx).Where("documents.id = ?", id).Take(&d).Error
	return d, found(err)
}

func lock(tx *gorm.DB, id string) (Document, error) {
	var d Document
	err := tx.Clauses(forUpdate).Where("id = ? AND deleted_at IS NULL", id).Take(&d).Error
	return d, found(err)
}

// Revision is an immutable state of a document.
type Revision struct {
	DocumentID string
	Seq        int64 // of the document, when it was made
	Number     int
	Kind       document.Kind
	Content    document.Document `gorm:"serializer:json"`
	Title      string
	Steps      int
	MadeBy     string
	MadeAt     time.Time
	Style      *style.Style         `gorm:"serializer:json"`
	Digest     *string              // what was signed; nil where nobody had to
	Signatures []approval.Signature `gorm:"serializer:json"`
	HoldsFrom  *time.Time           // the day from which it is valid; nil of one that was at once
	Again      bool                 // those who confirmed an earlier one are asked again
	MadeName   string               `gorm:"->;-:migration"` // where it was joined in
}

// LastRevision is the ready revision that readers see, as a whole document: its state is ready, and
// who changed it and when are those of the revision. What was withheld since is concealed in it.
func (s *Documents) LastRevision(ctx context.Context, id string) (Whole, error) {
	var d Document
	if err := s.released(ctx).Where("documents.id = ? AND deleted_at IS NULL", id).Take(&d).Error; err != nil {
		return Whole{}, found(err)
	}
	return s.asRevised(ctx, d, d.Revision)
}

// Revision is a ready revision of a document, with what was withheld since concealed in it.
func (s *Documents) Revision(ctx context.Context, id string, number int) (Whole, error) {
	d, err := s.Head(ctx, id)
	if err != nil {
		return Whole{}, err
	}
	w, err := s.asRevised(ctx, d, number)
	if w.State == document.Draft { // what is being written is not the revision
		w.State = document.Ready
	}
	return w, err
}

func (s *Documents) asRevised(ctx context.Context, d Document, number int) (Whole, error) {
	id := d.ID
	var r Revision
	err := s.on(ctx).Select("revisions.*, accounts.display_name AS made_name").Joins("JOIN accounts ON accounts.id = revisions.made_by").
		Where("document_id = ? AND number = ?", id, number).Take(&r).Error
	if err != nil {
		return Whole{}, found(err)
	}
	w := Whole{Document: d, Revised: true, Latest: d.Revision, Style: r.Style, Signed: r.Signatures}
	w.Kind, w.Facts, w.Title, w.Document.Revision, w.ChangedAt, w.ChangedName = r.Kind, r.Content.Facts, r.Title, number, r.MadeAt, r.MadeName
	withheld, err := s.withheldFrom(ctx, r.Content.Shots())
	if err != nil {
		return Whole{}, err
	}
	for _, b := range r.Content.Blocks {
		for i, f := range b.Figures {
			b.Figures[i] = f.Withholding(withheld)
		}
		w.Rows = append(w.Rows, Block{DocumentID: id, ID: b.ID, Type: b.Type, Content: b.Content})
	}
	w.Shots, err = s.captures.ShotsOf(ctx, w.Rows)
	return w, err
}

// dayOf is a day as 2006-01-02; nil for none.
func dayOf(s string) *time.Time {
	t, err := time.Parse(time.DateOnly, s)
	if err != nil {
		return nil
	}
	return &t
}

func tos(leads []document.Lead) []string {
	ids := make([]string, 0, len(leads))
	for _, l := range leads {
		ids = append(ids, l.To)
	}
	return ids
}

// withheldFrom are the areas withheld of some shots.
func (s *Documents) withheldFrom(ctx context.Context, shots []string) (map[string][]figure.Area, error) {
	areas := map[string][]figure.Area{}
	for part := range slices.Chunk(shots, 1000) {
		var rows []Withheld
		if err := s.on(ctx).Where("shot_id IN ?", part).Order("made_at, id").Find(&rows).Error; err != nil {
			return nil, fmt.Errorf("reading what is withheld: %w", err)
		}
		for _, w := range rows {
			areas[w.ShotID] = append(areas[w.ShotID], w.Areas...)
		}
	}
	return areas, nil
}

// Read is what is known of the pictures of a document, and the house's words to conceal.
func (s *Documents) Read(ctx context.Context, d document.Document) (read map[string]readiness.Read, own []string, err error) {
	shots, err := s.captures.WordsOf(ctx, d.Shots())
	if err == nil {
		own, _, err = s.setup.SecretWords(ctx)
	}
	read = make(map[string]readiness.Read, len(shots))
	for id, r := range shots {
		read[id] = readiness.Read{Size: figure.Size{W: r.Width, H: r.Height}, At: r.Recording.Poster, Words: r.Words, Elements: r.About.Elements,
			Secrets: secrets.Find(r.Words, r.About.Elements, own)}
	}
	return read, own, err
}

// TitleFor is the title by which a viewer knows a document; ErrNotFound where they may not know of it.
func (s *Documents) TitleFor(ctx context.Context, id string, v access.Viewer) (string, error) {
	var titles []string
	err := scope(s.on(ctx).Table("documents"), v).Where("documents.id = ? AND deleted_at IS NULL", id).Pluck(titleFor(v), &titles).Error
	if err == nil && len(titles) == 0 {
		err = ErrNotFound
	}
	return first(titles), err
}

// FolderOf is the folder that a document lies in, deleted ones too; "" for none.
func (s *Documents) FolderOf(ctx context.Context, id string) (string, error) {
	var folder string
	err := s.on(ctx).Raw("SELECT COALESCE(folder_id, '') FROM documents WHERE id = ?", id).Row().Scan(&folder)
	if errors.Is(err, sql.ErrNoRows) {
		err = ErrNotFound
	}
	return folder, err
}

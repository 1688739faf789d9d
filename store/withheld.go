package store

import (
	"context"
	"fmt"
	"strings"
	"time"

	"raconte/core/access"
	"raconte/core/figure"
	"raconte/core/refusal"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Withheld are areas of a shot that are concealed in everything handed out before, in pixels of the shot.
type Withheld struct {
	ID     string
	ShotID string
	Areas  []figure.Area `gorm:"serializer:json"`
	MadeBy string
	MadeAt time.Time
}

// TableName is that of the migrations.
func (Withheld) TableName() string { return "withheld" }

// Event is something that happened to a document besides its revisions.
type Event struct {
	DocumentID string
	What       string
	Told       string // for people
	MadeBy     string
	MadeAt     time.Time
	MadeName   string `gorm:"->;-:migration"`
	Number     int    `gorm:"->;-:migration"` // of a revision
}

// TableName is that of the migrations.
func (Event) TableName() string { return "history" }

// Handed is where a shot was handed out: how many revisions of which documents show it.
type Handed struct {
	DocumentID string
	Title      string
	FolderID   *string
	Revisions  int
}

// mostWithheld bounds the areas of one shot that are withheld at a time.
const mostWithheld = 500

// HandedOut tells where a shot was handed out.
func (s *Releases) HandedOut(ctx context.Context, shot string) ([]Handed, error) {
	all := []Handed{}
	err := s.on(ctx).Raw(`SELECT d.id AS document_id, d.title, d.folder_id, COUNT(*) AS revisions FROM revision_shots r
		JOIN documents d ON d.id = r.document_id WHERE r.shot_id = ? GROUP BY d.id, d.title, d.folder_id ORDER BY d.title`, shot).Scan(&all).Error
	return all, err
}

// Withhold conceals areas of a shot in every revision that shows it, and withdraws the files that were made of those:
// it returns the documents that this concerns. It is written into the history of each.
func (s *Releases) Withhold(ctx context.Context, shot string, areas []figure.Area, by string) ([]Handed, error) {
	if len(areas) == 0 || len(areas) > mostWithheld {
		return nil, refusal.New("Name 1 to %d places to conceal.", mostWithheld)
	}
	where, err := s.HandedOut(ctx, shot)
	if err != nil || len(where) == 0 {
		return where, err
	}
	err = s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		w := Withheld{ID: uuid.NewString(), ShotID: shot, Areas: areas, MadeBy: by, MadeAt: s.now()}
		if err := tx.Create(&w).Error; err != nil {
			return err
		}
		for _, d := range where {
			gone := tx.Exec(`UPDATE jobs SET state = ?, result = '', error = ?, finished_at = ? WHERE kind = 'deliver' AND document_id = ? AND state IN ?`, Failed,
				"Withdrawn: something in it was concealed since. Make it again.", s.now(), d.DocumentID, []JobState{Done, Working, Waiting})
			if gone.Error != nil {
				return gone.Error
			}
			// Until it is read anew, nothing of it is found; and what was made of manuals that hold it goes too.
			if err := tx.Exec("DELETE FROM findable WHERE document_id = ? AND valid", d.DocumentID).Error; err != nil {
				return err
			}
			if err := tx.Exec("UPDATE documents SET found_revision = 0 WHERE id = ?", d.DocumentID).Error; err != nil {
				return err
			}
			held := tx.Exec(`UPDATE jobs SET state = ?, result = '', error = ?, finished_at = ? WHERE kind = 'deliver' AND state IN ? AND document_id IN
				(SELECT document_id FROM document_links WHERE to_id = ? AND how = 'holds')`, Failed,
				"Withdrawn: something in a chapter was concealed since. Make it again.", s.now(), []JobState{Done, Working, Waiting}, d.DocumentID)
			if held.Error != nil {
				return held.Error
			}
			folders := tx.Exec(`UPDATE jobs SET state = ?, result = '', error = ?, finished_at = ? WHERE kind = 'deliver' AND document_id IS NULL
				AND (state = ? OR state = ? AND JSON_CONTAINS(payload, JSON_QUOTE(?), '$.holds'))`, Failed,
				"Withdrawn: something in one of its documents was concealed since. Make it again.", s.now(), Working, Done, d.DocumentID)
			if folders.Error != nil {
				return folders.Error
			}
			if err := s.jobs.queueStandings(tx, d.DocumentID); err != nil {
				return err
			}
			told := fmt.Sprintf("Concealed in what was handed out before: %s in %s.", counted(len(areas), "place"), counted(d.Revisions, "revision"))
			if gone.RowsAffected > 0 {
				told += " Withdrawn: " + counted(int(gone.RowsAffected), "file") + "."
			}
			if err := tx.Create(&Event{DocumentID: d.DocumentID, What: "withheld", Told: told, MadeBy: by, MadeAt: s.now()}).Error; err != nil {
				return err
			}
		}
		return nil
	})
	return where, err
}

func counted(n int, what string) string {
	if n == 1 {
		return "1 " + what
	}
	return fmt.Sprintf("%d %ss", n, what)
}

// WithheldKey names all that is withheld of the shots of a document's revision: it is another one when more is.
func (s *Releases) WithheldKey(ctx context.Context, documentID string, revision int) (string, error) {
	var ids []string
	err := s.on(ctx).Raw(`SELECT w.id FROM withheld w JOIN revision_shots r ON r.shot_id = w.shot_id
		WHERE r.document_id = ? AND r.number = ? ORDER BY w.made_at, w.id`, documentID, revision).Scan(&ids).Error
	return strings.Join(ids, " "), err
}

// History is what happened to a document, the last first: its revisions, and what was withheld of them.
func (s *Releases) History(ctx context.Context, documentID string) ([]Event, error) {
	all := []Event{}
	err := s.on(ctx).Raw(`SELECT h.*, a.display_name AS made_name FROM (
			SELECT document_id, what, told, made_by, made_at, 0 AS number FROM history WHERE document_id = ?
			UNION ALL SELECT document_id, 'revision', CONCAT('Revision ', number, ': “', title, '”.', IFNULL(CONCAT(' ', JSON_VALUE(content, '$.facts.reason')), '')), made_by, made_at, number FROM revisions WHERE document_id = ?
		) h JOIN accounts a ON a.id = h.made_by ORDER BY h.made_at DESC LIMIT 500`, documentID, documentID).Scan(&all).Error
	return all, err
}

// Use is a step that shows a shot.
type Use struct {
	DocumentID string
	Title      string
	BlockID    string
}

// Uses are the steps of drafts that show a shot, of documents that a viewer may open.
func (s *Releases) Uses(ctx context.Context, shot string, v access.Viewer) ([]Use, error) {
	all := []Use{}
	err := scope(s.on(ctx).Table("block_shots u").Joins("JOIN documents ON documents.id = u.document_id").
		Joins("JOIN blocks b ON b.document_id = u.document_id AND b.id = u.block_id"), v).
		Select("documents.id AS document_id, documents.title, u.block_id").
		Where("u.shot_id = ? AND NOT b.removed AND documents.deleted_at IS NULL", shot).Order("documents.title, b.order_key").Limit(mostListed).Scan(&all).Error
	return all, err
}

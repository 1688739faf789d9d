package store

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"raconte/core/access"
	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/sight"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Capture is a session: one sitting of capturing.
type Capture struct {
	ID      string
	Owner   string
	Name    string
	BeganAt time.Time
	LastAt  time.Time
	Shots   int    `gorm:"->;-:migration"` // that were not discarded
	First   string `gorm:"->;-:migration"` // the id of the first of them
}

// BeginCapture opens a session under the id that the client chose, or gives an open one another name.
func (s *Captures) BeginCapture(ctx context.Context, id, name, owner string) (Capture, error) {
	c := Capture{ID: id, Owner: owner, Name: name, BeganAt: s.now(), LastAt: s.now()}
	err := s.on(ctx).Create(&c).Error
	if !errors.Is(err, gorm.ErrDuplicatedKey) {
		return c, err
	}
	if c, err = s.Capture(ctx, id, owner); err != nil || c.Name == name {
		return c, err
	}
	c.Name = name
	return c, s.on(ctx).Table("captures").Where("id = ?", id).Update("name", name).Error
}

const withShots = `captures.*,
	(SELECT COUNT(*) FROM shots WHERE capture_id = captures.id AND discarded_at IS NULL) AS shots,
	COALESCE((SELECT id FROM shots WHERE capture_id = captures.id AND discarded_at IS NULL ORDER BY place LIMIT 1), '') AS first`

// Capture is a session of an account.
func (s *Captures) Capture(ctx context.Context, id, owner string) (Capture, error) {
	var c Capture
	err := s.on(ctx).Table("captures").Select(withShots).Where("id = ? AND owner = ?", id, owner).Take(&c).Error
	return c, found(err)
}

// Captures are an account's sessions, the last one first; those without shots are left out.
func (s *Captures) Captures(ctx context.Context, owner string) ([]Capture, error) {
	var all []Capture
	err := s.on(ctx).Table("captures").Select(withShots).Where("owner = ?", owner).
		Having("shots > 0").Order("last_at DESC").Limit(mostListed).Find(&all).Error
	return all, err
}

// mostRuns bounds the list of runs to check.
const mostRuns = 50

// Runs are an account's last sessions in which it is known what was done.
func (s *Captures) Runs(ctx context.Context, owner string) ([]Capture, error) {
	var all []Capture
	err := s.on(ctx).Table("captures").Select(withShots).Where("owner = ?", owner).
		Where("EXISTS (SELECT 1 FROM shots WHERE capture_id = captures.id AND source = 'feed' AND discarded_at IS NULL AND JSON_EXISTS(about, '$.action') AND NOT JSON_EXISTS(about, '$.replay'))").
		Order("last_at DESC").Limit(mostRuns).Find(&all).Error
	return all, err
}

// ShotQuery says which of an account's shots are looked for. Empty fields ask for nothing.
type ShotQuery struct {
	Capture   string
	From, To  time.Time // taken in this span, To excluded
	Window    string    // a part of the window's title
	Text      string    // words in the picture, the window's title or the name
	Placed    *bool
	Unused    bool // used nowhere at all: not even by a removed block or an old revision
	Discarded bool
	After     time.Time // older than this: for the next page
	AfterID   string    // and, of those taken at that very time, after this one
	Most      int
}

const isPlaced = `EXISTS (SELECT 1 FROM block_shots u JOIN blocks p ON p.document_id = u.document_id AND p.id = u.block_id
	JOIN documents d ON d.id = p.document_id WHERE u.shot_id = shots.id AND NOT p.removed AND d.deleted_at IS NULL)`

const isUsed = `(EXISTS (SELECT 1 FROM block_shots u WHERE u.shot_id = shots.id) OR EXISTS (SELECT 1 FROM revision_shots r WHERE r.shot_id = shots.id))`

// FindShots are an account's shots: of a session in its order, else the last taken first.
func (s *Captures) FindShots(ctx context.Context, owner string, q ShotQuery) ([]Shot, error) {
	db := s.on(ctx).Table("shots").Omit("words").
		Select("shots.id, sha256, media_type, width, height, bytes, name, created_by, created_at, capture_id, place, taken_at, source, window_title, about, verdict, found_text, discarded_at, clip_sha256, clip_media_type, clip_ms, clip_poster, clip_sounds, clip_camera, "+isPlaced+" AS placed, "+isUsed+" AS used").
		Where("created_by = ?", owner)
	if q.Discarded {
		db = db.Where("discarded_at IS NOT NULL")
	} else {
		db = db.Where("discarded_at IS NULL")
	}
	if !q.From.IsZero() {
		db = db.Where("taken_at >= ?", q.From)
	}
	if !q.To.IsZero() {
		db = db.Where("taken_at < ?", q.To)
	}
	if q.Window != "" {
		db = db.Where("window_title LIKE ?", "%"+escapeLike(q.Window)+"%")
	}
	db = saying(db, q.Text)
	if q.Placed != nil {
		db = db.Where(isPlaced+" = ?", *q.Placed)
	}
	if q.Unused {
		db = db.Where("NOT " + isUsed)
	}
	if !q.After.IsZero() {
		db = db.Where("(taken_at < ? OR (taken_at = ? AND shots.id > ?))", q.After, q.After, q.AfterID)
	}
	if q.Capture != "" {
		db = db.Where("capture_id = ?", q.Capture).Order("place, taken_at")
	} else {
		db = db.Order("taken_at DESC, shots.id")
	}
	if q.Most > 0 {
		db = db.Limit(q.Most)
	}
	var shots []Shot
	err := db.Find(&shots).Error
	return shots, err
}

// saying asks for shots whose text, window or name has words that begin with all of those asked for, by the full-text
// index. What that index does not hold (single characters, and scripts that are written without spaces) is looked for
// in what it finds.
func saying(db *gorm.DB, text string) *gorm.DB {
	var indexed []string
	words := strings.Fields(text)
	for _, word := range words[:min(len(words), mostWords)] {
		for _, part := range strings.FieldsFunc(word, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) && r != '_' }) {
			if spaced := !unicode.In([]rune(part)[0], unicode.Han, unicode.Hiragana, unicode.Katakana, unicode.Thai, unicode.Hangul); spaced && utf8.RuneCountInString(part) > 1 {
				indexed = append(indexed, "+"+part+"*")
				continue
			}
			like := "%" + escapeLike(part) + "%"
			db = db.Where("(found_text LIKE ? OR window_title LIKE ? OR name LIKE ?)", like, like, like)
		}
	}
	if len(indexed) > 0 {
		db = db.Where("MATCH (found_text, window_title, name) AGAINST (? IN BOOLEAN MODE)", strings.Join(indexed, " "))
	}
	return db
}

func escapeLike(s string) string {
	return strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(s)
}

// MaySeeShot tells whether one who edits may see a shot: their own, or one that a document uses which they may open.
func (s *Captures) MaySeeShot(ctx context.Context, id string, who access.Viewer) (bool, error) {
	var n int64
	err := s.on(ctx).Table("shots").Where("id = ?", id).Where(seenBy(who)).Count(&n).Error
	return n > 0, err
}

// seenBy holds for the shots that one who edits may see.
func seenBy(who access.Viewer) clause.Expr {
	if len(who.Closed) == 0 {
		return gorm.Expr("(created_by = ? OR "+isUsed+")", who.Account)
	}
	const used = `EXISTS (SELECT 1 FROM %s u JOIN documents d ON d.id = u.document_id
		WHERE u.shot_id = shots.id AND (d.folder_id IS NULL OR d.folder_id NOT IN ?))`
	return gorm.Expr("(created_by = ? OR "+fmt.Sprintf(used, "block_shots")+" OR "+fmt.Sprintf(used, "revision_shots")+")", who.Account, who.Closed, who.Closed)
}

// Before is the shot before another in its session, discarded ones included.
func (s *Captures) Before(ctx context.Context, shot Shot) (Shot, error) {
	var before Shot
	if shot.CaptureID == nil {
		return before, ErrNotFound
	}
	err := s.on(ctx).Where("capture_id = ? AND place < ?", *shot.CaptureID, shot.Place).Order("place DESC").Take(&before).Error
	return before, found(err)
}

// SetVerdict records how a shot compares with the one before it.
func (s *Captures) SetVerdict(ctx context.Context, id string, v sight.Verdict) error {
	return s.on(ctx).Table("shots").Where("id = ?", id).Update("verdict", v).Error
}

// SetRead records the words that were found in a picture.
func (s *Captures) SetRead(ctx context.Context, id string, words []sight.Word) error {
	var text strings.Builder
	for _, w := range words {
		text.WriteString(w.Text + " ")
	}
	if words == nil {
		words = []sight.Word{}
	}
	all := strings.TrimSpace(text.String())
	return s.on(ctx).Model(&Shot{}).Where("id = ?", id).Select("words", "found_text").
		Updates(Shot{Words: words, FoundText: &all}).Error
}

// Even gives the shots of a session that differ a little in size the crops that make them even.
func (s *Captures) Even(ctx context.Context, owner, captureID string) error {
	return s.inOrder(ctx, owner, captureID, func(tx *gorm.DB) error {
		var shots []Shot
		err := tx.Omit("words", "found_text", "placed", "used").Where("capture_id = ? AND discarded_at IS NULL", captureID).Order("place, taken_at").Find(&shots).Error
		if err != nil {
			return err
		}
		sizes := make([]figure.Size, len(shots))
		for i, shot := range shots {
			sizes[i] = figure.Size{W: shot.Width, H: shot.Height}
		}
		for i, size := range capture.Evened(sizes) {
			about := shots[i].About
			about.Crop = &scene.Rect{W: float64(size.W), H: float64(size.H)}
			if err := tx.Model(&Shot{}).Where("id = ?", shots[i].ID).Select("about").Updates(Shot{About: about}).Error; err != nil {
				return err
			}
		}
		return nil
	})
}

// inOrder does something with a session's shots while nobody else changes them or their order.
func (s *Captures) inOrder(ctx context.Context, owner, captureID string, work func(tx *gorm.DB) error) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if err := tx.Clauses(forUpdate).Where("id = ? AND owner = ?", captureID, owner).Take(&Capture{}).Error; err != nil {
			return found(err)
		}
		return work(tx)
	})
}

// Discard takes shots out of their sessions, or brings them back. Shots of others are left alone.
func (s *Captures) Discard(ctx context.Context, owner string, ids []string, discarded bool) error {
	if len(ids) == 0 {
		return nil
	}
	var at *time.Time
	if discarded {
		now := s.now()
		at = &now
	}
	return s.on(ctx).Table("shots").Where("created_by = ? AND id IN ?", owner, ids).Update("discarded_at", at).Error
}

// Reorder puts a session's shots in the given order. Shots that are not named follow, as they were.
func (s *Captures) Reorder(ctx context.Context, owner, captureID string, ids []string) error {
	return s.inOrder(ctx, owner, captureID, func(tx *gorm.DB) error {
		return arrange(tx, captureID, func([]string) []string { return ids })
	})
}

// PlaceBehind puts a shot of a session right behind another one.
func (s *Captures) PlaceBehind(ctx context.Context, owner, captureID, shot, behind string) error {
	return s.inOrder(ctx, owner, captureID, func(tx *gorm.DB) error {
		return arrange(tx, captureID, func(there []string) []string {
			rest := slices.DeleteFunc(slices.Clone(there), func(id string) bool { return id == shot })
			at := slices.Index(rest, behind) + 1
			return slices.Insert(rest, at, shot)
		})
	})
}

// arrange numbers a session's shots in the order that is wanted of those that are there; those that it leaves out
// follow.
func arrange(tx *gorm.DB, captureID string, wanted func(there []string) []string) error {
	var there []string
	if err := tx.Table("shots").Where("capture_id = ?", captureID).Order("place, id").Pluck("id", &there).Error; err != nil {
		return err
	}
	left := map[string]bool{}
	for _, id := range there {
		left[id] = true
	}
	var order []string
	for _, id := range append(slices.Clone(wanted(there)), there...) {
		if left[id] {
			delete(left, id)
			order = append(order, id)
		}
	}
	for i, id := range order {
		if err := tx.Table("shots").Where("id = ? AND place <> ?", id, i+1).Update("place", i+1).Error; err != nil {
			return err
		}
	}
	return nil
}

// Room is how much an account's shots take, in bytes of their files.
type Room struct {
	Shots       int
	Bytes       int64
	UnusedShots int
	UnusedBytes int64
}

// Room measures an account's shots.
func (s *Captures) Room(ctx context.Context, owner string) (Room, error) {
	var r Room
	err := s.on(ctx).Raw(`SELECT COUNT(*) AS shots, COALESCE(SUM(bytes), 0) AS bytes,
		COALESCE(SUM(unused), 0) AS unused_shots, COALESCE(SUM(bytes * unused), 0) AS unused_bytes
		FROM (SELECT bytes, (NOT `+isUsed+`) AS unused FROM shots WHERE created_by = ? AND discarded_at IS NULL) mine`, owner).Scan(&r).Error
	if err != nil {
		return r, fmt.Errorf("measuring shots: %w", err)
	}
	return r, nil
}

package store

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"time"

	"raconte/core/capture"
	"raconte/core/sight"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Shot is what is known of a shot; its pixels are a blob named by SHA256.
type Shot struct {
	ID        string
	SHA256    string `gorm:"column:sha256"`
	MediaType string
	Width     int
	Height    int
	Bytes     int64
	Name      string
	CreatedBy string
	CreatedAt time.Time

	CaptureID   *string // the session it was taken in; nil for pictures brought straight into a document
	Place       int     // in the session, from 1
	TakenAt     time.Time
	Source      string
	WindowTitle string
	About       capture.About `gorm:"serializer:json"`
	Replays     *string       // the shot of a run whose place it may take
	Verdict     sight.Verdict // against the shot before it in the session; "" where there is none
	Words       []sight.Word  `gorm:"serializer:json"` // nil until the picture was read
	FoundText   *string
	DiscardedAt *time.Time
	Recording   Recording `gorm:"embedded;embeddedPrefix:clip_"` // behind it; the zero one of a still picture
	Placed      bool      `gorm:"->;-:migration"`                // whether a block of a document uses it, where that was asked for
	Used        bool      `gorm:"->;-:migration"`                // whether anything does: a removed block or an old revision too
}

// Recording is the moving picture that a shot stands for; the shot's own pixels are one of its. Its files are blobs.
type Recording struct {
	SHA256    string `gorm:"column:sha256"` // "" of a still picture
	MediaType string
	Ms        int // how long it is, in milliseconds
	Poster    int // where in it the shot's picture is from
	Sounds    bool
	Camera    string // the recording of the speaker's camera beside it, by SHA-256; "" where there is none
}

// Moves tells whether there is one.
func (r Recording) Moves() bool { return r.SHA256 != "" }

// ErrTaken says that an id is in use for something else.
var ErrTaken = errors.New("the id is taken")

// AddShot records a shot under the id that the client chose, at the end of its session where it has one.
// The same shot recorded again is fine; another one under the same id is ErrTaken. The shot is
// returned as it is kept.
func (s *Captures) AddShot(ctx context.Context, shot Shot) (Shot, error) {
	shot.CreatedAt = s.now()
	if shot.TakenAt.IsZero() {
		shot.TakenAt = shot.CreatedAt
	}
	if shot.Source == "" {
		shot.Source = "file"
	}
	if r := shot.About.Replay; r != nil && r.Fit != capture.FitGone {
		shot.Replays = &r.Of
	}
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if shot.CaptureID != nil {
			if err := tx.Clauses(forUpdate).Where("id = ? AND owner = ?", *shot.CaptureID, shot.CreatedBy).Take(&Capture{}).Error; err != nil {
				return found(err)
			}
			var last int
			if err := tx.Table("shots").Where("capture_id = ?", *shot.CaptureID).Select("COALESCE(MAX(place), 0)").Scan(&last).Error; err != nil {
				return err
			}
			shot.Place = last + 1
			if err := tx.Table("captures").Where("id = ?", *shot.CaptureID).Update("last_at", s.now()).Error; err != nil {
				return err
			}
		}
		return tx.Create(&shot).Error
	})
	if !errors.Is(err, gorm.ErrDuplicatedKey) {
		return shot, err
	}
	there, err := s.Shot(ctx, shot.ID)
	if err == nil && (there.SHA256 != shot.SHA256 || there.CreatedBy != shot.CreatedBy) {
		err = ErrTaken
	}
	return there, err
}

// Shot is the shot with an id.
func (s *Captures) Shot(ctx context.Context, id string) (Shot, error) {
	var shot Shot
	err := s.on(ctx).Where("id = ?", id).Take(&shot).Error
	return shot, found(err)
}

// ShotsOf are the shots that blocks show.
func (s *Captures) ShotsOf(ctx context.Context, rows []Block) ([]Shot, error) {
	w := Whole{Rows: rows}
	shots := []Shot{}
	ids := w.Core().Shots()
	if len(ids) == 0 {
		return shots, nil
	}
	for part := range slices.Chunk(ids, 1000) {
		var some []Shot
		if err := s.on(ctx).Omit("words", "found_text", "placed", "used").Where("id IN ?", part).Find(&some).Error; err != nil {
			return shots, err
		}
		shots = append(shots, some...)
	}
	return shots, nil
}

// Replays are an account's shots that may take the place of others, which a document shows: of each the last taken.
func (s *Captures) Replays(ctx context.Context, owner string, shots []string) ([]Shot, error) {
	last := map[string]Shot{}
	for part := range slices.Chunk(shots, 1000) {
		var some []Shot
		err := s.on(ctx).Omit("words", "found_text", "placed", "used").Order("taken_at").
			Where("replays IN ? AND created_by = ? AND discarded_at IS NULL", part, owner).Find(&some).Error
		if err != nil {
			return nil, err
		}
		for _, shot := range some {
			last[*shot.Replays] = shot
		}
	}
	found := []Shot{}
	for _, id := range shots {
		if shot, ok := last[id]; ok {
			found = append(found, shot)
		}
	}
	return found, nil
}

// DropUnused forgets shots that came in before a time and that no block, removed or not, and no
// revision uses; of those taken in a session, only what a person has discarded before that time. Their blobs are swept
// later.
func (s *Captures) DropUnused(ctx context.Context, before time.Time) error {
	err := s.deleteInParts(ctx, "shots", `created_at < ? AND (capture_id IS NULL OR discarded_at < ?) AND NOT `+isUsed, before, before)
	if err != nil {
		return fmt.Errorf("dropping unused shots: %w", err)
	}
	return nil
}

// HasBlobs are those of some SHA-256 sums that shots have.
func (s *Captures) HasBlobs(ctx context.Context, sums []string) (map[string]bool, error) {
	return s.present(ctx, "shots", "sha256", sums, "TRUE")
}

// HasRecordings are those of some SHA-256 sums that recordings, or those of cameras, have.
func (s *Captures) HasRecordings(ctx context.Context, sums []string) (map[string]bool, error) {
	all, err := s.present(ctx, "shots", "clip_sha256", sums, "TRUE")
	if err != nil {
		return nil, err
	}
	more, err := s.present(ctx, "shots", "clip_camera", sums, "TRUE")
	maps.Copy(all, more)
	return all, err
}

// Rendition is a picture made from shots.
type Rendition struct {
	CacheKey  string `gorm:"primaryKey"`
	MediaType string
	CreatedAt time.Time
}

// Rendition is the record of a made picture.
func (s *Captures) Rendition(ctx context.Context, key string) (Rendition, error) {
	var r Rendition
	err := s.on(ctx).Where("cache_key = ?", key).Take(&r).Error
	return r, found(err)
}

// AddRendition records a made picture; made twice, the first stays.
func (s *Captures) AddRendition(ctx context.Context, key, mediaType string) error {
	r := Rendition{key, mediaType, s.now()}
	return s.on(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&r).Error
}

// DropRenditions forgets made pictures from before a time.
func (s *Captures) DropRenditions(ctx context.Context, before time.Time) error {
	return s.deleteInParts(ctx, "renditions", "created_at < ?", before)
}

// HasRenditions are those of some keys under which made pictures are recorded.
func (s *Captures) HasRenditions(ctx context.Context, keys []string) (map[string]bool, error) {
	return s.present(ctx, "renditions", "cache_key", keys, "TRUE")
}

// WordsOf are the words that were read in shots, by the shots' ids.
func (s *Captures) WordsOf(ctx context.Context, shots []string) (map[string]Shot, error) {
	out := map[string]Shot{}
	for part := range slices.Chunk(shots, 200) {
		var some []Shot
		if err := s.on(ctx).Table("shots").Select("id, width, height, words, about, clip_poster").Where("id IN ?", part).Find(&some).Error; err != nil {
			return nil, err
		}
		for _, shot := range some {
			out[shot.ID] = shot
		}
	}
	return out, nil
}

package store

import (
	"context"
	"errors"
	"fmt"
	"time"

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
}

// ErrTaken says that an id is in use for something else.
var ErrTaken = errors.New("the id is taken")

// AddShot records a shot under the id that the client chose. The same shot recorded again is fine;
// another one under the same id is ErrTaken.
func (s *Store) AddShot(ctx context.Context, shot Shot) error {
	shot.CreatedAt = s.now()
	err := s.db.WithContext(ctx).Create(&shot).Error
	if !errors.Is(err, gorm.ErrDuplicatedKey) {
		return err
	}
	there, err := s.Shot(ctx, shot.ID)
	if err == nil && there.SHA256 != shot.SHA256 {
		err = ErrTaken
	}
	return err
}

// Shot is the shot with an id.
func (s *Store) Shot(ctx context.Context, id string) (Shot, error) {
	var shot Shot
	err := s.db.WithContext(ctx).Where("id = ?", id).Take(&shot).Error
	return shot, found(err)
}

// ShotsOf are the shots that steps use.
func (s *Store) ShotsOf(ctx context.Context, rows []Step) ([]Shot, error) {
	w := Whole{Rows: rows}
	shots := []Shot{}
	ids := w.Core().Shots()
	if len(ids) == 0 {
		return shots, nil
	}
	err := s.db.WithContext(ctx).Where("id IN ?", ids).Find(&shots).Error
	return shots, err
}

// DropUnused forgets shots that came in before a time and that no step, removed or not, and no
// revision uses. Their blobs are swept later.
func (s *Store) DropUnused(ctx context.Context, before time.Time) error {
	err := s.db.WithContext(ctx).Exec(`DELETE FROM shots WHERE created_at < ?
		AND id NOT IN (SELECT shot_id FROM step_shots) AND id NOT IN (SELECT shot_id FROM revision_shots)`, before).Error
	if err != nil {
		return fmt.Errorf("dropping unused shots: %w", err)
	}
	return nil
}

// HasBlob tells whether a shot's blob is in use.
func (s *Store) HasBlob(ctx context.Context, sha string) (bool, error) {
	var n int64
	err := s.db.WithContext(ctx).Table("shots").Where("sha256 = ?", sha).Limit(1).Count(&n).Error
	return n > 0, err
}

// Rendition is a picture made from shots.
type Rendition struct {
	CacheKey  string `gorm:"primaryKey"`
	MediaType string
	CreatedAt time.Time
}

// Rendition is the record of a made picture.
func (s *Store) Rendition(ctx context.Context, key string) (Rendition, error) {
	var r Rendition
	err := s.db.WithContext(ctx).Where("cache_key = ?", key).Take(&r).Error
	return r, found(err)
}

// AddRendition records a made picture; made twice, the first stays.
func (s *Store) AddRendition(ctx context.Context, key, mediaType string) error {
	r := Rendition{key, mediaType, s.now()}
	return s.db.WithContext(ctx).Clauses(clause.OnConflict{DoNothing: true}).Create(&r).Error
}

// DropRenditions forgets made pictures from before a time.
func (s *Store) DropRenditions(ctx context.Context, before time.Time) error {
	return s.db.WithContext(ctx).Exec("DELETE FROM renditions WHERE created_at < ?", before).Error
}

// HasRendition tells whether a made picture is recorded.
func (s *Store) HasRendition(ctx context.Context, key string) (bool, error) {
	_, err := s.Rendition(ctx, key)
	if errors.Is(err, ErrNotFound) {
		return false, nil
	}
	return err == nil, err
}

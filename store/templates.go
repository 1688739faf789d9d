package store

import (
	"context"
	"errors"
	"time"

	"github.com/google/uuid"
)

// Template is a template that the house has made; its file lies in the blobs.
type Template struct {
	ID        string
	Kind      string // of files: "html", "docx" or "pptx"
	Name      string
	SHA256    string `gorm:"column:sha256"`
	Bytes     int64
	Script    bool // whether it may run script
	Version   int
	ChangedBy string
	ChangedAt time.Time
	Deleted   bool

	ChangedName string `gorm:"->;-:migration"` // as people read it
}

// Templates are the templates of the house, by name.
func (s *Setup) Templates(ctx context.Context) ([]Template, error) {
	var all []Template
	err := s.on(ctx).Table("templates").Select("templates.*, accounts.display_name AS changed_name").
		Joins("JOIN accounts ON accounts.id = templates.changed_by").Where("NOT deleted").Order("templates.name, templates.id").Limit(500).Find(&all).Error
	return all, err
}

// Template is one of them; a deleted one too, since a delivery that waits may name it.
func (s *Setup) Template(ctx context.Context, id string) (Template, error) {
	var t Template
	err := s.on(ctx).Where("id = ?", id).Take(&t).Error
	return t, found(err)
}

// AddTemplate keeps a new template.
func (s *Setup) AddTemplate(ctx context.Context, t Template) (Template, error) {
	t.ID, t.Version, t.ChangedAt = uuid.NewString(), 1, s.now()
	return t, s.on(ctx).Omit("changed_name").Create(&t).Error
}

// ChangeTemplate keeps another state of a template, which was made from its version; ErrConflict where someone else has
// changed it since.
func (s *Setup) ChangeTemplate(ctx context.Context, t Template) (Template, error) {
	from := t.Version
	t.Version, t.ChangedAt = from+1, s.now()
	res := s.on(ctx).Model(&Template{}).Where("id = ? AND version = ? AND NOT deleted", t.ID, from).
		Select("name", "sha256", "bytes", "script", "version", "changed_by", "changed_at").Updates(t)
	if res.Error != nil || res.RowsAffected > 0 {
		return t, res.Error
	}
	if now, err := s.Template(ctx, t.ID); err != nil || now.Deleted {
		return t, errors.Join(err, ErrNotFound)
	}
	return t, ErrConflict
}

// DeleteTemplate takes a template out of the choice.
func (s *Setup) DeleteTemplate(ctx context.Context, id string) error {
	res := s.on(ctx).Exec("UPDATE templates SET deleted = TRUE WHERE id = ? AND NOT deleted", id)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}

package store

import (
	"context"
	"errors"
	"time"

	"raconte/core/style"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// HouseStyle is a style that the house has made.
type HouseStyle struct {
	ID        string
	Name      string
	Content   style.Style `gorm:"serializer:json"`
	Version   int
	ChangedBy string
	ChangedAt time.Time
	Deleted   bool
}

// HouseFile is a face or a logo of the house; its file lies in the blobs.
type HouseFile struct {
	SHA256  string `gorm:"column:sha256;primaryKey"`
	Kind    string // "face" or "logo"
	Name    string
	Media   string
	Bytes   int64
	About   HouseAbout `gorm:"serializer:json"`
	AddedBy string
	AddedAt time.Time
}

// HouseAbout is what is known of a file of the house: of a face its family and how it is cut, of a logo its pixels.
type HouseAbout struct {
	Family string `json:"family,omitempty"`
	Cut    string `json:"cut,omitempty"`
	Width  int    `json:"width,omitempty"`
	Height int    `json:"height,omitempty"`
}

// HouseStyles are the styles that the house has made, by name.
func (s *Setup) HouseStyles(ctx context.Context) ([]HouseStyle, error) {
	var all []HouseStyle
	err := s.on(ctx).Where("NOT deleted").Order("name, id").Find(&all).Error
	return all, err
}

// HouseStyle is one of them; a deleted one too, since documents may still name it.
func (s *Setup) HouseStyle(ctx context.Context, id string) (HouseStyle, error) {
	var h HouseStyle
	err := s.on(ctx).Where("id = ?", id).Take(&h).Error
	return h, found(err)
}

// AddHouseStyle keeps a new style.
func (s *Setup) AddHouseStyle(ctx context.Context, content style.Style, by string) (HouseStyle, error) {
	h := HouseStyle{ID: uuid.NewString(), Name: content.Name, Content: content, Version: 1, ChangedBy: by, ChangedAt: s.now()}
	return h, s.on(ctx).Create(&h).Error
}

// ChangeHouseStyle keeps another state of a style; ErrConflict where someone else has changed it since.
func (s *Setup) ChangeHouseStyle(ctx context.Context, id string, version int, content style.Style, by string) (HouseStyle, error) {
	h := HouseStyle{ID: id, Name: content.Name, Content: content, Version: version + 1, ChangedBy: by, ChangedAt: s.now()}
	res := s.on(ctx).Model(&HouseStyle{}).Where("id = ? AND version = ? AND NOT deleted", id, version).
		Select("name", "content", "version", "changed_by", "changed_at").Updates(h)
	if res.Error != nil || res.RowsAffected > 0 {
		return h, res.Error
	}
	if now, err := s.HouseStyle(ctx, id); err != nil || now.Deleted {
		return h, errors.Join(err, ErrNotFound)
	}
	return h, ErrConflict
}

// DeleteHouseStyle takes a style out of the choice. Documents that name it keep it.
func (s *Setup) DeleteHouseStyle(ctx context.Context, id string) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		res := tx.Exec("UPDATE house_styles SET deleted = TRUE WHERE id = ?", id)
		if res.Error == nil && res.RowsAffected == 0 {
			return ErrNotFound
		}
		return errors.Join(res.Error, tx.Exec("UPDATE house SET style = '' WHERE id = 1 AND style = ?", id).Error)
	})
}

// UsualStyle is the style that documents have which name none; "" is the one that ships.
func (s *Setup) UsualStyle(ctx context.Context) (string, error) {
	var id string
	err := s.on(ctx).Raw("SELECT style FROM house WHERE id = 1").Scan(&id).Error
	return id, err
}

// SetUsualStyle says which style documents have that name none.
func (s *Setup) SetUsualStyle(ctx context.Context, id string) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if _, err := lockHouse(tx); err != nil {
			return err
		}
		return tx.Exec("UPDATE house SET style = ? WHERE id = 1", id).Error
	})
}

// StyleNamed is a style by its id: one that ships or one of the house; "" is the house's usual one. One that is gone is
// the default.
func (s *Setup) StyleNamed(ctx context.Context, id string) (style.Style, error) {
	return styleNamed(s.on(ctx), id)
}

func styleNamed(db *gorm.DB, id string) (style.Style, error) {
	if id == "" {
		if err := db.Raw("SELECT style FROM house WHERE id = 1").Scan(&id).Error; err != nil {
			return style.Default(), err
		}
	}
	if built, there := style.BuiltIn(id); there {
		return built, nil
	}
	var h HouseStyle
	err := db.Where("id = ?", id).Take(&h).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return style.Default(), nil
	}
	return h.Content, err
}

// RevisionStyle is the style that a revision was released with; nil of one from before there were several.
func (s *Setup) RevisionStyle(ctx context.Context, document string, number int) (*style.Style, error) {
	var r Revision
	err := s.on(ctx).Select("document_id", "number", "style").Where("document_id = ? AND number = ?", document, number).Take(&r).Error
	return r.Style, found(err)
}

// StyleUses are the documents that name a style, the first hundred by title.
func (s *Setup) StyleUses(ctx context.Context, id string) ([]Document, error) {
	var all []Document
	err := s.on(ctx).Where("deleted_at IS NULL AND JSON_VALUE(facts, '$.style') = ?", id).Order("title, id").Limit(100).Find(&all).Error
	return all, err
}

// AddHouseFile keeps what is known of a file of the house; one that is there already is left as it is.
func (s *Setup) AddHouseFile(ctx context.Context, f HouseFile) error {
	f.AddedAt = s.now()
	return s.on(ctx).Where("sha256 = ?", f.SHA256).FirstOrCreate(&f).Error
}

// HouseFile is what is known of a file of the house.
func (s *Setup) HouseFile(ctx context.Context, sha string) (HouseFile, error) {
	var f HouseFile
	err := s.on(ctx).Where("sha256 = ?", sha).Take(&f).Error
	return f, found(err)
}

// HouseFiles are the files of the house of a kind, the newest first.
func (s *Setup) HouseFiles(ctx context.Context, kind string) ([]HouseFile, error) {
	var all []HouseFile
	err := s.on(ctx).Where("kind = ?", kind).Order("added_at DESC, sha256").Limit(200).Find(&all).Error
	return all, err
}

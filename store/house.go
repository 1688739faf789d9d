package store

import (
	"context"
	"strings"

	"raconte/core/approval"
	"raconte/core/document"
	"raconte/core/refusal"

	"gorm.io/gorm"
)

// HouseChange is what of a house is to be another; nil stays as it is.
type HouseChange struct {
	Version int // of the house as it was seen
	Pattern *document.Pattern
	Rule    *approval.Rule
	Frames  []string // origins of pages that may show links in a frame
}

// House is what holds for the whole house.
func (s *Setup) House(ctx context.Context) (House, error) {
	var h House
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) (err error) {
		h, err = lockHouse(tx)
		return err
	})
	return h, err
}

// ChangeHouse changes what holds for the whole house from now on. The error is ErrConflict where the house is not any
// more what was seen, and a refusal where it can't be so.
func (s *Setup) ChangeHouse(ctx context.Context, c HouseChange) error {
	if c.Pattern != nil {
		if err := c.Pattern.Check(); err != nil {
			return refusal.New("%s.", err)
		}
	}
	if c.Rule != nil {
		if err := c.Rule.Check(); err != nil {
			return err
		}
	}
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		h, err := lockHouse(tx)
		if err != nil {
			return err
		}
		if h.Version != c.Version {
			return ErrConflict
		}
		h.Version++
		if c.Pattern != nil {
			h.Pattern = *c.Pattern
		}
		if c.Rule != nil {
			h.Rule = *c.Rule
		}
		if c.Frames != nil {
			frames := strings.Join(c.Frames, "\n")
			h.Frames = &frames
		}
		return tx.Select("pattern", "rule", "frames", "version").Updates(&h).Error
	})
}

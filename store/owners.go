package store

import (
	"context"
	"errors"
	"fmt"

	"raconte/core/access"

	"gorm.io/gorm"
)

// HandOver makes someone the owner of all documents that another owns, and tells how many.
func (s *Documents) HandOver(ctx context.Context, from, to Account, by access.Viewer) (int, error) {
	n := 0
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		n = 0
		var ids []string
		if err := tx.Table("documents").Where("owner = ? COLLATE utf8mb4_nopad_bin AND deleted_at IS NULL", from.DisplayName).Order("id").Pluck("id", &ids).Error; err != nil {
			return err
		}
		for _, id := range ids {
			d, err := lock(tx, id)
			if errors.Is(err, ErrNotFound) || err == nil && d.Owner != from.DisplayName {
				continue
			}
			if err == nil {
				d.Facts.Owner = to.DisplayName
				err = s.setFacts(tx, d, by.Account)
			}
			if err != nil {
				return fmt.Errorf("handing a document over: %w", err)
			}
			n++
		}
		if n == 0 {
			return nil
		}
		return s.trail.note(tx, Act{Act: ActAccess, AccountID: orNil(by.Account), About: from.DisplayName, Told: fmt.Sprintf("Handed %s over to %s", counted(n, "document"), to.DisplayName)})
	})
	return n, err
}

// setFacts writes changed facts that lead to no other state: who answers for a document is no part of what it says.
func (s *Documents) setFacts(tx *gorm.DB, d Document, by string) error {
	return s.touch(tx, d, by, &d.Facts, nil)
}

// Owned is how many documents a person answers for.
func (s *Documents) Owned(ctx context.Context) (map[string]int, error) {
	var rows []struct {
		Owner string
		N     int
	}
	err := s.on(ctx).Table("documents").Select("owner, COUNT(*) AS n").Where("owner <> '' AND deleted_at IS NULL").Group("owner").Scan(&rows).Error
	all := map[string]int{}
	for _, r := range rows {
		all[r.Owner] = r.N
	}
	return all, err
}

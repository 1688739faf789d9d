package store

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"unicode/utf8"

	"raconte/core/refusal"

	"github.com/google/uuid"
	"gorm.io/gorm"
)

// Group is a group of people.
type Group struct {
	ID       string
	Name     string
	Version  int      // counts its changes, from 1
	Accounts []string `gorm:"-"`
}

type groupMember struct{ GroupID, AccountID string }

// Groups are all groups by their names, with the people in them.
func (s *Identity) Groups(ctx context.Context) ([]Group, error) {
	var all []Group
	if err := s.on(ctx).Order("name, id").Find(&all).Error; err != nil {
		return nil, err
	}
	var members []groupMember
	if err := s.on(ctx).Table("group_members").Find(&members).Error; err != nil {
		return nil, err
	}
	for i, c := range all {
		for _, m := range members {
			if m.GroupID == c.ID {
				all[i].Accounts = append(all[i].Accounts, m.AccountID)
			}
		}
	}
	return all, nil
}

// PutGroup adds a group, where it has no id, or changes one.
func (s *Identity) PutGroup(ctx context.Context, c Group, by Account) (Group, error) {
	c.Name = strings.TrimSpace(c.Name)
	if n := utf8.RuneCountInString(c.Name); n == 0 || n > longestFolder || strings.ContainsAny(c.Name, "\n\r\x00") {
		return c, refusal.New("A group needs a name of at most %d characters.", longestFolder)
	}
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if c.ID == "" {
			c.ID, c.Version = uuid.NewString(), 1
			if err := tx.Create(&c).Error; err != nil {
				return err
			}
		} else {
			var now Group
			if err := tx.Clauses(forUpdate).Where("id = ?", c.ID).Take(&now).Error; err != nil {
				return found(err)
			}
			if now.Version != c.Version {
				return ErrConflict
			}
			c.Version++
			if err := tx.Model(&Group{}).Where("id = ?", c.ID).Select("name", "version").Updates(c).Error; err != nil {
				return err
			}
		}
		if err := tx.Exec("DELETE FROM group_members WHERE group_id = ?", c.ID).Error; err != nil {
			return err
		}
		var members []groupMember
		for _, a := range unique(c.Accounts) {
			members = append(members, groupMember{c.ID, a})
		}
		if len(members) > 0 {
			if err := tx.Table("group_members").Create(&members).Error; err != nil {
				return err
			}
		}
		return s.trail.note(tx, Act{Act: ActAccess, AccountID: orNil(by.ID), Who: by.DisplayName, About: "Group " + c.Name, Told: fmt.Sprintf("%d people", len(members))})
	})
	switch {
	case errors.Is(err, gorm.ErrDuplicatedKey):
		err = refusal.New("There is a group “%s” already.", c.Name)
	case errors.Is(err, gorm.ErrForeignKeyViolated):
		err = refusal.New("Someone in the group is not there any more.")
	}
	return c, err
}

// DeleteGroup deletes a group; who was in it loses what it opened.
func (s *Identity) DeleteGroup(ctx context.Context, id string) error {
	return s.within(ctx, func(_ context.Context, tx *gorm.DB) error {
		// By hand: of rows that go with others no trigger hears, and who may open what would be remembered as it was.
		for _, members := range []string{"group_members", "folder_members"} {
			if err := tx.Exec("DELETE FROM "+members+" WHERE group_id = ?", id).Error; err != nil {
				return err
			}
		}
		res := tx.Exec("DELETE FROM `groups` WHERE id = ?", id)
		if res.Error == nil && res.RowsAffected == 0 {
			return ErrNotFound
		}
		return res.Error
	})
}

// Accounts are all people, by their names.
func (s *Identity) Accounts(ctx context.Context) ([]Account, error) {
	var all []Account
	err := s.on(ctx).Order("display_name, id").Find(&all).Error
	return all, err
}

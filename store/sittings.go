package store

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"
)

// Sitting is a place where someone is signed in.
type Sitting struct {
	ID        string
	AccountID string
	Browser   string // what it calls itself
	Address   string
	BeganAt   time.Time
	SeenAt    time.Time
}

const (
	lookAgain   = time.Minute    // seen is written down at most this often
	keepSitting = 24 * time.Hour // after which one that was not seen is forgotten: sessions end before
)

// BeginSitting keeps that someone has signed in.
func (s *Identity) BeginSitting(ctx context.Context, account, browser, address string) (string, error) {
	if r := []rune(browser); len(r) > 200 {
		browser = string(r[:200])
	}
	at := Sitting{ID: uuid.NewString(), AccountID: account, Browser: browser, Address: address, BeganAt: s.now(), SeenAt: s.now()}
	if err := s.on(ctx).Create(&at).Error; err != nil {
		return "", fmt.Errorf("keeping that someone has signed in: %w", err)
	}
	return at.ID, s.deleteInParts(ctx, "sittings", "seen_at < ?", s.now().Add(-keepSitting))
}

// Sits tells whether someone is still signed in there, and keeps that they were seen.
func (s *Identity) Sits(ctx context.Context, account, id string) (bool, error) {
	var at []Sitting
	err := s.on(ctx).Where("id = ? AND account_id = ?", id, account).Limit(1).Find(&at).Error
	if err != nil || len(at) == 0 {
		return false, err
	}
	if s.now().Sub(at[0].SeenAt) > lookAgain {
		err = s.on(ctx).Exec("UPDATE sittings SET seen_at = ? WHERE id = ?", s.now(), id).Error
	}
	return true, err
}

// Sittings are the places where someone is signed in, the last seen first.
func (s *Identity) Sittings(ctx context.Context, account string) ([]Sitting, error) {
	all := []Sitting{}
	err := s.on(ctx).Where("account_id = ? AND seen_at > ?", account, s.now().Add(-keepSitting)).Order("seen_at DESC, id").Find(&all).Error
	return all, err
}

// EndSitting ends one of someone's.
func (s *Identity) EndSitting(ctx context.Context, account, id string) error {
	res := s.on(ctx).Exec("DELETE FROM sittings WHERE id = ? AND account_id = ?", id, account)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}

// EndSittings ends all of someone's.
func (s *Identity) EndSittings(ctx context.Context, account string) error {
	return s.on(ctx).Exec("DELETE FROM sittings WHERE account_id = ?", account).Error
}

// SeenLast is when each account was last seen, of those that were lately.
func (s *Identity) SeenLast(ctx context.Context) (map[string]time.Time, error) {
	var rows []struct {
		AccountID string
		At        time.Time
	}
	err := s.on(ctx).Table("sittings").Select("account_id, MAX(seen_at) AS at").Group("account_id").Scan(&rows).Error
	all := map[string]time.Time{}
	for _, r := range rows {
		all[r.AccountID] = r.At
	}
	return all, err
}

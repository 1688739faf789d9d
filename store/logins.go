package store

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"
)

// Login is a place where someone is signed in.
type Login struct {
	ID        string
	AccountID string
	Browser   string // what it calls itself
	Address   string
	BeganAt   time.Time
	SeenAt    time.Time
}

const (
	lookAgain = time.Minute    // seen is written down at most this often
	keepLogin = 24 * time.Hour // after which one that was not seen is forgotten: sessions end before
)

// BeginLogin keeps that someone has signed in.
func (s *Identity) BeginLogin(ctx context.Context, account, browser, address string) (string, error) {
	if r := []rune(browser); len(r) > 200 {
		browser = string(r[:200])
	}
	at := Login{ID: uuid.NewString(), AccountID: account, Browser: browser, Address: address, BeganAt: s.now(), SeenAt: s.now()}
	if err := s.on(ctx).Create(&at).Error; err != nil {
		return "", fmt.Errorf("keeping that someone has signed in: %w", err)
	}
	return at.ID, s.deleteInParts(ctx, "logins", "seen_at < ?", s.now().Add(-keepLogin))
}

// StillIn tells whether someone is still signed in there, and keeps that they were seen.
func (s *Identity) StillIn(ctx context.Context, account, id string) (bool, error) {
	var at []Login
	err := s.on(ctx).Where("id = ? AND account_id = ?", id, account).Limit(1).Find(&at).Error
	if err != nil || len(at) == 0 {
		return false, err
	}
	if s.now().Sub(at[0].SeenAt) > lookAgain {
		err = s.on(ctx).Exec("UPDATE logins SET seen_at = ? WHERE id = ?", s.now(), id).Error
	}
	return true, err
}

// Logins are the places where someone is signed in, the last seen first.
func (s *Identity) Logins(ctx context.Context, account string) ([]Login, error) {
	all := []Login{}
	err := s.on(ctx).Where("account_id = ? AND seen_at > ?", account, s.now().Add(-keepLogin)).Order("seen_at DESC, id").Find(&all).Error
	return all, err
}

// EndLogin ends one of someone's.
func (s *Identity) EndLogin(ctx context.Context, account, id string) error {
	res := s.on(ctx).Exec("DELETE FROM logins WHERE id = ? AND account_id = ?", id, account)
	if res.Error == nil && res.RowsAffected == 0 {
		return ErrNotFound
	}
	return res.Error
}

// EndLogins ends all of someone's.
func (s *Identity) EndLogins(ctx context.Context, account string) error {
	return s.on(ctx).Exec("DELETE FROM logins WHERE account_id = ?", account).Error
}

// SeenLast is when each account was last seen, of those that were lately.
func (s *Identity) SeenLast(ctx context.Context) (map[string]time.Time, error) {
	var rows []struct {
		AccountID string
		At        time.Time
	}
	err := s.on(ctx).Table("logins").Select("account_id, MAX(seen_at) AS at").Group("account_id").Scan(&rows).Error
	all := map[string]time.Time{}
	for _, r := range rows {
		all[r.AccountID] = r.At
	}
	return all, err
}

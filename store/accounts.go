package store

import (
	"context"
	"errors"
	"fmt"
	"time"

	"raconte/core/access"
	"raconte/core/refusal"

	"github.com/google/uuid"
	"golang.org/x/text/secure/precis"
	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// Account is a person who can sign in.
type Account struct {
	ID           string
	Name         string // as NormalName makes it
	DisplayName  string
	Role         access.Role
	PasswordHash string // "" of one who has not chosen a password yet
	Epoch        int    // sessions that began in an earlier one have ended
	Email        *string
	Subject      *string // who they are to the house's identity provider
	Mails        string  // notices by mail: Now, Daily or Never
	SummedAt     *time.Time
	DisabledAt   *time.Time
	OTPSecret    string   // of one-time codes; "" where they are off
	OTPStep      int64    // the last that was used
	Recovery     []string `gorm:"serializer:json"` // hashes of codes that stand in for one-time codes, each once
	Closed       []string `gorm:"-"`               // the folders that are not open to them, where that was asked for
}

// How someone gets notices by mail.
const (
	Now   = "now"
	Daily = "daily"
	Never = "never"
)

// Viewer is the account as one who asks.
func (a Account) Viewer() access.Viewer {
	return access.Viewer{Account: a.ID, Role: a.Role, Closed: a.Closed}
}

// LongestName is the most bytes of a name to sign in with.
const LongestName = 100

// NormalName is the one spelling of a name to sign in with: the profile UsernameCaseMapped of RFC 8265 (PRECIS), so
// that wide, composed and capital letters are the plain small ones. False where it can't be a name.
func NormalName(name string) (string, bool) {
	if len(name) > LongestName {
		return "", false
	}
	normal, err := precis.UsernameCaseMapped.String(name)
	return normal, err == nil && normal != "" && len(normal) <= LongestName
}

// Account is the account with an id.
func (s *Identity) Account(ctx context.Context, id string) (Account, error) {
	var a Account
	err := s.on(ctx).Where("id = ?", id).First(&a).Error
	return a, found(err)
}

// AccountNamed is the account that signs in under a name, however that is spelt.
func (s *Identity) AccountNamed(ctx context.Context, name string) (Account, error) {
	normal, ok := NormalName(name)
	if !ok {
		return Account{}, ErrNotFound
	}
	var a Account
	err := s.on(ctx).Where("name = ?", normal).First(&a).Error
	return a, found(err)
}

// CreateAccount adds an account and gives it its id.
func (s *Identity) CreateAccount(ctx context.Context, a Account) (Account, error) {
	normal, ok := NormalName(a.Name)
	if !ok {
		return a, refusal.New("“%.40s” can't be a name to sign in with. Use letters and digits.", a.Name)
	}
	a.ID, a.Name, a.Epoch = uuid.NewString(), normal, 1
	if a.Mails == "" {
		a.Mails = Now
	}
	if err := s.on(ctx).Create(&a).Error; err != nil {
		return a, fmt.Errorf("creating the account %s: %w", a.Name, taken(err, a))
	}
	return a, nil
}

// taken turns the database's word for a name or address that another account has into ours.
func taken(err error, a Account) error {
	if errors.Is(err, gorm.ErrDuplicatedKey) {
		return refusal.New("Another account signs in as “%s”, or has that e-mail address. Take another.", a.Name)
	}
	return err
}

// normalizeNames brings names from before there was one spelling into it. One that is taken, or can be none, stays as
// it is: nobody signs in with it until an administrator gives it another.
func (s *Identity) normalizeNames(ctx context.Context) error {
	var all []Account
	if err := s.on(ctx).Find(&all).Error; err != nil {
		return fmt.Errorf("reading accounts: %w", err)
	}
	for _, a := range all {
		normal, ok := NormalName(a.Name)
		if !ok || normal == a.Name {
			continue
		}
		err := s.on(ctx).Exec("UPDATE IGNORE accounts SET name = ? WHERE id = ?", normal, a.ID).Error
		if err != nil {
			return fmt.Errorf("normalizing the name of an account: %w", err)
		}
	}
	return nil
}

// SetPassword gives an account another password, where its hash is still the one that was checked; all its sessions
// end. It returns the new epoch. ErrConflict says that the password was changed meanwhile.
func (s *Identity) SetPassword(ctx context.Context, a Account, hash string) (int, error) {
	res := s.on(ctx).Table("accounts").Where("id = ? AND password_hash = ?", a.ID, a.PasswordHash).
		Updates(map[string]any{"password_hash": hash, "epoch": gorm.Expr("epoch + 1")})
	if res.Error == nil && res.RowsAffected == 0 {
		return 0, ErrConflict
	}
	return a.Epoch + 1, res.Error
}

// EndSessions ends all sessions of an account and returns the new epoch.
func (s *Identity) EndSessions(ctx context.Context, id string) (int, error) {
	if err := s.on(ctx).Exec("UPDATE accounts SET epoch = epoch + 1 WHERE id = ?", id).Error; err != nil {
		return 0, fmt.Errorf("ending sessions: %w", err)
	}
	a, err := s.Account(ctx, id)
	return a.Epoch, err
}

// mostPlaces bounds the browsers that are remembered of one account.
const mostPlaces = 20

// AddPlace remembers that an account signed in from a browser, named by a hash of what its cookie holds.
func (s *Identity) AddPlace(ctx context.Context, account, tokenHash string) error {
	db := s.on(ctx)
	err := db.Table("places").Clauses(clause.OnConflict{DoUpdates: clause.AssignmentColumns([]string{"seen_at"})}).
		Create(map[string]any{"account": account, "token_hash": tokenHash, "seen_at": s.now()}).Error
	if err != nil {
		return fmt.Errorf("remembering a browser: %w", err)
	}
	return db.Exec(`DELETE FROM places WHERE account = ? AND token_hash NOT IN
		(SELECT token_hash FROM (SELECT token_hash FROM places WHERE account = ? ORDER BY seen_at DESC LIMIT ?) latest)`, account, account, mostPlaces).Error
}

// KnowsPlace tells whether an account has signed in from a browser within the last months.
func (s *Identity) KnowsPlace(ctx context.Context, account, tokenHash string) (bool, error) {
	var n int64
	err := s.on(ctx).Table("places").Where("account = ? AND token_hash = ? AND seen_at > ?", account, tokenHash, s.now().Add(-keepPlaces)).Count(&n).Error
	return n > 0, err
}

const keepPlaces = 180 * 24 * time.Hour

package store

import (
	"context"
	"errors"
	"fmt"
	"net/mail"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"raconte/core/access"
	"raconte/core/document"
	"raconte/core/refusal"

	"gorm.io/gorm"
)

// longestAddress is the most bytes of an e-mail address (RFC 5321, 4.5.3.1.3, with RFC 3696's erratum 1690).
const longestAddress = 254

// NormalAddress is an e-mail address as accounts have it; nil for none. The error is a refusal.
func NormalAddress(address string) (*string, error) {
	address = strings.ToLower(strings.TrimSpace(address))
	if address == "" {
		return nil, nil
	}
	parsed, err := mail.ParseAddress(address)
	if err != nil || parsed.Address != address || len(address) > longestAddress {
		return nil, refusal.New("“%.60s” is no e-mail address.", address)
	}
	return &address, nil
}

// CheckPerson refuses a name or a role that nobody can have.
func CheckPerson(displayName string, role access.Role) error {
	if n := utf8.RuneCountInString(displayName); n == 0 || n > LongestName || strings.ContainsAny(displayName, "\n\r\x00") {
		return refusal.New("A person needs a name of at most %d characters.", LongestName)
	}
	if !role.Known() {
		return refusal.New("There is no role “%.20s”.", string(role))
	}
	return nil
}

// AddPerson adds an account to some groups, with a note in the trail.
func (s *Identity) AddPerson(ctx context.Context, a Account, groups []string, by Account) (Account, error) {
	if err := CheckPerson(a.DisplayName, a.Role); err != nil {
		return a, err
	}
	made := a
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) (err error) {
		if made, err = s.CreateAccount(ctx, a); err != nil {
			return err
		}
		if err := joinGroups(tx, made.ID, groups); err != nil {
			return err
		}
		return s.trail.note(tx, Act{Act: ActAccess, AccountID: orNil(by.ID), Who: by.DisplayName, About: made.DisplayName, Told: "Added as " + string(made.Role)})
	})
	return made, err
}

// FirstPerson adds the first administrator. ErrConflict where there is an account already.
func (s *Identity) FirstPerson(ctx context.Context, a Account) (Account, error) {
	a.Role = access.Administrator
	if err := CheckPerson(a.DisplayName, a.Role); err != nil {
		return a, err
	}
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if _, err := lockHouse(tx); err != nil { // so that two who come at once are not both the first
			return err
		}
		var n int64
		if err := tx.Table("accounts").Count(&n).Error; err != nil {
			return err
		}
		if n > 0 {
			return ErrConflict
		}
		made, err := s.CreateAccount(ctx, a)
		a = made
		return err
	})
	return a, err
}

// HasAccounts tells whether there is any.
func (s *Identity) HasAccounts(ctx context.Context) (bool, error) {
	var n int64
	err := s.on(ctx).Table("accounts").Limit(1).Count(&n).Error
	return n > 0, err
}

func joinGroups(tx *gorm.DB, account string, groups []string) error {
	if err := tx.Exec("DELETE FROM group_members WHERE account_id = ?", account).Error; err != nil {
		return err
	}
	for _, g := range unique(groups) {
		err := tx.Exec("INSERT INTO group_members (group_id, account_id) VALUES (?, ?)", g, account).Error
		if errors.Is(err, gorm.ErrForeignKeyViolated) {
			return refusal.New("One of the groups is not there any more.")
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// PersonChange is what an administrator changes about someone; nil leaves it as it is.
type PersonChange struct {
	DisplayName *string
	Email       *string
	Role        *access.Role
	Groups      *[]string
	Disabled    *bool
}

// ChangePerson changes someone's account. Whoever is disabled, or gets another role, is signed out; recorders of the
// disabled can send nothing more, and their links are revoked. The last administrator stays one.
func (s *Identity) ChangePerson(ctx context.Context, id string, c PersonChange, by Account) (Account, error) {
	var a Account
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		a = Account{}
		if _, err := lockHouse(tx); err != nil { // so that two administrators do not disable each other at once
			return err
		}
		if err := tx.Clauses(forUpdate).Where("id = ?", id).Take(&a).Error; err != nil {
			return found(err)
		}
		var told []string
		was := a
		if c.DisplayName != nil {
			a.DisplayName = strings.TrimSpace(*c.DisplayName)
		}
		if c.Role != nil {
			a.Role = *c.Role
		}
		if err := CheckPerson(a.DisplayName, a.Role); err != nil {
			return err
		}
		if c.Email != nil {
			address, err := NormalAddress(*c.Email)
			if err != nil {
				return err
			}
			a.Email = address
		}
		if c.Disabled != nil && *c.Disabled != (a.DisabledAt != nil) {
			a.DisabledAt = nil
			if now := s.now(); *c.Disabled {
				a.DisabledAt = &now
			}
			told = append(told, map[bool]string{true: "Disabled", false: "Let in again"}[*c.Disabled])
		}
		if a.Role != was.Role {
			told = append(told, fmt.Sprintf("Was %s, is %s", was.Role, a.Role))
		}
		if len(told) > 0 {
			a.Epoch++
		}
		set := map[string]any{"display_name": a.DisplayName, "email": a.Email, "role": a.Role, "disabled_at": a.DisabledAt, "epoch": a.Epoch}
		if err := tx.Table("accounts").Where("id = ?", id).Updates(set).Error; err != nil {
			return taken(err, a)
		}
		var administrators int64
		err := tx.Table("accounts").Where("role = ? AND disabled_at IS NULL", access.Administrator).Count(&administrators).Error
		if err != nil || administrators == 0 {
			return errors.Join(err, refusal.New("Someone must be administrator. Make another person one first."))
		}
		if a.DisabledAt != nil && was.DisabledAt == nil {
			if err := tx.Exec("UPDATE devices SET revoked_at = ? WHERE owner = ? AND revoked_at IS NULL", s.now(), id).Error; err != nil {
				return err
			}
			if err := tx.Exec("UPDATE shares SET revoked_at = ? WHERE made_by = ? AND revoked_at IS NULL", s.now(), id).Error; err != nil {
				return err
			}
			if err := tx.Exec("DELETE FROM tickets WHERE account_id = ?", id).Error; err != nil {
				return err
			}
		}
		if c.Groups != nil {
			if err := joinGroups(tx, id, *c.Groups); err != nil {
				return err
			}
			told = append(told, "Groups changed")
		}
		if len(told) == 0 {
			return nil
		}
		return s.trail.note(tx, Act{Act: ActAccess, AccountID: orNil(by.ID), Who: by.DisplayName, About: a.DisplayName, Told: strings.Join(told, ". ")})
	})
	return a, err
}

// Ticket is a link that lets someone choose a password, once.
type Ticket struct {
	Hash      string
	AccountID string
	Invites   bool // it is the first password
	MadeAt    time.Time
	EndsAt    time.Time
}

// AddTicket gives someone a ticket for a while; those of its kind that they had are worth nothing any more.
func (s *Identity) AddTicket(ctx context.Context, t Ticket, lasts time.Duration) error {
	t.MadeAt, t.EndsAt = s.now(), s.now().Add(lasts)
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		// Anybody may say that a password was forgotten: that ends no invitation.
		if err := tx.Exec("DELETE FROM tickets WHERE account_id = ? AND invites = ?", t.AccountID, t.Invites).Error; err != nil {
			return err
		}
		return tx.Create(&t).Error
	})
}

// TicketWith is the ticket with a hash, and whose it is. ErrNotFound where it was used, is over, or its person
// disabled.
func (s *Identity) TicketWith(ctx context.Context, hash string) (Ticket, Account, error) {
	var t Ticket
	if err := s.on(ctx).Where("hash = ? AND ends_at > ?", hash, s.now()).Take(&t).Error; err != nil {
		return t, Account{}, found(err)
	}
	a, err := s.Account(ctx, t.AccountID)
	if err == nil && a.DisabledAt != nil {
		err = ErrNotFound
	}
	return t, a, err
}

// UseTicket sets a password by a ticket; it is used up, and all sessions of the account end.
func (s *Identity) UseTicket(ctx context.Context, hash, passwordHash string) (Account, error) {
	var a Account
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		var t Ticket
		if err := tx.Clauses(forUpdate).Where("hash = ? AND ends_at > ?", hash, s.now()).Take(&t).Error; err != nil {
			return found(err)
		}
		if err := tx.Exec("DELETE FROM tickets WHERE account_id = ?", t.AccountID).Error; err != nil {
			return err
		}
		err := tx.Exec("UPDATE accounts SET password_hash = ?, epoch = epoch + 1 WHERE id = ? AND disabled_at IS NULL", passwordHash, t.AccountID).Error
		if err != nil {
			return err
		}
		return found(tx.Where("id = ? AND disabled_at IS NULL", t.AccountID).Take(&a).Error)
	})
	return a, err
}

// SetMails says how someone gets notices by mail.
func (s *Identity) SetMails(ctx context.Context, id, mails string) error {
	return s.on(ctx).Exec("UPDATE accounts SET mails = ? WHERE id = ?", mails, id).Error
}

// OneTimeSecrets are the secrets of one-time codes as they are kept, by account.
func (s *Identity) OneTimeSecrets(ctx context.Context) (map[string]string, error) {
	var all []Account
	err := s.on(ctx).Select("id", "otp_secret").Where("otp_secret <> ''").Find(&all).Error
	secrets := map[string]string{}
	for _, a := range all {
		secrets[a.ID] = a.OTPSecret
	}
	return secrets, err
}

// SealOneTime keeps the secret of an account's one-time codes, sealed.
func (s *Identity) SealOneTime(ctx context.Context, id, sealed string) error {
	return s.on(ctx).Model(&Account{}).Where("id = ?", id).Update("otp_secret", sealed).Error
}

// SetOneTime turns one-time codes on, with the step of the code that proved them, which is used by that, and the hashes
// of the codes for recovery; or off.
func (s *Identity) SetOneTime(ctx context.Context, id, secret string, step int64, recovery []string) error {
	return s.on(ctx).Model(&Account{}).Where("id = ?", id).Select("otp_secret", "otp_step", "recovery").
		Updates(Account{OTPSecret: secret, OTPStep: step, Recovery: recovery}).Error
}

// UseStep takes a one-time code's step; false where it, or a later one, was used before.
func (s *Identity) UseStep(ctx context.Context, id string, step int64) (bool, error) {
	res := s.on(ctx).Exec("UPDATE accounts SET otp_step = ? WHERE id = ? AND otp_step < ?", step, id, step)
	return res.RowsAffected > 0, res.Error
}

// UseRecovery takes one of the codes for recovery; false where it is none of them, or was used.
func (s *Identity) UseRecovery(ctx context.Context, id, hash string) (bool, error) {
	used := false
	err := s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		var a Account
		if err := tx.Clauses(forUpdate).Where("id = ?", id).Take(&a).Error; err != nil {
			return found(err)
		}
		left := []string{}
		for _, h := range a.Recovery {
			if h != hash {
				left = append(left, h)
			}
		}
		used = len(left) < len(a.Recovery)
		return tx.Model(&Account{}).Where("id = ?", id).Select("recovery").Updates(Account{Recovery: left}).Error
	})
	return used, err
}

// AccountOf is the account that the house's identity provider, or an e-mail address, names.
func (s *Identity) AccountOf(ctx context.Context, subject, email string) (Account, error) {
	var a Account
	err := s.on(ctx).Where("subject = ? OR (subject IS NULL AND email = ? AND ? <> '')", subject, email, email).Order("subject IS NULL").Take(&a).Error
	return a, found(err)
}

// SetSubject ties an account to whom the identity provider knows, with the role and the groups that it gives. The last
// administrator stays one, and what changes is in the trail, as the provider's act.
func (s *Identity) SetSubject(ctx context.Context, a Account, groups []string, provider string) error {
	return s.within(ctx, func(ctx context.Context, tx *gorm.DB) error {
		if _, err := lockHouse(tx); err != nil {
			return err
		}
		var was Account
		if err := tx.Clauses(forUpdate).Where("id = ?", a.ID).Take(&was).Error; err != nil {
			return found(err)
		}
		var told []string
		if was.Subject == nil {
			told = append(told, "Tied to the sign-in of "+provider)
		}
		if a.Role != was.Role && was.Role == access.Administrator {
			var others int64
			if err := tx.Table("accounts").Where("role = ? AND disabled_at IS NULL AND id <> ?", access.Administrator, a.ID).Count(&others).Error; err != nil {
				return err
			}
			if others == 0 {
				a.Role = was.Role
				told = append(told, "The last administrator stays one, whatever "+provider+" says")
			}
		}
		epoch := was.Epoch
		if a.Role != was.Role {
			epoch++
			told = append(told, fmt.Sprintf("Was %s, is %s", was.Role, a.Role))
		}
		set := map[string]any{"subject": a.Subject, "role": a.Role, "display_name": a.DisplayName, "epoch": epoch}
		if err := tx.Table("accounts").Where("id = ?", a.ID).Updates(set).Error; err != nil {
			return taken(err, a)
		}
		var before []string
		if err := tx.Table("group_members").Where("account_id = ?", a.ID).Pluck("group_id", &before).Error; err != nil {
			return err
		}
		if !slices.Equal(unique(before), unique(slices.Clone(groups))) {
			told = append(told, "Groups changed")
			if err := joinGroups(tx, a.ID, groups); err != nil {
				return err
			}
		}
		if len(told) == 0 {
			return nil
		}
		return s.trail.note(tx, Act{Act: ActAccess, Who: provider, About: a.DisplayName, Told: strings.Join(told, ". ")})
	})
}

// OwnerOf is the account that a document's owner names; "" where nobody is called so.
func (s *Identity) OwnerOf(ctx context.Context, f document.Facts) (string, error) {
	var ids []string
	err := s.on(ctx).Table("accounts").Where("display_name = ? COLLATE utf8mb4_nopad_bin AND disabled_at IS NULL", f.Owner).Limit(1).Pluck("id", &ids).Error
	if len(ids) == 0 {
		return "", err
	}
	return ids[0], err
}

// AccountAt is the account with an e-mail address.
func (s *Identity) AccountAt(ctx context.Context, address string) (Account, error) {
	var a Account
	err := s.on(ctx).Where("email = ?", address).Take(&a).Error
	return a, found(err)
}

// FirstAdministrator is who answers for what comes in by itself: the first administrator by name.
func (s *Identity) FirstAdministrator(ctx context.Context) (string, error) {
	var a Account
	err := s.on(ctx).Where("role = ? AND disabled_at IS NULL", access.Administrator).Order("name").Limit(1).Take(&a).Error
	return a.ID, found(err)
}

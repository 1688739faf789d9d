package store

import (
	"context"
	"fmt"

	"github.com/google/uuid"
)

// Role says what an account may do; each role may do all that those before it may.
type Role string

// The roles, least first.
const (
	Reader        Role = "reader"
	Author        Role = "author"
	Approver      Role = "approver"
	Administrator Role = "administrator"
)

// AtLeast tells whether a role includes another; an unknown role includes none.
func (r Role) AtLeast(o Role) bool {
	rank := map[Role]int{Reader: 1, Author: 2, Approver: 3, Administrator: 4}
	return rank[r] > 0 && rank[o] > 0 && rank[r] >= rank[o]
}

// Account is a person who can sign in.
type Account struct {
	ID           string
	Name         string
	DisplayName  string
	Role         Role
	PasswordHash string
}

// Account is the account with an id.
func (s *Store) Account(ctx context.Context, id string) (Account, error) {
	var a Account
	err := s.db.WithContext(ctx).Where("id = ?", id).First(&a).Error
	return a, found(err)
}

// AccountNamed is the account that signs in under a name.
func (s *Store) AccountNamed(ctx context.Context, name string) (Account, error) {
	var a Account
	err := s.db.WithContext(ctx).Where("name = ?", name).First(&a).Error
	return a, found(err)
}

// CreateAccount adds an account and gives it its id.
func (s *Store) CreateAccount(ctx context.Context, a Account) (Account, error) {
	a.ID = uuid.NewString()
	if err := s.db.WithContext(ctx).Create(&a).Error; err != nil {
		return a, fmt.Errorf("creating the account %s: %w", a.Name, err)
	}
	return a, nil
}

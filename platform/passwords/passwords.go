// Package passwords hashes passwords and compares them, with Argon2id (RFC 9106). Each takes 64 MB and a core for a
// while.
package passwords

import (
	"fmt"

	"github.com/alexedwards/argon2id"
)

// Hash is a password as it is stored.
func Hash(password string) (string, error) {
	hash, err := argon2id.CreateHash(password, argon2id.DefaultParams)
	if err != nil {
		return "", fmt.Errorf("hashing a password: %w", err)
	}
	return hash, nil
}

// Matches tells whether a password is the one that was hashed.
func Matches(password, hash string) (bool, error) {
	match, err := argon2id.ComparePasswordAndHash(password, hash)
	if err != nil {
		return false, fmt.Errorf("checking a password: %w", err)
	}
	return match, nil
}

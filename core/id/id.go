// Package id says what an id may look like. Ids name documents, steps, shots, figures and marks; clients choose some
// of them, so they are the same bytes in every home: in addresses, in JSON, in the database and in file names.
package id

import (
	"crypto/sha256"
	"encoding/hex"
)

// Longest is the most characters of an id.
const Longest = 64

// Valid tells whether s is an id: 1 to 64 of the characters A-Z, a-z, 0-9, _ and -.
func Valid(s string) bool {
	if s == "" || len(s) > Longest {
		return false
	}
	for i := range len(s) {
		c := s[i]
		if !(c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || c == '_' || c == '-') {
			return false
		}
	}
	return true
}

// Mended is the id that stands for one from before ids were bounded: itself where it is valid, else an id made of
// its SHA-256. The migration 00004 of the store computes the same in SQL.
func Mended(s string) string {
	if Valid(s) {
		return s
	}
	sum := sha256.Sum256([]byte(s))
	return "x" + hex.EncodeToString(sum[:])[:40]
}

// Package seal keeps secrets of the house so that they can be used and not read: with AES-256 in GCM (NIST SP 800-38D),
// by a key that is not in the database.
package seal

import (
	"crypto/aes"
	"crypto/cipher"
	"crypto/hkdf"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"strings"
)

// Key seals and opens. The zero Key does neither.
type Key struct {
	aead cipher.AEAD
	mac  []byte // of what is signed; derived, so that nothing that is signed tells of what is sealed
}

const bytesOfKey = 32

// Parse reads a key of 32 bytes in base64 (RFC 4648, 4).
func Parse(s string) (Key, error) {
	raw, err := base64.StdEncoding.DecodeString(strings.TrimSpace(s))
	if err != nil || len(raw) != bytesOfKey {
		return Key{}, errors.New("it is no 32 bytes in base64")
	}
	block, err := aes.NewCipher(raw)
	if err != nil {
		return Key{}, fmt.Errorf("making a key: %w", err)
	}
	aead, err := cipher.NewGCM(block)
	if err != nil {
		return Key{}, fmt.Errorf("making a key: %w", err)
	}
	mac, err := hkdf.Key(sha256.New, raw, nil, "raconte signs", 32) // RFC 5869
	if err != nil {
		return Key{}, fmt.Errorf("making a key: %w", err)
	}
	return Key{aead, mac}, nil
}

// File reads the key that a file holds; where there is no such file, one with a fresh key is made that its owner alone
// can read.
func File(name string) (Key, error) {
	raw, err := os.ReadFile(name)
	if errors.Is(err, fs.ErrNotExist) {
		fresh := make([]byte, bytesOfKey)
		_, _ = rand.Read(fresh) // never fails: Go 1.24 and newer
		raw = []byte(base64.StdEncoding.EncodeToString(fresh) + "\n")
		err = os.WriteFile(name, raw, 0o600)
	}
	if err != nil {
		return Key{}, fmt.Errorf("keeping the key: %w", err)
	}
	return Parse(string(raw))
}

const mark = "sealed:"

// Sealed tells whether s was sealed.
func Sealed(s string) bool { return strings.HasPrefix(s, mark) }

// Seal is a secret sealed for what it belongs to: it opens for nothing else.
func (k Key) Seal(secret, belongs string) (string, error) {
	if k.aead == nil {
		return "", errors.New("there is no key to seal with")
	}
	nonce := make([]byte, k.aead.NonceSize())
	_, _ = rand.Read(nonce)
	return mark + base64.StdEncoding.EncodeToString(k.aead.Seal(nonce, nonce, []byte(secret), []byte(belongs))), nil
}

// Open is a secret that was sealed. What was not sealed is an error, and so is what another key has sealed.
func (k Key) Open(sealed, belongs string) (string, error) {
	raw, err := base64.StdEncoding.DecodeString(strings.TrimPrefix(sealed, mark))
	if k.aead == nil || err != nil || !Sealed(sealed) || len(raw) < k.aead.NonceSize() {
		return "", errors.New("a secret can't be opened")
	}
	n := k.aead.NonceSize()
	open, err := k.aead.Open(nil, raw[:n], raw[n:], []byte(belongs))
	if err != nil {
		return "", errors.New("a secret was sealed with another key")
	}
	return string(open), nil
}

// Sign is what shows that this house said something to someone: HMAC-SHA-256 (RFC 2104), in hexadecimal digits.
func (k Key) Sign(said, to string) string {
	h := hmac.New(sha256.New, k.mac)
	fmt.Fprintf(h, "%d %s %s", len(said), said, to)
	return hex.EncodeToString(h.Sum(nil))
}

// Signed tells whether a signature is that of something said to someone.
func (k Key) Signed(signature, said, to string) bool {
	return k.mac != nil && hmac.Equal([]byte(signature), []byte(k.Sign(said, to)))
}

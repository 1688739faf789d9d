// Package packed reads trees of files of which those that are worth it were packed by brotli (RFC 7932) when they were
// built: a file lies as it is, or packed under its name and ".br", and never both ways.
package packed

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"sync"

	"raconte/platform/kept"

	"github.com/andybalholm/brotli"
)

const (
	suffix = ".br"
	most   = 64 << 20 // bytes of unpacked files that are kept
)

// Tree is a tree of files. It is safe for use by several goroutines.
type Tree struct {
	files fs.FS
	plain *kept.Cache[[]byte]
	sums  sync.Map // of names, the sum of what lies there
}

// New reads a tree that does not change.
func New(files fs.FS) *Tree {
	return &Tree{files: files, plain: kept.New(most, func(b []byte) int { return len(b) })}
}

// Has tells whether there is a file of a name.
func (t *Tree) Has(name string) bool {
	for _, as := range []string{name, name + suffix} {
		if info, err := fs.Stat(t.files, as); err == nil && !info.IsDir() {
			return true
		}
	}
	return false
}

// Packed is a file as it lies packed; it is an fs.ErrNotExist where it lies as it is.
func (t *Tree) Packed(name string) ([]byte, error) { return fs.ReadFile(t.files, name+suffix) }

// Read is a file as it was before it was packed.
func (t *Tree) Read(name string) ([]byte, error) {
	if data, there := t.plain.Get(name); there {
		return data, nil
	}
	data, err := t.Packed(name)
	if errors.Is(err, fs.ErrNotExist) {
		return fs.ReadFile(t.files, name)
	}
	if err == nil {
		data, err = io.ReadAll(brotli.NewReader(bytes.NewReader(data)))
	}
	if err != nil {
		return nil, fmt.Errorf("unpacking %s: %w", name, err)
	}
	t.plain.Add(name, data)
	return data, nil
}

// Sum names what a file holds: as long as it is the same, so is the file.
func (t *Tree) Sum(name string) (string, error) {
	if sum, there := t.sums.Load(name); there {
		return sum.(string), nil
	}
	data, err := t.Packed(name)
	if errors.Is(err, fs.ErrNotExist) {
		data, err = fs.ReadFile(t.files, name)
	}
	if err != nil {
		return "", err
	}
	of := sha256.Sum256(data)
	sum := hex.EncodeToString(of[:12])
	t.sums.Store(name, sum)
	return sum, nil
}

// Package blobs keeps files by key: shots, pictures made from them, finished deliveries. Where they
// lie is configuration: a folder, or any store that gocloud.dev knows by URL.
package blobs

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"hash/fnv"
	"io"
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"time"

	"gocloud.dev/blob"
	_ "gocloud.dev/blob/fileblob" // folders
	_ "gocloud.dev/blob/memblob"  // for tests
	_ "gocloud.dev/blob/s3blob"   // object stores
	"gocloud.dev/gcerrors"
)

// ErrNotFound says that no file has the key.
var ErrNotFound = errors.New("no such file")

// Bucket is a store of files. It is safe for use by several goroutines.
type Bucket struct {
	bucket *blob.Bucket
	folder string // where it is one: what is put there is synced before it counts
	public bool   // others on the machine may read what is put there
	gates  gates
}

// Open opens a store by URL.
func Open(ctx context.Context, address string) (*Bucket, error) {
	b, err := blob.OpenBucket(ctx, address)
	if err != nil {
		return nil, fmt.Errorf("opening the picture store: %w", err)
	}
	return &Bucket{bucket: b}, nil
}

// OpenFolder opens a folder, making it where it is missing.
func OpenFolder(ctx context.Context, dir string) (*Bucket, error) {
	dir, err := filepath.Abs(dir)
	if err == nil {
		err = os.MkdirAll(dir, 0o700)
	}
	if err != nil {
		return nil, fmt.Errorf("making the picture folder: %w", err)
	}
	b, err := Open(ctx, (&url.URL{Scheme: "file", Path: dir, RawQuery: "metadata=skip&no_tmp_dir=1"}).String())
	if err == nil {
		b.folder = dir
	}
	return b, err
}

// OpenPlace opens a place that others read, such as the folder of an intranet: a folder by its path, or a store by its
// URL.
func OpenPlace(ctx context.Context, address string) (*Bucket, error) {
	if strings.Contains(address, "://") {
		return Open(ctx, address)
	}
	b, err := OpenFolder(ctx, address)
	if err != nil {
		return nil, err
	}
	b.public = true
	return b, os.Chmod(b.folder, 0o755)
}

// Close releases the store.
func (b *Bucket) Close() error { return b.bucket.Close() }

// Put keeps what r gives under a key, replacing what was there; readers see the old or the new, never a part. Where r
// fails, nothing changes. Once it has returned, the data outlasts a power cut: a folder is synced, other stores confirm
// by themselves.
func (b *Bucket) Put(ctx context.Context, key string, r io.Reader) error {
	if err := b.write(ctx, key, r); err != nil {
		return fmt.Errorf("keeping %s: %w", key, err)
	}
	if b.folder == "" {
		return nil
	}
	if b.public {
		if err := opened(b.folder, key); err != nil {
			return fmt.Errorf("keeping %s: %w", key, err)
		}
	}
	if err := syncPath(b.folder, key); err != nil {
		return fmt.Errorf("keeping %s: %w", key, err)
	}
	return nil
}

// write copies r; a cancelled writer leaves what was there.
func (b *Bucket) write(ctx context.Context, key string, r io.Reader) error {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	w, err := b.bucket.NewWriter(ctx, key, &blob.WriterOptions{ContentType: "application/octet-stream"})
	if err != nil {
		return err
	}
	if _, err := io.Copy(w, r); err != nil {
		cancel()
		_ = w.Close() // it says that it was cancelled
		return err
	}
	gate := b.gates.of(key)
	gate.Lock()
	defer gate.Unlock()
	return w.Close()
}

// PutSum keeps a file under the SHA-256 of what is in it, behind a prefix; sum is in hexadecimal digits, size in bytes.
func (b *Bucket) PutSum(ctx context.Context, prefix string, r io.ReadSeeker) (sum string, size int64, err error) {
	hash := sha256.New()
	if _, err = r.Seek(0, io.SeekStart); err == nil {
		size, err = io.Copy(hash, r)
	}
	if err == nil {
		_, err = r.Seek(0, io.SeekStart)
	}
	if err != nil {
		return "", 0, fmt.Errorf("keeping a file by its sum: %w", err)
	}
	sum = hex.EncodeToString(hash.Sum(nil))
	return sum, size, b.Put(ctx, prefix+sum, r)
}

// opened lets others read a file, and the folders that lead to it from dir.
func opened(dir, key string) error {
	path := filepath.Join(dir, filepath.FromSlash(key))
	if err := os.Chmod(path, 0o644); err != nil {
		return err
	}
	for path = filepath.Dir(path); len(path) > len(dir); path = filepath.Dir(path) {
		if err := os.Chmod(path, 0o755); err != nil {
			return err
		}
	}
	return nil
}

// syncPath has the system write a file to its disk, and the folders that lead to it from dir.
func syncPath(dir, key string) error {
	for path := filepath.Join(dir, filepath.FromSlash(key)); len(path) >= len(dir); path = filepath.Dir(path) {
		f, err := os.Open(path)
		if err != nil {
			return err
		}
		err = f.Sync()
		if e := f.Close(); err == nil {
			err = e
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// Blob is an open file: it is read from wherever it is sought, and only that is fetched.
type Blob interface {
	io.ReadSeekCloser
	Size() int64 // in bytes
}

// Open opens the file under a key, or gives ErrNotFound. The caller closes it.
func (b *Bucket) Open(ctx context.Context, key string) (Blob, error) {
	r, err := b.bucket.NewReader(ctx, key, nil)
	if gcerrors.Code(err) == gcerrors.NotFound {
		return nil, fmt.Errorf("reading %s: %w", key, ErrNotFound)
	}
	if err != nil {
		return nil, fmt.Errorf("reading %s: %w", key, err)
	}
	return r, nil
}

// Get is all the data under a key, for what fits in memory; or ErrNotFound.
func (b *Bucket) Get(ctx context.Context, key string) ([]byte, error) {
	r, err := b.Open(ctx, key)
	if err != nil {
		return nil, err
	}
	defer r.Close()
	data := make([]byte, r.Size())
	if _, err := io.ReadFull(r, data); err != nil {
		return nil, fmt.Errorf("reading %s: %w", key, err)
	}
	return data, nil
}

// Has is ErrNotFound where a key has no data.
func (b *Bucket) Has(ctx context.Context, key string) error {
	there, err := b.bucket.Exists(ctx, key)
	if err == nil && !there {
		err = ErrNotFound
	}
	if err != nil {
		return fmt.Errorf("looking for %s: %w", key, err)
	}
	return nil
}

// Delete removes a key; removing what is not there is fine.
func (b *Bucket) Delete(ctx context.Context, key string) error {
	if err := b.bucket.Delete(ctx, key); err != nil && gcerrors.Code(err) != gcerrors.NotFound {
		return fmt.Errorf("removing %s: %w", key, err)
	}
	return nil
}

// DeleteOlder removes a key unless it was put since: whoever puts it in the meantime keeps it.
func (b *Bucket) DeleteOlder(ctx context.Context, key string, since time.Time) error {
	gate := b.gates.of(key)
	gate.Lock()
	defer gate.Unlock()
	about, err := b.bucket.Attributes(ctx, key)
	if gcerrors.Code(err) == gcerrors.NotFound {
		return nil
	}
	if err != nil {
		return fmt.Errorf("looking at %s: %w", key, err)
	}
	if about.ModTime.After(since) {
		return nil
	}
	return b.Delete(ctx, key)
}

// gates are what a key's putting and its sweeping wait for each other at: some keys share one.
type gates [64]sync.Mutex

func (g *gates) of(key string) *sync.Mutex {
	h := fnv.New32a()
	_, _ = h.Write([]byte(key)) // it never fails
	return &g[h.Sum32()%uint32(len(g))]
}

// Each calls visit for every key that starts with prefix, with the time it was last put.
func (b *Bucket) Each(ctx context.Context, prefix string, visit func(key string, put time.Time) error) error {
	list := b.bucket.List(&blob.ListOptions{Prefix: prefix})
	for {
		o, err := list.Next(ctx)
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return fmt.Errorf("listing %s: %w", prefix, err)
		}
		if err := visit(o.Key, o.ModTime); err != nil {
			return err
		}
	}
}

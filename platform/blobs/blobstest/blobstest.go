// Package blobstest is the suite that every picture store must pass.
package blobstest

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"strings"
	"sync"
	"testing"
	"testing/iotest"
	"time"

	"raconte/platform/blobs"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Run checks a store; open gives an empty one.
func Run(t *testing.T, open func(t *testing.T) *blobs.Bucket) {
	ctx := context.Background()
	t.Run("what is put is got, byte for byte", func(t *testing.T) {
		b := open(t)
		for i, data := range [][]byte{{}, {0}, []byte("\r\n\x00ü"), bytes.Repeat([]byte{7}, 5<<20)} {
			key := fmt.Sprintf("shots/%d", i)
			require.NoError(t, b.Put(ctx, key, bytes.NewReader(data)))
			got, err := b.Get(ctx, key)
			require.NoError(t, err)
			assert.True(t, bytes.Equal(data, got), key)
		}
	})
	t.Run("what is not there is ErrNotFound, and may be deleted", func(t *testing.T) {
		b := open(t)
		_, err := b.Get(ctx, "shots/none")
		assert.ErrorIs(t, err, blobs.ErrNotFound)
		assert.NoError(t, b.Delete(ctx, "shots/none"))
		require.NoError(t, b.Put(ctx, "shots/a", bytes.NewReader([]byte("x"))))
		require.NoError(t, b.Delete(ctx, "shots/a"))
		_, err = b.Get(ctx, "shots/a")
		assert.ErrorIs(t, err, blobs.ErrNotFound)
	})
	t.Run("what is put is found by the sum of what is in it", func(t *testing.T) {
		b := open(t)
		r := strings.NewReader("abc")
		_, err := r.Seek(2, io.SeekStart) // someone has looked at it
		require.NoError(t, err)
		sum, size, err := b.PutSum(ctx, "files/", r)
		require.NoError(t, err)
		assert.Equal(t, "ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad", sum, "FIPS 180-4, appendix B.1")
		assert.EqualValues(t, 3, size)
		got, err := b.Get(ctx, "files/"+sum)
		require.NoError(t, err)
		assert.Equal(t, "abc", string(got))
	})
	t.Run("what was put anew since is not swept", func(t *testing.T) {
		b := open(t)
		require.NoError(t, b.Put(ctx, "files/a", strings.NewReader("x")))
		require.NoError(t, b.DeleteOlder(ctx, "files/a", time.Now().Add(-time.Hour)))
		require.NoError(t, b.Has(ctx, "files/a"))
		require.NoError(t, b.DeleteOlder(ctx, "files/a", time.Now().Add(time.Hour)))
		assert.ErrorIs(t, b.Has(ctx, "files/a"), blobs.ErrNotFound)
		require.NoError(t, b.DeleteOlder(ctx, "files/a", time.Now()))
	})
	t.Run("a file is read from where it is sought", func(t *testing.T) {
		b := open(t)
		require.NoError(t, b.Put(ctx, "shots/a", strings.NewReader("0123456789")))
		r, err := b.Open(ctx, "shots/a")
		require.NoError(t, err)
		defer r.Close()
		assert.EqualValues(t, 10, r.Size())
		part := make([]byte, 3)
		for at, want := range map[int64]string{7: "789", 2: "234"} {
			_, err := r.Seek(at, io.SeekStart)
			require.NoError(t, err)
			_, err = io.ReadFull(r, part)
			require.NoError(t, err)
			assert.Equal(t, want, string(part))
		}
		_, err = b.Open(ctx, "shots/none")
		assert.ErrorIs(t, err, blobs.ErrNotFound)
	})
	t.Run("a source that fails leaves what was there", func(t *testing.T) {
		b := open(t)
		require.NoError(t, b.Put(ctx, "shots/a", strings.NewReader("old")))
		broken := io.MultiReader(bytes.NewReader(make([]byte, 3<<20)), iotest.ErrReader(errors.New("gone")))
		assert.ErrorContains(t, b.Put(ctx, "shots/a", broken), "gone")
		got, err := b.Get(ctx, "shots/a")
		require.NoError(t, err)
		assert.Equal(t, "old", string(got))
	})
	t.Run("each visits the keys of a prefix with the time they were last put", func(t *testing.T) {
		b := open(t)
		for _, key := range []string{"shots/a", "shots/b", "renditions/a"} {
			require.NoError(t, b.Put(ctx, key, bytes.NewReader([]byte("x"))))
		}
		var keys []string
		require.NoError(t, b.Each(ctx, "shots/", func(key string, put time.Time) error {
			keys = append(keys, key)
			assert.WithinDuration(t, time.Now(), put, time.Minute)
			return nil
		}))
		assert.ElementsMatch(t, []string{"shots/a", "shots/b"}, keys)
	})
	t.Run("a reader sees the old or the new, never a part", func(t *testing.T) {
		b := open(t)
		versions := [][]byte{bytes.Repeat([]byte("a"), 1<<20), bytes.Repeat([]byte("b"), 1<<20)}
		require.NoError(t, b.Put(ctx, "shots/k", bytes.NewReader(versions[0])))
		var group sync.WaitGroup
		group.Go(func() {
			for i := range 20 {
				assert.NoError(t, b.Put(ctx, "shots/k", bytes.NewReader(versions[i%2])))
			}
		})
		for range 40 {
			got, err := b.Get(ctx, "shots/k")
			require.NoError(t, err)
			assert.True(t, bytes.Equal(got, versions[0]) || bytes.Equal(got, versions[1]))
		}
		group.Wait()
	})
}

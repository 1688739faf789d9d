// Package kept keeps what was made a while ago, the latest used first, within a number of bytes.
package kept

import (
	"sync"

	"github.com/hashicorp/golang-lru/v2/simplelru"
)

// Cache keeps values by key. It is safe for use by several goroutines.
type Cache[T any] struct {
	mu    sync.Mutex
	kept  *simplelru.LRU[string, T]
	size  func(T) int
	most  int
	bytes int
}

// New makes a cache of at most so many bytes, of which size tells how many a value takes. A value that would take more
// than half of them is not kept.
func New[T any](most int, size func(T) int) *Cache[T] {
	c := &Cache[T]{size: size, most: most}
	c.kept, _ = simplelru.NewLRU(1<<20, func(_ string, v T) { c.bytes -= size(v) }) // it refuses counts below one only
	return c
}

// Get is the value under a key; false where it is not kept.
func (c *Cache[T]) Get(key string) (T, bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.kept.Get(key)
}

// Add keeps a value under a key that names all it was made of, so that one that is kept already is the same.
func (c *Cache[T]) Add(key string, v T) {
	c.mu.Lock()
	defer c.mu.Unlock()
	n := c.size(v)
	if n > c.most/2 || c.kept.Contains(key) {
		return
	}
	c.kept.Add(key, v)
	c.bytes += n
	for c.bytes > c.most {
		c.kept.RemoveOldest()
	}
}

// Package together does a piece of work once for all who ask for it at the same time, and stops it when all of them
// have gone.
package together

import (
	"context"
	"errors"
	"fmt"
	"runtime/debug"
	"sync"
)

// Group is a kind of work; its zero value is ready. Work is the same where its key is.
type Group[T any] struct {
	mu    sync.Mutex
	calls map[string]*call[T]
}

type call[T any] struct {
	waiting int
	cancel  context.CancelFunc
	done    chan struct{}
	value   T
	err     error
}

// ErrPanicked is the error of work that panicked: that work's failure, and nobody else's.
var ErrPanicked = errors.New("the work panicked")

// Do is what work makes, or ctx's error once ctx is done. The work's own context lives until the last of those who wait
// has gone; it carries the values of the first one's.
func (g *Group[T]) Do(ctx context.Context, key string, work func(context.Context) (T, error)) (T, error) {
	g.mu.Lock()
	c := g.calls[key]
	if c == nil {
		shared, cancel := context.WithCancel(context.WithoutCancel(ctx))
		c = &call[T]{cancel: cancel, done: make(chan struct{})}
		if g.calls == nil {
			g.calls = map[string]*call[T]{}
		}
		g.calls[key] = c
		go g.run(shared, key, c, work)
	}
	c.waiting++
	g.mu.Unlock()
	select {
	case <-c.done:
		return c.value, c.err
	case <-ctx.Done():
	}
	g.mu.Lock()
	defer g.mu.Unlock()
	if c.waiting--; c.waiting == 0 {
		c.cancel()
		g.forget(key, c)
	}
	var none T
	return none, fmt.Errorf("waiting: %w", ctx.Err())
}

func (g *Group[T]) run(ctx context.Context, key string, c *call[T], work func(context.Context) (T, error)) {
	defer func() {
		if p := recover(); p != nil {
			c.err = fmt.Errorf("%w: %v\n%s", ErrPanicked, p, debug.Stack())
		}
		g.mu.Lock()
		g.forget(key, c)
		g.mu.Unlock()
		close(c.done)
		c.cancel()
	}()
	c.value, c.err = work(ctx)
}

func (g *Group[T]) forget(key string, c *call[T]) {
	if g.calls[key] == c {
		delete(g.calls, key)
	}
}

// Guarded does work so that a panic in it is its error. What is begun in a goroutine of its own goes through it: a
// panic there would end the whole server.
func Guarded(work func() error) (err error) {
	defer func() {
		if p := recover(); p != nil {
			err = fmt.Errorf("%w: %v\n%s", ErrPanicked, p, debug.Stack())
		}
	}()
	return work()
}

// Safe is work that is guarded, for those who begin it elsewhere.
func Safe(work func() error) func() error { return func() error { return Guarded(work) } }

package together_test

import (
	"context"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"raconte/platform/together"

	"github.com/stretchr/testify/assert"
)

func TestWorkIsDoneOnceForAllAndStopsWhenNobodyWaits(t *testing.T) {
	var g together.Group[int]
	var begun atomic.Int32
	go1 := make(chan struct{})
	stopped := make(chan struct{})
	work := func(ctx context.Context) (int, error) {
		begun.Add(1)
		select {
		case <-go1:
			return 7, nil
		case <-ctx.Done():
			close(stopped)
			return 0, ctx.Err()
		}
	}
	first, leave := context.WithCancel(t.Context())
	var all sync.WaitGroup
	for i := range 5 {
		all.Go(func() {
			ctx := t.Context()
			if i == 0 {
				ctx = first
			}
			v, err := g.Do(ctx, "k", work)
			if i == 0 {
				assert.ErrorIs(t, err, context.Canceled)
			} else {
				assert.NoError(t, err)
				assert.Equal(t, 7, v)
			}
		})
	}
	time.Sleep(20 * time.Millisecond)
	leave() // the first goes; the others still get it
	time.Sleep(20 * time.Millisecond)
	close(go1)
	all.Wait()
	assert.EqualValues(t, 1, begun.Load())

	go1 = make(chan struct{})
	ctx, gone := context.WithTimeout(t.Context(), 10*time.Millisecond)
	defer gone()
	_, err := g.Do(ctx, "k", work)
	assert.ErrorIs(t, err, context.DeadlineExceeded)
	select {
	case <-stopped:
	case <-time.After(5 * time.Minute):
		t.Error("the work goes on though nobody waits")
	}
	_, err = g.Do(t.Context(), "p", func(context.Context) (int, error) { panic("x") })
	assert.ErrorIs(t, err, together.ErrPanicked)
}

package pictures

import (
	"context"
	"fmt"
	"sync"

	"raconte/core/refusal"

	"golang.org/x/sync/semaphore"
)

// Megapixels, 4 bytes each, that are decoded or drawn at one time: in all, and for one person. Whoever waits for their
// own pictures does not stand in anybody else's way.
const (
	mostAtOnce   = 160
	mostOfPerson = 80
)

type person struct{}

// For is a context in which pictures are made for an account.
func For(ctx context.Context, account string) context.Context {
	return context.WithValue(ctx, person{}, account)
}

// room is where decoded pictures lie while they are worked on.
type room struct {
	all    *semaphore.Weighted
	mu     sync.Mutex
	people map[string]*share
}

type share struct {
	own   *semaphore.Weighted
	using int
}

func newRoom() *room {
	return &room{all: semaphore.NewWeighted(mostAtOnce), people: map[string]*share{}}
}

// take waits for room for so many pixels. What would never fit is refused.
func (r *room) take(ctx context.Context, pixels int64) (release func(), err error) {
	weight := pixels/1_000_000 + 1
	if weight > mostAtOnce {
		return nil, refusal.New("This picture is put together from %d megapixels. At most %d can be drawn at once: take some of the pictures set into it out.", weight, mostAtOnce)
	}
	who, _ := ctx.Value(person{}).(string)
	share := r.join(who)
	own := min(weight, mostOfPerson)
	if err := share.own.Acquire(ctx, own); err != nil {
		r.leave(who)
		return nil, fmt.Errorf("waiting to decode a picture: %w", err)
	}
	if err := r.all.Acquire(ctx, weight); err != nil {
		share.own.Release(own)
		r.leave(who)
		return nil, fmt.Errorf("waiting to decode a picture: %w", err)
	}
	return func() {
		r.all.Release(weight)
		share.own.Release(own)
		r.leave(who)
	}, nil
}

func (r *room) join(who string) *share {
	r.mu.Lock()
	defer r.mu.Unlock()
	s := r.people[who]
	if s == nil {
		s = &share{own: semaphore.NewWeighted(mostOfPerson)}
		r.people[who] = s
	}
	s.using++
	return s
}

func (r *room) leave(who string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	if s := r.people[who]; s != nil {
		if s.using--; s.using == 0 {
			delete(r.people, who)
		}
	}
}

package server

import (
	"sync"
	"time"

	"github.com/hashicorp/golang-lru/v2/expirable"
	"golang.org/x/time/rate"
)

// How many guesses of a password are taken.
const (
	guessesAtOnce   = 60 // from one address, however many names; then one a second
	freeFailures    = 5  // for one account; then each wait is half as long again as the one before
	firstWait       = 2 * time.Second
	longestWait     = 15 * time.Minute
	rememberFailure = 24 * time.Hour
	mostWatched     = 20_000 // accounts and addresses: a flood of made-up ones pushes out the oldest
)

// throttle slows guessing down. It counts by address, and by account and place: whoever signs in from where the account
// usually does is not kept waiting by what others guess from elsewhere.
type throttle struct {
	mu        sync.Mutex
	addresses *expirable.LRU[string, *rate.Limiter]
	accounts  *expirable.LRU[string, *rate.Limiter]
}

func newThrottle() *throttle {
	return &throttle{
		addresses: expirable.NewLRU[string, *rate.Limiter](mostWatched, nil, rememberFailure),
		accounts:  expirable.NewLRU[string, *rate.Limiter](mostWatched, nil, rememberFailure),
	}
}

// fromAddress is how long an address has to wait before its next guess is taken; 0 takes it.
func (t *throttle) fromAddress(address string) time.Duration {
	return t.take(t.addresses, address, rate.NewLimiter(1, guessesAtOnce))
}

// forAccount is how long has to be waited before the next guess for an account from a place is taken; 0 takes it.
func (t *throttle) forAccount(account, place string) time.Duration {
	return t.take(t.accounts, account+" "+place, rate.NewLimiter(rate.Every(firstWait), freeFailures))
}

// What is asked for at a door: pictures and requests from one address, and from all together.
const (
	askedAtOnce = 15
	askedEvery  = 10 * time.Second
	doorAtOnce  = 120
	oneAtOnce   = 60
	oneEvery    = 8 * time.Minute  // of one address, whatever it asks: a fifth of what a door takes in a day
	doorEvery   = 90 * time.Second // a thousand pictures and requests a day: what a flood leaves behind is bounded, and goes after 30 days
)

// atDoor is how long someone has to wait before a door takes something else of them; 0 takes it.
func (t *throttle) atDoor(door, place string) time.Duration {
	if wait := t.take(t.accounts, "door "+door+" "+place, rate.NewLimiter(rate.Every(askedEvery), askedAtOnce)); wait > 0 {
		return wait
	}
	if wait := t.take(t.accounts, "door "+door+" all day "+place, rate.NewLimiter(rate.Every(oneEvery), oneAtOnce)); wait > 0 {
		return wait
	}
	return t.take(t.accounts, "door "+door, rate.NewLimiter(rate.Every(doorEvery), doorAtOnce))
}

func (t *throttle) take(of *expirable.LRU[string, *rate.Limiter], key string, fresh *rate.Limiter) time.Duration {
	t.mu.Lock()
	defer t.mu.Unlock()
	l, there := of.Get(key)
	if !there {
		l = fresh
		of.Add(key, l)
	}
	r := l.Reserve()
	wait := r.Delay()
	if wait > 0 {
		r.Cancel()
	}
	return wait
}

// failed makes the next waits longer.
func (t *throttle) failed(account, place string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if l, there := t.accounts.Get(account + " " + place); there && l.Tokens() < 1 {
		l.SetLimit(max(l.Limit()*2/3, rate.Every(longestWait)))
	}
}

// succeeded forgets the failures.
func (t *throttle) succeeded(account, place string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	t.accounts.Remove(account + " " + place)
}

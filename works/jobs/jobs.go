// Package jobs does work in the background: it claims jobs from the database, one worker each, keeps
// their progress there, and stops those that are cancelled.
package jobs

import (
	"context"
	"errors"
	"log/slog"
	"maps"
	"runtime/debug"
	"slices"
	"sync"
	"time"

	"raconte/core/refusal"
	"raconte/store"

	lru "github.com/hashicorp/golang-lru/v2"
)

// Result is what came of a job.
type Result struct {
	File    string // the key of the blob that it made; "" where it made none
	Bytes   int64  // of that file
	Payload string // what it was told, without what is not to be kept; "" leaves it as it is
}

// Work does one kind of job. It calls progress as it goes, and ends soon after ctx is cancelled. What an error
// says to people, as a refusal, is shown to the job's owner; of any other they learn only that something went wrong.
type Work func(ctx context.Context, j store.Job, progress func(done, all int)) (Result, error)

// Later is the error of work that could not be done now and may succeed later: the job is tried again after a while.
type Later struct {
	After time.Duration
	Err   error
}

// Error is why it could not be done.
func (l Later) Error() string { return l.Err.Error() }

// Unwrap is why it could not be done.
func (l Later) Unwrap() error { return l.Err }

// Runner runs the kinds of jobs that it has works for. Slow work gets a runner of its own, so that
// quick work need not wait for it.
type Runner struct {
	Store   *store.Store
	Works   map[string]Work
	Changed func(store.Job) // told of every change to a job; may be nil
	Log     *slog.Logger

	wake chan struct{}
	once sync.Once
	told *lru.Cache[string, store.JobState] // what was told of the last jobs
}

// remembered is of how many jobs is known what was told of them.
const remembered = 1000

const (
	idle   = 2 * time.Second  // between looks at the queue
	beat   = time.Second      // between signs of life, which also notice a cancel
	silent = 30 * time.Second // after which a worker is taken for dead
)

func (r *Runner) init() {
	r.once.Do(func() {
		r.wake = make(chan struct{}, 1)
		r.told, _ = lru.New[string, store.JobState](remembered) // it fails for sizes below 1 alone
	})
}

// Add queues a job and wakes a worker.
func (r *Runner) Add(ctx context.Context, j store.Job) (store.Job, error) {
	r.init()
	j, err := r.Store.Jobs.AddJob(ctx, j)
	if err == nil {
		r.rouse()
	}
	return j, err
}

// Retry queues a job again that failed or was cancelled; any other is left alone.
func (r *Runner) Retry(ctx context.Context, id string) error {
	r.init()
	err := r.Store.Jobs.RetryJob(ctx, id)
	if err == nil {
		r.rouse()
	}
	return err
}

// Rouse has a worker look for work at once: something else has queued some.
func (r *Runner) Rouse() {
	r.init()
	r.rouse()
}

func (r *Runner) rouse() {
	select {
	case r.wake <- struct{}{}:
	default:
	}
}

// Run works with the given count of workers until ctx is cancelled; jobs begun then are put back.
func (r *Runner) Run(ctx context.Context, workers int) {
	r.init()
	var group sync.WaitGroup
	if r.Changed != nil {
		group.Go(func() { r.watch(ctx) })
	}
	for range workers {
		group.Go(func() {
			for ctx.Err() == nil {
				if r.one(ctx) {
					continue
				}
				select {
				case <-ctx.Done():
				case <-r.wake:
				case <-time.After(idle):
				}
			}
		})
	}
	group.Wait()
}

// one claims and does a job; false where there was none.
func (r *Runner) one(ctx context.Context) bool {
	j, err := r.Store.Jobs.ClaimJob(ctx, silent, slices.Collect(maps.Keys(r.Works))...)
	if err != nil {
		if !errors.Is(err, store.ErrNotFound) && ctx.Err() == nil {
			r.Log.Error("claiming a job", "error", err)
		}
		return false
	}
	if j.State == store.Failed {
		r.tell(ctx, j.ID)
		return true
	}
	r.tell(ctx, j.ID)
	r.do(ctx, j)
	r.tell(context.WithoutCancel(ctx), j.ID)
	return true
}

func (r *Runner) do(ctx context.Context, j store.Job) {
	work, cancel := context.WithCancel(ctx)
	defer cancel()
	var mu sync.Mutex
	done, all := 0, 0
	ended := make(chan struct{})
	var beating sync.WaitGroup
	beating.Go(func() {
		tick := time.NewTicker(beat)
		defer tick.Stop()
		seen := time.Now()
		for {
			select {
			case <-ended:
				return
			case <-tick.C:
				mu.Lock()
				d, a := done, all
				mu.Unlock()
				alive, err := r.Store.Jobs.Progress(work, j, d, a)
				if err == nil {
					seen = time.Now()
				}
				if err == nil && !alive || time.Since(seen) > silent-2*beat { // another may have it by now
					cancel()
				}
				r.tell(work, j.ID)
			}
		}
	})
	result, err := r.guarded(work, j, func(d, a int) {
		mu.Lock()
		done, all = max(done, d), a
		mu.Unlock()
	})
	close(ended)
	beating.Wait() // so that nobody hears that it is at work after it has ended
	last := context.WithoutCancel(ctx)
	var later Later
	switch {
	case ctx.Err() != nil: // the server stops
		err = r.Store.Jobs.ReleaseJob(last, j)
	case work.Err() != nil: // cancelled, or another has it: the state says so already
		err = nil
	case errors.As(err, &later):
		r.Log.Warn("a job is tried again later", "job", j.ID, "kind", j.Kind, "after", later.After, "error", err)
		err = r.Store.Jobs.PostponeJob(last, j, later.After, forPeople(err))
	case err != nil:
		r.Log.Warn("a job failed", "job", j.ID, "kind", j.Kind, "error", err)
		err = r.Store.Jobs.FinishJob(last, j, store.Outcome{Failure: forPeople(err)})
	default:
		if _, err = r.Store.Jobs.Progress(last, j, all, all); err == nil {
			err = r.Store.Jobs.FinishJob(last, j, store.Outcome{Result: result.File, Bytes: result.Bytes, Payload: result.Payload})
		}
	}
	if err != nil {
		r.Log.Error("recording the end of a job", "job", j.ID, "error", err)
	}
}

func forPeople(err error) string {
	if reason, ok := refusal.Reason(err); ok {
		return reason
	}
	return "Something went wrong inside Raconte. Nothing of yours was changed. Try again."
}

// guarded does the work; a panic is that job's failure and nobody else's.
func (r *Runner) guarded(ctx context.Context, j store.Job, progress func(int, int)) (result Result, err error) {
	defer func() {
		if p := recover(); p != nil {
			r.Log.Error("a job panicked", "job", j.ID, "panic", p, "stack", string(debug.Stack()))
			err = errors.New("the work panicked")
		}
	}()
	return r.Works[j.Kind](ctx, j, progress)
}

func (r *Runner) tell(ctx context.Context, id string) {
	if r.Changed == nil {
		return
	}
	if j, err := r.Store.Jobs.Job(ctx, id); err == nil {
		r.told.Add(j.ID, j.State)
		r.Changed(j)
	}
}

// watch tells of what other servers do, which share the queue.
func (r *Runner) watch(ctx context.Context) {
	since := r.Store.Jobs.Clock()
	for {
		select {
		case <-ctx.Done():
			return
		case <-time.After(idle):
		}
		next := r.Store.Jobs.Clock().Add(-idle) // a row may be written a little after the time that it bears
		all, err := r.Store.Jobs.JobsSince(ctx, since, slices.Collect(maps.Keys(r.Works))...)
		if err != nil {
			continue // the database is asked again
		}
		for _, j := range all {
			if state, known := r.told.Get(j.ID); known && (state == j.State || state == store.Done || state == store.Failed) {
				continue
			}
			if j.State == store.Done || j.State == store.Failed {
				r.told.Add(j.ID, j.State)
			}
			r.Changed(j)
		}
		since = next
	}
}

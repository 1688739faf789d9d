package jobs_test

import (
	"context"
	"io"
	"log/slog"
	"raconte/core/access"
	"sync"
	"testing"
	"time"

	"raconte/core/refusal"
	"raconte/store"
	"raconte/store/storetest"
	"raconte/works/jobs"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var ctx = context.Background()

type bench struct {
	*jobs.Runner
	store *store.Store
	owner string
	stop  func() // ends the runner and waits for it
}

func start(t *testing.T, works map[string]jobs.Work) bench {
	s := storetest.Open(t)
	r := &jobs.Runner{Store: s, Works: works, Log: slog.New(slog.NewTextHandler(io.Discard, nil))}
	run, cancel := context.WithCancel(ctx)
	ended := make(chan struct{})
	go func() { defer close(ended); r.Run(run, 2) }()
	stop := sync.OnceFunc(func() { cancel(); <-ended })
	t.Cleanup(stop)
	return bench{r, s, storetest.Account(t, s, "ines", access.Author).ID, stop}
}

func (b bench) add(t *testing.T, kind string) string {
	j, err := b.Add(ctx, store.Job{Kind: kind, Payload: "payload", Owner: b.owner})
	require.NoError(t, err)
	return j.ID
}

func (b bench) ends(t *testing.T, id string, as store.JobState) store.Job {
	t.Helper()
	var j store.Job
	require.Eventually(t, func() bool {
		var err error
		j, err = b.store.Jobs.Job(ctx, id)
		return err == nil && j.State == as
	}, 5*time.Minute, 20*time.Millisecond, "it is %s", j.State)
	return j
}

// TestServersTellOfWhatOthersDo has two share a queue: one works, the other tells of it, once.
func TestServersTellOfWhatOthersDo(t *testing.T) {
	b := start(t, map[string]jobs.Work{"count": func(context.Context, store.Job, func(int, int)) (jobs.Result, error) {
		return jobs.Result{File: "x"}, nil
	}})
	told := make(chan store.Job, 20)
	other := &jobs.Runner{Store: b.store, Log: slog.New(slog.NewTextHandler(io.Discard, nil)), Changed: func(j store.Job) { told <- j },
		Works: map[string]jobs.Work{"count": nil}}
	run, cancel := context.WithCancel(ctx)
	ended := make(chan struct{})
	go func() { defer close(ended); other.Run(run, 0) }()
	defer func() { cancel(); <-ended }()
	id := b.add(t, "count")
	var last store.Job
	for last.State != store.Done {
		select {
		case last = <-told:
			assert.Equal(t, id, last.ID)
		case <-time.After(5 * time.Minute):
			t.Fatal("nobody has told")
		}
	}
	select {
	case again := <-told:
		t.Fatalf("%s is told twice", again.ID)
	case <-time.After(3 * time.Second):
	}
}

func TestAJobIsDoneAndItsResultKept(t *testing.T) {
	b := start(t, map[string]jobs.Work{"count": func(_ context.Context, j store.Job, progress func(int, int)) (jobs.Result, error) {
		progress(3, 3)
		return jobs.Result{File: j.Payload + " done", Bytes: 7}, nil
	}})
	j := b.ends(t, b.add(t, "count"), store.Done)
	assert.Equal(t, []any{"payload done", 3, 3, int64(7)}, []any{j.Result, j.Done, j.Total, j.Bytes})
}

func TestFailuresAndPanicsEndTheirJobAndNothingElse(t *testing.T) {
	b := start(t, map[string]jobs.Work{
		"fails": func(context.Context, store.Job, func(int, int)) (jobs.Result, error) {
			return jobs.Result{}, refusal.New("No paper.")
		},
		"panics": func(context.Context, store.Job, func(int, int)) (jobs.Result, error) { panic("oh") },
		"works": func(context.Context, store.Job, func(int, int)) (jobs.Result, error) {
			return jobs.Result{File: "fine"}, nil
		},
	})
	failed, panicked, other, fine := b.add(t, "fails"), b.add(t, "panics"), b.add(t, "of another runner"), b.add(t, "works")
	assert.Equal(t, "No paper.", b.ends(t, failed, store.Failed).Error)
	assert.Contains(t, b.ends(t, panicked, store.Failed).Error, "Nothing of yours was changed")
	b.ends(t, fine, store.Done)
	b.ends(t, other, store.Waiting)
}

func TestACancelledJobStopsSoon(t *testing.T) {
	stopped := make(chan struct{})
	b := start(t, map[string]jobs.Work{"long": func(ctx context.Context, _ store.Job, _ func(int, int)) (jobs.Result, error) {
		<-ctx.Done()
		close(stopped)
		return jobs.Result{}, ctx.Err()
	}})
	id := b.add(t, "long")
	b.ends(t, id, store.Working)
	require.NoError(t, b.store.Jobs.CancelJob(ctx, id))
	select {
	case <-stopped:
	case <-time.After(5 * time.Minute):
		t.Fatal("the work goes on")
	}
	b.ends(t, id, store.Cancelled)
}

func TestAServerThatStopsPutsItsJobsBack(t *testing.T) {
	begun := make(chan struct{}, 1)
	b := start(t, map[string]jobs.Work{"long": func(ctx context.Context, _ store.Job, _ func(int, int)) (jobs.Result, error) {
		begun <- struct{}{}
		<-ctx.Done()
		return jobs.Result{}, ctx.Err()
	}})
	id := b.add(t, "long")
	<-begun
	b.stop()
	j, err := b.store.Jobs.Job(ctx, id)
	require.NoError(t, err)
	assert.Equal(t, store.Waiting, j.State)
	assert.Zero(t, j.Attempts, "a stop is no failure of the job's")
}

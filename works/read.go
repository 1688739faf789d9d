package works

import (
	"context"
	"fmt"
	"time"

	"raconte/core/sight"
	"raconte/intake"
	"raconte/store"
	"raconte/works/jobs"
	"raconte/works/pictures"
)

// Reads tells whether the text in pictures can be read.
func (w *Works) Reads() bool { return w.Reader.Languages() != "" }

// queueReading has the text in a shot read in the background, where that can be done.
func (w *Works) queueReading(ctx context.Context, shot store.Shot) {
	if !w.Reads() || shot.FoundText != nil {
		return
	}
	if _, err := w.reads.Add(ctx, store.Job{Kind: readJob, Payload: shot.ID, Owner: shot.CreatedBy}); err != nil {
		w.Log.Warn("queueing the reading of a shot", "shot", shot.ID, "error", err)
	}
}

// Reading takes a core for seconds. It waits a little until nobody has brought a shot in for a while, so that it hardly
// slows those who capture; but only a little: while shots keep arriving, they are read too.
const (
	quietBefore  = 8 * time.Second
	longestQuiet = 10 * time.Second
)

func (w *Works) awaitQuiet(ctx context.Context) error {
	for began := time.Now(); time.Since(began) < longestQuiet; {
		wait := min(quietBefore-time.Since(time.Unix(0, w.lastShot.Load())), longestQuiet-time.Since(began))
		if wait <= 0 {
			return nil
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-time.After(wait):
		}
	}
	return nil
}

// read is the job that finds the words in a shot.
func (w *Works) read(ctx context.Context, j store.Job, _ func(done, all int)) (jobs.Result, error) {
	if err := w.awaitQuiet(ctx); err != nil {
		return jobs.Result{}, err
	}
	shot, err := w.Store.Captures.Shot(ctx, j.Payload)
	if err != nil || shot.FoundText != nil {
		return jobs.Result{}, err
	}
	_, err = w.words(pictures.For(ctx, shot.CreatedBy), shot)
	return jobs.Result{}, err
}

// ReadNow waits a few seconds for the words in a shot. Where they take longer, a job reads them and done is false.
func (w *Works) ReadNow(ctx context.Context, shot store.Shot) (found []sight.Word, done bool) {
	limited, cancel := context.WithTimeout(ctx, soonRead)
	defer cancel()
	found, err := w.words(limited, shot)
	if err == nil {
		return found, true
	}
	if ctx.Err() == nil {
		if limited.Err() == nil {
			w.Log.Warn("reading a shot for suggestions", "shot", shot.ID, "error", err)
		}
		w.queueReading(ctx, shot)
	}
	return nil, false
}

// soonRead is how long someone waits for a picture to be read.
const soonRead = 6 * time.Second

// inTurn is the file of a shot to be looked through, once its turn has come: of all requests and jobs, few look at a
// time.
func (w *Works) inTurn(ctx context.Context, shot store.Shot) (file pictures.File, done func(), err error) {
	select {
	case w.reading <- struct{}{}:
	case <-ctx.Done():
		return file, nil, ctx.Err()
	}
	done = func() { <-w.reading }
	if file, err = w.Pictures.Original(ctx, shot.ID); err != nil {
		done()
	}
	return file, done, err
}

// words finds the words in a shot and keeps them, once its turn has come.
func (w *Works) words(ctx context.Context, shot store.Shot) ([]sight.Word, error) {
	file, done, err := w.inTurn(ctx, shot)
	if err != nil {
		return nil, err
	}
	defer done()
	pixels, err := intake.Decode(ctx, file.Data)
	if err != nil {
		return nil, fmt.Errorf("reading the text in a picture: %w", err)
	}
	found, err := w.Reader.Words(ctx, pixels)
	if err != nil {
		return nil, err
	}
	// What stands in a password field is not for anyone to find.
	kept := found[:0]
	for _, word := range found {
		secret := false
		for _, e := range shot.About.Elements {
			secret = secret || (e.Secret && !e.Rect.Intersect(word.Rect).Empty())
		}
		if !secret {
			kept = append(kept, word)
		}
	}
	if err := w.Store.Captures.SetRead(ctx, shot.ID, kept); err != nil {
		return nil, err
	}
	return kept, w.Store.Search.FindAnew(ctx, shot.ID)
}

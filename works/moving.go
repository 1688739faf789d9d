package works

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"raconte/core/figure"
	"raconte/core/refusal"
	"raconte/core/scene"
	"raconte/engines/media"
	"raconte/output/picture"
	"raconte/store"
	"raconte/works/jobs"
	"raconte/works/pictures"
)

// movingOrder is what the job is told that makes a finished clip.
type movingOrder struct {
	Figure figure.Figure `json:"figure"`
	First  int           `json:"first"`
	Form   string        `json:"form"`
	Most   int64         `json:"most,omitempty"` // bytes; 0 is as many as it takes
}

// Making is how far a finished clip is. Error says why it can't be made.
type Making struct {
	Key         string // that it is kept by; "" until it is there
	Done, Total int
	Error       string
}

// Moving tells how far a finished clip is, and begins to make it where nobody has.
func (w *Works) Moving(ctx context.Context, f figure.Figure, first int, form string, most int64, account string) (Making, error) {
	as, known := media.Named(form)
	if !known {
		return Making{}, refusal.New("Clips are made as MP4, WebM, GIF and WebP.")
	}
	if !media.Found() {
		return Making{}, media.ErrMissing
	}
	key, shot, err := w.Pictures.MovingKey(ctx, pictures.Moving{Figure: f, First: first, Form: as})
	if err != nil {
		return Making{}, err
	}
	if !shot.Recording.Moves() {
		return Making{}, refusal.New("This is a still picture.")
	}
	if most == 0 && w.Pictures.HasMoving(ctx, key) {
		return Making{Key: key}, nil
	}
	payload, err := json.Marshal(movingOrder{f, first, form, most})
	if err != nil {
		return Making{}, fmt.Errorf("ordering a clip: %w", err)
	}
	return w.once(ctx, fmt.Sprint(key, " ", most), store.Job{Kind: movingJob, Payload: string(payload), Owner: account}, func(j store.Job) bool {
		return w.Pictures.HasMoving(ctx, j.Result)
	})
}

// once tells how far a job is that makes something of a recording, and begins it where nobody has. There tells whether
// what a finished one has made is still kept.
func (w *Works) once(ctx context.Context, name string, job store.Job, there func(store.Job) bool) (Making, error) {
	w.movingGate.Lock()
	defer w.movingGate.Unlock()
	if id, begun := w.movings[name]; begun {
		j, err := w.Store.Jobs.Job(ctx, id)
		switch {
		case err == nil && j.State == store.Done && there(j):
			return Making{Key: j.Result}, nil
		case err == nil && (j.State == store.Failed || j.State == store.Cancelled):
			delete(w.movings, name) // asked again, it is tried again
			return Making{Error: j.Error}, nil
		case err == nil && j.State != store.Done:
			return Making{Done: j.Done, Total: j.Total}, nil
		}
	}
	j, err := w.clips.Add(ctx, job)
	if err != nil {
		return Making{}, err
	}
	if len(w.movings) > mostMovings {
		clear(w.movings)
	}
	w.movings[name] = j.ID
	return Making{}, nil
}

// tooLargeSaid is what is said of a clip that can't be made as small as it should be.
const tooLargeSaid = "The clip can’t be made that small and still be watched. Cut it, or send a link."

// mostMovings bounds how many jobs are known by what they make.
const mostMovings = 1000

// followOrder is what the job is told that looks at a recording: for a part of it, or for where nothing moves.
type followOrder struct {
	Shot string      `json:"shot"`
	At   int         `json:"at"`
	Part *scene.Rect `json:"part,omitempty"`
}

// Looked looks at a shot's recording for what follows a part of it, or, without one, for where nothing moves. What it
// finds is then kept by the pictures.
func (w *Works) Looked(ctx context.Context, shot store.Shot, part *scene.Rect, at int, account string) (Making, error) {
	if !media.Found() {
		return Making{}, media.ErrMissing
	}
	payload, err := json.Marshal(followOrder{shot.ID, at, part})
	if err != nil {
		return Making{}, fmt.Errorf("looking at a recording: %w", err)
	}
	return w.once(ctx, shot.Recording.SHA256+string(payload), store.Job{Kind: followJob, Payload: string(payload), Owner: account}, func(store.Job) bool { return true })
}

func (w *Works) follow(ctx context.Context, j store.Job, _ func(done, all int)) (jobs.Result, error) {
	var o followOrder
	if err := json.Unmarshal([]byte(j.Payload), &o); err != nil {
		return jobs.Result{}, fmt.Errorf("reading what is looked for: %w", err)
	}
	shot, err := w.Store.Captures.Shot(ctx, o.Shot)
	if err == nil && o.Part != nil {
		_, err = w.Pictures.Follow(ctx, shot, *o.Part, o.At)
	} else if err == nil {
		_, err = w.Pictures.Stills(ctx, shot)
	}
	return jobs.Result{File: "kept"}, err
}

// moving is the job that makes a finished clip.
func (w *Works) moving(ctx context.Context, j store.Job, progress func(done, all int)) (jobs.Result, error) {
	var o movingOrder
	if err := json.Unmarshal([]byte(j.Payload), &o); err != nil {
		return jobs.Result{}, fmt.Errorf("reading the order of a clip: %w", err)
	}
	form, _ := media.Named(o.Form)
	order := pictures.Moving{Figure: o.Figure, First: o.First, Form: form, Progress: progress}
	ctx = pictures.For(ctx, j.Owner)
	if o.Most > 0 {
		key, _, bytes, err := w.Pictures.FitMoving(ctx, order, o.Most, []media.Form{form})
		if errors.Is(err, picture.ErrTooLarge) {
			err = refusal.New(tooLargeSaid)
		}
		return jobs.Result{File: key, Bytes: bytes}, err
	}
	key, err := w.Pictures.Moving(ctx, order)
	return jobs.Result{File: key}, err
}

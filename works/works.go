// Package works is what goes on in the background, and what documents are made into: deliveries in every format, the
// pages that the preview shows, previews of shots, the reading of their text, and the sweeping of what nothing uses. It
// knows nothing of HTTP.
package works

import (
	"context"
	"log/slog"
	"raconte/core/sight"
	"sync"
	"sync/atomic"
	"time"

	"raconte/engines/ocr"
	"raconte/engines/voice"
	"raconte/platform/blobs"
	"raconte/platform/kept"
	"raconte/platform/mail"
	"raconte/platform/seal"
	"raconte/store"
	"raconte/works/jobs"
	"raconte/works/pictures"
)

// Works does the work of one house.
type Works struct {
	Store    *store.Store
	Pictures *pictures.Maker
	Blobs    *blobs.Bucket
	Reader   ocr.Reader     // of text in pictures; the zero Reader reads none
	Likeness *sight.Cascade // finds faces in pictures; nil where nothing does
	Log      *slog.Logger
	Address  string // of the application, as colleagues reach it: "http://127.0.0.1:8420"
	House    string // at the foot of each page
	Places   []Place
	Mail     mail.Server  // the zero Server sends nothing
	Speaker  voice.Engine // nil where nothing speaks
	Key      seal.Key     // of the secrets of receivers

	Told       func(account string)   // is told whom notices came for; may be nil
	Asked      func(document string)  // is told of a request that came in, or of which more is said; may be nil
	IsReleased func(d store.Document) // is told of what the calendar released; may be nil

	readings                         *kept.Cache[store.Whole] // documents that were read, by all they are made of
	jobs, reads, mails, sends, clips *jobs.Runner
	movingGate                       sync.Mutex
	failed                           sync.Map          // what of the calendar failed, and on which day that was told
	movings                          map[string]string // the jobs that make clips, by what they make
	lastShot                         atomic.Int64      // when the last shot came in, in nanoseconds of the Unix epoch
	reading                          chan struct{}     // a place for each picture whose text is being read
}

// Kinds of jobs.
const (
	deliverJob = "deliver"
	previewJob = "preview"
	readJob    = "read"
	mailJob    = "mail"
	sendJob    = "send"
	movingJob  = "moving"
	followJob  = "follow"
	filmJob    = "film"
)

// Begin makes the works ready to take jobs; changed is told of every change to one, and may be nil.
func (w *Works) Begin(changed func(store.Job)) {
	w.readings = kept.New(mostReadings, sizeOf)
	w.reading = make(chan struct{}, 2)
	w.jobs = &jobs.Runner{Store: w.Store, Log: w.Log, Changed: changed, Works: map[string]jobs.Work{deliverJob: w.deliver, previewJob: w.preview, store.PublishJob: w.publish}}
	w.mails = &jobs.Runner{Store: w.Store, Log: w.Log, Works: map[string]jobs.Work{mailJob: w.mail}}
	w.sends = &jobs.Runner{Store: w.Store, Log: w.Log, Changed: changed, Works: map[string]jobs.Work{sendJob: w.send}}
	w.movings = map[string]string{}
	w.clips = &jobs.Runner{Store: w.Store, Log: w.Log, Works: map[string]jobs.Work{movingJob: w.moving, followJob: w.follow, filmJob: w.film}}
	w.reads = &jobs.Runner{Store: w.Store, Log: w.Log, Works: map[string]jobs.Work{readJob: w.read}}
}

// Run works until ctx is cancelled. What may take long has workers of its own, so that quick work need not wait for it.
func (w *Works) Run(ctx context.Context, workers int) {
	var all sync.WaitGroup
	all.Go(func() { w.findable(ctx) })
	all.Go(func() { w.reads.Run(ctx, 1) })
	all.Go(func() { w.mails.Run(ctx, 1) })
	all.Go(func() { w.clips.Run(ctx, 1) })
	all.Go(func() { w.sends.Run(ctx, sendWorkers) })
	all.Go(func() { w.Calendar(ctx) })
	all.Go(func() { w.jobs.Run(ctx, workers) })
	all.Wait()
}

// Arrived queues what is made of a shot that has come in.
func (w *Works) Arrived(ctx context.Context, shot store.Shot) {
	if _, err := w.jobs.Add(ctx, store.Job{Kind: previewJob, Payload: shot.ID, Owner: shot.CreatedBy}); err != nil {
		w.Log.Warn("queueing a preview", "shot", shot.ID, "error", err) // it is made when first asked for
	}
	w.queueReading(ctx, shot)
}

// Busy tells that a shot is coming in: reading waits a little.
func (w *Works) Busy() { w.lastShot.Store(time.Now().UnixNano()) }

func (w *Works) preview(ctx context.Context, j store.Job, _ func(done, all int)) (jobs.Result, error) {
	_, err := w.Pictures.Preview(pictures.For(ctx, j.Owner), j.Payload)
	return jobs.Result{}, err
}

package works

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"time"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/film"
	"raconte/core/refusal"
	"raconte/core/style"
	"raconte/engines/media"
	"raconte/output"
	films "raconte/output/film"
	"raconte/platform/together"
	"raconte/store"
	"raconte/works/jobs"
	"raconte/works/pictures"

	"golang.org/x/sync/errgroup"
)

// MostVoice is the most bytes that the recording of a voice may have.
const MostVoice = 40 << 20

// AddVoice keeps what a person says, with its ends trimmed and its loudness made even. Of is one that was kept, instead
// of a recording, "" where it is none. The error is a refusal where it can't be used.
func (w *Works) AddVoice(ctx context.Context, recorded io.Reader, of string, cut figure.Span) (document.Voice, error) {
	dir, err := os.MkdirTemp("", "raconte-voice-*")
	if err != nil {
		return document.Voice{}, fmt.Errorf("keeping a voice: %w", err)
	}
	defer os.RemoveAll(dir)
	if !media.Found() {
		return document.Voice{}, media.ErrMissing
	}
	in, out := filepath.Join(dir, "in"), filepath.Join(dir, "out.wav")
	if of != "" {
		kept, err := w.Blobs.Open(ctx, FileKey(of))
		if err != nil {
			return document.Voice{}, refusal.New("What was recorded is not there any more. Record it again.")
		}
		defer kept.Close()
		recorded = kept
	}
	f, err := os.Create(in)
	if err == nil {
		_, err = io.Copy(f, recorded)
		err = errors.Join(err, f.Close())
	}
	if err != nil {
		return document.Voice{}, err
	}
	ms := 0
	err = w.Pictures.AtOnce(ctx, func() (err error) {
		ms, err = media.Voice(ctx, in, out, cut)
		return err
	})
	if err != nil {
		return document.Voice{}, err
	}
	if ms < 100 {
		return document.Voice{}, refusal.New("There is nothing to be heard in it. Record it again, and look at the level.")
	}
	spoken, err := os.Open(out)
	if err != nil {
		return document.Voice{}, fmt.Errorf("keeping a voice: %w", err)
	}
	defer spoken.Close()
	sha, _, err := w.Blobs.PutSum(ctx, FileKey(""), spoken)
	return document.Voice{SHA256: sha, Ms: ms}, err
}

// patience is how long someone waits for texts to be spoken whose lengths they want to know.
const patience = 3 * time.Second

// Lengths are how long texts take to be spoken, in milliseconds; −1 of those that there was no time for.
func (w *Works) Lengths(ctx context.Context, texts []string, language style.Language, pace int) []int {
	out := make([]int, len(texts))
	limited, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	group, limited := errgroup.WithContext(limited)
	group.SetLimit(2)
	for i, text := range texts {
		out[i] = -1
		if text == "" || w.Speaker == nil {
			continue
		}
		group.Go(together.Safe(func() error {
			if data, err := w.Say(limited, text, language, pace); err == nil {
				if pcm, err := media.Samples(data); err == nil {
					out[i] = media.Ms(len(pcm))
				}
			}
			return nil
		}))
	}
	_ = group.Wait() // what failed is −1
	return out
}

// filmOrder is what the job is told that makes the film that readers watch.
type filmOrder struct {
	Document string `json:"document"`
	Still    bool   `json:"still,omitempty"`
	Key      string `json:"key"`
}

// Film is the film of a document that has been read, as its readers watch it: how far it is, and its plan once its
// speech is known.
func (w *Works) Film(ctx context.Context, read store.Whole, still bool, account string) (Making, film.Plan, error) {
	if read.Facts.Film == nil || !read.Facts.Film.Offered {
		return Making{}, film.Plan{}, refusal.New("No film of this document is offered.")
	}
	in, err := w.input(ctx, stilled(read, still), Order{Document: read.ID, Format: films.MP4}, func(int, int) {})
	if err != nil {
		return Making{}, film.Plan{}, err
	}
	if !media.Found() {
		return Making{}, film.Plan{}, media.ErrMissing
	}
	key, err := filmKey(in)
	if err != nil {
		return Making{}, film.Plan{}, err
	}
	if !w.Pictures.HasMoving(ctx, key) {
		payload, err := json.Marshal(filmOrder{read.ID, still, key})
		if err != nil {
			return Making{}, film.Plan{}, fmt.Errorf("ordering a film: %w", err)
		}
		making, err := w.once(ctx, key, store.Job{Kind: filmJob, Payload: string(payload), Owner: account}, func(j store.Job) bool { return w.Pictures.HasMoving(ctx, j.Result) })
		return making, film.Plan{}, err
	}
	plan := films.Plan(in, func(said string) (int, bool) {
		data, err := w.Say(ctx, said, in.Edition.Style.Language, in.Story.Film.Pace)
		if err != nil {
			return 0, false
		}
		pcm, err := media.Samples(data)
		return media.Ms(len(pcm)), err == nil
	})
	return Making{Key: key}, plan, nil
}

// stilled is a document of whose film nothing moves, for those who have asked for that.
func stilled(read store.Whole, still bool) store.Whole {
	if f := read.Facts.Film; f != nil && still {
		now := *f
		now.Still = true
		read.Facts.Film = &now
	}
	return read
}

// filmKey names the film of an input by all that is told and shown in it.
func filmKey(in output.Input) (string, error) {
	h := sha256.New()
	err := json.NewEncoder(h).Encode([]any{"film", in.Story, in.Edition.Style, in.Edition.Revision, in.Edition.House})
	return hex.EncodeToString(h.Sum(nil)), err
}

// film is the job that makes the film that readers watch.
func (w *Works) film(ctx context.Context, j store.Job, progress func(done, all int)) (jobs.Result, error) {
	var o filmOrder
	if err := json.Unmarshal([]byte(j.Payload), &o); err != nil {
		return jobs.Result{}, fmt.Errorf("reading the order of a film: %w", err)
	}
	ctx = pictures.For(ctx, j.Owner)
	owner, err := w.Store.Identity.Account(ctx, j.Owner)
	if err == nil {
		owner.Closed, err = w.Store.Setup.ClosedTo(ctx, owner)
	}
	if err != nil {
		return jobs.Result{}, err
	}
	read, err := w.Reading(ctx, owner.Viewer(), o.Document, Which{})
	if err != nil {
		return jobs.Result{}, err
	}
	in, err := w.input(ctx, stilled(read.Whole, o.Still), Order{Document: read.ID, Format: films.MP4}, progress)
	if err != nil {
		return jobs.Result{}, err
	}
	key, err := filmKey(in)
	if err != nil {
		return jobs.Result{}, err
	}
	tmp, err := os.CreateTemp("", "raconte-film-*.mp4")
	if err != nil {
		return jobs.Result{}, fmt.Errorf("making a film: %w", err)
	}
	defer os.Remove(tmp.Name())
	err = films.Format{Kind: films.MP4}.Write(ctx, tmp, in, output.Options{})
	if err = errors.Join(err, tmp.Close()); err != nil {
		return jobs.Result{}, err
	}
	return jobs.Result{File: key}, w.Pictures.KeepPart(ctx, key, tmp.Name())
}

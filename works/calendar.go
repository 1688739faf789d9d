package works

import (
	"context"
	"errors"
	"fmt"
	"time"

	"raconte/core/access"
	"raconte/platform/together"
	"raconte/store"
)

const (
	lookEvery   = time.Minute
	summaryHour = 7 // of the house's zone, from which the daily summaries go out
)

// Calendar does what days bring until ctx is cancelled: releases, reminders, daily summaries.
func (w *Works) Calendar(ctx context.Context) {
	tick := time.NewTicker(lookEvery)
	defer tick.Stop()
	for {
		_ = w.Today(ctx) // what failed was told
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

// Today does what a day brings, once. What fails, or panics, keeps nothing else from being done.
func (w *Works) Today(ctx context.Context) error {
	now := w.Store.Now()
	return errors.Join(
		w.each(ctx, "releases", func() error {
			released, err := w.Store.Releases.ReleaseDue(ctx)
			for _, d := range released {
				w.Released(ctx, d)
			}
			return err
		}),
		w.each(ctx, "reviews", func() error { return w.remindReviews(ctx, now) }),
		w.each(ctx, "documents", func() error { return w.remindDocuments(ctx, now) }),
		w.each(ctx, "confirmations", func() error { return w.remindConfirmations(ctx, now) }),
		w.each(ctx, "summaries", func() error { return w.summaries(ctx, now) }),
	)
}

// each does one thing of the calendar. That it failed is told once a day.
func (w *Works) each(ctx context.Context, what string, do func() error) error {
	err := together.Guarded(do)
	if err == nil || ctx.Err() != nil {
		return err
	}
	if today := w.Store.Today(); !w.toldOn(what, today) {
		w.Log.Error("something of the calendar failed", "what", what, "error", err)
	}
	return fmt.Errorf("%s: %w", what, err)
}

// toldOn tells whether it was told on a day already that something of the calendar failed, and notes that it is told
// now.
func (w *Works) toldOn(what, day string) bool {
	last, _ := w.failed.Swap(what, day)
	return last == day
}

// Released tells of a revision that readers follow from now on: those who have pinned the document, who answers for it,
// and the screens that show it.
func (w *Works) Released(ctx context.Context, d store.Document) {
	if w.IsReleased != nil {
		w.IsReleased(d)
	}
	w.Rouse()
	people, err := w.Store.Trail.Following(ctx, d.ID)
	var owner string
	if err == nil {
		owner, err = w.Store.Identity.OwnerOf(ctx, d.Facts)
	}
	if owner != "" {
		people = append(people, owner)
	}
	if err == nil {
		said := d.Facts.SayRevision(d.Revision)
		err = w.Tell(ctx, d, store.Notice{
			Kind: store.AboutReleased, Ref: fmt.Sprintf("%s %d", d.ID, d.Revision), Told: fmt.Sprintf("“%s” is released as revision %s.", d.Title, said),
		}, without(people, d.ChangedBy)...)
	}
	if err != nil {
		w.Log.Error("telling of a release", "document", d.ID, "error", err)
	}
}

func without(people []string, one string) (all []string) {
	for _, p := range people {
		if p != one {
			all = append(all, p)
		}
	}
	return all
}

// day is a time's day as 2006-01-02, by which days are compared.
func day(t time.Time) string { return t.Format(time.DateOnly) }

// remindReviews reminds those who have not answered, the day before an answer is due, and when it is late.
func (w *Works) remindReviews(ctx context.Context, now time.Time) error {
	open, err := w.Store.Reviews.OpenReviews(ctx)
	if err != nil {
		return err
	}
	var failed []error
	for _, r := range open {
		when, said := "", ""
		switch due := day(*r.Due); {
		case due < day(now):
			when, said = "late", "was due on "+r.Due.Format("2 January")
		case due <= day(now.AddDate(0, 0, 1)):
			when, said = "soon", "is due by "+r.Due.Format("2 January")
		default:
			continue
		}
		kind, what := store.AboutReview, "answer"
		if r.Approval {
			kind, what = store.AboutApproval, "signature"
		}
		var people []string
		for _, p := range r.People {
			if p.Answer == "" {
				people = append(people, p.AccountID)
			}
		}
		failed = append(failed, w.each(ctx, "review "+r.ID, func() error {
			d, err := w.Store.Documents.Head(ctx, r.DocumentID)
			if err == nil {
				err = w.Tell(ctx, d, store.Notice{Kind: kind, Ref: r.ID + " " + when, Told: fmt.Sprintf("Your %s on “%s” %s.", what, d.Title, said)}, people...)
			}
			return err
		}))
	}
	return errors.Join(failed...)
}

// remindDocuments tells owners of documents that are due to be looked at again.
func (w *Works) remindDocuments(ctx context.Context, now time.Time) error {
	var failed []error
	for after := ""; ; {
		due, err := w.Store.Trail.DueDocuments(ctx, day(now), after)
		if err != nil || len(due) == 0 {
			return errors.Join(append(failed, err)...)
		}
		for _, d := range due {
			after = d.ID
			failed = append(failed, w.each(ctx, "document "+d.ID, func() error {
				return w.Tell(ctx, d.Document, store.Notice{
					Kind: store.AboutDue, Ref: d.ID + " " + day(*d.Review), Told: fmt.Sprintf("“%s” is due for its review. Say that it is still valid, or revise it.", d.Title),
				}, d.OwnerID)
			}))
		}
	}
}

// remindConfirmations reminds those who have not confirmed, the day before it is due, and when it is late.
func (w *Works) remindConfirmations(ctx context.Context, now time.Time) error {
	all, err := w.Store.Reviews.DueConfirmations(ctx, day(now.AddDate(0, 0, 1)))
	if err != nil {
		return err
	}
	var failed []error
	for _, c := range all {
		when, said := "soon", "by "+c.Due.Format("2 January")
		if day(*c.Due) < day(now) {
			when, said = "late", "and it was due on "+c.Due.Format("2 January")
		}
		failed = append(failed, w.each(ctx, "confirmation of "+c.DocumentID+" by "+c.AccountID, func() error {
			d, err := w.Store.Documents.Head(ctx, c.DocumentID)
			if err == nil {
				err = w.Tell(ctx, d, store.Notice{
					Kind: store.AboutConfirm, Ref: fmt.Sprintf("%s %d %s", d.ID, c.FromRev, when), Told: fmt.Sprintf("You are asked to read “%s” and to confirm it, %s.", d.Title, said),
				}, c.AccountID)
			}
			return err
		}))
	}
	return errors.Join(failed...)
}

// summaries sends once a day what people were told and have not read.
func (w *Works) summaries(ctx context.Context, now time.Time) error {
	if now.Hour() < summaryHour || !w.Mail.On() {
		return nil
	}
	morning := time.Date(now.Year(), now.Month(), now.Day(), summaryHour, 0, 0, 0, now.Location())
	all, err := w.Store.Trail.ToSum(ctx, morning.UTC())
	if err != nil {
		return err
	}
	var failed []error
	for id, notices := range all {
		failed = append(failed, w.each(ctx, "summary for "+id, func() error { return w.summary(ctx, id, notices) }))
	}
	return errors.Join(failed...)
}

// summary sends someone what they were told and have not read.
func (w *Works) summary(ctx context.Context, id string, notices []store.Notice) error {
	to, err := w.Store.Identity.Account(ctx, id)
	if err != nil {
		return err
	}
	l := Letter{Subject: "What concerns you in Raconte", Lines: []string{"since the last summary:"}}
	var ids []string
	for _, n := range notices {
		ids = append(ids, n.ID)
		may, err := w.mayKnow(ctx, to, n.DocumentID)
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
		if may {
			l.Items = append(l.Items, Item{Told: n.Told, Link: w.Address + Where(n, to)})
		}
	}
	if len(l.Items) > 0 {
		if _, err := w.Write(ctx, to, l); err != nil {
			return err
		}
	}
	return w.Store.Trail.Mailed(ctx, ids...)
}

// mayKnow tells whether someone may still know of a document that they were told of.
func (w *Works) mayKnow(ctx context.Context, to store.Account, document string) (bool, error) {
	folder, _, err := w.Store.Setup.Whereabouts(ctx, document)
	if err == nil {
		to.Closed, err = w.Store.Setup.ClosedTo(ctx, to)
	}
	return access.May(to.Viewer(), access.Read, access.Thing{Folder: folder}), err
}

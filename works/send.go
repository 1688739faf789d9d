package works

import (
	"context"
	"errors"
	"fmt"
	"time"

	"raconte/core/receiver"
	"raconte/core/refusal"
	"raconte/platform/receivers"
	"raconte/store"
	"raconte/works/jobs"
)

const (
	firstAgain  = 5 * time.Second
	filesAgain  = time.Minute // at most, where no files are taken at the moment
	sendingFor  = tryFor
	sendWorkers = 2
)

// Send queues a document for a receiver. While it is on its way there, that is a refusal.
func (w *Works) Send(ctx context.Context, document, to, by string) (store.Sending, error) {
	n, err := w.Store.Exchange.BeginSending(ctx, document, to, by, sendJob)
	if errors.Is(err, store.ErrConflict) {
		return n, refusal.New("It is on its way there already.")
	}
	if err == nil {
		w.sends.Rouse()
	}
	return n, err
}

// Receiver is one that can be sent to, its secrets open.
func (w *Works) Receiver(ctx context.Context, id string) (receiver.Receiver, error) {
	r, err := w.Store.Exchange.Receiver(ctx, id)
	if err != nil {
		return receiver.Receiver{}, err
	}
	if r.Deleted {
		return receiver.Receiver{}, refusal.New("“%s” is no receiver of the house any more. Choose another.", r.Name)
	}
	r.Content.ID, r.Content.Name = r.ID, r.Name
	out, err := w.opened(r.Content)
	if err != nil {
		err = errors.Join(refusal.New("Raconte can’t open what it knows of “%s”. Your administrator can enter its sign-in again.", r.Name), err)
	}
	return out, err
}

// means are what the house has to reach receivers by.
func (w *Works) means() receivers.Means { return receivers.Means{Mail: w.Mail, Place: w.place} }

// Driver reaches a receiver.
func (w *Works) Driver(r receiver.Receiver) (receivers.Driver, error) {
	d, err := receivers.Of(r, w.means())
	return d, said(err)
}

// send is the job that sends a document to a receiver.
func (w *Works) send(ctx context.Context, j store.Job, progress func(done, all int)) (jobs.Result, error) {
	n, err := w.Store.Exchange.Sending(ctx, j.Payload)
	if err != nil {
		return jobs.Result{}, err
	}
	r, err := w.Receiver(ctx, n.ReceiverID)
	if err != nil {
		return jobs.Result{}, err
	}
	d, err := w.Driver(r)
	if err != nil {
		return jobs.Result{}, err
	}
	if len(r.Takes.Pictures) > 0 || r.Takes.PDF {
		switch open, err := d.Open(ctx); {
		case err != nil:
			return jobs.Result{}, w.again(ctx, j, r.Name, err)
		case !open:
			return jobs.Result{}, w.again(ctx, j, r.Name, receivers.Busy{Why: "It takes no files at the moment: it goes by itself as soon as it does.", After: min(filesAgain, w.age(j)+firstAgain)})
		}
	}
	for tight := 0; ; tight++ {
		err := w.hand(ctx, j, &n, r, d, tight, progress)
		if !errors.Is(err, receivers.ErrTooLarge) {
			return jobs.Result{}, w.again(ctx, j, r.Name, err)
		}
		if tight == tightest {
			return jobs.Result{}, refusal.New("“%s” finds it too large, however small it is made. Send a link, or choose another receiver.", r.Name)
		}
	}
}

// hand hands over what a receiver does not have yet of a sending.
func (w *Works) hand(ctx context.Context, j store.Job, n *store.Sending, r receiver.Receiver, d receivers.Driver, tight int, progress func(done, all int)) error {
	owner, err := w.Store.Identity.Account(ctx, j.Owner)
	if err == nil {
		owner.Closed, err = w.Store.Setup.ClosedTo(ctx, owner)
	}
	if err != nil {
		return fmt.Errorf("reading who sends: %w", err)
	}
	doc, err := w.Store.Documents.Whole(ctx, n.DocumentID)
	if err != nil {
		return fmt.Errorf("reading what is sent: %w", err)
	}
	p, err := w.Parcel(ctx, doc, r, tight, owner.Viewer(), true)
	if err != nil {
		return err
	}
	if len(p.Over) > 0 {
		return refusal.New("It does not fit “%s”. %s", r.Name, p.Over[0].Said())
	}
	p.ID, p.Number, p.Handed, p.Sender = fmt.Sprintf("%s-%d", n.ID, n.Times), n.Number, n.Handed, owner.DisplayName
	all := 1 + len(p.Files)
	progress(n.Handed, all)
	err = d.Send(ctx, p.Parcel, func(m receivers.Made, handed int) error {
		if n.Handed == 0 { // the text is there: what is written from now on is not
			n.Seq = doc.Seq
		}
		n.Number, n.Handed = m.Number, handed
		if m.Link != "" {
			n.Link = m.Link
		}
		progress(handed, all)
		return w.Store.Exchange.KeepSending(context.WithoutCancel(ctx), *n)
	})
	if err != nil {
		return err
	}
	now := w.Store.Jobs.Clock()
	n.SentAt = &now
	return w.Store.Exchange.KeepSending(context.WithoutCancel(ctx), *n)
}

func (w *Works) age(j store.Job) time.Duration { return w.Store.Jobs.Clock().Sub(j.CreatedAt) }

// again says what becomes of a sending that failed: it is tried again after waits that grow, for three days, or it has
// come to its end.
func (w *Works) again(ctx context.Context, j store.Job, name string, err error) error {
	var busy receivers.Busy
	switch {
	case err == nil || ctx.Err() != nil:
		return err
	case !errors.As(err, &busy):
		return said(err)
	case w.age(j) > sendingFor:
		return refusal.New("“%s” could not be reached for three days. %s", name, busy.Why)
	}
	after := busy.After
	if after == 0 {
		after = min(max(w.age(j), firstAgain), longestWait)
	}
	return jobs.Later{After: after, Err: errors.Join(refusal.New("%s It is tried again.", busy.Why), err)}
}

// said is an error of a receiver as people read it.
func said(err error) error {
	var refused receivers.Refused
	if errors.As(err, &refused) {
		return errors.Join(refusal.New("%s", refused.Why), err)
	}
	return err
}

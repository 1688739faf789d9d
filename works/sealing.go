package works

import (
	"context"
	"encoding/json"
	"fmt"

	"raconte/platform/seal"
	"raconte/store"
)

// What opens something is sealed where it is kept: secrets and addresses of receivers, secrets of one-time codes,
// letters that wait to be sent, passwords of files that are to be made.

// SealCode is the secret of an account's one-time codes as it is kept.
func (w *Works) SealCode(account, secret string) (string, error) {
	if secret == "" {
		return "", nil
	}
	return w.Key.Seal(secret, account+" one-time")
}

// OpenCode is the secret of an account's one-time codes; "" where they are off.
func (w *Works) OpenCode(account, kept string) (string, error) {
	if kept == "" {
		return "", nil
	}
	return w.Key.Open(kept, account+" one-time")
}

// sealedLetter is a letter as it waits: its link may let someone in.
func (w *Works) sealedLetter(l Letter) (string, error) {
	raw, err := json.Marshal(l)
	if err != nil {
		return "", fmt.Errorf("writing a letter: %w", err)
	}
	return w.Key.Seal(string(raw), "letter")
}

func (w *Works) openLetter(payload string) (l Letter, err error) {
	if seal.Sealed(payload) {
		if payload, err = w.Key.Open(payload, "letter"); err != nil {
			return l, fmt.Errorf("reading a letter: %w", err)
		}
	}
	if err := json.Unmarshal([]byte(payload), &l); err != nil {
		return l, fmt.Errorf("reading a letter: %w", err)
	}
	return l, nil
}

// sealedOrder is what a job is told of a delivery: the password of its file is sealed.
func (w *Works) sealedOrder(o Order) (string, error) {
	if p := o.PDF.Seal.Password; p != "" && !seal.Sealed(p) {
		sealed, err := w.Key.Seal(p, "order")
		if err != nil {
			return "", err
		}
		o.PDF.Seal.Password = sealed
	}
	payload, err := json.Marshal(o)
	if err != nil {
		return "", fmt.Errorf("writing an order: %w", err)
	}
	return string(payload), nil
}

// openOrder is an order with the password of its file open.
func (w *Works) openOrder(o Order) (Order, error) {
	p := o.PDF.Seal.Password
	if !seal.Sealed(p) {
		return o, nil
	}
	var err error
	o.PDF.Seal.Password, err = w.Key.Open(p, "order")
	return o, err
}

// SealKept seals what an earlier Raconte kept unsealed.
func (w *Works) SealKept(ctx context.Context) error {
	receivers, err := w.Store.Exchange.EveryReceiver(ctx)
	if err != nil {
		return err
	}
	for _, r := range receivers {
		r.Content.ID = r.ID
		sealed, err := w.sealAddresses(r.Content)
		if err == nil {
			r.Content = sealed
			err = w.Store.Exchange.SealReceiver(ctx, r)
		}
		if err != nil {
			return fmt.Errorf("sealing the receiver %s: %w", r.Name, err)
		}
	}
	codes, err := w.Store.Identity.OneTimeSecrets(ctx)
	if err != nil {
		return err
	}
	for account, secret := range codes {
		if seal.Sealed(secret) {
			continue
		}
		sealed, err := w.SealCode(account, secret)
		if err == nil {
			err = w.Store.Identity.SealOneTime(ctx, account, sealed)
		}
		if err != nil {
			return fmt.Errorf("sealing one-time codes: %w", err)
		}
	}
	return w.Store.Jobs.EachPayload(ctx, []string{mailJob, deliverJob}, func(j store.Job) (string, error) {
		if j.Kind == deliverJob {
			o, is := OrderOf(j)
			if !is {
				return j.Payload, nil
			}
			return w.sealedOrder(o)
		}
		if seal.Sealed(j.Payload) {
			return j.Payload, nil
		}
		l, err := w.openLetter(j.Payload)
		if err != nil {
			return j.Payload, nil // nobody can read it
		}
		return w.sealedLetter(l)
	})
}

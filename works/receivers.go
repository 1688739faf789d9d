package works

import (
	"errors"
	"fmt"
	"slices"

	"raconte/core/receiver"
	"raconte/platform/seal"
)

// errNoSecret says that a header or a sign-in is secret and nothing was given for it.
var errNoSecret = errors.New("a secret is missing")

// Sealed is a receiver as it is kept: its secrets sealed. Those that are not given again stay what they were, unless
// they would go to a host that did not get them before.
func (w *Works) Sealed(r, was receiver.Receiver) (receiver.Receiver, error) {
	was, err := w.WithAddresses(was)
	if err != nil {
		return r, err
	}
	known := was.Hosts()
	if slices.ContainsFunc(r.Hosts(), func(h string) bool { return !slices.Contains(known, h) }) {
		was = receiver.Receiver{}
	}
	sealed, err := eachSecret(r, func(name, value string) (string, error) {
		if value != "" && !seal.Sealed(value) {
			return w.Key.Seal(value, r.ID+" "+name)
		}
		return secretOf(was, name)
	})
	if err != nil {
		return r, err
	}
	return w.sealAddresses(sealed)
}

// opened is a receiver with its secrets open, to be used.
func (w *Works) opened(r receiver.Receiver) (receiver.Receiver, error) {
	r, err := w.WithAddresses(r)
	if err != nil {
		return r, err
	}
	return eachSecret(r, func(name, value string) (string, error) {
		if value == "" {
			return "", nil
		}
		return w.Key.Open(value, r.ID+" "+name)
	})
}

// WithAddresses is a receiver with its addresses as they were written: those of chats let in whoever knows them, and
// are sealed where they are kept.
func (w *Works) WithAddresses(r receiver.Receiver) (receiver.Receiver, error) {
	return eachAddress(r, func(name, address string) (string, error) {
		if !seal.Sealed(address) {
			return address, nil
		}
		return w.Key.Open(address, r.ID+" at "+name)
	})
}

func (w *Works) sealAddresses(r receiver.Receiver) (receiver.Receiver, error) {
	return eachAddress(r, func(name, address string) (string, error) {
		if address == "" || seal.Sealed(address) {
			return address, nil
		}
		return w.Key.Seal(address, r.ID+" at "+name)
	})
}

// eachAddress is a receiver with each of its addresses changed.
func eachAddress(r receiver.Receiver, change func(name, address string) (string, error)) (receiver.Receiver, error) {
	at := &r.Reached
	for name, address := range map[string]*string{"make": &at.Make.Address, "change": &at.Change.Address, "file": &at.File.Address, "ask": &at.Ask.Address, "folder": &at.Address} {
		changed, err := change(name, *address)
		if err != nil {
			return r, fmt.Errorf("an address: %w", err)
		}
		*address = changed
	}
	return r, nil
}

// Shown is a receiver without its secrets.
func Shown(r receiver.Receiver) receiver.Receiver {
	r, _ = eachSecret(r, func(string, string) (string, error) { return "", nil })
	return r
}

const (
	signIn = "password"
	toldBy = "told"
)

// eachSecret is a receiver with each of its secrets changed.
func eachSecret(r receiver.Receiver, change func(name, value string) (string, error)) (receiver.Receiver, error) {
	headers := make([]receiver.Header, len(r.Reached.Header))
	for i, h := range r.Reached.Header {
		if h.Secret {
			v, err := change(h.Name, h.Value)
			if err != nil {
				return r, fmt.Errorf("the header %s: %w", h.Name, err)
			}
			h.Value = v
		}
		headers[i] = h
	}
	r.Reached.Header = headers
	for name, at := range map[string]*string{signIn: &r.Reached.Password, toldBy: &r.Reached.Told} {
		v, err := change(name, *at)
		if err != nil && !errors.Is(err, errNoSecret) {
			return r, err
		}
		*at = v
	}
	return r, nil
}

// kept is a secret as it was kept before.
func secretOf(was receiver.Receiver, name string) (string, error) {
	switch name {
	case signIn:
		return was.Reached.Password, nil
	case toldBy:
		return was.Reached.Told, nil
	}
	for _, h := range was.Reached.Header {
		if h.Name == name && h.Secret {
			return h.Value, nil
		}
	}
	return "", errNoSecret
}

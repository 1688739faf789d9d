package works

import (
	"errors"
	"fmt"
	"slices"

	"raconte/core/receiver"
	"raconte/seal"
)

// errNoSecret says that a header or a sign-in is secret and nothing was given for it.
var errNoSecret = errors.New("a secret is missing")

// Sealed is a receiver as it is kept: its secrets sealed. Those that are not given again stay what they were, unless they
// would go to a host that did not get them before.
func (w *Works) Sealed(r, was receiver.Receiver) (receiver.Receiver, error) {
	known := was.Hosts()
	if slices.ContainsFunc(r.Hosts(), func(h string) bool { return !slices.Contains(known, h) }) {
		was = receiver.Receiver{}
	}
	return eachSecret(r, func(name, value string) (string, error) {
		if value != "" && !seal.Sealed(value) {
			return w.Key.Seal(value, r.ID+" "+name)
		}
		return kept(was, name)
	})
}

// opened is a receiver with its secrets open, to be used.
func (w *Works) opened(r receiver.Receiver) (receiver.Receiver, error) {
	return eachSecret(r, func(name, value string) (string, error) {
		if value == "" {
			return "", nil
		}
		return w.Key.Open(value, r.ID+" "+name)
	})
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
func kept(was receiver.Receiver, name string) (string, error) {
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

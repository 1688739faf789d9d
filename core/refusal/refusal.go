// Package refusal is the one kind of error whose text is meant for people: what can't be done, why, and what to do.
// Every other error is for those who run Raconte, and people are told only that something went wrong.
package refusal

import (
	"errors"
	"fmt"
)

// Error is a refusal. Reason is a sentence.
type Error struct{ Reason string }

func (e Error) Error() string { return e.Reason }

// New makes a refusal.
func New(format string, args ...any) error { return Error{fmt.Sprintf(format, args...)} }

// Reason is what an error says to people; false where it says nothing to them.
func Reason(err error) (string, bool) {
	var e Error
	ok := errors.As(err, &e)
	return e.Reason, ok
}

package flow

import "golang.org/x/text/unicode/bidi"

// RightToLeft tells whether a text reads from right to left: whether its first letter of a direction does (UAX #9, P2
// and P3).
func RightToLeft(s string) bool {
	for _, r := range s {
		p, _ := bidi.LookupRune(r)
		switch p.Class() {
		case bidi.L:
			return false
		case bidi.R, bidi.AL:
			return true
		}
	}
	return false
}

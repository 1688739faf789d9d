package passwords

import (
	"slices"
	"strings"
	"unicode/utf8"

	"raconte/core/refusal"

	"github.com/trustelem/zxcvbn"
)

// The characters of a password, and how many guesses it must stand at least: 10^8, which is what an attacker who
// has to ask the server gets through in years.
const (
	Shortest = 10
	Longest  = 200
	strength = 3 // zxcvbn's score for 10^8 guesses and more
)

// Check refuses a password that is too short, or that is guessed soon: a common one, a name, a row of keys, or the
// person's own name.
func Check(password string, about ...string) error {
	switch n := utf8.RuneCountInString(password); {
	case n < Shortest:
		return refusal.New("Use at least %d characters.", Shortest)
	case n > Longest:
		return refusal.New("Use at most %d characters.", Longest)
	}
	// More than this adds no guesses that matter, and looking at it takes long.
	looked := []rune(password)
	if len(looked) > 64 {
		looked = looked[:64]
	}
	for _, a := range slices.Clone(about) {
		about = append(about, append(strings.Fields(a), strings.Join(strings.Fields(a), ""))...)
	}
	if zxcvbn.PasswordStrength(string(looked), append(about, "raconte")).Score < strength {
		return refusal.New("This password is guessed soon: it is common, or made of common words, names or rows of keys. Add words that do not belong together.")
	}
	return nil
}

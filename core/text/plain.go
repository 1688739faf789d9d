package text

import (
	"fmt"
	"strings"
	"unicode"
)

// steers tells whether a character steers a terminal or the direction of writing instead of being read: control
// characters, and the overrides, embeddings and isolates of UAX 9. The marks by which a writer of Arabic or Hebrew
// keeps punctuation in place (U+200E, U+200F, U+061C) stay.
func steers(r rune) bool {
	return unicode.IsControl(r) || (r >= 0x202a && r <= 0x202e) || (r >= 0x2066 && r <= 0x2069)
}

// Plain is text without characters that steer; white space among them is a space.
func Plain(s string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case !steers(r):
			return r
		case unicode.IsSpace(r):
			return ' '
		}
		return -1
	}, strings.ToValidUTF8(s, "\uFFFD"))
}

// Shown is text in which characters that steer are seen as what they are, as in ‹U+202E›. Line feeds and tabs stay.
func Shown(s string) string {
	if !strings.ContainsFunc(s, steers) {
		return s
	}
	var out strings.Builder
	for _, r := range s {
		if steers(r) && r != '\n' && r != '\t' {
			fmt.Fprintf(&out, "‹U+%04X›", r)
		} else {
			out.WriteRune(r)
		}
	}
	return out.String()
}

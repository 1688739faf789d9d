package secrets

import (
	"math"
	"regexp"
	"strings"
	"unicode"
	"unicode/utf8"
)

// What names a secret in the languages that documents are printed in, and what may stand between it and the secret.
var named = regexp.MustCompile(`(?i)(?:^|[^\p{L}])(pass ?(?:word|phrase|code)|passwd|passwort|kennwort|mot de passe|contrase[ñn]a|clave|pwd|pin|token|secret|api[ -]?key)(?:[^\p{L}]|$)`)

// valued is a value that follows at once, behind a colon or an equals sign or not.
var valued = regexp.MustCompile(`^\s*([:=]?)\s*(\S+)`)

// beside are the places of what stands beside a word that names a secret: behind it, in the next cell, or right below
// it.
func beside(all []line) []Suggestion {
	var found []Suggestion
	for i, l := range all {
		for _, m := range named.FindAllStringSubmatchIndex(l.text, -1) {
			word, rest := l.text[m[2]:m[3]], l.text[m[3]:]
			if v := valued.FindStringSubmatchIndex(rest); v != nil {
				if value := rest[v[4]:v[5]]; v[2] < v[3] && !hidden(value) || secretive(value) {
					found = append(found, Suggestion{l.rect(m[3]+v[4], m[3]+v[5]), Named + strings.ToLower(word)})
				}
				if strings.Trim(rest, " :=*") != "" {
					continue
				}
			}
			if next, there := neighbour(all, i); there && (secretive(next.text) || strings.ContainsAny(rest, ":=") && !hidden(next.text)) && !strings.Contains(next.text, " ") {
				found = append(found, Suggestion{next.rect(0, len(next.text)), Named + strings.ToLower(word)})
			}
		}
	}
	return found
}

// neighbour is the line in the cell to the right of a line, else the one right below it.
func neighbour(all []line, at int) (next line, there bool) {
	r := all[at].rect(0, len(all[at].text))
	best := math.Inf(1)
	for i, l := range all {
		if i == at {
			continue
		}
		o := l.rect(0, len(l.text))
		level := math.Abs(o.Center().Y-r.Center().Y) < 0.6*r.H
		under := o.Y >= r.Center().Y && o.Y-r.Y-r.H < 1.5*r.H && math.Abs(o.X-r.X) < 2*r.H
		far := math.Inf(1)
		switch {
		case level && o.X > r.X:
			far = o.X - r.X - r.W
		case under:
			far = 30*r.H + o.Y - r.Y // a cell to the right comes first
		}
		if far < best && far < 40*r.H {
			best, next, there = far, l, true
		}
	}
	return next, there
}

// secretive tells whether a word looks like a password or a PIN: of letters and digits, or signs, or of four digits and
// more.
func secretive(s string) bool {
	letters, digits, signs := 0, 0, 0
	for _, r := range s {
		switch {
		case unicode.IsLetter(r):
			letters++
		case unicode.IsDigit(r):
			digits++
		case strings.ContainsRune("!@#$%^&*+_~?<>{}[]|\\", r):
			signs++
		case !strings.ContainsRune("-.,:;/()'’\"", r):
			return false // dots that stand for letters
		}
	}
	n := utf8.RuneCountInString(s)
	return n >= 4 && (digits > 0 && letters > 0 || signs > 0 && letters+digits > 0 || digits == n)
}

// hidden tells whether a text shows nothing: dots or stars stand for its letters.
func hidden(s string) bool { return strings.Trim(s, "•●*·.∙◦") == "" }

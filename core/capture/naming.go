package capture

import (
	"fmt"
	"regexp"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"
)

// DefaultPattern names shots by window and count.
const DefaultPattern = "{window} {n}"

// Naming is what a name is made from.
type Naming struct {
	Pattern string    `json:"pattern"` // {date}, {time}, {window}, {session}, {n} or {n:4}, and any other text
	Taken   time.Time `json:"taken"`   // in the person's own time zone
	Window  string    `json:"window"`
	Session string    `json:"session"`
	N       int       `json:"n"` // counts from 1
}

var placeholder = regexp.MustCompile(`\{(date|time|window|session|n)(?::(\d))?\}`)

// CheckPattern tells, for people, what is wrong with a naming pattern; "" where nothing is.
func CheckPattern(pattern string) string {
	rest := placeholder.ReplaceAllString(pattern, "")
	switch {
	case strings.TrimSpace(pattern) == "":
		return "A pattern needs at least one word or {n}."
	case utf8.RuneCountInString(pattern) > 100:
		return "A pattern has at most 100 characters."
	case strings.ContainsAny(rest, "{}"):
		return "Only {date}, {time}, {window}, {session} and {n} stand for something; {n:4} counts with four digits."
	}
	return ""
}

// Name is a file name, without its ending, that every system takes.
func (n Naming) Name() string {
	pattern := n.Pattern
	if CheckPattern(pattern) != "" {
		pattern = DefaultPattern
	}
	return SafeName(withoutHoles(placeholder.ReplaceAllStringFunc(pattern, func(p string) string {
		m := placeholder.FindStringSubmatch(p)
		said := n.said(m)
		if strings.TrimSpace(said) == "" {
			return hole
		}
		return said
	})))
}

// hole stands where a placeholder has nothing to say; no name has it.
const hole = "\x00"

var aroundHole = regexp.MustCompile(`([\s._,;:|/()\[\]–—-]*)(?:` + hole + `[\s._,;:|/()\[\]–—-]*)+`)

// withoutHoles closes holes: of what stands around one, that before it parts what is left.
func withoutHoles(s string) string {
	for {
		at := aroundHole.FindStringSubmatchIndex(s)
		if at == nil {
			return s
		}
		before, after := s[:at[0]], s[at[1]:]
		if before != "" && after != "" {
			before += s[at[2]:at[3]]
			if at[2] == at[3] {
				before += " "
			}
		}
		s = before + after
	}
}

// said is what a placeholder stands for; m is its name and its digits.
func (n Naming) said(m []string) string {
	switch m[1] {
	case "date":
		return n.Taken.Format("2006-01-02")
	case "time":
		return n.Taken.Format("15.04.05")
	case "window":
		return strings.ReplaceAll(n.Window, hole, "")
	case "session":
		return strings.ReplaceAll(n.Session, hole, "")
	}
	digits := 3
	if m[2] != "" {
		digits = max(1, int(m[2][0]-'0'))
	}
	return fmt.Sprintf("%0*d", digits, n.N)
}

// longestFile leaves room, of the 255 bytes that file systems take, for a count and an ending.
const longestFile = 200

var reserved = regexp.MustCompile(`(?i)^(con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³])(\.|$)`)

// SafeName makes a name that every common file system takes: no separators, control or forbidden
// characters, no reserved name, no dot or space at its ends, and not too long.
func SafeName(s string) string {
	s = strings.Map(func(r rune) rune {
		switch {
		case r == '/' || r == '\\' || r == ':' || r == '|':
			return '-'
		case strings.ContainsRune(`<>"?*`, r) || unicode.IsControl(r) || unicode.Is(unicode.Cf, r) || r == utf8.RuneError:
			return -1
		case unicode.IsSpace(r):
			return ' '
		}
		return r
	}, s)
	s = strings.Join(strings.Fields(s), " ")
	for len(s) > longestFile {
		_, last := utf8.DecodeLastRuneInString(s)
		s = s[:len(s)-last]
	}
	s = strings.Trim(s, ". ")
	if reserved.MatchString(s) {
		s = "_" + s
	}
	if s == "" {
		return "shot"
	}
	return s
}

// Unique is name, or name with the first free count behind it. Names differ only if they do when case is folded.
func Unique(name string, taken func(folded string) bool) string {
	if !taken(strings.ToLower(name)) {
		return name
	}
	for i := 2; ; i++ {
		if next := fmt.Sprintf("%s (%d)", name, i); !taken(strings.ToLower(next)) {
			return next
		}
	}
}

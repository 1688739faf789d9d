package capture

import (
	"cmp"
	"path"
	"regexp"
	"slices"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"
)

// File is what is known of a file before it is read.
type File struct {
	Name  string    `json:"name"`
	Taken time.Time `json:"taken"` // zero where unknown
}

// Order is the natural order of files, as indices into files: by the numbers in their names, so
// that "step 2" comes before "step 10"; then by the time they were taken; then as they came in.
func Order(files []File) []int {
	names := make([]name, len(files))
	order := make([]int, len(files))
	for i, f := range files {
		names[i], order[i] = parse(f.Name), i
	}
	slices.SortStableFunc(order, func(i, j int) int {
		if c := names[i].compare(names[j]); c != 0 {
			return c
		}
		if files[i].Taken.IsZero() || files[j].Taken.IsZero() {
			return 0
		}
		return files[i].Taken.Compare(files[j].Taken)
	})
	return order
}

// name is a file name as it is compared: folded to lower case, without its extension, cut into
// words and numbers; copy is the n of a trailing "(n)", by which copies follow their original.
type name struct {
	chunks []string
	copy   string
}

var copyMark = regexp.MustCompile(`^(.*\S)\s*\((\d+)\)$`)

func parse(file string) name {
	base := strings.TrimSuffix(file, path.Ext(file))
	var n name
	if m := copyMark.FindStringSubmatch(base); m != nil {
		base, n.copy = m[1], m[2]
	}
	for base != "" {
		digit := isDigit(base)
		end := strings.IndexFunc(base, func(r rune) bool { return (r >= '0' && r <= '9') != digit })
		if end < 0 {
			end = len(base)
		}
		if chunk := base[:end]; digit {
			n.chunks = append(n.chunks, chunk)
		} else {
			n.chunks = append(n.chunks, letters(chunk))
		}
		base = base[end:]
	}
	return n
}

// letters folds case and takes every mark between words for the same, so that "Step_2" and "step 2" and
// timestamps with different marks between their parts compare by their numbers.
func letters(s string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || r == '/' {
			return unicode.ToLower(r)
		}
		return ' '
	}, s)
}

func isDigit(s string) bool {
	r, _ := utf8.DecodeRuneInString(s)
	return r >= '0' && r <= '9'
}

func (a name) compare(b name) int {
	for i := 0; i < len(a.chunks) && i < len(b.chunks); i++ {
		x, y := a.chunks[i], b.chunks[i]
		dx, dy := isDigit(x), isDigit(y)
		c := 0
		switch {
		case dx && dy:
			c = compareNumbers(x, y)
		case dx:
			c = -1
		case dy:
			c = 1
		default:
			c = strings.Compare(x, y)
		}
		if c != 0 {
			return c
		}
	}
	if c := cmp.Compare(len(a.chunks), len(b.chunks)); c != 0 {
		return c
	}
	return compareNumbers(a.copy, b.copy)
}

// compareNumbers compares decimal numbers of any length; leading zeros do not count.
func compareNumbers(a, b string) int {
	a, b = strings.TrimLeft(a, "0"), strings.TrimLeft(b, "0")
	if c := cmp.Compare(len(a), len(b)); c != 0 {
		return c
	}
	return strings.Compare(a, b)
}

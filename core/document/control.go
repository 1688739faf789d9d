package document

import (
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"raconte/core/figure"
)

// Control is what a quality manager keeps of a document. All of it may be missing.
type Control struct {
	Number         string   `json:"number,omitempty"` // given once, and never to another
	Owner          string   `json:"owner,omitempty"`  // who answers for it
	Author         string   `json:"author,omitempty"`
	Approver       string   `json:"approver,omitempty"`
	Reason         string   `json:"reason,omitempty"`    // for the change that is being made
	Effective      string   `json:"effective,omitempty"` // the day from which it holds, as 2006-01-02
	Review         string   `json:"review,omitempty"`    // the day by which it is looked at again
	Every          int      `json:"every,omitempty"`     // months from one review to the next
	Lettered       bool     `json:"lettered,omitempty"`  // revisions are A, B, C instead of 1, 2, 3
	Classification string   `json:"classification,omitempty"`
	Keywords       []string `json:"keywords,omitempty"`
}

const (
	longestName  = 100 // characters of each name, number, class and keyword
	longestWhy   = 500
	mostKeywords = 30
	mostMonths   = 120
)

var day = regexp.MustCompile(`^\d{4}-\d{2}-\d{2}$`)

// Check tells what is wrong with facts that came from outside; nil where nothing is.
func (c Control) Check() error {
	line := func(s string, most int) bool {
		return utf8.ValidString(s) && utf8.RuneCountInString(s) <= most && !strings.ContainsAny(s, "\n\r\x00")
	}
	for _, s := range append([]string{c.Number, c.Owner, c.Author, c.Approver, c.Classification}, c.Keywords...) {
		if !line(s, longestName) {
			return fmt.Errorf("a number, a name or a keyword is longer than %d characters, or no line", longestName)
		}
	}
	if !line(c.Reason, longestWhy) {
		return fmt.Errorf("the reason for the change is longer than %d characters, or no line", longestWhy)
	}
	if len(c.Keywords) > mostKeywords {
		return fmt.Errorf("there are more than %d keywords", mostKeywords)
	}
	for _, s := range []string{c.Effective, c.Review} {
		if _, err := time.Parse(time.DateOnly, s); s != "" && (err != nil || !day.MatchString(s)) {
			return errors.New("a day is no day")
		}
	}
	if c.Every < 0 || c.Every > mostMonths {
		return fmt.Errorf("from one review to the next are at most %d months", mostMonths)
	}
	return nil
}

// SayRevision is a revision's number as the document counts: 3, or C; after Z come AA, AB and so on.
func (c Control) SayRevision(n int) string {
	if !c.Lettered || n < 1 {
		return strconv.Itoa(n)
	}
	return figure.Written(n, "A")
}

// NextReview is the day of the next review for a revision that is made today: the one that is set, where it lies
// ahead, else as many months on as there are from one to the next; "" where nothing is said. Days are as 2006-01-02.
func (c Control) NextReview(today string) string {
	if c.Every == 0 || c.Review > today {
		return c.Review
	}
	t, err := time.Parse(time.DateOnly, today)
	if err != nil {
		return c.Review
	}
	return t.AddDate(0, c.Every, 0).Format(time.DateOnly)
}

// Soon is how many days before its day a review is said to be due soon.
const Soon = 30

// Due tells how a review stands: "overdue", "soon" or "". Days are as 2006-01-02.
func Due(review, today string) string {
	r, err := time.Parse(time.DateOnly, review)
	t, err2 := time.Parse(time.DateOnly, today)
	switch {
	case err != nil || err2 != nil:
		return ""
	case r.Before(t):
		return "overdue"
	case r.Before(t.AddDate(0, 0, Soon+1)):
		return "soon"
	}
	return ""
}

// Pattern is how a house numbers its documents: text, with {kind} for two letters of the kind, {year} for the year, and
// one {n}, {nn} … for the count with at least as many digits.
type Pattern string

// UsualPattern numbers the documents of a house that has not chosen another.
const UsualPattern Pattern = "{kind}-{nnn}"

var (
	count       = regexp.MustCompile(`\{n{1,8}\}`)
	placeholder = regexp.MustCompile(`\{[^}]*\}`)
)

// Check tells what is wrong with a pattern; nil where nothing is.
func (p Pattern) Check() error {
	switch {
	case utf8.RuneCountInString(string(p)) > 60 || strings.ContainsAny(string(p), "\n\r\x00"):
		return errors.New("the pattern is too long, or no line")
	case len(count.FindAllString(string(p), -1)) != 1:
		return errors.New("the pattern needs one count, such as {nnn}")
	}
	for _, s := range placeholder.FindAllString(string(p), -1) {
		if !slices.Contains([]string{"{kind}", "{year}"}, s) && !count.MatchString(s) {
			return fmt.Errorf("there is no %s: use {kind}, {year} and {nnn}", s)
		}
	}
	return nil
}

var letters = map[Kind]string{Procedure: "PR", Manual: "MA", Filed: "FI", Report: "RE", Request: "RQ", Answer: "AN"}

// Number is the number that the n-th document gets.
func (p Pattern) Number(kind Kind, year, n int) string {
	s := strings.NewReplacer("{kind}", letters[kind], "{year}", strconv.Itoa(year)).Replace(string(p))
	return count.ReplaceAllStringFunc(s, func(c string) string { return fmt.Sprintf("%0*d", len(c)-2, n) })
}

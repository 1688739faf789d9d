package film

import (
	"errors"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Saying is how the house says a word, for a synthetic voice: an acronym, a name.
type Saying struct {
	Word string `json:"word"`
	Said string `json:"said"`
}

// Limits of the house's list.
const (
	MostSayings   = 500
	longestSaying = 100
)

// CheckSayings tells what is wrong with a list that came from outside.
func CheckSayings(all []Saying) error {
	if len(all) > MostSayings {
		return errors.New("the list has more than 500 words")
	}
	for _, s := range all {
		for _, v := range []string{s.Word, s.Said} {
			if strings.TrimSpace(v) == "" || utf8.RuneCountInString(v) > longestSaying || strings.ContainsFunc(v, unicode.IsControl) {
				return errors.New("each word, and how it is said, has 1 to 100 characters in one line")
			}
		}
	}
	return nil
}

// Spoken is a text with the house's words as they are said. Words are whole and written as in the list; of two that
// could stand at a place the longer one does.
func Spoken(text string, all []Saying) string {
	var b strings.Builder
	runes := []rune(text)
	inWord := func(i int) bool {
		return i >= 0 && i < len(runes) && (unicode.IsLetter(runes[i]) || unicode.IsDigit(runes[i]))
	}
	for i := 0; i < len(runes); {
		best, length := "", 0
		for _, s := range all {
			w := []rune(s.Word)
			n := len(w)
			if n <= length || i+n > len(runes) || string(runes[i:i+n]) != s.Word {
				continue
			}
			if inWord(i) && inWord(i-1) || inWord(i+n-1) && inWord(i+n) {
				continue
			}
			best, length = s.Said, n
		}
		if length == 0 {
			b.WriteRune(runes[i])
			i++
			continue
		}
		b.WriteString(best)
		i += length
	}
	return b.String()
}

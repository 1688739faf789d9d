package document

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

// SayTime is a time in seconds as people write it: "20 s", "1 min 30 s", "1 h 5 min"; "" for none.
func SayTime(seconds int) string {
	var parts []string
	for _, u := range []struct {
		size int
		name string
	}{{3600, "h"}, {60, "min"}, {1, "s"}} {
		if n := seconds / u.size; n > 0 {
			parts = append(parts, fmt.Sprintf("%d %s", n, u.name))
			seconds -= n * u.size
		}
	}
	return strings.Join(parts, " ")
}

// AboutTime is a time in seconds as it is told to readers: "about 12 min"; "" for none.
func AboutTime(seconds int) string {
	if seconds <= 0 {
		return ""
	}
	return "about " + SayTime((seconds+59)/60*60)
}

var clock = regexp.MustCompile(`^(\d{1,2}):([0-5]\d)$`)
var amounts = regexp.MustCompile(`^(?:(\d+)\s*h)?\s*(?:(\d+)\s*(?:min|m))?\s*(?:(\d+)\s*s?)?$`)

// ReadTime reads what a person writes for a time: "90", "90 s", "1:30", "1 min 30 s", "2 h". The answer is in seconds, 0
// for none; false where it is no time or more than LongestStep.
func ReadTime(s string) (int, bool) {
	s = strings.ToLower(strings.TrimSpace(s))
	if len(s) > 20 {
		return 0, false
	}
	number := func(s string) int { n, _ := strconv.Atoi(s); return n } // digits, or "" for none
	sum := 0
	if m := clock.FindStringSubmatch(s); m != nil {
		sum = number(m[1])*60 + number(m[2])
	} else if m := amounts.FindStringSubmatch(s); m != nil {
		sum = number(m[1])*3600 + number(m[2])*60 + number(m[3])
	} else {
		return 0, false
	}
	return sum, sum <= LongestStep
}

// Seconds is the time that the document takes: the author's, or the sum of its steps' as far as it was said (rule 15).
func (d Document) Seconds() int {
	if d.Facts.Seconds > 0 {
		return d.Facts.Seconds
	}
	return sum(d.Blocks)
}

// Left is the time that is left at each step, itself included, by the block's id: the document's time shared out as its
// steps say, or evenly where none does. It is empty where nobody has said.
func (d Document) Left() map[string]int {
	left := map[string]int{}
	whole, said := d.Seconds(), sum(d.Blocks)
	if whole == 0 {
		return left
	}
	steps, done := d.Numbers().Steps, 0
	for _, b := range d.Blocks {
		if b.Type != Step {
			continue
		}
		if said == 0 {
			left[b.ID] = whole * (steps - done) / steps
			done++
		} else {
			left[b.ID] = whole * (said - done) / said
			done += b.Seconds
		}
	}
	return left
}

func sum(blocks []Block) int {
	n := 0
	for _, b := range blocks {
		if b.Type == Step {
			n += b.Seconds
		}
	}
	return n
}

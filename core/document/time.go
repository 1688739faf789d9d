package document

import (
	"fmt"
	"math"
	"regexp"
	"slices"
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

// Time is how long something takes. At least: some of its steps are not timed, nor the whole.
type Time struct {
	Seconds int
	Least   bool
}

// Rounded is the time as exactly as it is told: up to whole minutes, and up to ten seconds below two minutes; what it
// takes at the least is rounded down.
func (t Time) Rounded() Time {
	unit := 60
	if t.Seconds < 120 {
		unit = 10
	}
	if t.Least {
		if t.Seconds >= unit {
			t.Seconds = t.Seconds / unit * unit
		}
		return t
	}
	t.Seconds = (t.Seconds + unit - 1) / unit * unit
	return t
}

// About is the time as it is told to readers: "about 12 min", "at least 30 s"; "" for none.
func (t Time) About() string {
	switch t = t.Rounded(); {
	case t.Seconds <= 0:
		return ""
	case t.Least:
		return "at least " + SayTime(t.Seconds)
	}
	return "about " + SayTime(t.Seconds)
}

var clock = regexp.MustCompile(`^(\d{1,2}):([0-5]\d)$`)
var amounts = regexp.MustCompile(`^(?:(\d+)\s*h)?\s*(?:(\d+)\s*(?:min|m))?\s*(?:(\d+)\s*s?)?$`)

// ReadTime reads what a person writes for a time: "90", "90 s", "1:30", "1 min 30 s", "2 h". The answer is in seconds,
// 0 for none; false where it is no time or more than LongestStep.
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

// Time is how long the document takes: as its author says, or as its steps and chapters do (rule 15).
func (d Document) Time() Time {
	shares, least := d.shares()
	return total(shares, least)
}

// Left is the time that is left at each step, itself included, by the block's id. It is empty where nobody has said.
func (d Document) Left() map[string]Time {
	shares, least := d.shares()
	left := map[string]Time{}
	if total(shares, least).Seconds == 0 {
		return left
	}
	for i, s := range shares {
		left[s.id] = total(shares[i:], least)
	}
	return left
}

// share is what a step, or a chapter without any, has of the time, in seconds.
type share struct {
	id      string
	seconds float64
}

func total(shares []share, least bool) Time {
	sum := 0.0
	for _, s := range shares {
		sum += s.seconds
	}
	return Time{Seconds: int(math.Round(sum)), Least: least}
}

// shares are those of all steps: as they say, and where the document or their chapter says how long it takes, so that
// they are that together. Least tells that some are not known.
func (d Document) shares() (all []share, least bool) {
	begin, whole, chapter := 0, 0, ""
	end := func() {
		if len(all) == begin && whole > 0 {
			all = append(all, share{chapter, float64(whole)}) // nothing of it is here
		}
		shareOut(all[begin:], whole)
		least = least || slices.ContainsFunc(all[begin:], share.open)
		begin = len(all)
	}
	for _, b := range d.Blocks {
		switch b.Type {
		case Chapter:
			end()
			chapter, whole = b.ID, b.Seconds
		case Step:
			all = append(all, share{b.ID, float64(b.Seconds)})
		}
	}
	end()
	if d.Facts.Seconds > 0 {
		shareOut(all, d.Facts.Seconds)
		return all, false
	}
	return all, least
}

func (s share) open() bool { return s.seconds == 0 }

// shareOut makes shares be a whole together: those of which nothing was said share evenly what the others leave; where
// those leave nothing, all shrink to it.
func shareOut(shares []share, whole int) {
	said, open := 0.0, 0
	for _, s := range shares {
		said += s.seconds
		if s.open() {
			open++
		}
	}
	for i, s := range shares {
		switch left := float64(whole) - said; {
		case whole <= 0:
		case open > 0 && left > 0 && s.open():
			shares[i].seconds = left / float64(open)
		case said > 0 && (open == 0 || left <= 0):
			shares[i].seconds = s.seconds * float64(whole) / said
		}
	}
}

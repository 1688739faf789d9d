package document

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"
)

// Signal is a signal word of ANSI Z535.6, which says how bad it may end.
type Signal string

// The signal words, from damage to things alone to certain death or serious injury.
const (
	Damage  Signal = "notice"  // things may be damaged
	Caution Signal = "caution" // minor or moderate injury is possible
	Warning Signal = "warning" // death or serious injury is possible
	Danger  Signal = "danger"  // death or serious injury will follow
)

var signals = []Signal{"", Damage, Caution, Warning, Danger}

// Rank is how severe a signal word is: 0 for none, up to 4.
func (s Signal) Rank() int { return max(0, slices.Index(signals, s)) }

// Word is the signal word as it is printed.
func (s Signal) Word() string { return strings.ToUpper(string(s)) }

// Notice warns before an action: what the hazard is, what follows where it is not avoided, and how to avoid it.
type Notice struct {
	Signal      Signal `json:"signal"`
	Hazard      string `json:"hazard"`
	Consequence string `json:"consequence"`
	Avoid       string `json:"avoid"`
}

const longestNotice = 300 // characters of each of its lines

// Lines are what is said under the signal word; those that are empty are left out.
func (n Notice) Lines() []string {
	return slices.DeleteFunc([]string{n.Hazard, n.Consequence, n.Avoid}, func(s string) bool { return strings.TrimSpace(s) == "" })
}

// Check tells what is wrong with a notice that came from outside; nil where nothing is.
func (n Notice) Check() error {
	if n.Signal.Rank() == 0 {
		return fmt.Errorf("there is no signal word %q", n.Signal)
	}
	for _, s := range []string{n.Hazard, n.Consequence, n.Avoid} {
		if !utf8.ValidString(s) || utf8.RuneCountInString(s) > longestNotice || strings.ContainsAny(s, "\n\r\x00") {
			return errors.New("a line of a notice is too long, or no line")
		}
	}
	return nil
}

// Signal is the most severe signal word in the document; "" where nothing is warned of.
func (d Document) Signal() Signal {
	most := Signal("")
	all := []*Notice{d.Facts.Notice}
	for _, b := range d.Blocks {
		all = append(all, b.Notice)
	}
	for _, n := range all {
		if n != nil && n.Signal.Rank() > most.Rank() {
			most = n.Signal
		}
	}
	return most
}

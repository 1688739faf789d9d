package capture

import (
	"regexp"
	"slices"
	"strings"
	"time"

	"raconte/core/document"
	"raconte/core/words"
)

// WriteUp makes the blocks of a whole document of a run: its steps, each with the time that it took, under the headings
// that Sections proposes.
func WriteUp(shots []Taken, how Wording, newID func() string) []document.Block {
	steps := Steps(shots, how, newID)
	about := make([]About, len(steps))
	var before time.Time
	for i := range steps {
		at := slices.IndexFunc(shots, func(t Taken) bool { return t.Shot == steps[i].Figures[0].Shot })
		about[i] = shots[at].About
		if at > 0 {
			steps[i].Seconds = took(before, about[i].Taken)
		}
		before = about[i].Taken
	}
	headings := Sections(about)
	blocks := make([]document.Block, 0, len(steps)+len(headings))
	for i, step := range steps {
		if h, ok := headings[i]; ok {
			blocks = append(blocks, document.NewSection(newID(), 1, words.Plain(h)))
		}
		blocks = append(blocks, step)
	}
	return blocks
}

const (
	longestTake = 10 * time.Minute // longer, and the person was doing something else
	pageSteps   = 2                // that a page needs to be a section
	dialogSteps = 3                // that a dialog needs
)

// took is how long an act took, in seconds: up to ten by one, more by five; 0 where it can't be told.
func took(before, at time.Time) int {
	d := at.Sub(before)
	if d <= 0 || d > longestTake {
		return 0
	}
	s := max(1, int(d.Round(time.Second)/time.Second))
	if s > 10 {
		s = (s + 2) / 5 * 5
	}
	return s
}

// Sections proposes where sections begin among steps, by the index of their first: where the page or the dialog changes
// and stays for more than a step or two. It proposes none where all is done in one place.
func Sections(steps []About) map[int]string {
	type group struct {
		from, steps int
		title       string
	}
	var groups []group
	places := make([]string, len(steps))
	for i, a := range steps {
		places[i] = placeOf(a)
	}
	shown := short(places)
	for i := 0; i < len(steps); {
		n := i
		for n < len(steps) && places[n] == places[i] {
			n++
		}
		needs := pageSteps
		if steps[i].Window == nil || places[i] != steps[i].Window.Title {
			needs = dialogSteps
		}
		last := len(groups) - 1
		switch {
		case last >= 0 && (n-i < needs || shown[i] == "" || shown[i] == groups[last].title):
			groups[last].steps += n - i
		case last < 0 && n-i < needs:
			// A single step before the first section belongs to it.
			groups = append(groups, group{i, n - i, ""})
		case last == 0 && groups[0].title == "":
			groups[0] = group{0, groups[0].steps + n - i, shown[i]}
		default:
			groups = append(groups, group{i, n - i, shown[i]})
		}
		i = n
	}
	if len(groups) < 2 {
		return nil
	}
	headings := map[int]string{}
	for _, g := range groups {
		headings[g.from] = g.title
	}
	return headings
}

// placeOf is where something was done: a dialog, or the window or page.
func placeOf(a About) string {
	if a.Action != nil && a.Action.Element != nil && a.Action.Element.Window != "" {
		return a.Action.Element.Window
	}
	if a.Window != nil {
		return a.Window.Title
	}
	return ""
}

var titleParts = regexp.MustCompile(`\s+[-–—|·]\s+|:\s+`)

// short are titles without what all of them have in common, such as the name of the program.
func short(titles []string) []string {
	seen := map[string]int{}
	distinct := map[string]bool{}
	for _, t := range titles {
		parts := titleParts.Split(t, -1)
		if len(parts) == 1 || distinct[t] {
			continue
		}
		distinct[t] = true
		for _, part := range parts {
			seen[part]++
		}
	}
	out := make([]string, len(titles))
	for i, t := range titles {
		parts := titleParts.Split(t, -1)
		own := slices.DeleteFunc(slices.Clone(parts), func(p string) bool { return len(distinct) > 1 && seen[p] == len(distinct) })
		if len(own) == 0 {
			own = parts
		}
		out[i] = strings.TrimSpace(strings.Join(own, ", "))
	}
	return out
}

// Package replay finds what was used in a recorded run again, on the page as it is today: by role, name and place.
package replay

import (
	"math"
	"strings"
	"unicode"

	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/scene"
)

// Seen is what is on the page now. Places are in whatever unit Size is.
type Seen struct {
	Size     figure.Size       `json:"size"`
	Elements []capture.Element `json:"elements"`
}

// Found is what became of a step's element.
type Found struct {
	Fit capture.Fit `json:"fit"`
	At  int         `json:"at"` // among the elements that are seen; -1 where it is gone
	// What a person must decide or do, in one sentence; "" where the act can be done without asking.
	Ask  string `json:"ask,omitempty"`
	Hand bool   `json:"hand,omitempty"` // only a person can do it
}

const (
	alike = 0.7  // of names, as dice measures it, from which one may be the other's new wording
	near  = 0.25 // of the view's diagonal: farther off, what has the same name has moved
	over  = 0.5  // of two places in common, from which one stands where the other stood
)

// Find looks for what an act of a run used. Was is the size of the picture in which the act's places are.
func Find(act capture.Action, was figure.Size, now Seen) Found {
	f := Found{Fit: capture.FitSame, At: -1}
	if act.Element != nil {
		f = find(*act.Element, was, now)
	}
	leads := f.At >= 0 && now.Elements[f.At].Leads
	f.Ask, f.Hand = asks(act, f, leads)
	return f
}

func find(e capture.Element, was figure.Size, now Seen) Found {
	best, score := Found{Fit: capture.FitGone, At: -1}, 0.0
	for i, c := range now.Elements {
		fit, s := compare(e, c, was, now.Size)
		if fit != capture.FitGone && s > score {
			best, score = Found{Fit: fit, At: i}, s
		}
	}
	return best
}

// compare tells how an element fits, and how well: what has the same role and name before what has a like name, and
// that before what only stands in the same place; among equals the nearer.
func compare(e, c capture.Element, was, now figure.Size) (capture.Fit, float64) {
	off := distance(e.Rect, c.Rect, was, now)
	nearer := 1 - min(1, off)
	role, name := e.Role == c.Role, plain(e.Name) == plain(c.Name)
	switch {
	case role && name && e.Name != "":
		if off > near {
			return capture.FitMoved, 3 + nearer
		}
		return capture.FitSame, 3 + nearer
	case role && name && common(e.Rect, c.Rect, was, now) >= over:
		return capture.FitSame, 3 + nearer
	case role && e.Name != "" && dice(plain(e.Name), plain(c.Name)) >= alike, name && e.Name != "":
		return capture.FitChanged, 2 + nearer
	case role && common(e.Rect, c.Rect, was, now) >= over:
		return capture.FitChanged, 1 + nearer
	}
	return capture.FitGone, 0
}

// asks says what a person must decide before an act is done again. What may send something is asked about always: a
// press on a button or in a menu, on a link that does more than lead to another page, Enter, what is dropped.
func asks(act capture.Action, f Found, leads bool) (ask string, hand bool) {
	switch {
	case act.Kind == capture.End:
		return "", false
	case f.Fit == capture.FitGone:
		return "It was not found on this page. Do it yourself and go on, or leave it out.", true
	case act.Kind == capture.Keys && act.Element != nil && act.Element.Secret:
		return "What was typed here is not known to anybody. Type it yourself, then go on.", true
	case act.Kind == capture.ChooseFile, act.Kind == capture.Dragged, act.Kind == capture.OtherTab:
		return "Only you can do this. Do it, then go on.", true
	case f.Fit == capture.FitChanged:
		return "This is not quite as it was. Is it the right one?", false
	case sends(act) && !leads:
		return "This may send something. Do it?", false
	}
	return "", false
}

func sends(act capture.Action) bool {
	switch act.Kind {
	case capture.Shortcut:
		return true
	case capture.Click, capture.DoubleClick:
		if act.Element == nil {
			return true
		}
		switch act.Element.Role {
		case capture.RoleTab, capture.RoleTick, capture.RoleRadio, capture.RoleField, capture.RoleChoice, capture.RoleRow,
			capture.RoleCell, capture.RoleOption, capture.RoleSlider, capture.RoleDate, capture.RoleMenu:
			return false
		}
		return true
	}
	return false
}

// share is a place in shares of the view, so that views of two sizes can be compared.
func share(r scene.Rect, of figure.Size) scene.Rect {
	w, h := float64(max(1, of.W)), float64(max(1, of.H))
	return scene.Rect{X: r.X / w, Y: r.Y / h, W: r.W / w, H: r.H / h}
}

func distance(a, b scene.Rect, was, now figure.Size) float64 {
	p, q := share(a, was).Center(), share(b, now).Center()
	return math.Hypot(p.X-q.X, p.Y-q.Y) / math.Sqrt2
}

// common is how much two places have in common, as a share of both together.
func common(a, b scene.Rect, was, now figure.Size) float64 {
	p, q := share(a, was), share(b, now)
	i := p.Intersect(q)
	if i.Empty() {
		return 0
	}
	both := i.W * i.H
	return both / (p.W*p.H + q.W*q.H - both)
}

// plain is a name as it is compared: what changes from day to day (numbers) and how it is set do not count.
func plain(name string) string {
	letters := strings.Map(func(r rune) rune {
		switch {
		case unicode.IsDigit(r):
			return '0'
		case unicode.IsLetter(r):
			return unicode.ToLower(r)
		}
		return ' '
	}, name)
	return strings.Join(strings.Fields(letters), " ")
}

// dice is how alike two words are by the pairs of letters they share, from 0 to 1 (L. R. Dice, Measures of the Amount
// of Ecologic Association Between Species, 1945).
func dice(a, b string) float64 {
	pairs := map[[2]rune]int{}
	count := func(s string, by int) (n, shared int) {
		letters := []rune(s)
		for i := 1; i < len(letters); i++ {
			pair := [2]rune{letters[i-1], letters[i]}
			if n++; by < 0 && pairs[pair] > 0 {
				shared++
			}
			pairs[pair] += by
		}
		return n, shared
	}
	n, _ := count(a, 1)
	m, shared := count(b, -1)
	if n+m == 0 {
		return 0
	}
	return 2 * float64(shared) / float64(n+m)
}

package difference

import (
	"slices"
	"strings"

	"raconte/core/document"
	"raconte/core/figure"
)

// alike is how alike two blocks are at the least that are taken for one: of their words, the share that both have.
const alike = 0.6

// mostLikened bounds how many blocks without a pair are looked at for likeness: each is held against each.
const mostLikened = 400

// paired is, for each later block, the place of the earlier one that it is; -1 where it is new. Blocks are paired by
// their ids, then by likeness.
func paired(before, after []document.Block) []int {
	places := make(map[string]int, len(before))
	for i, b := range before {
		places[b.ID] = i
	}
	pairs := make([]int, len(after))
	taken := make([]bool, len(before))
	for i, b := range after {
		pairs[i] = -1
		if at, there := places[b.ID]; there && before[at].Type == b.Type {
			pairs[i], taken[at] = at, true
		}
	}
	type candidate struct {
		before, after int
		share         float64
	}
	var all []candidate
	likened := 0
	for i, b := range after {
		if pairs[i] >= 0 {
			continue
		}
		if likened++; likened > mostLikened {
			break
		}
		words := wordsOf(b)
		for at, old := range before {
			if taken[at] || old.Type != b.Type {
				continue
			}
			if share := shared(words, wordsOf(old)); share >= alike {
				all = append(all, candidate{at, i, share})
			}
		}
	}
	slices.SortStableFunc(all, func(a, b candidate) int {
		switch {
		case a.share > b.share:
			return -1
		case a.share < b.share:
			return 1
		}
		return 0
	})
	for _, c := range all {
		if pairs[c.after] < 0 && !taken[c.before] {
			pairs[c.after], taken[c.before] = c.before, true
		}
	}
	return pairs
}

// wordsOf are the words of a block, counted.
func wordsOf(b document.Block) map[string]int {
	all := map[string]int{}
	for _, w := range strings.Fields(strings.ToLower(b.Words.Reading(nil))) {
		all[w]++
	}
	return all
}

// shared is the share of the words of two texts that both have (Dice's coefficient).
func shared(a, b map[string]int) float64 {
	both, all := 0, 0
	for w, n := range a {
		both += min(n, b[w])
		all += n
	}
	for _, n := range b {
		all += n
	}
	if all == 0 {
		return 0
	}
	return 2 * float64(both) / float64(all)
}

// pictures are those of a block that are others: paired by their ids, then by their shots.
func pictures(before, after []figure.Figure) []Picture {
	out := []Picture{}
	taken := map[string]bool{}
	find := func(match func(figure.Figure) bool) (figure.Figure, bool) {
		for _, f := range before {
			if !taken[f.ID] && match(f) {
				taken[f.ID] = true
				return f, true
			}
		}
		return figure.Figure{}, false
	}
	old := make([]figure.Figure, len(after))
	for i, f := range after {
		old[i], _ = find(func(o figure.Figure) bool { return o.ID == f.ID })
	}
	for i, f := range after {
		if old[i].ID == "" {
			old[i], _ = find(func(o figure.Figure) bool { return o.Shot == f.Shot })
		}
		switch o := old[i]; {
		case o.ID == "":
			out = append(out, Picture{After: f.ID})
		case o.Shot != f.Shot:
			out = append(out, Picture{Before: o.ID, After: f.ID, Shot: true})
		case !looks(o, f):
			out = append(out, Picture{Before: o.ID, After: f.ID})
		case o.Alt != f.Alt:
			out = append(out, Picture{Before: o.ID, After: f.ID, Alt: true})
		}
	}
	for _, f := range before {
		if !taken[f.ID] {
			out = append(out, Picture{Before: f.ID})
		}
	}
	return out
}

package approval

import (
	"slices"
	"strings"

	"raconte/core/access"
)

// Rules are all that held for a document since it was released last: it may have been moved. All of them are kept.
type Rules []Rule

// Needed is how many must sign at the least; 0 where none of the rules asks for anybody.
func (rs Rules) Needed() int {
	n := 0
	for _, r := range rs {
		n = max(n, r.Needed)
	}
	return n
}

// Asking are those of the rules that ask for somebody.
func (rs Rules) asking() Rules {
	return slices.DeleteFunc(slices.Clone(rs), func(r Rule) bool { return r.Needed == 0 })
}

// May tells whether someone may sign under at least one of the rules, and no rule keeps them from it as a writer; where
// not, why, as a refusal.
func (rs Rules) May(who access.Viewer, folder string, writers []string) error {
	asking := rs.asking()
	if len(asking) == 0 {
		asking = Rules{{}}
	}
	author := slices.ContainsFunc(asking, func(r Rule) bool { return r.NotAuthor })
	var refused error
	for _, r := range asking {
		r.NotAuthor = author
		if refused = r.May(who, folder, writers); refused == nil {
			return nil
		}
	}
	return refused
}

// Enough tells whether the signatures of one digest are as many as each of the rules asks for, of people who may sign
// under it.
func (rs Rules) Enough(signed []Signature, digest string, may func(r Rule, account string) bool) bool {
	if len(rs.asking()) == 0 {
		return Rule{}.Enough(signed, digest)
	}
	for _, r := range rs.asking() {
		counts := slices.DeleteFunc(slices.Clone(signed), func(s Signature) bool { return !may(r, s.Account) })
		if !r.Enough(counts, digest) {
			return false
		}
	}
	return true
}

// Turn refuses a signature before its turn, where one of the rules has an order.
func (rs Rules) Turn(account string, asked, signed []string, name func(string) string) error {
	ordered := slices.ContainsFunc(rs, func(r Rule) bool { return r.Ordered })
	return Rule{Ordered: ordered}.Turn(account, asked, signed, name)
}

// Strictest is what the rules ask for, as one rule: for people to read, and to choose who is asked.
func (rs Rules) Strictest() Rule {
	var out Rule
	for i, r := range rs.asking() {
		if i == 0 {
			out = r
			continue
		}
		out.Needed, out.Ordered, out.NotAuthor = max(out.Needed, r.Needed), out.Ordered || r.Ordered, out.NotAuthor || r.NotAuthor
		out.Only = out.Only && r.Only
		for _, p := range r.People {
			if !slices.Contains(out.People, p) {
				out.People = append(slices.Clone(out.People), p)
			}
		}
	}
	return out
}

// Said are the rules in words.
func (rs Rules) Said() string {
	var said []string
	for _, r := range rs.asking() {
		if s := r.Said(); !slices.Contains(said, s) {
			said = append(said, s)
		}
	}
	if len(said) == 0 {
		return Rule{}.Said()
	}
	return strings.Join(said, "; ")
}

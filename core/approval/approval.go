// Package approval holds the rules by which a revision is approved: who may sign, in which order, and when it is
// enough.
package approval

import (
	"fmt"
	"slices"
	"time"

	"raconte/core/access"
	"raconte/core/refusal"
)

// Most is the most signatures that a rule can ask for.
const Most = 5

// Rule is what a folder asks for before a revision is released. The zero Rule asks for nothing: authors release by
// themselves.
type Rule struct {
	Needed    int      `json:"needed"`              // signatures; 0 is none
	Ordered   bool     `json:"ordered,omitempty"`   // they sign one after the other, in the order in which they were asked
	NotAuthor bool     `json:"notAuthor,omitempty"` // nobody signs what they have written
	People    []string `json:"people,omitempty"`    // accounts that may sign besides those whose role is to approve
	Only      bool     `json:"only,omitempty"`      // and nobody else may
}

// Check refuses a rule that can't be kept.
func (r Rule) Check() error {
	switch {
	case r.Needed < 0 || r.Needed > Most:
		return refusal.New("A revision is approved by at most %d people.", Most)
	case r.Only && len(r.People) < r.Needed:
		return refusal.New("%d people must sign, but only %d may. Name more, or ask for fewer.", r.Needed, len(r.People))
	}
	return nil
}

// May tells whether someone may sign what some have written; where not, why, as a refusal.
func (r Rule) May(who access.Viewer, folder string, writers []string) error {
	named := slices.Contains(r.People, who.Account)
	granted := access.May(who, access.Approve, access.Thing{Folder: folder}) || named && access.May(who, access.Review, access.Thing{Folder: folder})
	switch {
	case !granted, r.Only && !named:
		return refusal.New("You may not approve what lies in this folder.")
	case r.NotAuthor && slices.Contains(writers, who.Account):
		return refusal.New("In this folder nobody approves what they have written. Someone else must sign.")
	}
	return nil
}

// Signature says that someone has signed what has a digest (core/document.Digest).
type Signature struct {
	Account string    `json:"account"`
	Name    string    `json:"name"` // as it was
	At      time.Time `json:"at"`
	Digest  string    `json:"digest"`
}

// Enough tells whether the signatures of one digest are as many as the rule asks for.
func (r Rule) Enough(signed []Signature, digest string) bool {
	who := map[string]bool{}
	for _, s := range signed {
		if s.Digest == digest {
			who[s.Account] = true
		}
	}
	return len(who) >= max(1, r.Needed)
}

// Turn refuses a signature before its turn: asked are the accounts in order, signed those that have signed.
func (r Rule) Turn(account string, asked, signed []string, name func(string) string) error {
	at := slices.Index(asked, account)
	if at < 0 {
		return refusal.New("You were not asked to approve this.")
	}
	if slices.Contains(signed, account) {
		return refusal.New("You have signed this already.")
	}
	if !r.Ordered {
		return nil
	}
	for _, before := range asked[:at] {
		if !slices.Contains(signed, before) {
			return refusal.New("%s signs before you.", name(before))
		}
	}
	return nil
}

// Said is a rule in words.
func (r Rule) Said() string {
	if r.Needed == 0 {
		return "Authors release by themselves"
	}
	said := "One person approves"
	if r.Needed > 1 {
		said = fmt.Sprintf("%d people approve", r.Needed)
		if r.Ordered {
			said += ", one after the other"
		}
	}
	if r.NotAuthor {
		said += ", not those who have written it"
	}
	return said
}

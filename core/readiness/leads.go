package readiness

import (
	"fmt"

	"raconte/core/document"
	"raconte/core/words"
)

// leads finds what is to settle of where a block leads: within the document, by the names there are, and to others.
func leads(b document.Block, name string, names map[string]string, around document.Around) []Finding {
	var findings []Finding
	add := func(severity Severity, rule, title, advice string) {
		findings = append(findings, Finding{Severity: severity, Rule: rule, Block: b.ID, Title: title, Advice: advice})
	}
	for _, r := range b.Words.Refers() {
		if _, there := names[r.To]; !there && (r.Kind != words.ToDocument || around != nil) {
			add(MustFix, "lost-reference", fmt.Sprintf("%s refers to a %s that is gone", capital(name), r.Kind),
				"Refer to another one, or take the reference out of the words.")
			break
		}
	}
	if around == nil {
		return findings
	}
	for _, l := range b.Leads() {
		o, there := around[l.To]
		switch {
		case !there && l.How != document.Refers:
			add(MustFix, "lost-link", capital(name)+" leads to a procedure that is gone", "Choose another one, or take the link away.")
		case !there:
		case o.Retired:
			add(MustFix, "retired-link", fmt.Sprintf("%s leads to “%s”, which is retired", capital(name), o.Title), "Choose what took its place, or take the link away.")
		case o.Revision == 0 && !o.Closed && l.How != document.Refers:
			add(MustFix, "no-revision", fmt.Sprintf("%s leads to “%s”, which was never released", capital(name), o.Title), "Release it first: readers could not open it.")
		case b.Revision > 0 && o.Revision > b.Revision:
			add(WorthLook, "newer-revision", fmt.Sprintf("There is a newer revision of %s", name), "Look at it, and take it if it fits.")
		}
	}
	return findings
}

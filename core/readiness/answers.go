package readiness

import (
	"slices"

	"raconte/core/document"
)

// needed are questions without whose answer nobody can help, others are asked for.
var needed = map[document.Question]struct {
	severity      Severity
	title, advice string
}{
	document.Happened: {MustFix, "Nothing says what happened", "Say it in a sentence, or show it."},
	document.Expected: {WorthLook, "Nothing says what was expected", "Whoever mends it may take what happened for right."},
	document.Wrong:    {MustFix, "Nothing says what goes wrong", "Say it in a sentence, or show it."},
	document.Wanted:   {WorthLook, "Nothing says what you want to do", "There may be another way to it."},
}

// answers finds what a report or a request leaves open.
func answers(d document.Document, steps int) []Finding {
	var findings []Finding
	for _, q := range d.Kind.Asks() {
		b, there := d.Answer(q)
		if n, is := needed[q]; is && (!there || b.Unanswered()) {
			findings = append(findings, Finding{Severity: n.severity, Rule: "no-" + string(q), Block: b.ID, Title: n.title, Advice: n.advice})
		}
	}
	if d.Kind.Asks() == nil {
		return nil
	}
	if !slices.ContainsFunc(d.Blocks, func(b document.Block) bool { return len(b.Figures) > 0 }) {
		findings = append(findings, Finding{Severity: WorthLook, Rule: "no-picture", Title: "No picture yet",
			Advice: "Paste one, or drop a file on the page: it shows in a moment what is hard to tell."})
	}
	if d.Kind == document.Report && steps == 0 {
		findings = append(findings, Finding{Severity: WorthLook, Rule: "no-way-again", Title: "No steps to make it happen again",
			Advice: "Place a captured run, or write the steps: what can be made to happen again can be mended."})
	}
	return findings
}

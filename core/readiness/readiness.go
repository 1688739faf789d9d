// Package readiness says what a document still lacks before colleagues can rely on it.
package readiness

import (
	"fmt"
	"slices"
	"strings"

	"raconte/core/document"
	"raconte/core/figure"
)

// Severity tells how much a finding matters.
type Severity string

// A document with a finding that must be fixed can't be released.
const (
	MustFix   Severity = "must-fix"
	WorthLook Severity = "worth-a-look"
)

// Finding is one thing to settle; Block and Figure are empty where it is not about one.
type Finding struct {
	Severity Severity `json:"severity"`
	Rule     string   `json:"rule"`
	Block    string   `json:"block,omitempty"`
	Figure   string   `json:"figure,omitempty"`
	Title    string   `json:"title"`
	Advice   string   `json:"advice"`
	From     string   `json:"from,omitempty"` // the wording that To would take the place of; "" where To would be added
	To       string   `json:"to,omitempty"`
}

// Check finds what is to settle, in the order of the blocks. Sizes are those of the shots; what needs the size of one
// that is missing is not looked for. Around is what the document leads to; where it is nil, that is not looked at.
func Check(d document.Document, sizes map[string]figure.Size, around document.Around) []Finding {
	findings := []Finding{}
	numbers, names := d.Numbers(), d.Names(around.Titles(), nil)
	if d.Kind.Needs() == document.Chapter && !slices.ContainsFunc(d.Blocks, func(b document.Block) bool { return b.Type == document.Chapter }) {
		findings = append(findings, Finding{Severity: MustFix, Rule: "no-chapters", Title: "No chapters yet", Advice: "Add a procedure as a chapter."})
	}
	if d.Kind.Needs() == document.Step && numbers.Steps == 0 {
		findings = append(findings, Finding{Severity: MustFix, Rule: "no-steps", Title: "No steps yet",
			Advice: "Paste a picture, drop files on the page, or add a step."})
	}
	findings = append(findings, answers(d, numbers.Steps)...)
	findings = append(findings, notice(d.Facts.Notice, "", "The document’s")...)
	for i, b := range d.Blocks {
		name := strings.TrimSpace(fmt.Sprintf("%s %s", b.Type, numbers.Blocks[b.ID]))
		if b.Type == document.Passage {
			name = "the passage"
			if b.Asks != "" {
				name = "“" + b.Asks.Said() + "”"
			}
		}
		findings = append(findings, leads(b, name, names, around)...)
		switch b.Type {
		case document.Section:
			findings = append(findings, section(d.Blocks[i:], name, d.Kind)...)
			continue
		case document.Chapter:
			continue
		case document.Passage:
			if b.Asks == "" && b.Unanswered() && b.Notice == nil {
				findings = append(findings, Finding{Severity: WorthLook, Rule: "empty-passage", Block: b.ID,
					Title: "The passage is empty", Advice: "Write it, or delete it."})
			}
		}
		if b.Words.Empty() && b.Type == document.Step && b.Document == "" {
			findings = append(findings, Finding{Severity: MustFix, Rule: "no-words", Block: b.ID,
				Title:  capital(name) + " has no words",
				Advice: "Say what to do here. A picture alone leaves the reader guessing."})
		}
		findings = append(findings, notice(b.Notice, b.ID, capital(name)+"’s")...)
		tags := numbers.Tags(b.Figures)
		for _, ref := range b.Words.References() {
			if _, there := tags[ref]; !there {
				findings = append(findings, Finding{Severity: MustFix, Rule: "lost-marker", Block: b.ID,
					Title:  capital(name) + " refers to a marker that is gone",
					Advice: "Put the marker back, or take the reference out of the words."})
				break
			}
		}
		for _, f := range b.Figures {
			lost, unsure := 0, 0
			for _, m := range f.Marks {
				switch {
				case m.Lost:
					lost++
				case m.Unsure:
					unsure++
				}
			}
			if lost > 0 {
				findings = append(findings, Finding{Severity: MustFix, Rule: "lost-target", Block: b.ID, Figure: f.ID,
					Title:  fmt.Sprintf("In the new picture of %s, what %s pointed at was not found", name, counted(lost, "mark")),
					Advice: "Open the picture and move or delete what is marked as not found."})
			}
			if unsure > 0 {
				findings = append(findings, Finding{Severity: MustFix, Rule: "unsure-target", Block: b.ID, Figure: f.ID,
					Title:  fmt.Sprintf("In the new picture of %s, it is not sure that %s in the right place", name, areOrIs(unsure, "mark")),
					Advice: "Open the picture and say of each whether it is, or move it."})
			}
			if n := unsureMoments(f); n > 0 {
				findings = append(findings, Finding{Severity: WorthLook, Rule: "unsure-cover", Block: b.ID, Figure: f.ID,
					Title:  fmt.Sprintf("In the clip of %s, what is concealed was not found for certain at %s", name, counted(n, "moment")),
					Advice: "Open the clip, look at those moments, and drag the cover where it belongs."})
			}
			if size, known := sizes[f.Shot]; known {
				if cut := f.CutOff(size); len(cut) > 0 {
					findings = append(findings, Finding{Severity: WorthLook, Rule: "cut-off", Block: b.ID, Figure: f.ID,
						Title:  fmt.Sprintf("In the picture of %s, %s cut off at the border", name, areOrIs(len(cut), cut[0].Kind.Word())),
						Advice: "Open the picture and move it further in, or leave a margin around the picture."})
				}
			}
			if f.Alt == "" {
				findings = append(findings, Finding{Severity: WorthLook, Rule: "no-alt", Block: b.ID, Figure: f.ID,
					Title:  fmt.Sprintf("The picture of %s has no description", name),
					Advice: "People who can't see it will hear the step's first sentence instead."})
			}
		}
	}
	return append(findings, spelling(d)...)
}

// unsureMoments are how many moments there are of a clip at which what is concealed was not found for certain.
func unsureMoments(f figure.Figure) (n int) {
	for _, m := range f.Marks {
		if m.Kind != figure.Concealment || f.Clip == nil {
			continue
		}
		for _, p := range m.Path {
			if p.Unsure && (m.During == nil || m.During.Holds(p.At)) {
				n++
			}
		}
	}
	return n
}

// notice finds what is to settle of a notice; whose it is begins the sentence.
func notice(n *document.Notice, block, whose string) []Finding {
	if n == nil || strings.TrimSpace(n.Hazard) != "" && strings.TrimSpace(n.Avoid) != "" {
		return nil
	}
	return []Finding{{Severity: MustFix, Rule: "no-hazard", Block: block,
		Title:  fmt.Sprintf("%s %s does not say what the hazard is, or how to avoid it", whose, n.Signal),
		Advice: "Write both lines, or delete it: a signal word alone warns of nothing."}}
}

// section finds what is to settle of a section, which is the first of some blocks.
func section(blocks []document.Block, name string, kind document.Kind) []Finding {
	var findings []Finding
	if blocks[0].Words.Empty() {
		findings = append(findings, Finding{Severity: MustFix, Rule: "no-heading", Block: blocks[0].ID,
			Title: capital(name) + " has no heading", Advice: "Say in a few words what is done in it, or delete the heading."})
	}
	for _, b := range blocks[1:] {
		if b.Type == kind.Needs() {
			return findings
		}
		if b.Type == document.Section && b.Depth() <= blocks[0].Depth() {
			break
		}
	}
	return append(findings, Finding{Severity: WorthLook, Rule: "empty-section", Block: blocks[0].ID,
		Title: fmt.Sprintf("%s has no %ss", capital(name), kind.Needs()), Advice: fmt.Sprintf("Move %ss below it, or delete the heading.", kind.Needs())})
}

func capital(s string) string { return strings.ToUpper(s[:1]) + s[1:] }

func counted(n int, what string) string {
	if n == 1 {
		return "1 " + what
	}
	return fmt.Sprintf("%d %ss", n, what)
}

func areOrIs(n int, what string) string {
	if n == 1 {
		return counted(n, what) + " is"
	}
	return counted(n, what) + " are"
}

// Blocks tells whether any of the findings must be fixed.
func Blocks(findings []Finding) bool {
	for _, f := range findings {
		if f.Severity == MustFix {
			return true
		}
	}
	return false
}

package readiness

import (
	"fmt"
	"slices"
	"strings"

	"raconte/core/capture"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/page"
	"raconte/core/scene"
	"raconte/core/search"
	"raconte/core/secrets"
	"raconte/core/sight"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/words"
)

// Read is a shot whose text was read. One without words says nothing, and nothing is said of it.
type Read struct {
	Size     figure.Size
	At       int // of a recording: the moment that its picture is of, in milliseconds
	Words    []sight.Word
	Elements []capture.Element
	// Secrets are what should perhaps be concealed in it.
	Secrets []secrets.Suggestion
}

// shown are the words that a figure shows of its shot.
func (r Read) shown(f figure.Figure) []sight.Word {
	now, seen := f.Taken(r.At)
	if !seen {
		return nil
	}
	return secrets.Showing(r.Words, now, r.Size)
}

// SmallestPrint is the least size, in points, at which text in pictures can be read on paper.
const SmallestPrint = 6.0

// Pictured finds what is worth a look where words, pictures and paper are held against each other: words that take more
// than their share of a page, pictures whose text prints too small, frames that jump, and names of controls that stand
// otherwise in the picture.
func Pictured(d document.Document, st style.Style, read map[string]Read) []Finding {
	layout := d.Facts.Layout
	sizes := make(map[string]figure.Size, len(read))
	for shot, r := range read {
		sizes[shot] = r.Size
	}
	findings := []Finding{}
	var before document.Block
	for _, b := range story.Of(d, nil, nil).Blocks {
		if b.Type != document.Step {
			before = document.Block{}
			continue
		}
		name := "step " + b.Number
		if f := page.FitOf(b, st, layout, sizes); f.Left < 0 {
			findings = append(findings, Finding{Severity: WorthLook, Rule: "over-cell", Block: b.ID,
				Title:  fmt.Sprintf("The words of %s are %s over their share of a page", name, counted(-f.Left, "line")),
				Advice: "Use fewer words, divide the step, or write for a layout with more room."})
		}
		findings = append(findings, smallPrint(b, name, st, layout, sizes, read)...)
		whole := document.Block{ID: b.ID, Content: document.Content{Type: b.Type, Words: b.Words}}
		for _, f := range b.Figures {
			whole.Figures = append(whole.Figures, f.Figure)
		}
		if jumps(before, whole, sizes) {
			findings = append(findings, Finding{Severity: WorthLook, Rule: "frames-jump", Block: b.ID, Figure: whole.Figures[0].ID,
				Title:  fmt.Sprintf("The picture of %s is a little larger or smaller than the one before", name),
				Advice: "The page jumps as readers go on. Give them all the same crop."})
		}
		findings = append(findings, named(whole, name, read)...)
		findings = append(findings, shown(whole, name, read)...)
		before = whole
	}
	return findings
}

func smallPrint(b story.Block, name string, st style.Style, layout style.Layout, sizes map[string]figure.Size, read map[string]Read) []Finding {
	var findings []Finding
	for i, k := range page.Shrunk(b, st, layout, sizes) {
		f := b.Figures[i]
		r := read[f.Shot]
		height := sight.TextHeight(r.shown(f.Figure))
		if points := height * k; points > 0 && points < SmallestPrint {
			findings = append(findings, Finding{Severity: WorthLook, Rule: "small-print", Block: b.ID, Figure: f.ID,
				Title:  fmt.Sprintf("The text in the picture of %s prints at %.1f pt", name, points),
				Advice: fmt.Sprintf("Under %.0f pt it can hardly be read. Crop to what matters, or show a detail.", SmallestPrint)})
		}
	}
	return findings
}

// jumps tells whether the first pictures of two steps that follow each other differ in size by little.
func jumps(a, b document.Block, sizes map[string]figure.Size) bool {
	if len(a.Figures) == 0 || len(b.Figures) == 0 {
		return false
	}
	one, known := sizes[a.Figures[0].Shot]
	two, known2 := sizes[b.Figures[0].Shot]
	if !known || !known2 {
		return false
	}
	f, g := a.Figures[0].Frame(one), b.Figures[0].Frame(two)
	return capture.Uneven(figure.Size{W: int(f.W), H: int(f.H)}, figure.Size{W: int(g.W), H: int(g.H)})
}

// names are the names of controls, and what is bold, in a text.
func names(w words.Node) []string {
	var out []string
	for _, p := range w.Paragraphs() {
		open := false
		for _, s := range p.Spans {
			bold := (s.Control || s.Bold) && s.To == "" && s.Marker == ""
			switch {
			case bold && open:
				out[len(out)-1] += s.Text
			case bold:
				out = append(out, s.Text)
			}
			open = bold
		}
	}
	for i, n := range out {
		out[i] = strings.TrimSpace(n)
	}
	return slices.DeleteFunc(out, func(n string) bool { return len(n) < 3 })
}

// named finds names of controls that stand in no picture of their step, though near ones do.
func named(b document.Block, step string, read map[string]Read) []Finding {
	var seen []string // the words that show, in their order
	for _, f := range b.Figures {
		r := read[f.Shot]
		for _, w := range r.shown(f) {
			seen = append(seen, w.Text)
		}
	}
	if len(seen) == 0 {
		return nil
	}
	var findings []Finding
	for _, name := range names(b.Words) {
		asked := search.Words(name)
		if len(asked) == 0 {
			continue
		}
		stands, near := false, ""
		for i := 0; i+len(asked) <= len(seen) && !stands; i++ {
			same, alike := true, true
			for j, a := range asked {
				got := strings.Join(search.Words(seen[i+j]), "")
				same = same && got == a
				alike = alike && (got == a || len(search.Near(a, []string{got})) > 0)
			}
			stands = same
			if alike && near == "" {
				near = strings.Trim(strings.Join(seen[i:i+len(asked)], " "), ".,:;…")
			}
		}
		if !stands && near != "" && near != name {
			findings = append(findings, Finding{Severity: WorthLook, Rule: "not-in-picture", Block: b.ID, From: name, To: near,
				Title:  fmt.Sprintf("“%s” stands in no picture of %s", name, step),
				Advice: fmt.Sprintf("The picture says “%s”.", near)})
		}
	}
	return findings
}

const mostMarked = 4 // words that a mark around a control holds

// shown finds what is marked in a step's pictures but not named in its words, and what should perhaps be concealed.
func shown(b document.Block, step string, read map[string]Read) []Finding {
	var findings []Finding
	said := search.Words(b.Words.Reading(nil))
	for _, f := range b.Figures {
		r := read[f.Shot]
		now, _ := f.Taken(r.At)
		left := slices.DeleteFunc(secrets.Left(r.Secrets, now), func(s secrets.Suggestion) bool { return !secrets.Peeks(s.Rect, now, r.Size) })
		if len(left) > 0 {
			findings = append(findings, Finding{Severity: WorthLook, Rule: "secrets", Block: b.ID, Figure: f.ID,
				Title:  fmt.Sprintf("The picture of %s shows what should perhaps be concealed", step),
				Advice: "Open the picture and look at what is suggested: " + left[0].Why + "."})
		}
		visible := r.shown(f)
		for _, m := range f.Marks {
			if m.Kind != figure.Box && m.Kind != figure.Ellipse || len(m.Points) < 2 {
				continue
			}
			box := scene.Between(m.Points[0], m.Points[1])
			var in []string
			for _, w := range visible {
				if part := box.Intersect(w.Rect); part.W*part.H > 0.6*w.Rect.W*w.Rect.H {
					in = append(in, w.Text)
				}
			}
			name := strings.Trim(strings.Join(in, " "), " .,:;…|")
			asked := search.Words(name)
			if len(in) == 0 || len(in) > mostMarked || len(asked) == 0 || len(name) < 3 {
				continue
			}
			if !slices.ContainsFunc(asked, func(w string) bool {
				return slices.Contains(said, w) || len(search.Near(w, said)) > 0
			}) {
				findings = append(findings, Finding{Severity: WorthLook, Rule: "not-named", Block: b.ID, Figure: f.ID, To: name,
					Title:  fmt.Sprintf("“%s” is marked in the picture of %s, but not named", name, step),
					Advice: "Readers look for the words that they read. Name it, or mark something else."})
			}
		}
	}
	return findings
}

// spelling finds names of controls that are spelt in several ways through a document: all but the usual one.
func spelling(d document.Document) []Finding {
	type way struct {
		name  string
		count int
	}
	ways := map[string][]way{}
	key := func(name string) string { return strings.Join(search.Words(name), "") }
	for _, b := range d.Blocks {
		for _, n := range names(b.Words) {
			k := key(n)
			i := slices.IndexFunc(ways[k], func(w way) bool { return w.name == n })
			if i < 0 {
				ways[k] = append(ways[k], way{n, 0})
				i = len(ways[k]) - 1
			}
			ways[k][i].count++
		}
	}
	numbers := d.Numbers()
	var findings []Finding
	for _, b := range d.Blocks {
		var told []string
		for _, n := range names(b.Words) {
			all := ways[key(n)]
			usual := slices.MaxFunc(all, func(a, b way) int { return a.count - b.count }).name // of several, the first
			if usual != n && key(n) != "" && !slices.Contains(told, n) {
				told = append(told, n)
				findings = append(findings, Finding{Severity: WorthLook, Rule: "spelling", Block: b.ID, From: n, To: usual,
					Title:  strings.TrimSpace(fmt.Sprintf("“%s” is spelt otherwise in %s %s", usual, b.Type, numbers.Blocks[b.ID])),
					Advice: fmt.Sprintf("Here it is “%s”. One name helps readers to find it.", n)})
			}
		}
	}
	return findings
}

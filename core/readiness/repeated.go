package readiness

import (
	"fmt"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/search"
	"raconte/core/secrets"
)

// Repeated finds where a document's own words tell what its pictures conceal: its title and keywords, words of steps,
// notices, descriptions, texts of marks and what a film says. It must be mended where that is on the house's list of
// words to conceal, own.
func Repeated(d document.Document, read map[string]Read, own []string) []Finding {
	hidden := map[string]bool{} // whether it must be mended
	for _, b := range d.Blocks {
		for _, f := range b.Figures {
			concealed(hidden, f, read[f.Shot], own)
		}
	}
	if len(hidden) == 0 {
		return nil
	}
	var findings []Finding
	look := func(block, fig, where string, texts ...string) {
		for _, text := range texts {
			word, found := "", false
			for _, w := range wordsOf(text) {
				if must, there := hidden[search.Folded(w)]; there && (!found || must) {
					word, found = w, true
					if must {
						break
					}
				}
			}
			if !found {
				continue
			}
			f := Finding{Severity: WorthLook, Rule: "tells-concealed", Block: block, Figure: fig,
				Title:  fmt.Sprintf("“%s” is concealed in a picture, and stands in %s", word, where),
				Advice: "Say it without the name or number, or uncover it in the picture."}
			if hidden[search.Folded(word)] {
				f.Severity = MustFix
				f.Advice = "It is on the list of words to conceal. Say it without that word."
			}
			findings = append(findings, f)
			return
		}
	}
	look("", "", "the title", d.Facts.Title, d.Facts.Number)
	look("", "", "the keywords", d.Facts.Keywords...)
	look("", "", "the document’s notice", noticeLines(d.Facts.Notice)...)
	if d.Facts.File != nil {
		look("", "", "the name of its file", d.Facts.File.Name)
	}
	numbers := d.Numbers()
	for _, b := range d.Blocks {
		name := strings.TrimSpace(fmt.Sprintf("%s %s", b.Type, numbers.Blocks[b.ID]))
		look(b.ID, "", "the words of "+name, b.Words.Reading(nil))
		look(b.ID, "", "the notice of "+name, noticeLines(b.Notice)...)
		if b.Film != nil {
			look(b.ID, "", "what a film says of "+name, b.Film.Said)
		}
		for _, l := range b.Beside {
			look(b.ID, "", "a link beside "+name, l.Title, l.Address)
		}
		for _, f := range b.Figures {
			look(b.ID, f.ID, "the description of the picture of "+name, f.Alt)
			for _, m := range f.Marks {
				if !m.Kind.Covers() {
					look(b.ID, f.ID, "a mark in the picture of "+name, m.Text)
				}
			}
		}
	}
	return findings
}

// concealed adds what a figure conceals and does not show elsewhere: words read in its shot and names of elements.
func concealed(hidden map[string]bool, f figure.Figure, r Read, own []string) {
	now, _ := f.Taken(r.At)
	shows := map[string]bool{}
	for _, w := range secrets.Showing(r.Words, now, r.Size) {
		for _, t := range wordsOf(w.Text) {
			shows[search.Folded(t)] = true
		}
	}
	var texts []string
	for _, w := range r.Words {
		if now.Hides(w.Rect.Grow(-w.Rect.H / 4)) {
			texts = append(texts, w.Text)
		}
	}
	for _, e := range r.Elements {
		if e.Role != "password" && now.Hides(e.Rect.Grow(-e.Rect.H/4)) {
			texts = append(texts, e.Name)
		}
	}
	all := search.Folded(strings.Join(texts, " "))
	for _, word := range own {
		if strings.Contains(all, search.Folded(strings.TrimSpace(word))) {
			for _, w := range wordsOf(word) {
				hidden[search.Folded(w)] = true
			}
		}
	}
	for _, text := range texts {
		for _, w := range wordsOf(text) {
			if k := search.Folded(w); tells(w) && !shows[k] && !hidden[k] {
				hidden[k] = false
			}
		}
	}
}

// tells tells whether a word may be what was concealed, rather than the label beside it: a name, or something with
// digits.
func tells(w string) bool {
	if strings.ContainsFunc(w, unicode.IsDigit) {
		return utf8.RuneCountInString(w) >= 3
	}
	first, _ := utf8.DecodeRuneInString(w)
	return utf8.RuneCountInString(w) >= 4 && (unicode.IsUpper(first) || !unicode.IsLower(first)) && !slices.Contains(labels, search.Folded(w))
}

// labels are words that stand beside what is concealed, and are concealed with it.
var labels = []string{"password", "user", "username", "name", "e-mail", "email", "mail", "address", "phone", "telephone", "card", "number", "account", "code", "token",
	"kennwort", "passwort", "benutzer", "adresse", "telefon", "konto", "nummer", "nom", "utilisateur", "compte", "numéro", "contraseña", "usuario", "dirección", "teléfono", "cuenta", "número"}

// wordsOf are the words of a text as they are written.
func wordsOf(s string) []string {
	return strings.FieldsFunc(s, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) && !unicode.IsMark(r) })
}

func noticeLines(n *document.Notice) []string {
	if n == nil {
		return nil
	}
	return n.Lines()
}

// Package report says of a picture what a report of it needs: a title from the error that stands in it, and where it
// was taken.
package report

import (
	"net/url"
	"strings"
	"unicode"

	"raconte/core/capture"
	"raconte/core/sight"
	"raconte/core/words"
)

// telling are words that a line has which tells of a fault, in the languages of the house, with how much they tell.
var telling = map[string]int{
	"error": 3, "failed": 3, "failure": 3, "fatal": 3, "exception": 3, "denied": 3, "unable": 3, "cannot": 2, "can't": 2, "couldn't": 2,
	"invalid": 2, "refused": 2, "timeout": 2, "unexpected": 2, "missing": 1, "not": 1, "alarm": 1, "warning": 1, "wrong": 1,
	"fehler": 3, "fehlgeschlagen": 3, "ungültig": 2, "abgelehnt": 2, "unerwartet": 2, "nicht": 1,
	"erreur": 3, "échec": 3, "échoué": 3, "impossible": 2, "invalide": 2, "refusé": 2,
	"fallo": 3, "falló": 3, "inválido": 2, "denegado": 2, "imposible": 2,
}

const longestTitle = 120 // characters of a title that is proposed

// TitleOf is the line of a picture's text that tells most of a fault; where none does, what is open in it, or "".
func TitleOf(read []sight.Word, about capture.About) string {
	best, most := "", 0
	for _, line := range sight.Lines(read) {
		tells := 0
		for _, w := range strings.FieldsFunc(strings.ToLower(line), func(r rune) bool { return !unicode.IsLetter(r) && r != '\'' && r != '’' }) {
			tells += telling[strings.ReplaceAll(w, "’", "'")]
		}
		if len(strings.Fields(line)) < 2 {
			tells-- // a button says OK, a heading Error: a sentence says more
		}
		if tells > most {
			best, most = line, tells
		}
	}
	if best == "" && about.Window != nil && strings.TrimSpace(about.Window.Title) != "" {
		best = about.Window.Title
	}
	if r := []rune(best); len(r) > longestTitle {
		best = strings.TrimSpace(string(r[:longestTitle])) + "…"
	}
	return best
}

// Fact is one thing that is known of where a fault was.
type Fact struct {
	Name  string `json:"name"`
	Value string `json:"value"`
}

// WhereOf is what a capture knows of where it was taken, with what the browser says of itself; empty values are left
// out. Of an address stays where it is, without what was asked there.
func WhereOf(about capture.About, browser []Fact) []Fact {
	var all []Fact
	add := func(name, value string) {
		if value = strings.Join(strings.Fields(value), " "); value != "" {
			all = append(all, Fact{name, value})
		}
	}
	if about.Window != nil {
		add("Window", about.Window.Title)
	}
	if u, err := url.Parse(about.Address); err == nil && u.Host != "" {
		add("Page", u.Scheme+"://"+u.Host+u.Path)
	}
	add("Monitor", about.Monitor)
	for _, f := range browser {
		add(f.Name, f.Value)
	}
	if !about.Taken.IsZero() {
		add("Taken", about.Taken.UTC().Format("2006-01-02 15:04 UTC"))
	}
	return all
}

// Listed are facts as words: a line for each, that can be deleted like any other.
func Listed(facts []Fact) words.Node {
	items := make([]words.Node, 0, len(facts))
	for _, f := range facts {
		items = append(items, words.Node{Type: "listItem", Content: []words.Node{{Type: "paragraph", Content: []words.Node{
			{Type: "text", Text: f.Name, Marks: []words.Style{{Type: "bold"}}}, {Type: "text", Text: ": " + f.Value},
		}}}})
	}
	if len(items) == 0 {
		return words.Plain("")
	}
	return words.Node{Type: "doc", Content: []words.Node{{Type: "bulletList", Content: items}}}
}

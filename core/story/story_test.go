package story

import (
	"fmt"
	"testing"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/style"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
)

func names(said ...string) words.Node {
	p := words.Node{Type: "paragraph"}
	for _, s := range said {
		p.Content = append(p.Content, words.Node{Type: "text", Text: s, Marks: []words.Style{{Type: "control"}}}, words.Node{Type: "text", Text: " "})
	}
	return words.Node{Type: "doc", Content: []words.Node{p}}
}

func TestTheIndexListsNamesAndChosenWordsByTheAlphabet(t *testing.T) {
	d := document.Document{Kind: document.Manual, Facts: document.Facts{Title: "T", Indexed: []string{"card", "kg", " "}}, Blocks: []document.Block{
		document.NewSection("h", 1, names("Heading")),
		document.NewStep("a", names("Receive lot", "Print")),
		document.NewStep("b", words.Plain("Scan the card. Discard it at 5 kg.")),
		document.NewStep("c", names("receive lot", "Äpfel")),
		document.NewStep("d", words.Plain("Discards and cardinals")),
	}}
	assert.Equal(t, []Entry{
		{"card", []string{"b"}}, {"kg", []string{"b"}}, {"Print", []string{"a"}}, {"Receive lot", []string{"a", "c"}}, {"Äpfel", []string{"c"}},
	}, Of(d, nil, nil).Index(), "whole words only, no headings, one entry however it is spelt")
}

func TestAStoryTellsWhereStepsLead(t *testing.T) {
	step := document.NewStep("s", words.Plain(""))
	step.Document, step.Beside = "p", []document.WebLink{{Address: "https://a.example", Title: "A"}, {Address: "https://b.example"}}
	d := document.Document{Kind: document.Procedure, Facts: document.Facts{Title: "T"}, Blocks: []document.Block{step}}
	s := Of(d, document.Around{"p": {ID: "p", Title: "Part", Number: "PR-001", Seconds: 90, Address: "http://here/d/p"}}, nil)
	assert.Equal(t, []any{"Do: PR-001 Part", 90, "PR-001 Part"}, []any{s.Blocks[0].Label, s.Time.Seconds, s.Blocks[0].Does.Said()})
	assert.Equal(t, []string{"http://here/d/p", "https://a.example", "https://b.example"}, s.Addresses())
	assert.Equal(t, "https://b.example", s.Blocks[0].Beside[1].Said(), "a link without a title says its address")
	assert.Equal(t, "A document that is not here", Of(d, nil, nil).Blocks[0].Does.Said())
	closed := Of(d, document.Around{"p": {ID: "p", Closed: true, Title: "Secret"}}, nil)
	assert.Equal(t, "A closed document", closed.Blocks[0].Does.Said())
}

func TestReferencesAreReadInTheLanguageOfThePages(t *testing.T) {
	refer := func(kind words.Kind, to string) words.Node {
		return words.Node{Type: "doc", Content: []words.Node{{Type: "paragraph", Content: []words.Node{{Type: "text", Text: "Siehe "}, {Type: "reference", Attrs: &words.Attrs{Kind: kind, To: to}}}}}}
	}
	marks := []figure.Mark{{ID: "m", Kind: figure.Box, Points: []scene.Point{{}, {X: 9, Y: 9}}}}
	d := document.Document{Kind: document.Procedure, Blocks: []document.Block{
		document.NewStep("a", refer(words.ToMark, "m"), figure.Figure{ID: "f", Shot: "s", Marks: marks}),
		document.NewStep("b", refer(words.ToStep, "a")),
		document.NewPassage("c", refer(words.ToStep, "b")),
		document.NewStep("d", refer(words.ToStep, "c")),
	}}
	st := style.Default()
	st.Language = style.German
	var said []string
	s := Of(d, nil, st.Said)
	for _, b := range s.Blocks {
		said = append(said, b.Label)
	}
	assert.Equal(t, []string{"Siehe Rahmen in Bild 1", "Siehe Schritt 1", "Siehe Schritt 2", "Siehe Siehe Schritt 2"}, said)
	assert.Equal(t, "Bild: Siehe Rahmen in Bild 1", s.Blocks[0].Figures[0].Alt, "what is listed and what is heard say it too")
	for _, l := range style.Languages {
		st.Language = l.Tag
		for _, kind := range figure.Kinds {
			if kind != figure.Marker {
				assert.NotEmpty(t, st.Said("mark "+string(kind)), "%s in %s", kind, l.Name)
			}
		}
	}
}

func TestQuestionsAreHeadingsOverTheirAnswers(t *testing.T) {
	n := 0
	d := document.Document{ID: "d", Kind: document.Report, Facts: document.Facts{Title: "T"}}
	d.Blocks = document.Asked(d.Kind, nil, func() string { n++; return fmt.Sprint("b", n) })
	d.Blocks[0].Words = words.Plain("It stays on, {name}.")
	d.Blocks = append(d.Blocks, document.NewStep("s", words.Plain("Open it.")), document.NewStep("s2", words.Plain("Look.")))
	s := Of(d, nil, func(key string, _ ...string) string { return map[string]string{"asks happened": "Was geschah"}[key] }).Filled(map[string]string{"name": "Ruta"})
	var said []string
	for _, b := range s.Blocks {
		said = append(said, b.Number+b.Words.Reading(nil))
	}
	assert.Equal(t, []string{"Was geschah", "It stays on, Ruta.", document.Repeat, "1Open it.", "2Look."}, said, "what nobody answered stays out")
}

package document

import (
	"testing"

	"raconte/core/figure"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
)

func TestStepsAreJoinedAndTakenApart(t *testing.T) {
	list := words.Node{Type: "doc", Content: []words.Node{
		{Type: "paragraph", Content: []words.Node{{Type: "text", Text: "Open it"}}},
		{Type: "paragraph"},
		{Type: "orderedList", Content: []words.Node{
			{Type: "listItem", Content: words.Plain("Press").Content},
			{Type: "listItem", Content: append(words.Plain("Wait").Content, words.Node{Type: "bulletList", Content: []words.Node{{Type: "listItem", Content: words.Plain("ten seconds").Content}}})},
		}},
	}}
	whole := Content{Type: Step, Words: list, Seconds: 30, Notice: &Notice{Signal: Caution, Hazard: "Hot", Avoid: "Wait"}, Figures: []figure.Figure{{ID: "f", Shot: "s"}}}
	parts := EachLine(whole)
	said := []string{}
	for _, p := range parts {
		said = append(said, p.Words.Reading(nil))
		assert.NoError(t, Block{ID: "a", Content: p}.Check())
	}
	assert.Equal(t, []string{"Open it", "Press", "Wait\n• ten seconds"}, said)
	assert.Equal(t, whole.Figures, parts[0].Figures)
	assert.Equal(t, []int{30, 0, 0}, []int{parts[0].Seconds, parts[1].Seconds, parts[2].Seconds})
	assert.Nil(t, parts[1].Notice)
	assert.Len(t, EachLine(parts[1]), 1, "one line is one step")

	one, why := Join(parts[0], parts[2])
	assert.Empty(t, why)
	assert.Equal(t, "Open it\nWait\n• ten seconds", one.Words.Reading(nil))
	assert.Equal(t, whole.Notice, one.Notice)
	both, why := Join(parts[1], whole)
	assert.Empty(t, why)
	assert.Equal(t, whole.Notice, both.Notice, "the one notice there is")
	assert.Len(t, both.Figures, 1)
	leads := Content{Type: Step, Words: words.Plain("Print"), Document: "other", Revision: 2, Critical: true, Beside: []WebLink{{Address: "https://a.example"}}, Film: &Told{Said: "We print."}}
	one, why = Join(parts[1], leads)
	assert.Empty(t, why)
	assert.Equal(t, []any{"other", 2, true, leads.Beside}, []any{one.Document, one.Revision, one.Critical, one.Beside})
	assert.Equal(t, "Press\nWe print.", one.Film.Said, "nothing of it is lost")
	for name, c := range map[string][2]Content{
		"two procedures": {leads, leads},
		"a voice":        {parts[1], {Type: Step, Words: words.Plain("x"), Film: &Told{Voice: &Voice{}}}},
		"two notices":    {whole, whole},
		"a heading":      {{Type: Section}, parts[1]},
		"many pictures":  {{Type: Step, Figures: make([]figure.Figure, MostFigures)}, whole},
	} {
		_, why := Join(c[0], c[1])
		assert.NotEmpty(t, why, name)
	}

	written := StepsOf(words.Written("1. Open the door\n\n  - Read the card\r\n(3) Print 2 labels\nb) Wait\n12.5 kg is enough\n"))
	said = said[:0]
	for _, c := range written {
		said = append(said, c.Words.Reading(nil))
	}
	assert.Equal(t, []string{"Open the door", "Read the card", "Print 2 labels", "Wait", "12.5 kg is enough"}, said)
}

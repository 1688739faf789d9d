package document

import (
	"fmt"
	"testing"

	"raconte/core/words"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestEveryQuestionHasItsPassageInOrder(t *testing.T) {
	n := 0
	newID := func() string { n++; return fmt.Sprint("new-", n) }
	where := NewPassage("w", words.Plain("Dock 2"))
	where.Asks = Where
	step := NewStep("s", words.Plain("Open Alarms"))
	blocks := Asked(Report, []Block{step, where}, newID)
	var asks []Question
	for _, b := range blocks {
		asks = append(asks, b.Asks)
	}
	assert.Equal(t, []Question{Happened, Expected, Often, Bad, Where, ""}, asks)
	assert.Equal(t, []string{"w", "s"}, []string{blocks[4].ID, blocks[5].ID}, "what is there stays")
	d := Document{ID: "d", Kind: Report, Facts: Facts{Title: "T"}, Blocks: blocks}
	require.NoError(t, d.Check())
	b, there := d.Answer(Where)
	assert.True(t, there)
	assert.False(t, b.Unanswered())
	assert.Equal(t, blocks, Asked(Report, blocks, newID), "and nothing is asked twice")
	assert.Equal(t, []Block{step}, Asked(Procedure, []Block{step}, newID))

	d.Kind = Request
	assert.ErrorContains(t, d.Check(), "does not ask")
	d.Kind = Report
	d.Blocks[5].Asks = Often
	assert.Error(t, d.Check(), "a step answers no question")
	for _, k := range []Kind{Report, Request} {
		for _, q := range k.Asks() {
			assert.NotEmpty(t, q.Said(), q)
		}
	}
}

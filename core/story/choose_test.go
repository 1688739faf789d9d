package story

import (
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func parts() Story {
	d := document.Document{Kind: document.Procedure, Facts: document.Facts{Counting: document.Anew}, Blocks: []document.Block{
		document.NewPassage("before", words.Plain("Before")), document.NewSection("one", 1, words.Plain("One")), document.NewStep("a", words.Plain("A")),
		document.NewSection("deep", 2, words.Plain("Deep")), document.NewStep("b", words.Plain("B"), figure.Figure{ID: "f", Shot: "s", Marks: []figure.Mark{{ID: "m", Kind: figure.Box}}}),
		document.NewSection("two", 1, words.Plain("Two")), document.NewStep("c", words.Plain("C")), document.NewStep("d", words.Plain("D")),
	}}
	d.Blocks[2].Seconds, d.Blocks[6].Seconds = 20, 30
	return Of(d, nil, nil)
}

func ids(s Story) string {
	var all []string
	for _, b := range s.Blocks {
		all = append(all, b.ID)
	}
	return strings.Join(all, " ")
}

func TestChosenStepsKeepTheirHeadingsAndTheirNumbers(t *testing.T) {
	whole := parts()
	for chosen, left := range map[string]string{
		"c": "two c", "b": "one deep b", "a d": "one a two d", "before": "before", "two": "two", "": "", "a b c d before": "before one a deep b two c d",
	} {
		got := whole.Only(strings.Fields(chosen))
		assert.Equal(t, left, ids(got), chosen)
		for _, b := range got.Blocks {
			for _, w := range whole.Blocks {
				if w.ID == b.ID {
					assert.Equal(t, w.Number, b.Number)
				}
			}
		}
	}
	got := whole.Only([]string{"c", "d"})
	assert.Equal(t, 2, got.Steps)
	assert.Equal(t, 30, got.Time.Seconds)
	assert.False(t, got.HasPictures())
	assert.True(t, whole.HasPictures())
	assert.Equal(t, "b", whole.Where()["m"], "a mark is where its step is")
	assert.NotContains(t, got.Where(), "f")
}

func TestStepsAreNamedByTheirNumbers(t *testing.T) {
	whole := parts()
	for list, want := range map[string]string{"1": "a", "2-3": "b c", " 1 , 3 - 4": "a c d"} {
		got, err := whole.Numbered(list)
		require.NoError(t, err, list)
		assert.Equal(t, want, strings.Join(got, " "))
	}
	for list, why := range map[string]string{"": "named as in", "0": "no steps 0", "5": "the document has 4", "3-2": "no steps", "x": "named as in", "1-": "named as in"} {
		_, err := whole.Numbered(list)
		assert.ErrorContains(t, err, why, list)
	}
}

package document_test

import (
	"testing"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestADigestIsOfAllThatIsSaidAndShown(t *testing.T) {
	step := document.NewStep("s", words.Plain("Put it on the scale."))
	step.Figures = []figure.Figure{{ID: "f", Shot: "one", Marks: []figure.Mark{}}}
	d := document.Document{ID: "d", Kind: document.Procedure, Facts: document.Facts{Title: "Weigh a bin"}, Blocks: []document.Block{step}}
	pixels := map[string]string{"one": "aaaa"}
	digest := func(d document.Document) string {
		sum, err := d.Digest(func(shot string) string { return pixels[shot] })
		require.NoError(t, err)
		return sum
	}
	first := digest(d)
	assert.Len(t, first, 64)
	d.Facts.Review = "2027-01-01"
	assert.Equal(t, first, digest(d), "the day of the next review is counted from the release")
	d.Facts.Reason = "Typing error"
	assert.NotEqual(t, first, digest(d))
	d.Facts.Reason, pixels["one"] = "", "bbbb"
	assert.NotEqual(t, first, digest(d), "another picture under the same id")
	pixels["one"] = "aaaa"
	d.Blocks[0].Critical = true
	assert.NotEqual(t, first, digest(d))
}

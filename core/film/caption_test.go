package film

import (
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
)

func TestCaptionsAreDividedAlsoWhereNoSpacesStand(t *testing.T) {
	for _, said := range []string{
		strings.Repeat("打开房间然后选择需要移动的批次", 12) + "。等待。",
		"Open the room that is too warm, look how long its door has been open, and close it before you choose the lot that is to be moved from there.",
	} {
		parts := divided(said)
		assert.Greater(t, len(parts), 1)
		for _, p := range parts {
			assert.LessOrEqual(t, utf8.RuneCountInString(p), longestCaption)
			for line := range strings.Lines(lines(p)) {
				assert.Less(t, utf8.RuneCountInString(line), longestCaption*2/3)
			}
		}
		assert.Equal(t, strings.ReplaceAll(said, " ", ""), strings.ReplaceAll(strings.Join(parts, ""), " ", ""), "all of it")
	}
}

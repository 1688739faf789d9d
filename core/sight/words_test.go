package sight

import (
	"math/rand/v2"
	"strings"
	"testing"

	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
)

// said are words of ten pixels a letter that begin at a place.
func said(x, y float64, line string) []Word {
	var all []Word
	for w := range strings.FieldsSeq(line) {
		all = append(all, Word{Text: w, Rect: scene.Rect{X: x, Y: y, W: 10 * float64(len(w)), H: 20}})
		x += 10*float64(len(w)) + 10
	}
	return all
}

func TestWordsAreReadLineByLine(t *testing.T) {
	var words []Word
	words = append(words, said(20, 10, "Receive a lot")...)
	words = append(words, said(20, 62, "Lot number")...)
	words = append(words, said(400, 60, "L-4711")...) // in another column
	words = append(words, said(20, 100, "Bins 12")...)
	for range 10 {
		rand.Shuffle(len(words), func(i, j int) { words[i], words[j] = words[j], words[i] })
		assert.Equal(t, "Receive a lot\nLot number\tL-4711\nBins 12", Text(words))
	}
	assert.Empty(t, Text(nil))
}

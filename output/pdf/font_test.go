package pdf

import (
	"io"
	"math/rand"
	"testing"

	"raconte/core/text"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestADamagedFaceIsAnErrorAndNoCrash takes faces apart that are cut short or changed.
func TestADamagedFaceIsAnErrorAndNoCrash(t *testing.T) {
	whole := text.TTF(text.Regular)
	embed := func(ttf []byte) error {
		f, err := newFont("regular", "F0", ttf)
		if err != nil {
			return err
		}
		for glyph := range uint16(200) {
			f.code([]text.Glyph{{ID: glyph, Text: "x"}, {ID: glyph + 1, X: 0.1, Y: 0.2}})
			f.advance(glyph)
		}
		out := newFile(io.Discard)
		f.id = out.reserve()
		return f.write(out)
	}
	require.NoError(t, embed(whole))
	random := rand.New(rand.NewSource(2))
	refused := 0
	for range 300 {
		bad := append([]byte(nil), whole...)
		if random.Intn(2) == 0 {
			bad = bad[:random.Intn(len(bad))]
		}
		for range random.Intn(20) {
			if len(bad) > 0 {
				bad[random.Intn(min(len(bad), 600))] ^= byte(1 + random.Intn(255))
			}
		}
		if embed(bad) != nil {
			refused++
		}
	}
	assert.Greater(t, refused, 100)
}

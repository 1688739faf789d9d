package text

import (
	"encoding/binary"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestADamagedFaceIsFoundOutAndEndsNothing bends the tables that shapers read, and sets words in what is left.
func TestADamagedFaceIsFoundOutAndEndsNothing(t *testing.T) {
	good := TTF(Regular)
	require.NoError(t, Trial(good))
	failed := 0
	for _, seed := range []uint64{213, 357, 1, 2, 3} {
		random := rand.New(rand.NewPCG(seed, 2))
		bent := append([]byte{}, good...)
		for i := range int(binary.BigEndian.Uint16(bent[4:])) { // the directory (OpenType, 4.3)
			entry := bent[12+16*i:]
			if string(entry[:4]) != "GSUB" {
				continue
			}
			at, length := int(binary.BigEndian.Uint32(entry[8:])), int(binary.BigEndian.Uint32(entry[12:]))
			for range 1 + int(seed%7) {
				where := at + 10 + random.IntN(length-10)
				bent[where] = byte(random.IntN(256))
			}
		}
		if Trial(bent) != nil {
			failed++
		}
	}
	assert.Equal(t, 2, failed, "two of them end whatever sets words in them, and did not end this")
}

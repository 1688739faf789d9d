package words

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestATextGrowsAsFarAsOneMayHold(t *testing.T) {
	first, more := Plain("Begin"), Plain(strings.Repeat("x", 1500))
	g, joined := Grow(first), first
	for joined = Joined(joined, more); joined.Check() == nil; joined = Joined(joined, more) {
		assert.True(t, g.Join(more))
		assert.True(t, g.Join(Plain("")), "nothing takes no room")
		assert.Equal(t, joined, g.Node)
	}
	held := len(g.Node.Content)
	assert.False(t, g.Join(more))
	assert.Len(t, g.Node.Content, held)
	assert.NoError(t, g.Node.Check())
	over := Grow(joined)
	assert.False(t, over.Join(Plain("x")))
	assert.Equal(t, joined, over.Node, "what is too long already is left as it is")
	assert.Equal(t, Plain("Begin"), first)
}

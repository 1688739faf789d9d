package kept_test

import (
	"fmt"
	"testing"

	"raconte/platform/kept"

	"github.com/stretchr/testify/assert"
)

func TestTheLatestUsedStayWithinTheBytes(t *testing.T) {
	c := kept.New(1000, func(b []byte) int { return len(b) })
	for i := range 20 {
		c.Add(fmt.Sprint(i), make([]byte, 100))
		_, first := c.Get("0")
		assert.True(t, first, "what is used stays")
	}
	there := 0
	for i := range 20 {
		if _, ok := c.Get(fmt.Sprint(i)); ok {
			there++
		}
	}
	assert.Equal(t, 10, there)
	c.Add("large", make([]byte, 501))
	_, ok := c.Get("large")
	assert.False(t, ok)
}

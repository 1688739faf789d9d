package confined_test

import (
	"context"
	"testing"
	"time"

	"raconte/engines/confined"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAProgramKeepsItsLimits(t *testing.T) {
	l := confined.Limits{Memory: 1 << 30, Longest: 5 * time.Second, Output: 100}
	out, said, err := confined.Run(t.Context(), l, "sh", "-c", "echo told >&2; echo made")
	require.NoError(t, err)
	assert.Equal(t, []string{"made\n", "told\n"}, []string{string(out), said})
	_, _, err = confined.Run(t.Context(), l, "sh", "-c", "yes | head -c 1000")
	assert.ErrorIs(t, err, confined.ErrTooMuch)
	_, _, err = confined.Run(t.Context(), l, "sh", "-c", `x=$(head -c 3000000000 /dev/zero | tr '\0' a); echo ${#x}`)
	assert.Error(t, err, "it may not have 3 GB")
	l.Longest = 300 * time.Millisecond
	began := time.Now()
	_, _, err = confined.Run(t.Context(), l, "sleep", "30")
	assert.Error(t, err)
	assert.Less(t, time.Since(began), 10*time.Second)
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	_, _, err = confined.Run(ctx, l, "true")
	assert.Error(t, err)
}

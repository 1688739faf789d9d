package demo_test

import (
	"bytes"
	"testing"

	"raconte/core/readiness"
	"raconte/demo"
	"raconte/intake"
	"raconte/output/bundle"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTheDemoIsWellMade(t *testing.T) {
	procedures := demo.Procedures()
	require.GreaterOrEqual(t, len(procedures), 3)
	blocked := 0
	for _, p := range procedures {
		data, err := p.Bundle()
		require.NoError(t, err)
		b, err := bundle.Open(bytes.NewReader(data), int64(len(data)))
		require.NoError(t, err, p.Document.Title)
		assert.True(t, len(b.Document.Steps) >= 5 && len(b.Document.Steps) <= 9, p.Document.Title)
		findings := readiness.Check(b.Document)
		if readiness.Blocks(findings) {
			blocked++
		}
		assert.Equal(t, p.Ready, len(findings) == 0, "%s: what is ready has nothing to settle", p.Document.Title)
		marksInFrame(t, b)
		again, err := p.Bundle()
		require.NoError(t, err)
		assert.True(t, bytes.Equal(data, again), "the demo is the same each time")
	}
	assert.Equal(t, 1, blocked, "one procedure shows what findings look like")
}

// marksInFrame checks that no mark points at something that its crop has cut away.
func marksInFrame(t *testing.T, b *bundle.Bundle) {
	for i, step := range b.Document.Steps {
		for _, f := range step.Figures {
			data, err := b.Shot(f.Shot)
			require.NoError(t, err)
			size, err := intake.Measure(data)
			require.NoError(t, err)
			for _, m := range f.Marks {
				for _, p := range m.Points {
					assert.True(t, f.Frame(size).Contains(p), "%s, step %d: a %s is outside its frame", b.Document.Title, i+1, m.Kind)
				}
			}
		}
	}
}

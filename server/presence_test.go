package server

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestAStepIsWrittenByOneUntilItIsTakenOver(t *testing.T) {
	p, now := newPresence(), time.Now()
	at := func(name, block string, writing bool) here {
		return here{account: name, name: name, at: block, writing: writing}
	}
	_, news, _ := p.put("d", "1", at("ines", "a", true), false, now)
	assert.True(t, news)
	_, news, _ = p.put("d", "1", at("ines", "a", true), false, now)
	assert.False(t, news, "it was said before")
	all, _, taken := p.put("d", "2", at("tomasz", "a", true), false, now)
	assert.Empty(t, taken)
	assert.False(t, all[1].Writing, "another writes it")
	assert.True(t, all[0].Writing)
	all, _, taken = p.put("d", "2", at("tomasz", "a", true), true, now)
	assert.Equal(t, "1", taken)
	assert.False(t, all[0].Writing)
	assert.True(t, all[1].Writing)
	all, _, _ = p.put("d", "1", at("ines", "b", true), false, now)
	assert.True(t, all[0].Writing && all[1].Writing, "two steps are written by two")
	all, news, _ = p.put("d", "2", at("tomasz", "a", true), false, now.Add(awayAfter+time.Second))
	assert.True(t, news)
	assert.Len(t, all, 1, "who says nothing any more is gone")
	assert.Empty(t, p.leave("d", "2"))
	assert.Empty(t, p.open, "nothing is kept of a document that nobody has open")
}

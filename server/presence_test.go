package server

import (
	"fmt"
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
	assert.Len(t, p.leave("d", "2", "ines"), 1, "nobody sends another away")
	all, _, _ = p.put("d", "2", at("ines", "a", true), true, now.Add(awayAfter+time.Second))
	assert.Equal(t, "tomasz", all[0].Account, "nor sits in their place")
	for i := range 600 {
		p.put("d", fmt.Sprint("many", i), at("ines", "", false), false, now.Add(awayAfter+time.Duration(i)*time.Millisecond))
	}
	all, _, _ = p.put("d", "3", at("adaeze", "", false), false, now.Add(awayAfter+2*time.Second))
	assert.Len(t, all, mostOfOne+2, "one person's pages hide nobody else")
	for _, here := range all {
		p.leave("d", here.Page, here.Account)
	}
	assert.Empty(t, p.open, "nothing is kept of a document that nobody has open")
}

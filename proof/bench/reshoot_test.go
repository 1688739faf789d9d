package main

import (
	"testing"

	"raconte/engines/fonts"

	"github.com/stretchr/testify/assert"
)

// Marks are found again by the looks of their targets: in a generated set, at least 95 of 100 rightly, and at most
// 2 of 100 where they are not.
func TestMarksAreFoundAgain(t *testing.T) {
	fonts.Register()
	var all tally
	for _, p := range pairs() {
		judge(p, &all)
	}
	for _, wrong := range all.wrong {
		t.Log(wrong)
	}
	t.Logf("%d of %d right, %d falsely, %d asked", all.right, all.marks, all.falsely, all.asked)
	assert.Greater(t, all.marks, 200)
	assert.GreaterOrEqual(t, 100*all.right, 95*all.marks)
	assert.LessOrEqual(t, 100*all.falsely, 2*all.marks)
}

package figure

import (
	"testing"

	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWhatIsWithheldOfAShotLiesUnderCoversInEveryFigureOfIt(t *testing.T) {
	area := Area{Rect: scene.Rect{X: 100.4, Y: 50, W: 20, H: 10}}
	require.NoError(t, area.Check())
	require.Error(t, Area{Rect: scene.Rect{X: 1, Y: 1}, During: &Span{From: 9, To: 3}}.Check())

	inset := mark(Inset, p(600, 100), p(900, 300))
	inset.Shot = "other"
	f := Figure{ID: "f", Shot: "s", Marks: []Mark{inset}}
	covered := f.Withholding(map[string][]Area{"s": {area}, "elsewhere": {area}}).Still(1)
	assert.Equal(t, []scene.Rect{{X: 100, Y: 50, W: 21, H: 10}}, covered.Hidden(), "whole pixels")
	assert.True(t, covered.Hides(scene.Rect{X: 118, Y: 58, W: 40, H: 40}))
	assert.False(t, covered.Hides(scene.Rect{X: 121, Y: 50, W: 40, H: 40}))
	assert.Len(t, f.Marks, 1, "the figure itself stays as it is")

	over := f.Withholding(map[string][]Area{"other": {area}}).Still(1)
	assert.True(t, over.Hides(scene.Rect{X: 700, Y: 200, W: 1, H: 1}), "of an inset nothing is shown where something of its shot is withheld")
}

func TestWhatIsWithheldOfARecordingGoesWithIt(t *testing.T) {
	moves := Area{Rect: scene.Rect{W: 10, H: 10}, During: &Span{From: 1000, To: 4000}, Path: []Place{{At: 1000}, {At: 2000, By: p(100, 0)}, {At: 4000, By: p(100, 300)}}}
	areas := map[string][]Area{"s": {moves}}
	clip := Figure{ID: "f", Shot: "s", Clip: &Clip{Ms: 10000}}.Withholding(areas)
	assert.Empty(t, clip.Shown(8000, 0, 1).Hidden(), "it is there for a while")
	at := clip.Shown(3000, 0, 1)
	assert.True(t, at.Hides(scene.Rect{X: 105, Y: 150, W: 1, H: 1}), "all the way between two known places")
	assert.False(t, at.Hides(scene.Rect{X: 5, Y: 5, W: 1, H: 1}), "but not where it was long before")

	still := Figure{ID: "f", Shot: "s"}.Withholding(areas).Still(1)
	for _, place := range []scene.Point{{X: 5, Y: 5}, {X: 105, Y: 5}, {X: 105, Y: 305}} {
		assert.True(t, still.Hides(scene.Rect{X: place.X, Y: place.Y, W: 1, H: 1}), "a still picture covers all places that it ever has: %v", place)
	}
}

func TestASuggestedLookLeavesWhatConcealsAlone(t *testing.T) {
	conceals := mark(Concealment, p(10, 10), p(50, 50))
	f := Figure{ID: "f", Shot: "s", Alt: "Before", Marks: []Mark{conceals, mark(Box, p(100, 100), p(200, 200))}}
	look := func(change func(*Figure)) Figure {
		to := f.Clone()
		change(&to)
		return to
	}
	better := look(func(to *Figure) { to.Marks[1].Points[1] = p(300, 300) })
	assert.NoError(t, f.CheckSuggested(better))
	for why, to := range map[string]Figure{
		"another look of the same picture": look(func(to *Figure) { to.Shot, to.Marks = "t", to.Marks[1:] }),
		"stay as they are":                 look(func(to *Figure) { to.Marks = to.Marks[1:] }),
		"what conceals":                    look(func(to *Figure) { to.Marks[0].Points[1] = p(20, 20) }),
		"sets no other pictures in":        look(func(to *Figure) { to.Marks = append(to.Marks, mark(Inset, p(1, 1), p(9, 9))) }),
		"is the one that stands there":     look(func(to *Figure) { to.Alt = "Said otherwise" }),
	} {
		assert.ErrorContains(t, f.CheckSuggested(to), why)
	}

	// What was concealed since the suggestion stays concealed, once.
	now := f.Clone()
	later := mark(Concealment, p(60, 60), p(90, 90))
	later.ID = "later"
	now.Marks, now.Alt = append(now.Marks, later), "Now"
	taken, same := now.Taking(better)
	require.True(t, same)
	assert.Equal(t, "Now", taken.Alt)
	ids := map[string]int{}
	for _, m := range taken.Marks {
		ids[m.ID]++
	}
	assert.Equal(t, map[string]int{conceals.ID: 1, "later": 1, string(Box): 1}, ids)
	assert.Equal(t, p(300, 300), taken.Marks[len(taken.Marks)-1].Points[1])
	now.Shot = "retaken"
	_, same = now.Taking(better)
	assert.False(t, same, "it has another picture by now")
}

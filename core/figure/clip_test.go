package figure_test

import (
	"testing"

	"raconte/core/figure"
	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWhatIsCutOutOfAClipStandsForItNowhere(t *testing.T) {
	c := figure.Clip{Ms: 10_000, Poster: 1000}
	assert.Equal(t, 1000, c.Stands())
	c = c.Without(figure.Span{From: 0, To: 2000}, figure.Span{From: 5000, To: 6000})
	assert.Equal(t, []figure.Stretch{{Span: figure.Span{From: 2000, To: 5000}}, {Span: figure.Span{From: 6000, To: 10_000}}}, c.Parts)
	assert.Equal(t, 2000, c.Stands(), "what was seen there is not shown")
	assert.Equal(t, 7000, c.Length())
	assert.Equal(t, 6500, c.At(3500))
	assert.Equal(t, c, c.Without(figure.Span{From: 0, To: 10_000}), "something is left")
}

func TestAMarkThatFollowsIsPutRightForAMoment(t *testing.T) {
	cover := figure.Mark{ID: "c", Kind: figure.Concealment, Points: []scene.Point{{X: 10, Y: 10}, {X: 30, Y: 20}}, Path: []figure.Place{{At: 0}, {At: 1000, By: scene.Point{X: 100}}}}
	later := figure.Mark{ID: "l", Kind: figure.Box, Points: []scene.Point{{X: 1, Y: 1}, {X: 2, Y: 2}}, During: &figure.Span{From: 5000, To: 6000}}
	f := figure.Figure{ID: "f", Shot: "s", Clip: &figure.Clip{Ms: 9000}, Marks: []figure.Mark{later, cover}}
	now := f.Moment(500)
	require.Len(t, now.Marks, 1)
	assert.Equal(t, scene.Point{X: 60, Y: 10}, now.Marks[0].Points[0], "evenly between")
	swept := f.Shown(500, 0, 1).Marks[0]
	assert.Equal(t, []scene.Point{{X: 10, Y: 10}, {X: 130, Y: 20}}, swept.Points, "and all of the way is covered")
	for i := range now.Marks[0].Points { // a person drags it 7 down
		now.Marks[0].Points[i].Y += 7
	}
	now.Marks = append(now.Marks, figure.Mark{ID: "n", Kind: figure.Marker, Points: []scene.Point{{X: 5, Y: 5}}})
	out := f.Edited(500, now)
	require.Len(t, out.Marks, 3)
	assert.Equal(t, "l", out.Marks[0].ID, "what is not there now stays, where it was")
	c := out.Marks[out.Find("c")]
	assert.Equal(t, cover.Points, c.Points)
	assert.Equal(t, []figure.Place{{At: 0}, {At: 500, By: scene.Point{X: 50, Y: 7}}, {At: 1000, By: scene.Point{X: 100}}}, c.Path)
	assert.Nil(t, out.Marks[out.Find("n")].During, "what is new is there the whole time")
	require.NoError(t, (figure.Figure{ID: "f", Shot: "s", Clip: out.Clip, Marks: []figure.Mark{}}).Check())
	for name, bad := range map[string]figure.Clip{
		"no length": {}, "parts that overlap": {Ms: 10, Parts: []figure.Stretch{{Span: figure.Span{From: 0, To: 6}}, {Span: figure.Span{From: 5, To: 9}}}},
		"too fast": {Ms: 10, Parts: []figure.Stretch{{Span: figure.Span{From: 0, To: 6}, Speed: 99}}}, "a freeze beyond it": {Ms: 10, Freezes: []figure.Freeze{{At: 11, For: 1}}},
	} {
		assert.Error(t, figure.Figure{ID: "f", Shot: "s", Clip: &bad}.Check(), name)
	}
}

package figure

import (
	"testing"

	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWhatMarksPointAtIsSeenFirst(t *testing.T) {
	size := Size{W: 1000, H: 500}
	f := Figure{Marks: []Mark{{ID: "a", Kind: Box, Points: []scene.Point{{X: 100, Y: 100}, {X: 300, Y: 200}}}}}
	seen := f.Seen(size)
	require.NotNil(t, seen.Area)
	assert.Equal(t, []float64{1000, 500}, []float64{seen.W, seen.H})
	assert.InDeltaSlice(t, []float64{0.02, 0.12, 0.36, 0.36}, []float64{seen.Area.X, seen.Area.Y, seen.Area.W, seen.Area.H}, 1e-9)
	f.Crop = &scene.Rect{X: 100, Y: 100, W: 400, H: 200}
	seen = f.Seen(size)
	assert.Equal(t, []float64{400, 200}, []float64{seen.W, seen.H})
	assert.InDelta(t, 0.58, seen.Area.W, 1e-9, "in shares of the crop")
	f.Marks[0].Kind = Concealment
	assert.Nil(t, f.Seen(size).Area, "a concealment points at nothing")
	assert.Nil(t, Figure{}.Seen(size).Area)
	assert.Nil(t, Figure{}.Seen(Size{}).Area)
	far := Figure{Marks: []Mark{{ID: "a", Kind: Arrow, Points: []scene.Point{{X: -5000, Y: -5000}, {X: 9000, Y: 9000}}}}}
	assert.Equal(t, scene.Rect{W: 1, H: 1}, *far.Seen(size).Area, "never more than the picture")
}

func TestEvenedCropsLieInTheShot(t *testing.T) {
	size := Size{W: 1000, H: 500}
	for name, c := range map[string]struct {
		figure Figure
		frame  Size
		want   scene.Rect
	}{
		"around its middle": {Figure{Crop: &scene.Rect{X: 100, Y: 100, W: 390, H: 210}}, Size{400, 200}, scene.Rect{X: 95, Y: 105, W: 400, H: 200}},
		"at the border":     {Figure{Crop: &scene.Rect{X: 610, Y: 310, W: 390, H: 190}}, Size{400, 200}, scene.Rect{X: 600, Y: 300, W: 400, H: 200}},
		"as the whole shot": {Figure{Crop: &scene.Rect{X: 10, Y: 10, W: 980, H: 480}}, size, scene.Rect{W: 1000, H: 500}},
		"a shot too small":  {Figure{}, Size{1010, 500}, scene.Rect{W: 1000, H: 500}},
		"a turned one":      {Figure{View: View{Quarter: 1}}, Size{400, 200}, scene.Rect{W: 500, H: 1000}},
	} {
		assert.Equal(t, c.want, c.figure.Evened(size, c.frame).Frame(size), name)
	}
}

func TestWhatIsCroppedFoldedOrCoveredIsNotShown(t *testing.T) {
	f := Figure{
		Crop:  &scene.Rect{X: 100, Y: 100, W: 600, H: 400},
		View:  View{Folds: []Fold{{From: 200, To: 300}}},
		Marks: []Mark{{Kind: Concealment, Points: []scene.Point{{X: 400, Y: 400}, {X: 500, Y: 450}}}},
	}
	at := func(x, y float64) bool {
		return f.Still(1).Shows(Size{W: 1000, H: 700}, scene.Rect{X: x, Y: y, W: 40, H: 20})
	}
	assert.True(t, at(150, 120))
	assert.False(t, at(20, 120), "cropped away")
	assert.False(t, at(150, 240), "folded away")
	assert.False(t, at(490, 420), "partly covered")
	assert.True(t, at(150, 420))
}

package scene

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func length(pts []Point) (l float64) {
	for i := 1; i < len(pts); i++ {
		l += pts[i].Minus(pts[i-1]).Length()
	}
	return l
}

func TestDashesFillALineFromEndToEnd(t *testing.T) {
	line := []Point{{0, 0}, {100, 0}, {100, 57}}
	dashes := Dashes(line, 10, 6, false)
	require.Greater(t, len(dashes), 5)
	assert.Equal(t, line[0], dashes[0][0])
	last := dashes[len(dashes)-1]
	assert.InDelta(t, 0, last[len(last)-1].Minus(line[2]).Length(), 0.5, "it ends with a dash")
	for _, d := range dashes[:len(dashes)-1] {
		assert.InDelta(t, 10, length(d), 0.01)
	}
	around := Dashes([]Point{{0, 0}, {50, 0}, {50, 50}, {0, 50}}, 9, 5, true)
	total := 0.0
	for _, d := range around {
		total += length(d)
	}
	assert.InDelta(t, 200*9.0/14, total, 6, "dashes and gaps in the proportion that was asked")
	assert.Len(t, Dashes([]Point{{0, 0}, {3, 0}}, 10, 6, false), 1, "a line shorter than a dash is one")
	assert.NotPanics(t, func() { Dashes(nil, 1, 1, false); Dashes([]Point{{1, 1}}, 1, 1, true) })
}

func TestSmoothGoesThroughItsPointsAndThinnedLeavesOutTheNeedless(t *testing.T) {
	pts := []Point{{0, 0}, {30, 20}, {60, -10}, {90, 0}}
	smooth := Smooth(pts)
	for _, p := range pts {
		assert.InDelta(t, 0, DistanceToLine(p, smooth), 1e-6)
	}
	var straight []Point
	for i := range 100 {
		straight = append(straight, Point{float64(i), 0.2 * math.Sin(float64(i))})
	}
	assert.Equal(t, []Point{straight[0], straight[99]}, Thinned(straight, 0.5))
	corner := []Point{{0, 0}, {50, 0}, {100, 0}, {100, 50}, {100, 100}}
	assert.Equal(t, []Point{{0, 0}, {100, 0}, {100, 100}}, Thinned(corner, 1))
}

func TestMatricesUndoThemselves(t *testing.T) {
	m := Stretch(2, Point{5, -3}).Then(Rotation(0.7)).Then(Matrix{A: -1, D: 1})
	for _, p := range []Point{{0, 0}, {10, 3}, {-7, 99}} {
		back := m.Inverse().Apply(m.Apply(p))
		assert.InDelta(t, p.X, back.X, 1e-9)
		assert.InDelta(t, p.Y, back.Y, 1e-9)
	}
	assert.InDelta(t, 1, Rotation(math.Pi/2).Apply(Point{1, 0}).Y, 1e-9, "clockwise on the screen")
	assert.Equal(t, Same, Matrix{}.Inverse())
}

func TestStrokesAndContours(t *testing.T) {
	for name, pts := range map[string][]Point{"none": nil, "one": {{5, 5}}, "twice the same": {{5, 5}, {5, 5}}, "back to its start": {{0, 0}, {9, 0}, {9, 9}, {0, 0}}} {
		for _, closed := range []bool{true, false} {
			for _, s := range Stroke(pts, 3, closed) {
				for _, p := range s.P {
					require.False(t, math.IsNaN(p.X) || math.IsNaN(p.Y), "%s, closed %v", name, closed)
				}
			}
		}
	}
	rings := Ring(Rounded(Rect{0, 0, 20, 20}, 4), Rounded(Rect{5, 5, 10, 10}, 2)).Contours()
	require.Len(t, rings, 2)
	for _, p := range rings[1] {
		assert.True(t, Rect{5, 5, 10, 10}.Grow(1e-9).Contains(p))
	}
	assert.Equal(t, Rect{-2, 1, 4, 4}, Rect{-1.5, 1.2, 3, 3.1}.Outward())
}

func TestTonesOfColours(t *testing.T) {
	c := Hex("#306090")
	grey := Tone{Look: Grey}.Apply(c)
	assert.True(t, grey.R == grey.G && grey.G == grey.B)
	assert.Equal(t, Hex("#000000"), Tone{Look: Mono}.Apply(c))
	assert.Equal(t, Hex("#ffffff"), Tone{Look: Mono}.Apply(Hex("#c0d0e0")))
	assert.Equal(t, Hex("#cf9f6f"), Tone{Look: Inverted}.Apply(c))
	assert.Equal(t, Hex("#ffffff"), Tone{Light: 100}.Apply(c))
	assert.Equal(t, Hex("#000000"), Tone{Light: -100}.Apply(c))
	assert.Equal(t, c, Tone{}.Apply(c))
}

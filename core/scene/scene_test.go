package scene

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestSceneSurvivesJSON(t *testing.T) {
	var s Scene
	s.Fill(append(Rounded(Rect{1, 2, 30, 40}, 5), Polygon(Point{0, 0}, Point{5, 0.25}, Point{-3, 4})...), Hex("#0b5f6680"))
	s.Say(Words{Face: "bold", Size: 9, X: 1.5, Baseline: 2, Width: 3, Text: "é & <b>", Fill: Hex("#16272d")})
	s.Fill(nil, Hex("#000000"))
	require.Len(t, s.Items, 2, "nothing is drawn for nothing")
	raw, err := json.Marshal(s)
	require.NoError(t, err)
	var back Scene
	require.NoError(t, json.Unmarshal(raw, &back))
	again, err := json.Marshal(back)
	require.NoError(t, err)
	assert.JSONEq(t, string(raw), string(again))
	assert.Equal(t, Color{0x0b, 0x5f, 0x66, 0x80}, back.Items[0].Path.Fill)
	for _, bad := range []string{`"M1"`, `"L1 2 3"`, `"M1 x"`, `7`} {
		assert.Error(t, json.Unmarshal([]byte(bad), new(Outline)), bad)
	}
}

func TestRectangles(t *testing.T) {
	a, b := Rect{0, 0, 10, 10}, Rect{5, 5, 10, 10}
	assert.Equal(t, Rect{5, 5, 5, 5}, a.Intersect(b))
	assert.True(t, a.Intersect(Rect{20, 20, 5, 5}).Empty())
	assert.Equal(t, Rect{0, 0, 15, 15}, a.Union(b))
	assert.Equal(t, a, a.Union(Rect{}))
	assert.Equal(t, Rect{2, 3, 4, 5}, Between(Point{6, 3}, Point{2, 8}))
	assert.InDelta(t, 5, DistanceToSegment(Point{5, 5}, Point{0, 0}, Point{10, 0}), 1e-9)
	assert.InDelta(t, 5, DistanceToSegment(Point{13, 4}, Point{0, 0}, Point{10, 0}), 1e-9)
	assert.Equal(t, Rect{-2, -2, 14, 14}, Frame(a, 3, 4).Bounds())
	assert.Equal(t, Rect{-2, -2, 14, 4}, Stroke([]Point{{0, 0}, {10, 0}}, 4, false).Bounds())
}

func TestContrastIsThatOfWCAG(t *testing.T) {
	assert.InDelta(t, 21, Contrast(Hex("#ffffff"), Hex("#000000")), 0.01)
	assert.InDelta(t, 4.48, Contrast(Hex("#777777"), Hex("#ffffff")), 0.01)
}

func FuzzOutline(f *testing.F) {
	f.Add([]byte(`"M0 0 L1 1 Q2 2 3 3 C1 2 3 4 5 6 Z"`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		var o Outline
		if json.Unmarshal(raw, &o) != nil {
			return
		}
		again, err := json.Marshal(o)
		require.NoError(t, err)
		var p Outline
		require.NoError(t, json.Unmarshal(again, &p), "what is written can be read")
	})
}

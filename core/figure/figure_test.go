package figure

import (
	"math"
	"testing"

	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func p(x, y float64) scene.Point { return scene.Point{X: x, Y: y} }

func mark(kind Kind, pts ...scene.Point) Mark {
	return Mark{ID: string(kind), Kind: kind, Points: pts, Ink: "red", Weight: Medium, Text: "Words"}
}

var shot = Size{W: 1600, H: 900}

func one(kind Kind) Mark {
	if kind == Marker {
		return mark(kind, p(300, 200))
	}
	return mark(kind, p(300, 200), p(600, 400))
}

func TestNumbersFollowTurnNotPaintingOrder(t *testing.T) {
	marker := func(id string, turn int) Mark {
		return Mark{ID: id, Kind: Marker, Points: []scene.Point{{}}, Turn: turn}
	}
	f := Figure{ID: "f", Marks: []Mark{marker("b", 2), mark(Box, p(0, 0), p(1, 1)), marker("a", 1), marker("c", 3)}}
	assert.Equal(t, map[string]int{"a": 4, "b": 5, "c": 6}, f.Numbers(4))
	g := Figure{ID: "g", Marks: []Mark{marker("d", 1)}}
	assert.Equal(t, 4, Numbers([]Figure{f, g})["d"], "markers count on from one picture of a step to the next")
	f.Marks = f.Marks[1:]
	assert.Equal(t, map[string]int{"a": 1, "c": 2}, f.Numbers(1), "and close the gap of a deleted one")
	assert.Equal(t, scene.Hex("#c62828"), Tags([]Figure{f})["a"].Ink)
}

func TestFrameStaysInTheShot(t *testing.T) {
	whole := scene.Rect{W: 1600, H: 900}
	for name, c := range map[string]struct{ crop, want scene.Rect }{
		"inside":               {scene.Rect{X: 10.4, Y: 20.6, W: 100, H: 50}, scene.Rect{X: 10, Y: 21, W: 100, H: 50}},
		"over the edge":        {scene.Rect{X: -50, Y: 800, W: 100, H: 500}, scene.Rect{X: 0, Y: 800, W: 50, H: 100}},
		"outside":              {scene.Rect{X: 5000, Y: 0, W: 10, H: 10}, whole},
		"larger than the shot": {scene.Rect{X: -1, Y: -1, W: 9999, H: 9999}, whole},
	} {
		crop := c.crop
		assert.Equal(t, c.want, Figure{Crop: &crop}.Frame(shot), name)
	}
	assert.Equal(t, whole, Figure{}.Frame(shot))
}

func TestEveryKindIsDrawnWhereItIs(t *testing.T) {
	for _, kind := range Kinds {
		t.Run(string(kind), func(t *testing.T) {
			var l Layouter
			f := Figure{ID: "f", Marks: []Mark{one(kind)}}
			piece := l.Layout(f, shot, 1)[0]
			require.NotEmpty(t, piece.Items)
			assert.True(t, piece.Bounds.Contains(p(300, 200)) || piece.Bounds.Grow(8).Contains(p(300, 200)))
			moved := Figure{ID: "f", Marks: []Mark{one(kind).MovedBy(p(50, 30))}}
			after := l.Layout(moved, shot, 1)[0]
			assert.InDelta(t, piece.Bounds.X+50, after.Bounds.X, 1e-6)
			assert.InDelta(t, piece.Bounds.H, after.Bounds.H, 1e-6)
			assert.NotEqual(t, piece.Key, after.Key)

			s := Figure{ID: "f", Shot: "s", Crop: &scene.Rect{X: 200, Y: 100, W: 900, H: 600}, Marks: []Mark{one(kind)}}.Scene(shot, 1)
			assert.Equal(t, scene.Rect{X: 200, Y: 100, W: 900, H: 600}, s.Items[0].Picture.Source)
			assert.InDelta(t, 300-200, s.Items[1].Path.Outline.Bounds().X, 25, "marks stay on their target when the crop changes")
		})
	}
}

func TestLayouterLaysOutOnlyWhatChanged(t *testing.T) {
	var l Layouter
	f := Figure{ID: "f", Marks: []Mark{one(Arrow), one(Text), one(Marker)}}
	before := l.Layout(f, shot, 1)
	g := f.Clone()
	g.Marks[0].Points[1] = p(900, 800)
	after := l.Layout(g, shot, 1)
	assert.NotEqual(t, before[0].Key, after[0].Key)
	for i := 1; i < 3; i++ {
		assert.Same(t, before[i].Items[0].Path, after[i].Items[0].Path)
	}
	assert.Equal(t, p(600, 400), f.Marks[0].Points[1], "a clone shares nothing")
}

func TestGripsReshape(t *testing.T) {
	for name, c := range map[string]struct {
		mark   Mark
		grip   string
		to     scene.Point
		steady bool
		want   []scene.Point
	}{
		"tip":                        {one(Arrow), "tip", p(10, 20), false, []scene.Point{p(300, 200), p(10, 20)}},
		"tail":                       {one(Arrow), "tail", p(10, 20), false, []scene.Point{p(10, 20), p(600, 400)}},
		"steady tip is level":        {one(Arrow), "tip", p(700, 210), true, []scene.Point{p(300, 200), p(300+math.Hypot(400, 10), 200)}},
		"a side moves one edge":      {one(Box), "e", p(700, 999), false, []scene.Point{p(300, 200), p(700, 400)}},
		"a corner moves two":         {one(Box), "nw", p(310, 190), false, []scene.Point{p(310, 190), p(600, 400)}},
		"past the other side, turns": {one(Box), "w", p(650, 0), false, []scene.Point{p(600, 200), p(650, 400)}},
		"text is made narrower":      {one(Text), "e", p(500, 0), false, []scene.Point{p(300, 200), p(500, 400)}},
		"but never too narrow":       {one(Text), "e", p(0, 0), false, []scene.Point{p(300, 200), p(340, 400)}},
	} {
		got := c.mark.Reshaped(c.grip, c.to, c.steady)
		for i := range c.want {
			assert.InDelta(t, c.want[i].X, got.Points[i].X, 1e-6, name)
			assert.InDelta(t, c.want[i].Y, got.Points[i].Y, 1e-6, name)
		}
	}
	assert.Empty(t, one(Marker).Grips(1))
	assert.Len(t, one(Box).Grips(1), 8)
}

func TestHits(t *testing.T) {
	var l Layouter
	for name, c := range map[string]struct {
		kind Kind
		at   scene.Point
		want bool
	}{
		"on the shaft":         {Arrow, p(450, 300), true},
		"beside the shaft":     {Arrow, p(450, 340), false},
		"on a box's line":      {Box, p(300, 300), true},
		"inside a box is free": {Box, p(450, 300), false},
		"on a text's plate":    {Text, p(400, 215), true},
		"on a marker":          {Marker, p(305, 205), true},
		"off a marker":         {Marker, p(360, 200), false},
	} {
		f := Figure{Marks: []Mark{one(c.kind)}}
		piece := l.Layout(f, shot, 1)[0]
		assert.Equal(t, c.want, f.Marks[0].Hits(c.at, Unit(f.Frame(shot)), 6, piece.Bounds), name)
	}
}

func TestCheckRefuses(t *testing.T) {
	good := func() Figure { return Figure{ID: "f", Shot: "s", Marks: []Mark{one(Box), one(Arrow)}} }
	require.NoError(t, good().Check())
	for name, spoil := range map[string]func(f *Figure){
		"unknown kind":    func(f *Figure) { f.Marks[0].Kind = "star" },
		"point missing":   func(f *Figure) { f.Marks[0].Points = f.Marks[0].Points[:1] },
		"no number":       func(f *Figure) { f.Marks[0].Points[0].X = math.NaN() },
		"infinitely far":  func(f *Figure) { f.Marks[0].Points[0].X = math.Inf(1) },
		"two of one id":   func(f *Figure) { f.Marks[1].ID = f.Marks[0].ID },
		"too many marks":  func(f *Figure) { f.Marks = make([]Mark, MostMarks+1) },
		"crop of no size": func(f *Figure) { f.Crop = &scene.Rect{W: 0, H: 5} },
		"no shot":         func(f *Figure) { f.Shot = "" },
	} {
		f := good()
		spoil(&f)
		assert.Error(t, f.Check(), name)
	}
}

func TestWordsOnAnInkAreLegible(t *testing.T) {
	for _, ink := range Inks {
		assert.GreaterOrEqual(t, scene.Contrast(ink.Color, OnInk(ink.Color)), 4.5, ink.Name)
	}
}

package stage

import (
	"testing"

	"raconte/core/figure"
	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func arrow(id string, x0, y0, x1, y1 float64) figure.Mark {
	m := box(id, x0, y0, x1, y1)
	m.Kind = figure.Arrow
	return m
}

func points(v View, i int) (out []float64) {
	for _, p := range v.Figure.Marks[i].Points {
		out = append(out, p.X, p.Y)
	}
	return out
}

func TestMarksComeInLineWithEachOtherAndOneWithThePicture(t *testing.T) {
	for to, want := range map[string][2][]float64{
		"left":   {{100, 100, 200, 200}, {100, 300, 400, 340}},
		"center": {{300, 100, 400, 200}, {200, 300, 500, 340}},
		"right":  {{500, 100, 600, 200}, {300, 300, 600, 340}},
		"top":    {{100, 100, 200, 200}, {300, 100, 600, 140}},
		"middle": {{100, 170, 200, 270}, {300, 200, 600, 240}},
		"bottom": {{100, 240, 200, 340}, {300, 300, 600, 340}},
	} {
		s := open(box("a", 100, 100, 200, 200), box("b", 300, 300, 600, 340))
		s.SelectAll()
		v := s.Align(to)
		assert.InDeltaSlice(t, want[0], points(v, 0), 1e-6, to)
		assert.InDeltaSlice(t, want[1], points(v, 1), 1e-6, to)
	}
	s := open(box("a", 100, 100, 200, 200))
	s.Select("a", false)
	assert.InDeltaSlice(t, []float64{1500, 100, 1600, 200}, points(s.Align("right"), 0), 1e-6, "alone, to the picture")
	assert.Nil(t, s.Align("sideways").Figure, "what is no way changes nothing")

	locked := box("b", 300, 300, 600, 340)
	locked.Locked = true
	s = open(box("a", 100, 100, 200, 200), locked)
	s.SelectAll()
	assert.InDeltaSlice(t, []float64{300, 300, 600, 340}, points(s.Align("left"), 1), 1e-6, "a locked mark stays")
}

func TestGapsAreMadeEvenDownToo(t *testing.T) {
	s := open(box("a", 0, 0, 50, 100), box("c", 0, 700, 50, 800), box("b", 0, 110, 50, 210))
	s.SelectAll()
	v := s.Distribute(true)
	assert.InDeltaSlice(t, []float64{0, 350, 50, 450}, points(v, 2), 1e-6)
	assert.InDeltaSlice(t, []float64{0, 700, 50, 800}, points(v, 1), 1e-6, "the outermost stay")
	s = open(box("a", 0, 0, 50, 100), box("b", 0, 110, 50, 210))
	s.SelectAll()
	assert.Nil(t, s.Distribute(true).Figure, "two have one gap only")
}

func TestAMarkIsPlacedByNumbersOfTheFinishedPicture(t *testing.T) {
	s := open(box("a", 100, 100, 200, 200), arrow("b", 10, 10, 110, 60))
	s.fig.Crop = &scene.Rect{X: 50, Y: 20, W: 800, H: 500}
	s.Open(s.fig, s.shot, 1)
	s.Select("a", false)
	v := s.Position(scene.Rect{X: 30, Y: 40, W: 300, H: 0.5})
	assert.InDeltaSlice(t, []float64{80, 60, 380, 62}, points(v, 0), 1e-6, "from the crop's corner, and never without height")
	s.Select("b", false)
	v = s.Position(scene.Rect{X: 100, Y: 100})
	assert.InDelta(t, 100, v.Figure.Marks[1].Points[1].X-v.Figure.Marks[1].Points[0].X, 1e-6, "an arrow is moved, not stretched")
}

func TestGripsReshapeWhatIsChosen(t *testing.T) {
	s := open(box("a", 400, 300, 600, 400), arrow("b", 900, 600, 1100, 700))
	s.Select("a", false)
	steady := at(660, 900)
	steady.Shift = true
	s.Down(at(600, 400))
	s.Move(steady)
	v := s.Up(steady)
	w, h := points(v, 0)[2]-points(v, 0)[0], points(v, 0)[3]-points(v, 0)[1]
	assert.InDelta(t, w, h, 1e-6, "Shift makes it square")
	assert.InDeltaSlice(t, []float64{400, 300}, points(v, 0)[:2], 1e-6, "the corner across stays")

	s.Select("b", false)
	s.Down(at(1100, 700))
	s.Move(at(1100, 650))
	v = s.Up(at(1100, 650))
	assert.InDeltaSlice(t, []float64{900, 600, 1100, 650}, points(v, 1)[:4], 1e-6, "the tip alone")
	assert.Equal(t, "crosshair", s.Cursor(at(1100, 650)))
	assert.Equal(t, "move", s.Cursor(at(1000, 625)))
	assert.Equal(t, "default", s.Cursor(at(50, 850)))
	s.Choose(figure.Box, false)
	assert.Equal(t, "crosshair", s.Cursor(at(50, 850)))
}

func TestArrowKeysMoveAndReshape(t *testing.T) {
	s := open(box("a", 400, 300, 600, 400), arrow("b", 900, 600, 1100, 700))
	s.Select("a", false)
	assert.InDeltaSlice(t, []float64{410, 301, 610, 401}, points(s.Nudge(scene.Point{X: 10, Y: 1}, false), 0), 1e-6)
	assert.InDeltaSlice(t, []float64{410, 301, 615, 401}, points(s.Nudge(scene.Point{X: 5}, true), 0), 1e-6)
	s.Select("b", false)
	assert.InDeltaSlice(t, []float64{900, 600, 1100, 710}, points(s.Nudge(scene.Point{Y: 10}, true), 1), 1e-6, "the tip")
	s.Choose(Crop, false)
	before := s.Redraw().Crop
	require.NotNil(t, before)
	s.Nudge(scene.Point{X: -100, Y: -100}, true)
	v := s.Nudge(scene.Point{X: 5000, Y: 30}, false)
	assert.Equal(t, scene.Rect{X: 100, Y: 30, W: 1500, H: 800}, *v.Crop, "the frame of a crop stays in the picture")
}

func TestAnElementIsBoxedInTheStyleThatBoxesHave(t *testing.T) {
	s := open(box("a", 100, 100, 200, 200))
	s.Select("a", false)
	patch(t, s, `{"weight":"strong","fill":"tint"}`)
	v := s.Put(figure.Mark{Kind: figure.Box, Points: []scene.Point{{X: 10, Y: 20}, {X: 60, Y: 50}}})
	require.Len(t, v.Figure.Marks, 2)
	assert.Equal(t, figure.Strong, v.Figure.Marks[1].Weight)
	assert.Equal(t, []float64{10, 20, 60, 50}, points(v, 1))
	assert.Equal(t, []string{"new1"}, v.Chosen)
	v = s.Delete()
	assert.Len(t, v.Figure.Marks, 1)
	assert.Empty(t, v.Chosen)
}

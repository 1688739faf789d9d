package stage

import (
	"fmt"
	"testing"

	"raconte/core/figure"
	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func open(marks ...figure.Mark) *Stage {
	n := 0
	s := &Stage{NewID: func() string { n++; return fmt.Sprint("new", n) }}
	s.Open(figure.Figure{ID: "f", Shot: "s", Marks: marks}, figure.Size{W: 1600, H: 900}, 1)
	return s
}

func at(x, y float64) Pointer { return Pointer{At: scene.Point{X: x, Y: y}, Scale: 0.65} }

func (s *Stage) drawn(from, to Pointer) View {
	s.Down(from)
	s.Move(to)
	return s.Up(to)
}

func box(id string, x0, y0, x1, y1 float64) figure.Mark {
	return figure.Mark{ID: id, Kind: figure.Box, Ink: "red", Weight: figure.Medium, Points: []scene.Point{{X: x0, Y: y0}, {X: x1, Y: y1}}}
}

func TestDrawingFallsBackToSelectingUnlessKept(t *testing.T) {
	s := open()
	s.Choose(figure.Box, false)
	v := s.drawn(at(100, 100), at(300, 200))
	require.NotNil(t, v.Figure)
	assert.Len(t, v.Figure.Marks, 1)
	assert.Empty(t, v.Tool)
	assert.Equal(t, "new1", v.Selected.ID)
	s.Choose(figure.Marker, true)
	s.drawn(at(500, 500), at(500, 500))
	v = s.drawn(at(600, 500), at(600, 500))
	assert.Equal(t, figure.Marker, v.Tool)
	assert.Equal(t, []string{"Marker 2", "Marker 1", "Box"}, names(v))
	v = s.Choose(figure.Marker, true)
	assert.Empty(t, v.Tool, "choosing the same again puts it away")
}

func names(v View) (out []string) {
	for _, e := range v.List {
		out = append(out, e.Name)
	}
	return out
}

func TestAPressWithoutADragDrawsNothing(t *testing.T) {
	s := open()
	s.Choose(figure.Arrow, false)
	v := s.drawn(at(100, 100), at(101, 100))
	assert.Nil(t, v.Figure)
	assert.Empty(t, v.Order)
}

func TestADragReportsOneChangedShapeAndTheFigureOnlyAtItsEnd(t *testing.T) {
	s := open(box("a", 100, 100, 300, 300), box("b", 600, 100, 800, 300))
	s.Redraw()
	s.Down(at(100, 200))
	v := s.Move(at(160, 220))
	assert.Nil(t, v.Figure)
	require.Len(t, v.Shapes, 1)
	assert.Equal(t, "a", v.Shapes[0].Mark)
	v = s.Up(at(160, 220))
	require.NotNil(t, v.Figure)
	assert.Equal(t, scene.Point{X: 160, Y: 120}, v.Figure.Marks[0].Points[0])
	assert.Nil(t, s.Select("b").Figure, "a change is reported once")
}

func TestEscapeGivesUpStepByStep(t *testing.T) {
	s := open(box("a", 100, 100, 300, 300))
	s.Down(at(100, 200))
	s.Move(at(500, 500))
	v := s.Cancel()
	assert.Nil(t, v.Figure)
	assert.Equal(t, "a", v.Selected.ID)
	assert.Equal(t, 100.0, v.Selected.Points[0].X, "the drag is undone")
	assert.Nil(t, s.Cancel().Selected)
}

func TestATextWithoutWordsIsNotKept(t *testing.T) {
	s := open()
	s.Choose(figure.Text, false)
	v := s.drawn(at(100, 100), at(400, 100))
	assert.True(t, v.Typing)
	assert.Nil(t, v.Figure, "nothing to keep yet")
	v = s.Cancel()
	assert.Empty(t, v.Order)
	s.Choose(figure.Text, false)
	s.drawn(at(100, 100), at(400, 100))
	v = s.SetText("Wait")
	assert.Equal(t, "Wait", v.Figure.Marks[0].Text)
	assert.Equal(t, []string{"Text, Wait"}, names(s.Cancel()))
}

func TestManners(t *testing.T) {
	s := open(box("a", 100, 100, 300, 300))
	s.Select("a")
	s.SetInk("blue")
	s.SetWeight(figure.Strong)
	s.Choose(figure.Box, false)
	v := s.drawn(at(500, 500), at(700, 700))
	assert.Equal(t, []any{"blue", figure.Strong}, []any{v.Selected.Ink, v.Selected.Weight}, "the next box is like the last")
	s.Choose(figure.Arrow, false)
	v = s.drawn(at(500, 100), at(700, 300))
	assert.Equal(t, "red", v.Selected.Ink, "an arrow is not")
}

func TestRaisingDoesNotRenumber(t *testing.T) {
	s := open()
	s.Choose(figure.Marker, true)
	s.drawn(at(100, 100), at(100, 100))
	s.drawn(at(200, 100), at(200, 100))
	s.Select("new1")
	v := s.Raise(1)
	assert.Equal(t, []string{"new2", "new1"}, v.Order)
	assert.Equal(t, []string{"Marker 1", "Marker 2"}, names(v))
	assert.Nil(t, s.Raise(1).Figure, "there is nothing in front of it")
}

func TestPasteFindsAFreePlaceInTheFrame(t *testing.T) {
	a := box("a", 100, 100, 300, 300)
	s := open(a)
	v := s.Paste(a)
	assert.NotEqual(t, a.Points[0], v.Selected.Points[0])
	assert.NotEqual(t, "a", v.Selected.ID)
	v = s.Paste(box("far", 5000, 5000, 5100, 5100))
	assert.Equal(t, scene.Point{X: 800, Y: 450}, v.Selected.Points[0])
}

func TestCropByDragKeysAndBack(t *testing.T) {
	s := open()
	s.Choose(Crop, false)
	v := s.drawn(at(1600, 900), at(800, 450))
	assert.Equal(t, scene.Rect{W: 800, H: 450}, *v.Crop)
	v = s.Nudge(scene.Point{X: 5000}, false)
	assert.Equal(t, scene.Rect{X: 800, W: 800, H: 450}, *v.Crop, "clamped to the shot")
	v = s.ApplyCrop()
	assert.Equal(t, scene.Rect{X: 800, W: 800, H: 450}, v.Frame)
	require.NotNil(t, v.Figure.Crop)
	v = s.WholeShot()
	assert.Nil(t, v.Figure.Crop)
	s.Choose(Crop, false)
	assert.Nil(t, s.ApplyCrop().Figure.Crop, "a crop of everything is none")
}

func TestWithoutAPointer(t *testing.T) {
	for _, kind := range figure.Kinds {
		s := open()
		s.Choose(kind, false)
		v := s.Place()
		require.NotNil(t, v.Selected, kind)
		before := v.Selected.Points[0]
		v = s.Nudge(scene.Point{X: 3, Y: -2}, false)
		assert.Equal(t, before.Plus(scene.Point{X: 3, Y: -2}), v.Selected.Points[0], kind)
		assert.Empty(t, s.Delete().Order)
	}
}

func TestCursorTellsWhatAPressWouldDo(t *testing.T) {
	s := open(box("a", 100, 100, 300, 300))
	assert.Equal(t, "default", s.Cursor(at(800, 800)))
	assert.Equal(t, "move", s.Cursor(at(100, 160)))
	s.Select("a")
	assert.Equal(t, "nwse-resize", s.Cursor(at(300, 300)))
	s.Choose(figure.Arrow, false)
	assert.Equal(t, "crosshair", s.Cursor(at(100, 160)))
}

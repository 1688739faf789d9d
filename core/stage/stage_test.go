package stage

import (
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"math"
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
	return figure.Mark{ID: id, Kind: figure.Box, Style: figure.Style{Ink: "red", Weight: figure.Medium}, Points: []scene.Point{{X: x0, Y: y0}, {X: x1, Y: y1}}}
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
	assert.Equal(t, []string{"Marker 2", "Marker 1", "Box"}, listed(s))
	v = s.Choose(figure.Marker, true)
	assert.Empty(t, v.Tool, "choosing the same again puts it away")
}

// listed are the names of the marks, the topmost first.
func listed(s *Stage) (out []string) {
	for _, e := range s.Redraw().List {
		out = append(out, e.Name)
	}
	return out
}

func TestAPressWithoutADragDrawsNothing(t *testing.T) {
	s := open()
	s.Choose(figure.Arrow, false)
	v := s.drawn(at(100, 100), at(101, 100))
	assert.Nil(t, v.Figure)
	assert.Empty(t, v.List)
	assert.Empty(t, s.fig.Marks)
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
	assert.Nil(t, s.Select("b", false).Figure, "a change is reported once")
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
	s.Cancel()
	assert.Empty(t, listed(s))
	s.Choose(figure.Text, false)
	s.drawn(at(100, 100), at(400, 100))
	v = s.SetText("Wait")
	assert.Equal(t, "Wait", v.Figure.Marks[0].Text)
	assert.Equal(t, []string{"Text, Wait"}, listed(s))
}

func TestManners(t *testing.T) {
	s := open(box("a", 100, 100, 300, 300))
	s.Select("a", false)
	patch(t, s, `{"ink":"blue"}`)
	patch(t, s, `{"weight":"strong"}`)
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
	s.Select("new1", false)
	v := s.Raise(1)
	assert.Equal(t, []string{"#ground", "#edge", "new2", "new1"}, v.Order)
	assert.Equal(t, []string{"Marker 1", "Marker 2"}, listed(s))
	assert.Nil(t, s.Raise(1).Figure, "there is nothing in front of it")
}

func TestPasteFindsAFreePlaceInTheFrame(t *testing.T) {
	a := box("a", 100, 100, 300, 300)
	s := open(a)
	v := s.Paste([]figure.Mark{a})
	assert.NotEqual(t, a.Points[0], v.Selected.Points[0])
	assert.NotEqual(t, "a", v.Selected.ID)
	v = s.Paste([]figure.Mark{box("far", 5000, 5000, 5100, 5100)})
	assert.Equal(t, scene.Point{X: 750, Y: 400}, v.Selected.Points[0], "what lies outside comes into the middle")
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

func TestAPictureTakesAsManyMarksAsItCanHave(t *testing.T) {
	var marks []figure.Mark
	for i := range figure.MostMarks - 1 {
		marks = append(marks, box(fmt.Sprint("m", i), 100, 100, 200, 200))
	}
	s := open(marks...)
	s.Choose(figure.Box, true)
	for range 2 {
		s.Down(at(300, 300))
		s.Move(at(400, 400))
		s.Up(at(400, 400))
		s.Place()
	}
	v := s.Redraw()
	assert.Len(t, v.List, figure.MostMarks)
	assert.True(t, v.Full)
}

func TestAMarkThatWasLostIsFoundOnceItIsMovedByKey(t *testing.T) {
	lost := box("a", 100, 100, 200, 200)
	lost.Lost = true
	s := open(lost)
	s.Select("a", false)
	assert.False(t, s.Nudge(scene.Point{X: 5}, false).Figure.Marks[0].Lost)
}

func TestWithoutAPointer(t *testing.T) {
	for _, kind := range figure.Kinds {
		if kind == figure.Inset {
			continue // it is chosen from a list
		}
		s := open()
		s.Choose(kind, false)
		v := s.Place()
		require.NotNil(t, v.Selected, kind)
		before := *v.Area
		v = s.Nudge(scene.Point{X: 3, Y: -2}, false)
		assert.InDelta(t, before.X+3, v.Area.X, 1e-6, kind)
		assert.InDelta(t, before.Y-2, v.Area.Y, 1e-6, kind)
		assert.Empty(t, s.Delete().List)
	}
}

func TestCursorTellsWhatAPressWouldDo(t *testing.T) {
	s := open(box("a", 100, 100, 300, 300))
	assert.Equal(t, "default", s.Cursor(at(800, 800)))
	assert.Equal(t, "move", s.Cursor(at(100, 150)))
	s.Select("a", false)
	assert.Equal(t, "nwse-resize", s.Cursor(at(300, 300)))
	s.Choose(figure.Arrow, false)
	assert.Equal(t, "crosshair", s.Cursor(at(100, 160)))
}

func patch(t *testing.T, s *Stage, change string) View {
	v, err := s.Patch([]byte(change))
	require.NoError(t, err)
	return v
}

func mustLook(t *testing.T, s *Stage, change string) View {
	v, err := s.Look([]byte(change))
	require.NoError(t, err)
	return v
}

func TestMarksStayOnTheirTargetsHoweverThePictureIsShown(t *testing.T) {
	arrow := figure.Mark{ID: "arrow", Kind: figure.Arrow, Points: []scene.Point{{X: 900, Y: 700}, {X: 1000, Y: 600}}}
	s := open(box("a", 100, 100, 300, 200), arrow)
	v := mustLook(t, s, `{"turn":1}`)
	assert.Equal(t, []scene.Point{{X: 100, Y: 100}, {X: 300, Y: 200}}, v.Figure.Marks[0].Points, "kept in places of the shot")
	assert.Equal(t, scene.Rect{W: 900, H: 1600}, v.Frame)
	// Dragged on the turned picture, it moves as it is seen.
	s.Down(at(700, 150))
	s.Move(at(700, 350))
	v = s.Up(at(700, 350))
	assert.InDelta(t, 300, v.Figure.Marks[0].Points[0].X, 1e-6)
	assert.InDelta(t, 100, v.Figure.Marks[0].Points[0].Y, 1e-6)
	assert.Equal(t, arrow.Points, v.Figure.Marks[1].Points, "what was not touched comes back to the last digit")
	mustLook(t, s, `{"tilt":3,"margin":{"top":0,"right":200,"bottom":0,"left":0},"edge":{"look":"hairline"}}`)
	v = s.WholeShot()
	assert.Equal(t, figure.View{}, v.Figure.View)
	assert.Len(t, v.Figure.Marks, 2)
	recolours := mustLook(t, s, `{"recolours":[{"from":"#112233","near":8,"to":"#445566"}]}`).Figure.Recolours
	require.Len(t, recolours, 1)
	recolours = mustLook(t, s, `{"recolours":[{"from":"#112233"}]}`).Figure.Recolours
	assert.Equal(t, []scene.Recolour{{From: "#112233"}}, recolours, "what is left out is gone")
	mustLook(t, s, `{"recolours":[]}`)
	_, err := s.Look([]byte(`{"tilt":90}`))
	assert.Error(t, err)
}

func TestAFoldIsDraggedAndTakenBack(t *testing.T) {
	s := open(box("a", 100, 700, 300, 800))
	s.Choose(Fold, false)
	v := s.drawn(at(500, 300), at(520, 500))
	require.Len(t, v.Figure.Folds, 1)
	assert.Equal(t, figure.Fold{From: 300, To: 500}, v.Figure.Folds[0])
	assert.Less(t, v.Frame.H, 730.0)
	assert.Equal(t, 700.0, v.Figure.Marks[0].Points[0].Y)
	assert.Empty(t, mustLook(t, s, `{"unfold":true}`).Figure.Folds)
}

func TestACutoutKeepsTheShapeThatWasDrawn(t *testing.T) {
	s := open()
	s.Choose(Cutout, false)
	s.Down(at(100, 100))
	for _, p := range []Pointer{at(400, 120), at(420, 400), at(120, 380)} {
		s.Move(p)
	}
	v := s.Up(at(100, 100))
	assert.GreaterOrEqual(t, len(v.Figure.Outline), 4)
	assert.Equal(t, scene.Rect{X: 100, Y: 100, W: 320, H: 300}, *v.Figure.Crop)
}

func TestAPictureIsCroppedByOneDragWithStraightEdges(t *testing.T) {
	s := open()
	s.Choose(Crop, false)
	s.Down(at(200, 100))
	s.Move(at(600, 400))
	v := s.Up(at(600, 400))
	require.NotNil(t, v.Figure)
	assert.Equal(t, &scene.Rect{X: 200, Y: 100, W: 400, H: 300}, v.Figure.Crop)
	assert.Empty(t, v.Figure.Edge.Open, "nothing is nibbled off unless it is asked for")
	assert.Empty(t, v.Tool)
	s.Choose(Crop, false)
	s.Down(at(300, 200))
	v = s.Up(at(300, 200))
	assert.Nil(t, v.Figure, "a press changes nothing")
}

func TestACropOfExactSizeAndRatio(t *testing.T) {
	s := open()
	s.Choose(Crop, false)
	v := s.SetCrop(scene.Rect{X: 100, Y: 100, W: 800, H: 9}, 16.0/9)
	assert.InDelta(t, 450, v.Crop.H, 1e-6)
	v = s.drawn(at(100, 100), at(150, 150))
	assert.InDelta(t, 16.0/9, v.Crop.W/v.Crop.H, 1e-6, "the ratio holds while a corner is dragged")
	v = s.SetCrop(scene.Rect{X: 1500, Y: 800, W: 5000, H: 100}, 0)
	assert.Equal(t, scene.Rect{X: 0, Y: 800, W: 1600, H: 100}, *v.Crop, "clamped to the picture")
}

func TestSeveralMarksAtOnce(t *testing.T) {
	s := open(box("a", 100, 100, 200, 200), box("b", 400, 150, 600, 250), box("c", 900, 500, 950, 520))
	s.Select("a", false)
	shift := at(500, 150)
	shift.Shift = true
	s.Down(shift)
	v := s.Up(shift)
	assert.Equal(t, []string{"a", "b"}, v.Chosen)
	assert.Nil(t, v.Selected)
	v = s.Align("top")
	assert.Equal(t, 100.0, v.Figure.Marks[1].Points[0].Y)
	s.Group(true)
	s.Select("", false)
	s.Down(at(100, 150))
	s.Move(at(150, 150))
	v = s.Up(at(150, 150))
	assert.Equal(t, 450.0, v.Figure.Marks[1].Points[0].X, "what is grouped moves together")
	s.SelectAll()
	v = s.Distribute(false)
	gap := func(i int) float64 { return v.Figure.Marks[i+1].Points[0].X - v.Figure.Marks[i].Points[1].X }
	assert.InDelta(t, gap(0), gap(1), 1e-6)
	v = s.SameSize()
	assert.InDelta(t, 100, v.Figure.Marks[2].Points[1].X-v.Figure.Marks[2].Points[0].X, 1e-6)
	v = s.Duplicate()
	assert.Len(t, v.Figure.Marks, 6)
	assert.NotEqual(t, v.Figure.Marks[0].Group, v.Figure.Marks[3].Group, "copies are a group of their own")
	assert.Equal(t, v.Figure.Marks[3].Group, v.Figure.Marks[4].Group)
	patch(t, s, `{"locked":true}`)
	s.Select("", false)
	empty := at(1550, 890)
	s.Down(empty)
	s.Move(at(5, 5))
	v = s.Up(at(5, 5))
	assert.Len(t, v.Chosen, 3, "a sweep chooses what lies in it and is not locked")
}

func TestAnArrowIsTiedToWhatItIsDrawnTo(t *testing.T) {
	s := open(box("a", 800, 300, 1000, 500))
	s.Choose(figure.Arrow, false)
	v := s.drawn(at(300, 400), at(802, 400))
	assert.Equal(t, "a", v.Figure.Marks[1].To)
	s.Down(at(800, 350))
	s.Move(at(900, 350))
	v = s.Up(at(900, 350))
	s.Select("new1", false)
	assert.InDelta(t, 897, s.view().Selected.Points[1].X, 6, "its tip went along")
	s.Select("a", false)
	v = s.Delete()
	assert.Empty(t, v.Figure.Marks[0].To)
	assert.InDelta(t, 897, v.Figure.Marks[0].Points[1].X, 6, "and stays where it was when that is deleted")
	free := at(1, 1)
	free.Alt = true
	assert.Empty(t, s.tieAt(free, ""))
}

// painted is ground of one colour with a darker panel on it.
func painted(ground, panel color.RGBA) Ground {
	img := image.NewRGBA(image.Rect(0, 0, 1600, 900))
	draw.Draw(img, img.Rect, image.NewUniform(ground), image.Point{}, draw.Src)
	draw.Draw(img, image.Rect(803, 207, 1500, 800), image.NewUniform(panel), image.Point{}, draw.Src)
	return Ground{img, 1}
}

func TestTheInkIsChosenByContrastUntilAPersonChooses(t *testing.T) {
	red := color.RGBA{200, 40, 40, 255}
	s := open()
	s.SetGround(painted(red, color.RGBA{255, 255, 255, 255}), Known{})
	s.Choose(figure.Box, false)
	v := s.drawn(at(100, 100), at(400, 300))
	assert.NotEqual(t, "red", v.Selected.Ink)
	assert.True(t, v.Selected.Auto)
	s.Down(at(100, 150))
	s.Move(at(950, 350))
	v = s.Up(at(950, 350))
	assert.Equal(t, "red", v.Selected.Ink, "on the white panel red stands out well enough, and is the first")
	name, contrast := s.InkSaid()
	assert.Equal(t, "red", name)
	assert.Greater(t, contrast, 4.5)
	v = patch(t, s, `{"ink":"blue"}`)
	assert.False(t, v.Selected.Auto)
	s.Down(at(950, 350))
	s.Move(at(120, 150))
	assert.Equal(t, "blue", s.Up(at(120, 150)).Selected.Ink)
}

func TestDragsSnapToEdgesInThePictureToElementsAndToMarks(t *testing.T) {
	s := open(box("a", 100, 100, 300, 300))
	s.SetGround(painted(color.RGBA{250, 250, 250, 255}, color.RGBA{60, 90, 120, 255}), Known{Elements: []scene.Rect{{X: 440, Y: 520, W: 100, H: 40}}})
	for name, c := range map[string]struct {
		to, want scene.Point
	}{
		"an edge of the picture": {scene.Point{X: 800, Y: 500}, scene.Point{X: 803, Y: 500}},
		"an element":             {scene.Point{X: 437, Y: 517}, scene.Point{X: 440, Y: 520}},
		"another mark":           {scene.Point{X: 304, Y: 650}, scene.Point{X: 300, Y: 650}},
		"nothing near":           {scene.Point{X: 650, Y: 690}, scene.Point{X: 650, Y: 690}},
	} {
		assert.Equal(t, c.want, s.snapped(Pointer{At: c.to, Scale: 1}, ""), name)
		assert.Equal(t, c.to, s.snapped(Pointer{At: c.to, Scale: 1, Alt: true}, ""), name)
	}
}

func TestAPatchTakesTheColourAroundIt(t *testing.T) {
	s := open()
	s.SetGround(painted(color.RGBA{10, 20, 30, 255}, color.RGBA{1, 2, 3, 255}), Known{})
	s.Choose(figure.Patch, false)
	assert.Equal(t, "#0a141e", s.drawn(at(100, 100), at(300, 200)).Selected.Color)
}

func TestTypingGoesIntoWhatWasJustDrawn(t *testing.T) {
	s := open()
	for _, kind := range []figure.Kind{figure.Text, figure.Note, figure.Marker} {
		s.Choose(kind, false)
		v := s.drawn(at(300, 300), at(500, 300))
		assert.True(t, v.Typing, kind)
		s.SetText("Words")
		assert.False(t, s.Done().Typing)
	}
	s.Choose(figure.Marker, true)
	assert.False(t, s.drawn(at(700, 300), at(700, 300)).Typing, "not while one after the other is placed")
}

func TestAPenStrokeIsThinnedAndADetailGetsItsLens(t *testing.T) {
	s := open()
	s.Choose(figure.Pen, false)
	s.Down(at(100, 100))
	for x := 100.0; x < 600; x += 4 {
		s.Move(at(x, 100+20*math.Sin(x/40)))
	}
	v := s.Up(at(600, 100))
	assert.Less(t, len(v.Selected.Points), 60)
	assert.Greater(t, len(v.Selected.Points), 8)
	s.Choose(figure.Detail, false)
	v = s.drawn(at(200, 200), at(320, 260))
	assert.Len(t, v.Selected.Points, 3)
	assert.True(t, v.Frame.Contains(v.Selected.Points[2]))
	assert.True(t, v.Area.Intersect(scene.Rect{X: 200, Y: 200, W: 120, H: 60}).Empty(), "beside the detail")
}

func TestEveryKindCanBeDrawnFromAPress(t *testing.T) {
	for _, kind := range figure.Kinds {
		s := open(box("a", 100, 100, 300, 300))
		s.SetGround(painted(color.RGBA{250, 250, 250, 255}, color.RGBA{60, 90, 120, 255}), Known{})
		s.Choose(kind, false)
		for _, v := range []View{s.Down(at(500, 500)), s.Move(at(502, 500)), s.Move(at(600, 560))} {
			_, err := json.Marshal(v) // no number that JSON does not have
			require.NoError(t, err, kind)
		}
		v := s.Up(at(620, 580))
		require.NotNil(t, v.Selected, kind)
		assert.Equal(t, kind, v.Selected.Kind)
		assert.Empty(t, v.Tool)
	}
}

func TestAHighlightLiesAlongTheWords(t *testing.T) {
	s := open()
	word := func(x, y, w float64) scene.Rect { return scene.Rect{X: x, Y: y, W: w, H: 20} }
	s.SetGround(Ground{}, Known{Words: []scene.Rect{word(100, 200, 60), word(170, 202, 80), word(260, 201, 50), word(100, 260, 90)}})
	s.Choose(figure.Highlight, true)
	v := s.drawn(at(120, 195), at(240, 226))
	assert.Equal(t, []scene.Point{{X: 96.04, Y: 196.04}, {X: 253.96, Y: 225.96}}, rounded(v.Selected.Points), "two words, whole, and as high as they are")
	v = s.drawn(at(80, 180), at(330, 290))
	assert.Equal(t, []scene.Point{{X: 80, Y: 180}, {X: 330, Y: 290}}, v.Selected.Points, "several lines stay as drawn")
	v = s.drawn(at(700, 500), at(800, 540))
	assert.Equal(t, []scene.Point{{X: 700, Y: 500}, {X: 800, Y: 540}}, v.Selected.Points)
}

func rounded(pts []scene.Point) []scene.Point {
	out := make([]scene.Point, len(pts))
	for i, p := range pts {
		out[i] = scene.Point{X: math.Round(p.X*100) / 100, Y: math.Round(p.Y*100) / 100}
	}
	return out
}

func TestMarksOfAKindFromLaterAreNotLost(t *testing.T) {
	later := figure.Mark{ID: "later", Kind: "star", Points: []scene.Point{{X: 5, Y: 5}}}
	s := open(box("a", 10, 10, 60, 40), later)
	s.Choose(figure.Ellipse, false)
	v := s.drawn(at(200, 200), at(300, 260))
	require.NotNil(t, v.Figure)
	require.Len(t, v.Figure.Marks, 3)
	assert.Equal(t, later, v.Figure.Marks[2])
	assert.NotContains(t, listed(s), "star", "nor are they shown")
}

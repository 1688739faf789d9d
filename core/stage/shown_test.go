package stage

import (
	"encoding/json"
	"image"
	"image/color"
	"image/draw"
	"math/rand"
	"testing"

	"raconte/core/figure"
	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// page is what a page shows that draws what it is given and nothing else.
type page map[string]string

func (p page) take(t *testing.T, v View) {
	for _, s := range v.Shapes {
		raw, err := json.Marshal(s.Items)
		require.NoError(t, err)
		p[s.Mark] = string(raw)
	}
	if v.Listed {
		there := map[string]bool{}
		for _, id := range v.Order {
			there[id] = true
		}
		for id := range p {
			if !there[id] {
				delete(p, id)
			}
		}
	}
}

// whole is what a page would show that is drawn anew.
func whole(t *testing.T, s *Stage) page {
	fresh := page{}
	other := *s
	other.sent, other.listed = nil, nil
	fresh.take(t, other.view())
	return fresh
}

// TestThePageShowsWhatTheStageHas releases drags away from their last movement, draws, deletes and undoes, and looks
// at what is on the page.
func TestThePageShowsWhatTheStageHas(t *testing.T) {
	s := open(box("a", 100, 100, 300, 300), box("b", 600, 100, 800, 300))
	p := page{}
	p.take(t, s.Redraw())
	p.take(t, s.Down(at(100, 200)))
	p.take(t, s.Move(at(160, 220)))
	p.take(t, s.Up(at(400, 500)))
	assert.Equal(t, whole(t, s), p, "a release away from the last movement")
	random := rand.New(rand.NewSource(7))
	anywhere := func() Pointer { return at(random.Float64()*1600, random.Float64()*900) }
	for n := range 150 {
		if n%3 == 0 {
			p.take(t, s.Choose(figure.Kinds[random.Intn(len(figure.Kinds))], false))
		}
		p.take(t, s.Down(anywhere()))
		p.take(t, s.Move(anywhere()))
		p.take(t, s.Up(anywhere()))
		if n%7 == 0 {
			p.take(t, s.Delete())
		}
		if n%11 == 0 {
			p.take(t, s.Cancel())
		}
		require.Equal(t, whole(t, s), p, "after %d drags", n+1)
	}
}

func TestWhatIsKnownIsMarkedInOneChangeEach(t *testing.T) {
	things := []scene.Rect{{X: 200, Y: 100, W: 80, H: 30}, {X: 400, Y: 300, W: 50, H: 20}}
	s := open()
	v := s.BoxAround(things)
	require.NotNil(t, v.Figure)
	require.Len(t, v.Figure.Marks, 2)
	assert.Equal(t, []scene.Point{{X: 194, Y: 94}, {X: 286, Y: 136}}, v.Figure.Marks[0].Points)
	v = s.NumberEach(things)
	assert.Equal(t, []scene.Point{{X: 196, Y: 115}}, v.Figure.Marks[2].Points)
	v = s.ShowPointer(scene.Point{X: 7, Y: 8})
	assert.Equal(t, figure.Pointer, v.Figure.Marks[4].Kind)
	v = s.ShowPointer(scene.Point{X: 7, Y: 8})
	assert.Len(t, v.Figure.Marks, 4, "shown already, it is hidden")
	v = s.CropTo(things)
	assert.Equal(t, &scene.Rect{X: 160, Y: 60, W: 330, H: 300}, v.Figure.Crop)
	v = s.Conceal(things[:1])
	assert.Equal(t, things[0], scene.Between(v.Figure.Marks[4].Points[0], v.Figure.Marks[4].Points[1]), "in places of the shot, however it is cropped")
}

func TestAnotherShotIsSetInsideBesideOrBelow(t *testing.T) {
	for where, c := range map[string]struct {
		at     scene.Rect
		margin *figure.Margin
	}{
		Inside: {scene.Rect{X: 933, Y: 713, W: 640, H: 160}, nil},
		Right:  {scene.Rect{X: 1627, Y: 0, W: 3600, H: 900}, &figure.Margin{Right: 3627}},
		Below:  {scene.Rect{X: 0, Y: 927, W: 1600, H: 400}, &figure.Margin{Bottom: 427}},
	} {
		s := open()
		v := s.SetIn("other", figure.Size{W: 400, H: 100}, where)
		require.NotNil(t, v.Figure, where)
		m := v.Figure.Marks[0]
		assert.Equal(t, c.at, scene.Between(m.Points[0], m.Points[1]), where)
		assert.Equal(t, "other", m.Shot)
		assert.Equal(t, c.margin, v.Figure.Margin, where)
		assert.NoError(t, v.Figure.Check(), where)
	}
}

func TestWordsDrawnNearTheBorderStayInThePicture(t *testing.T) {
	s := open()
	s.Choose(figure.Text, false)
	s.drawn(at(1500, 880), at(1500, 880))
	v := s.SetText("Words enough for two lines of it")
	frame := scene.Rect{W: 1600, H: 900}
	assert.InDelta(t, v.Area.H, v.Area.Intersect(frame).H, 1e-9)
	s.Choose(figure.Detail, false)
	v = s.drawn(at(1300, 20), at(1590, 200))
	assert.InDelta(t, v.Area.W, v.Area.Intersect(frame).W, 1e-9, "nor is what is shown enlarged cut off")
	assert.Empty(t, v.Figure.CutOff(figure.Size{W: 1600, H: 900}))
	moved := v.Figure.Clone()
	moved.Marks[0].Points[0].X += 400
	moved.Marks[0].Points[1].X += 400
	assert.Len(t, moved.CutOff(figure.Size{W: 1600, H: 900}), 1, "what a person moves out is found")
}

func TestMarksOfOnePictureShareAnInkUnlessItFailsBadly(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 1600, 900))
	draw.Draw(img, img.Rect, image.White, image.Point{}, draw.Src)
	draw.Draw(img, image.Rect(800, 0, 1600, 900), image.NewUniform(color.RGBA{198, 40, 40, 255}), image.Point{}, draw.Src)
	s := open()
	s.SetGround(Ground{Image: img, Scale: 1}, Known{})
	inks := func() (out []string) {
		for _, m := range s.fig.Marks {
			out = append(out, m.Ink)
		}
		return out
	}
	for _, x := range []float64{100, 400} {
		s.Choose(figure.Box, false)
		s.drawn(at(x, 100), at(x+200, 300))
	}
	assert.Equal(t, []string{"red", "red"}, inks())
	s.Choose(figure.Box, false)
	s.drawn(at(1000, 100), at(1300, 300))
	assert.NotEqual(t, "red", inks()[2], "red on red")
	s.fig.Marks[0].Auto, s.fig.Marks[0].Ink = false, "green"
	s.Choose(figure.Box, false)
	s.drawn(at(100, 500), at(300, 700))
	assert.Equal(t, "red", inks()[3], "what a person has chosen leads nobody")
}

package figure

import (
	"fmt"
	"testing"

	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// views are figures whose picture is shown in every way.
func views() map[string]Figure {
	with := func(v View, crop *scene.Rect) Figure { return Figure{ID: "f", Shot: "s", View: v, Crop: crop} }
	all := map[string]Figure{
		"tilted":   with(View{Tilt: 3.5}, nil),
		"folded":   with(View{Folds: []Fold{{From: 300, To: 500}, {Down: true, From: 200, To: 700}}}, nil),
		"margined": with(View{Margin: &Margin{10, 20, 30, 40}}, &scene.Rect{X: 100, Y: 100, W: 800, H: 400}),
		"all": with(View{Quarter: 1, Mirror: true, Tilt: -2, Folds: []Fold{{From: 300, To: 500}}, Margin: &Margin{Top: 50}},
			&scene.Rect{X: 50, Y: 60, W: 700, H: 1200}),
	}
	for q := range 4 {
		all[fmt.Sprint("turned ", q)] = with(View{Quarter: q}, nil)
		all[fmt.Sprint("mirrored, turned ", q)] = with(View{Quarter: q, Mirror: true}, nil)
	}
	return all
}

func TestPlacesAndMarksComeBackFromTheFinishedPicture(t *testing.T) {
	for name, f := range views() {
		g := f.Geometry(shot)
		for _, at := range []scene.Point{p(10, 20), p(800, 450), p(1500, 820), p(900, 100)} {
			back := g.Keep(g.Show(at))
			assert.InDelta(t, at.X, back.X, 1e-6, name)
			assert.InDelta(t, at.Y, back.Y, 1e-6, name)
		}
		for _, kind := range Kinds {
			m := one(kind)
			back := g.KeepMark(g.ShowMark(m))
			for i := range m.Points {
				assert.InDelta(t, m.Points[i].X, back.Points[i].X, 1e-6, "%s, %s", name, kind)
				assert.InDelta(t, m.Points[i].Y, back.Points[i].Y, 1e-6, "%s, %s", name, kind)
			}
		}
	}
}

func TestTurningAndMirroringLeadWhereTheySay(t *testing.T) {
	f := Figure{}
	assert.Equal(t, p(880, 10), f.Turned(shot, 1).Geometry(shot).Show(p(10, 20)), "a quarter clockwise")
	assert.Equal(t, Size{900, 1600}, f.Turned(shot, 3).Upright(shot))
	assert.Equal(t, p(1590, 20), f.Mirrored(shot).Geometry(shot).Show(p(10, 20)))
	assert.Equal(t, p(20, 10), f.Turned(shot, 1).Mirrored(shot).Geometry(shot).Show(p(10, 20)), "mirrored as it is seen")
	for name, f := range views() {
		if f.Tilt != 0 && f.Mirror {
			continue // tilting about the middle and mirroring do not meet in the last digit
		}
		f.Crop = &scene.Rect{X: 100, Y: 120, W: 300, H: 200}
		again := f.Turned(shot, 1).Turned(shot, 3)
		assert.Equal(t, f.View, again.View, name)
		assert.Equal(t, f.Crop, again.Crop, name)
		assert.Equal(t, f.View, f.Mirrored(shot).Mirrored(shot).View, name)
		g, h := f.Geometry(shot), f.Turned(shot, 1).Geometry(shot)
		assert.Equal(t, [2]float64{g.Frame.W, g.Frame.H}, [2]float64{h.Frame.H, h.Frame.W}, "what is shown stays shown: %s", name)
	}
}

func TestAFoldTakesItsBandOutAndLeavesASeam(t *testing.T) {
	f := Figure{Shot: "s", View: View{Folds: []Fold{{From: 300, To: 500}}}}
	g := f.Geometry(shot)
	gap := 900 - 200 - g.Frame.H
	assert.InDelta(t, -23, gap, 1e-9)
	assert.Equal(t, p(40, 100), g.Show(p(40, 100)))
	assert.InDelta(t, 600-200-gap, g.Show(p(40, 600)).Y, 1e-9)
	pictures := f.pictures(g)
	require.Len(t, pictures, 2)
	assert.Equal(t, scene.Rect{Y: 500, W: 1600, H: 400}, pictures[1].Picture.Source)
	f.Folds = []Fold{{From: 300, To: 500}, {From: 400, To: 600}, {From: 0, To: 100}, {From: 850, To: 2000}}
	assert.Len(t, f.Geometry(shot).folds, 1, "folds that overlap, or that would cut an end off, are left out")
}

func TestABoxStaysUprightAndAWordLevel(t *testing.T) {
	g := Figure{View: View{Tilt: 5}}.Geometry(shot)
	box := g.ShowMark(one(Box))
	assert.InDelta(t, 300, box.Points[1].X-box.Points[0].X, 1e-6)
	assert.InDelta(t, 200, box.Points[1].Y-box.Points[0].Y, 1e-6)
	turned := Figure{View: View{Quarter: 1}}.Geometry(shot)
	box = turned.ShowMark(one(Box))
	assert.InDelta(t, 200, box.Area(1).W, 1e-6, "a turned box lies on its side")
	text := turned.ShowMark(one(Text))
	assert.InDelta(t, 300, text.Points[1].X-text.Points[0].X, 1e-6, "a text is as wide as before")
}

func TestOpenSidesAreThoseThatTheCropCut(t *testing.T) {
	f := Figure{Crop: &scene.Rect{X: 0, Y: 100, W: 900, H: 800}, View: View{Edge: Edge{Open: "auto"}}}
	assert.Equal(t, "ne", f.OpenSides(f.Geometry(shot)))
	f.Edge.Open = "s"
	assert.Equal(t, "s", f.OpenSides(f.Geometry(shot)))
	f.Crop, f.Edge.Open = nil, "auto"
	assert.Empty(t, f.OpenSides(f.Geometry(shot)))
	assert.Nil(t, f.shape(f.Geometry(shot), 1))
}

func TestAConcealmentCoversAllOfItsAreaHoweverThePictureIsShown(t *testing.T) {
	for name, f := range views() {
		f.Marks = []Mark{one(Concealment)}
		g := f.Geometry(shot)
		covered := f.cover(g.ShowMark(f.Marks[0]), g, 1)[0].Path.Outline
		for x := 300.0; x <= 600; x += 30 {
			for y := 200.0; y <= 400; y += 20 {
				at := g.Show(p(x, y))
				if !g.Inner.Grow(-1).Contains(at) {
					continue
				}
				assert.True(t, inside(covered, at) || scene.DistanceToLine(at, append(covered.Ends(), covered.Ends()[0])) < 0.01,
					"%s: %v shows at %v", name, p(x, y), at)
			}
		}
	}
}

// inside tells whether p lies in a polygon.
func inside(o scene.Outline, p scene.Point) bool {
	in := false
	pts := o.Ends()
	for i, a := range pts {
		b := pts[(i+1)%len(pts)]
		if (a.Y > p.Y) != (b.Y > p.Y) && p.X < (b.X-a.X)*(p.Y-a.Y)/(b.Y-a.Y)+a.X {
			in = !in
		}
	}
	return in
}

func TestTheScrambledLookKnowsNothingOfThePicture(t *testing.T) {
	m := one(Concealment)
	m.Look = "scrambled"
	look := func(m Mark, shot string) []scene.Item {
		f := Figure{ID: "f", Shot: shot, Marks: []Mark{m}}
		return f.cover(m, f.Geometry(Size{1600, 900}), 1)
	}
	assert.Equal(t, look(m, "a"), look(m, "b"))
	other := m
	other.ID = "another"
	assert.NotEqual(t, look(m, "a"), look(other, "a"))
}

func TestADetailShowsOnlyTheGround(t *testing.T) {
	secret := one(Concealment)
	detail := one(Detail)
	f := Figure{ID: "f", Shot: "s", Marks: []Mark{detail, secret, one(Box)}}
	var l Layouter
	var lens *scene.Clip
	for _, it := range piece(t, &l, f).Items {
		if it.Clip != nil {
			lens = it.Clip
		}
	}
	require.NotNil(t, lens)
	last := lens.Items[len(lens.Items)-1]
	require.NotNil(t, last.Path, "the concealment lies on the picture in the lens too")
	assert.InDelta(t, 900-300, last.Path.Outline.Bounds().X, 1, "twice as large, about the middle of the lens")
	assert.Equal(t, scene.Rect{X: 300, Y: 200, W: 300, H: 200}, lens.Items[1].Picture.Source)
}

func TestOutsideLeavesTheHoles(t *testing.T) {
	whole := scene.Rect{W: 100, H: 80}
	holes := []scene.Rect{{X: 10, Y: 10, W: 40, H: 30}, {X: 30, Y: 20, W: 40, H: 40}, {X: 90, Y: -5, W: 50, H: 20}}
	rest := scene.Outside(whole, holes)
	for x := 0.5; x < 100; x++ {
		for y := 0.5; y < 80; y++ {
			n := 0
			for _, r := range rest {
				if r.Contains(p(x, y)) {
					n++
				}
			}
			want := 1
			for _, h := range holes {
				if h.Contains(p(x, y)) {
					want = 0
				}
			}
			require.Equal(t, want, n, "%v %v", x, y)
		}
	}
}

package figure

import (
	"testing"

	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// drawn is a mark of a kind drawn from one place to another, as a hand draws it.
func drawn(kind Kind, from, to scene.Point, change func(*Pull)) (Mark, bool) {
	m := Mark{ID: "m", Kind: kind, Style: kind.Usual()}
	for range kind.Points() {
		m.Points = append(m.Points, from)
	}
	p := Pull{From: from, At: to, Snapped: func() scene.Point { return to }, Moved: from != to, Scale: 1, Unit: 1, Frame: scene.Rect{W: 800, H: 600}}
	if change != nil {
		change(&p)
	}
	if p.Moved {
		m = m.Pulled(p)
	}
	return m.Finished(p)
}

func TestAKindIsDrawnByADragAndByAPressAsItsShapeSays(t *testing.T) {
	from, to := scene.Point{X: 100, Y: 100}, scene.Point{X: 300, Y: 220}
	pressed := map[Kind]bool{Marker: true, Pointer: true, Text: true, Note: true}
	for _, kind := range Kinds {
		if kind.Wire() {
			continue // its ends are pulled by the stage, which knows what they may follow
		}
		m, made := drawn(kind, from, to, nil)
		require.True(t, made, kind)
		assert.GreaterOrEqual(t, len(m.Points), kind.Points(), kind)
		assert.Equal(t, []Mark{m}, Drawable([]Mark{m}), "%s can be drawn", kind)
		_, made = drawn(kind, from, from, nil)
		assert.Equal(t, pressed[kind], made, "%s of a press alone", kind)
	}
	_, made := drawn(Box, from, from.Plus(scene.Point{X: 1, Y: 50}), nil)
	assert.False(t, made, "nobody sees a box of a pixel's width")
}

func TestWhatIsDrawnIsWhereItWasMeant(t *testing.T) {
	from, to := scene.Point{X: 100, Y: 100}, scene.Point{X: 300, Y: 220}
	square, _ := drawn(Box, from, to, func(p *Pull) { p.Steady = true })
	assert.Equal(t, square.corners().W, square.corners().H)
	text, _ := drawn(Text, to, from, nil)
	assert.Equal(t, []float64{100, 300}, []float64{text.Points[0].X, text.Points[1].X}, "from right to left, too")
	narrow, _ := drawn(Text, from, from.Plus(scene.Point{X: 5}), nil)
	assert.InDelta(t, 2*narrowest, narrow.Points[1].X-narrow.Points[0].X, 0.01, "no text is narrower than words are")
	note, _ := drawn(Note, from, to, nil)
	assert.Equal(t, []scene.Point{to, from}, []scene.Point{note.Points[0], note.Points[2]}, "its words are where the drag ended, its target where it began")
	words := scene.Rect{X: 90, Y: 104, W: 220, H: 20}
	along, _ := drawn(Highlight, from, to, func(p *Pull) { p.Words = func(scene.Rect) scene.Rect { return words } })
	assert.Equal(t, words, along.corners())
	left, _ := drawn(Detail, from, to, nil)
	assert.Greater(t, left.Points[2].X, 300.0, "what lies left is enlarged at its right")
	right, _ := drawn(Detail, scene.Point{X: 600, Y: 400}, scene.Point{X: 700, Y: 460}, nil)
	assert.Less(t, right.Points[2].X, 600.0)
	for _, m := range []Mark{left, right} {
		lens := m.lens()
		assert.True(t, lens.X >= 0 && lens.Y >= 0 && lens.X+lens.W <= 800 && lens.Y+lens.H <= 600, "the enlargement is in the picture: %v", lens)
	}
	line := Mark{Kind: Pen, Points: []scene.Point{from}}
	for x := range 100 {
		line = line.Pulled(Pull{From: from, At: from.Plus(scene.Point{X: float64(x) / 2}), Scale: 1})
	}
	assert.Less(t, len(line.Points), 30, "a slow pen makes no crowd of points")
	assert.Greater(t, len(line.Points), 20, "and its way is kept")
	straight := line.Pulled(Pull{From: from, At: to, Steady: true, Scale: 1})
	assert.Equal(t, []scene.Point{from, to}, straight.Points)
}

func TestAnArrowFollowsWhatItsEndLiesOnOrWhoseEdgeItIsNear(t *testing.T) {
	at := func(x, y float64) scene.Point { return scene.Point{X: x, Y: y} }
	of := func(kind Kind) Mark {
		return Mark{Kind: kind, Style: kind.Usual(), Text: "Wait", Points: []scene.Point{at(100, 100), at(300, 200)}[:min(2, max(1, kind.Points()))]}
	}
	assert.True(t, of(Box).Ties(at(102, 150), 1, 7), "near its edge")
	assert.False(t, of(Box).Ties(at(200, 150), 1, 7), "what lies in the box may be pointed at")
	assert.True(t, of(Text).Ties(at(200, 110), 1, 7), "on its plate")
	assert.True(t, of(Marker).Ties(at(104, 104), 1, 7))
	for _, kind := range []Kind{Concealment, Patch, Light, Pen} {
		assert.False(t, of(kind).Ties(at(102, 150), 1, 7), kind)
	}
}

func TestDamagedMarksTakeNothingElseWithThem(t *testing.T) {
	whole := Mark{ID: "b", Kind: Box, Style: Box.Usual(), Points: []scene.Point{{X: 1, Y: 1}, {X: 9, Y: 9}}}
	f := Figure{ID: "f", Shot: "s", Marks: []Mark{{ID: "none", Kind: Box}, {ID: "odd", Kind: "star", Points: whole.Points}, whole}}
	var l Layouter
	pieces := l.Layout(f.Still(1), Size{W: 100, H: 80}, 1)
	var marks []string
	for _, p := range pieces {
		marks = append(marks, p.Mark)
	}
	assert.Contains(t, marks, "b")
	assert.NotContains(t, marks, "none")
	assert.NotContains(t, marks, "odd")
}

package figure

import (
	"math"
	"strings"
	"testing"

	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func p(x, y float64) scene.Point { return scene.Point{X: x, Y: y} }

func mark(kind Kind, pts ...scene.Point) Mark {
	return Mark{ID: string(kind), Kind: kind, Points: pts, Style: Style{Ink: "red", Weight: Medium}, Text: "Words", Shot: "other"}
}

var shot = Size{W: 1600, H: 900}

func one(kind Kind) Mark {
	m := mark(kind, p(300, 200), p(600, 400))
	switch kind {
	case Marker, Pointer:
		m.Points = m.Points[:1]
	case Note, Detail:
		m.Points = append(m.Points, p(900, 600))
	}
	return m
}

func numbers(of map[string]Number) map[string]string {
	labels := map[string]string{}
	for id, n := range of {
		labels[id] = n.Label
	}
	return labels
}

func TestNumbersFollowTurnNotPaintingOrder(t *testing.T) {
	marker := func(id string, turn int) Mark {
		return Mark{ID: id, Kind: Marker, Points: []scene.Point{{}}, Turn: turn, Style: Style{Ink: "red"}}
	}
	f := Figure{ID: "f", Marks: []Mark{marker("b", 2), mark(Box, p(0, 0), p(1, 1)), marker("a", 1), marker("c", 3)}}
	assert.Equal(t, map[string]string{"a": "4", "b": "5", "c": "6"}, numbers(f.Numbers(4)))
	g := Figure{ID: "g", Marks: []Mark{marker("d", 1)}}
	assert.Equal(t, "4", Tags([]Figure{f, g}, map[string]int{"f": 1, "g": Firsts([]Figure{f, g}, 0)[1]})["d"].Label, "markers count on from one picture of a step to the next")
	f.Marks = f.Marks[1:]
	assert.Equal(t, map[string]string{"a": "1", "c": "2"}, numbers(f.Numbers(1)), "and close the gap of a deleted one")
	assert.Equal(t, scene.Hex("#c62828"), Tags([]Figure{f}, map[string]int{"f": 1})["a"].Ink)
}

func TestMarkersCountAsTheyAreTold(t *testing.T) {
	marker := func(id string, tell func(m *Mark)) Mark {
		m := Mark{ID: id, Kind: Marker, Points: []scene.Point{{}}, Turn: int(id[0])}
		tell(&m)
		return m
	}
	plain := func(*Mark) {}
	f := Figure{Marks: []Mark{
		marker("a", plain), marker("b", func(m *Mark) { m.Shares = true }), marker("c", func(m *Mark) { m.Start = 9 }),
		marker("d", func(m *Mark) { m.Count = "A" }), marker("e", func(m *Mark) { m.Count = "i" }),
	}}
	assert.Equal(t, map[string]string{"a": "1", "b": "1", "c": "9", "d": "J", "e": "xi"}, numbers(f.Numbers(1)))
	onward := Figure{Marks: []Mark{marker("x", func(m *Mark) { m.Onward = true }), marker("y", plain)}}
	last := 0
	for i, want := range []int{11, 11, 13, 15} {
		last = Last([][]Figure{{f}, {}, {onward}, {onward}}[i], last)
		assert.Equal(t, want, last, "after step %d", i+1)
	}
	assert.Equal(t, []int{12}, Firsts([]Figure{onward}, 11))
	assert.Equal(t, []string{"Z", "AA", "az", "ba", "xlix", "4000"},
		[]string{Written(26, "A"), Written(27, "A"), Written(52, "a"), Written(53, "a"), Written(49, "i"), Written(4000, "i")})
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

// piece is the look of the first mark of a figure.
func piece(t *testing.T, l *Layouter, f Figure) Piece {
	for _, p := range l.Layout(f.Still(1), shot, 1) {
		if p.Mark == f.Marks[0].ID {
			return p
		}
	}
	t.Fatal("the mark is not drawn")
	return Piece{}
}

func TestEveryKindIsDrawnWhereItIs(t *testing.T) {
	for _, kind := range Kinds {
		t.Run(string(kind), func(t *testing.T) {
			var l Layouter
			before := piece(t, &l, Figure{ID: "f", Marks: []Mark{one(kind)}})
			assert.True(t, before.Bounds.Grow(8).Contains(p(300, 200)), "%v", before.Bounds)
			after := piece(t, &l, Figure{ID: "f", Marks: []Mark{one(kind).ShiftedBy(p(50, 30))}})
			assert.InDelta(t, before.Bounds.X+50, after.Bounds.X, 1)
			assert.InDelta(t, before.Bounds.H, after.Bounds.H, 1)
			assert.NotEqual(t, before.Key, after.Key)
		})
	}
	s := Figure{ID: "f", Shot: "s", Crop: &scene.Rect{X: 200, Y: 100, W: 900, H: 600}, Marks: []Mark{one(Box)}}.Still(1).Scene(shot, 1)
	assert.Equal(t, scene.Rect{X: 200, Y: 100, W: 900, H: 600}, s.Items[0].Picture.Source)
	assert.InDelta(t, 300-200, s.Items[1].Path.Outline.Bounds().X, 25, "marks stay on their target when the crop changes")
}

func TestLayouterLaysOutOnlyWhatChanged(t *testing.T) {
	var l Layouter
	f := Figure{ID: "f", Marks: []Mark{one(Arrow), one(Text), one(Marker), one(Detail), one(Concealment)}}
	keys := func(f Figure) map[string]string {
		out := map[string]string{}
		for _, p := range l.Layout(f.Still(1), shot, 1) {
			out[p.Mark] = p.Key
		}
		return out
	}
	changed := func(a, b map[string]string) (ids []string) {
		for id := range a {
			if a[id] != b[id] {
				ids = append(ids, id)
			}
		}
		return ids
	}
	before := keys(f)
	g := f.Clone()
	g.Marks[0].Points[1] = p(900, 800)
	after := keys(g)
	assert.Equal(t, []string{"arrow"}, changed(before, after))
	assert.Equal(t, p(600, 400), f.Marks[0].Points[1], "a clone shares nothing")
	g.Marks[4].Points[1] = p(700, 500)
	assert.ElementsMatch(t, []string{"concealment", "detail", GroundPiece, EdgePiece}, changed(after, keys(g)), "a detail shows what is concealed")
}

func TestAnArrowFollowsWhatItIsTiedTo(t *testing.T) {
	box := mark(Box, p(300, 200), p(600, 400))
	arrow := mark(Arrow, p(900, 300), p(700, 300))
	arrow.To = "box"
	tied := Tied([]Mark{box, arrow}, 1)[1]
	assert.InDelta(t, 603, tied.Points[1].X, 1e-6, "it comes to the side that faces its tail")
	assert.InDelta(t, 300, tied.Points[1].Y, 1e-6)
	moved := Tied([]Mark{box.MovedBy(p(0, 400)), arrow}, 1)[1]
	assert.Greater(t, moved.Points[1].Y, 590.0)
	arrow.To = "gone"
	assert.Equal(t, arrow, Tied([]Mark{box, arrow}, 1)[1])
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
		"a bend is where it is put":  {withWay(one(Line), "curved"), "bend", p(450, 99), false, []scene.Point{p(300, 200), p(600, 400), p(450, 99)}},
		"a note's target":            {one(Note), "point", p(5, 6), false, []scene.Point{p(300, 200), p(600, 400), p(5, 6)}},
		"a detail's part  ":          {one(Detail), "nw", p(310, 190), false, []scene.Point{p(310, 190), p(600, 400), p(900, 600)}},
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
	assert.Equal(t, 300, one(Detail).Reshaped("zoom", p(900+450, 600), false).Zoom)
	assert.Empty(t, one(Marker).Grips(1))
	assert.Len(t, one(Box).Grips(1), 8)
}

func withWay(m Mark, way string) Mark { m.Way = way; return m }

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
		"on a marker's word":   {Marker, p(340, 200), true},
		"off a marker":         {Marker, p(360, 260), false},
		"on an ellipse":        {Ellipse, p(450, 200), true},
		"its corner is off it": {Ellipse, p(305, 205), false},
		"in a concealment":     {Concealment, p(450, 300), true},
		"a light's inside":     {Light, p(450, 300), false},
		"a note's beak":        {Note, p(850, 560), true},
		"a detail's lens":      {Detail, p(900, 600), true},
	} {
		f := Figure{Marks: []Mark{one(c.kind)}}
		assert.Equal(t, c.want, f.Marks[0].Hits(c.at, Unit(f.Frame(shot)), 6, piece(t, &l, f).Bounds), name)
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
		"too many points": func(f *Figure) { f.Marks[1].Points = make([]scene.Point, 4) },
		"unknown look":    func(f *Figure) { f.Marks[0].Look = "blurred" },
		"turned too far":  func(f *Figure) { f.Quarter = 4 },
		"fold of nothing": func(f *Figure) { f.Folds = []Fold{{From: 9, To: 9}} },
		"endless margin":  func(f *Figure) { f.Margin = &Margin{Top: math.Inf(1)} },
		"huge":            func(f *Figure) { f.Width = 1 << 20 },
		"inset of none":   func(f *Figure) { f.Marks[0].Kind, f.Marks[0].Shot = Inset, "" },
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

func TestAMarkersWordStandsBesideItWhereThereIsRoom(t *testing.T) {
	size := Size{W: 800, H: 600}
	bounds := func(x float64, word string) scene.Rect {
		f := Figure{Marks: []Mark{{ID: "m", Kind: Marker, Points: []scene.Point{{X: x, Y: 300}}, Text: word, Style: Style{Ink: "red", Weight: Medium}}}}
		var l Layouter
		for _, p := range l.Layout(f.Still(1), size, 1) {
			if p.Mark == "m" {
				return p.Bounds
			}
		}
		return scene.Rect{}
	}
	bare := bounds(300, "")
	right, left := bounds(300, "The door"), bounds(780, "The door")
	assert.Equal(t, bare.X, right.X)
	assert.Greater(t, right.W, 2*bare.W)
	assert.Less(t, left.X, 780-2*bare.W, "at its left, where it would not fit")
	assert.LessOrEqual(t, left.X+left.W, 800.0)
	long := Mark{Kind: Marker, Text: strings.Repeat("x", 5000)}
	assert.Less(t, long.cost(), 60*perLetter+usualMark+1, "no word is longer than can be read")
}

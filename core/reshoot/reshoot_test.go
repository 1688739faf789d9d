package reshoot

import (
	"image"
	"image/color"
	"image/draw"
	"testing"

	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/sight"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func p(x, y float64) scene.Point { return scene.Point{X: x, Y: y} }

// screen has things of their own looks at the given places.
func screen(things ...image.Point) Side {
	img := image.NewRGBA(image.Rect(0, 0, 900, 600))
	draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{235, 240, 238, 255}), image.Point{}, draw.Src)
	for n, at := range things {
		for i := range 40 {
			x, y := at.X+(i*(37+14*n))%120, at.Y+(i*(23+6*n))%50
			draw.Draw(img, image.Rect(x, y, x+5+i%7, y+4), image.NewUniform(color.RGBA{uint8(i * 3), 40, 60, 255}), image.Point{}, draw.Src)
		}
	}
	return Side{Seen: sight.Look(img)}
}

func box(id string, x, y float64) figure.Mark {
	return figure.Mark{ID: id, Kind: figure.Box, Points: []scene.Point{p(x, y), p(x+130, y+60)}}
}

func TestNamesComeBeforeLooks(t *testing.T) {
	before, after := screen(image.Pt(200, 150)), screen(image.Pt(500, 400))
	before.Elements = []capture.Element{{Name: "Save", Role: "button", Rect: scene.Rect{X: 195, Y: 145, W: 130, H: 60}}, {Name: "Window", Role: "window", Rect: scene.Rect{W: 900, H: 600}}}
	after.Elements = []capture.Element{{Name: "Save", Role: "button", Rect: scene.Rect{X: 20, Y: 30, W: 195, H: 90}}}
	got := Marks([]figure.Mark{box("a", 195, 145)}, 1, before, after)[0]
	assert.Equal(t, Yes, got.Sure)
	assert.InDeltaSlice(t, []float64{20, 30, 215, 120}, flat(got.Mark), 1e-6, "its place and its size")

	after.Elements = append(after.Elements, capture.Element{Name: "Save", Role: "button", Rect: scene.Rect{X: 600, Y: 30, W: 130, H: 60}})
	got = Marks([]figure.Mark{box("a", 195, 145)}, 1, before, after)[0]
	assert.Equal(t, Yes, got.Sure, "two of one name: its looks tell")
	assert.InDelta(t, 495, got.Mark.Points[0].X, 3)
}

func flat(m figure.Mark) (v []float64) {
	for _, p := range m.Points {
		v = append(v, p.X, p.Y)
	}
	return v
}

func TestWhatIsAboutNoPlaceGoesAlongAndWhatIsGoneIsLost(t *testing.T) {
	before := screen(image.Pt(200, 150), image.Pt(600, 400))
	after := screen(image.Pt(230, 190))
	note := figure.Mark{ID: "note", Kind: figure.Note, Text: "Here", Points: []scene.Point{p(400, 100), p(520, 100), p(260, 175)}}
	words := figure.Mark{ID: "words", Kind: figure.Text, Text: "Wait", Points: []scene.Point{p(200, 100), p(300, 100)}}
	got := Marks([]figure.Mark{box("a", 195, 145), note, words, box("gone", 595, 395)}, 1, before, after)
	for i, sure := range []Sure{Yes, Yes, Yes, Lost} {
		assert.Equal(t, sure, got[i].Sure, got[i].Mark.ID)
	}
	assert.InDelta(t, 290, got[1].Mark.Points[2].X, 3, "what a note points at")
	assert.InDelta(t, 430, got[1].Mark.Points[0].X, 3, "and its plate with it")
	assert.InDelta(t, 230, got[2].Mark.Points[0].X, 3)
	assert.True(t, got[3].Mark.Lost)
	assert.Equal(t, box("gone", 595, 395).Points, got[3].Mark.Points, "a lost mark stays where it was")
}

func TestWithNothingToGoByNothingIsClaimed(t *testing.T) {
	got := Marks([]figure.Mark{box("a", 195, 145), {ID: "w", Kind: figure.Text, Points: []scene.Point{p(1, 1), p(90, 1)}}}, 1, screen(), screen())
	assert.Equal(t, Lost, got[0].Sure, "an empty place has no looks")
	assert.Equal(t, Perhaps, got[1].Sure)
	assert.Empty(t, Marks(nil, 1, screen(), screen()))
}

// list shows some rows of a long list whose rows differ in a few pixels only, under a bar that stays.
func list(from int) Side {
	img := image.NewRGBA(image.Rect(0, 0, 900, 600))
	draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{250, 250, 248, 255}), image.Point{}, draw.Src)
	ink := image.NewUniform(color.RGBA{40, 50, 60, 255})
	for i := range 30 {
		draw.Draw(img, image.Rect(60+i*9, 20+i%4, 65+i*9, 32), ink, image.Point{}, draw.Src)
	}
	for row := range 12 {
		y := 60 + 40*row
		for i := range 20 {
			draw.Draw(img, image.Rect(60+i*9, y+12+i%3, 65+i*9, y+26), ink, image.Point{}, draw.Src)
		}
		for bit := range 6 { // its number
			if (from+row)>>bit&1 == 1 {
				draw.Draw(img, image.Rect(260+bit*10, y+12, 266+bit*10, y+26), ink, image.Point{}, draw.Src)
			}
		}
	}
	return Side{Seen: sight.Look(img)}
}

func TestRowsOfAScrolledListAreToldApart(t *testing.T) {
	row := func(n int) figure.Mark {
		y := 60 + 40*float64(n)
		return figure.Mark{ID: "row", Kind: figure.Box, Points: []scene.Point{p(52, y+4), p(330, y+34)}}
	}
	bar := figure.Mark{ID: "bar", Kind: figure.Box, Points: []scene.Point{p(52, 12), p(340, 40)}}
	got := Marks([]figure.Mark{bar, row(1), row(6), row(10)}, 1, list(0), list(5))
	assert.Equal(t, Yes, got[0].Sure)
	assert.InDelta(t, 12, got[0].Mark.Points[0].Y, 2, "what stays, stays")
	assert.NotEqual(t, Yes, got[1].Sure, "scrolled away; the row like it that is now in its place is not it")
	for i, was := range map[int]float64{2: 6, 3: 10} {
		assert.Equal(t, Yes, got[i].Sure)
		assert.InDelta(t, 60+40*(was-5)+4, got[i].Mark.Points[0].Y, 2)
	}
}

func TestAFigureTakesAnotherShot(t *testing.T) {
	crop := scene.Rect{X: 10, Y: 20, W: 100, H: 50}
	mark := func(id string) figure.Mark {
		return figure.Mark{ID: id, Kind: figure.Box, Points: []scene.Point{{X: 1, Y: 1}, {X: 9, Y: 9}}, Lost: id == "was lost"}
	}
	f := figure.Figure{ID: "f", Shot: "old", Crop: &crop, Marks: []figure.Mark{mark("sure"), mark("perhaps"), mark("gone"), mark("was lost")}}
	asked := Asked(f)
	require.Len(t, asked, 5, "the crop is asked about like a mark")
	to := []scene.Point{{X: 11, Y: 11}, {X: 19, Y: 19}}
	got := Applied(f, "new", []Found{
		{"sure", Yes, to}, {"perhaps", Perhaps, to}, {"gone", Lost, f.Marks[2].Points}, {"was lost", Yes, to},
		{asked[4].ID, Yes, []scene.Point{{X: 30, Y: 20}, {X: 130, Y: 70}}},
	})
	assert.Equal(t, "new", got.Shot)
	assert.Equal(t, &scene.Rect{X: 30, Y: 20, W: 100, H: 50}, got.Crop)
	assert.Equal(t, to, got.Marks[0].Points)
	assert.Equal(t, []bool{false, false, true, false}, []bool{got.Marks[0].Lost, got.Marks[1].Lost, got.Marks[2].Lost, got.Marks[3].Lost})
	assert.True(t, got.Marks[1].Unsure)
	assert.Equal(t, "old", f.Shot, "what was handed in stays as it was")
	f.Quarter = 1
	assert.Len(t, Asked(f), 4, "the crop of a turned picture lies elsewhere")
}

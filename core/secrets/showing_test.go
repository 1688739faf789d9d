package secrets

import (
	"testing"

	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/sight"

	"github.com/stretchr/testify/assert"
)

func word(text string, x, y float64) sight.Word {
	return sight.Word{Text: text, Rect: scene.Rect{X: x, Y: y, W: 60, H: 20}, Sure: 90}
}

func TestOnlyWhatAFigureShowsIsShown(t *testing.T) {
	size := figure.Size{W: 800, H: 600}
	all := []sight.Word{word("top", 20, 20), word("middle", 370, 290), word("right", 730, 300), word("foot", 370, 570)}
	covers := func(kind figure.Kind, x, y, x2, y2 float64) figure.Mark {
		return figure.Mark{ID: "m", Kind: kind, Points: []scene.Point{{X: x, Y: y}, {X: x2, Y: y2}}}
	}
	clip := func(m figure.Mark, from, to int) figure.Figure {
		m.During = &figure.Span{From: from, To: to}
		return figure.Figure{Clip: &figure.Clip{Ms: 4000, Poster: 1000}, Marks: []figure.Mark{m}}
	}
	moves := func(m figure.Mark, right float64) figure.Mark {
		m.Path = []figure.Place{{At: 0}, {At: 900}, {At: 1000, By: scene.Point{X: right}}, {At: 3000, By: scene.Point{X: right}}}
		return m
	}
	for name, c := range map[string]struct {
		figure figure.Figure
		shows  []string
	}{
		"the whole":                  {figure.Figure{}, []string{"top", "middle", "right", "foot"}},
		"a crop":                     {figure.Figure{Crop: &scene.Rect{X: 300, Y: 200, W: 300, H: 200}}, []string{"middle"}},
		"a crop through a word":      {figure.Figure{Crop: &scene.Rect{X: 400, Y: 200, W: 300, H: 200}}, nil},
		"a concealment over it":      {figure.Figure{Marks: []figure.Mark{covers(figure.Concealment, 360, 280, 440, 320)}}, []string{"top", "right", "foot"}},
		"a concealment over a part":  {figure.Figure{Marks: []figure.Mark{covers(figure.Concealment, 420, 280, 440, 320)}}, []string{"top", "right", "foot"}},
		"a patch":                    {figure.Figure{Marks: []figure.Mark{covers(figure.Patch, 0, 0, 100, 100)}}, []string{"middle", "right", "foot"}},
		"a box hides nothing":        {figure.Figure{Marks: []figure.Mark{covers(figure.Box, 0, 0, 800, 600)}}, []string{"top", "middle", "right", "foot"}},
		"turned":                     {figure.Figure{View: figure.View{Quarter: 1}}, []string{"top", "middle", "right", "foot"}},
		"mirrored":                   {figure.Figure{View: figure.View{Mirror: true}}, []string{"top", "middle", "right", "foot"}},
		"a fold over the middle":     {figure.Figure{View: figure.View{Folds: []figure.Fold{{From: 200, To: 400}}}}, []string{"top", "foot"}},
		"a fold that a crop cuts":    {figure.Figure{Crop: &scene.Rect{X: 0, Y: 300, W: 800, H: 300}, View: figure.View{Folds: []figure.Fold{{From: 200, To: 400}}}}, []string{"foot"}},
		"folds over each other":      {figure.Figure{View: figure.View{Folds: []figure.Fold{{From: 100, To: 250}, {From: 240, To: 400}}}}, []string{"top", "foot"}},
		"a crop within a fold":       {figure.Figure{Crop: &scene.Rect{X: 0, Y: 250, W: 800, H: 100}, View: figure.View{Folds: []figure.Fold{{From: 200, To: 400}}}}, nil},
		"a cover at another moment":  {clip(covers(figure.Concealment, 360, 280, 440, 320), 0, 400), []string{"top", "middle", "right", "foot"}},
		"a cover that moves over it": {clip(moves(covers(figure.Concealment, 20, 280, 100, 320), 350), 0, 4000), []string{"top", "right", "foot"}},
		"a crop with the hand": {figure.Figure{View: figure.View{Outline: []scene.Point{{X: 300, Y: 200}, {X: 500, Y: 200}, {X: 500, Y: 400}, {X: 300, Y: 400}}}},
			[]string{"middle"}},
	} {
		var shows []string
		for _, w := range Showing(all, c.figure.Still(1), size) {
			shows = append(shows, w.Text)
		}
		assert.Equal(t, c.shows, shows, name)
	}
}

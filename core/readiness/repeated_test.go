package readiness

import (
	"testing"

	"raconte/core/capture"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
)

func TestWordsDoNotTellWhatThePictureConceals(t *testing.T) {
	word := func(text string, x float64) sight.Word {
		return sight.Word{Text: text, Rect: scene.Rect{X: x, Y: 100, W: 80, H: 20}, Sure: 90}
	}
	read := map[string]Read{"shot": {Size: figure.Size{W: 800, H: 600},
		Words:    []sight.Word{word("Grower", 20), word("Password", 110), word("Brackwater", 200), word("LX-4711", 300), word("quay", 400)},
		Elements: []capture.Element{{Name: "Door of Ferrow", Role: "button", Rect: scene.Rect{X: 500, Y: 100, W: 80, H: 20}}}}}
	cover := figure.Mark{ID: "c", Kind: figure.Concealment, Points: []scene.Point{{X: 100, Y: 95}, {X: 600, Y: 125}}}
	for name, c := range map[string]struct {
		change func(d *document.Document)
		own    []string
		rules  []string
	}{
		"nothing of it":                {func(d *document.Document) {}, nil, nil},
		"what shows, and a label":      {func(d *document.Document) { d.Blocks[0].Words = words.Plain("Type the password of the Grower") }, nil, nil},
		"in the words":                 {func(d *document.Document) { d.Blocks[0].Words = words.Plain("Choose Brackwater") }, nil, []string{"worth-a-look s"}},
		"a number, folded":             {func(d *document.Document) { d.Blocks[0].Words = words.Plain("Type lx-4711.") }, nil, []string{"worth-a-look s"}},
		"the name of an element":       {func(d *document.Document) { d.Blocks[0].Words = words.Plain("Open the door of Ferrow") }, nil, []string{"worth-a-look s"}},
		"on the house's list":          {func(d *document.Document) { d.Blocks[0].Words = words.Plain("Go to the quay") }, []string{"Quay"}, []string{"must-fix s"}},
		"on the list, and not covered": {func(d *document.Document) { d.Blocks[0].Words = words.Plain("Go to the pier") }, []string{"Pier"}, nil},
		"in the title":                 {func(d *document.Document) { d.Facts.Title = "Lots of Brackwater" }, nil, []string{"worth-a-look "}},
		"in the keywords":              {func(d *document.Document) { d.Facts.Keywords = []string{"lots", "brackwater"} }, nil, []string{"worth-a-look "}},
		"in a description":             {func(d *document.Document) { d.Blocks[0].Figures[0].Alt = "Brackwater’s lot" }, nil, []string{"worth-a-look s"}},
		"in what a film says":          {func(d *document.Document) { d.Blocks[0].Film = &document.Told{Said: "Choose Brackwater"} }, nil, []string{"worth-a-look s"}},
		"in a notice": {func(d *document.Document) {
			d.Facts.Notice = &document.Notice{Signal: "caution", Hazard: "Ask Brackwater"}
		}, nil, []string{"worth-a-look "}},
		"not where nothing is covered": {func(d *document.Document) { d.Blocks[0].Figures[0].Marks = nil; d.Facts.Title = "Brackwater" }, nil, nil},
		"also where the cover is apart": {func(d *document.Document) {
			d.Blocks = append(d.Blocks, document.NewPassage("p", words.Plain("Ask Brackwater")))
		}, nil, []string{"worth-a-look p"}},
	} {
		d := document.Document{Kind: document.Procedure, Facts: document.Facts{Title: "Lots"}, Blocks: []document.Block{
			document.NewStep("s", words.Plain("Go on"), figure.Figure{ID: "f", Shot: "shot", Alt: "A list", Marks: []figure.Mark{cover}})}}
		c.change(&d)
		var rules []string
		for _, f := range Repeated(d, read, c.own) {
			rules = append(rules, string(f.Severity)+" "+f.Block)
		}
		assert.Equal(t, c.rules, rules, name)
	}
}

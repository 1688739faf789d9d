package readiness

import (
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/secrets"
	"raconte/core/sight"
	"raconte/core/style"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
)

func bold(before, name string) words.Node {
	return words.Node{Type: "doc", Content: []words.Node{{Type: "paragraph", Content: []words.Node{
		{Type: "text", Text: before}, {Type: "text", Text: name, Marks: []words.Style{{Type: "control"}}},
	}}}}
}

// screen is a shot of 1600 by 900 pixels that says some words, each 20 pixels high, from a place on to the right.
func screen(x, y float64, said string) Read {
	r := Read{Size: figure.Size{W: 1600, H: 900}}
	for _, w := range strings.Fields(said) {
		r.Words = append(r.Words, sight.Word{Text: w, Rect: scene.Rect{X: x, Y: y, W: 60, H: 20}, Sure: 95})
		x += 70
	}
	return r
}

func pictured(said words.Node, f figure.Figure, r Read) []string {
	f.ID, f.Shot = "f", "shot"
	d := document.Document{Kind: document.Procedure, Blocks: []document.Block{document.NewStep("s", said, f)}}
	var told []string
	for _, found := range Pictured(d, style.Default(), map[string]Read{"shot": r}) {
		told = append(told, strings.TrimSpace(found.Rule+" "+found.From+" > "+found.To))
	}
	return told
}

func TestWordsAreHeldAgainstThePicture(t *testing.T) {
	near := figure.Figure{Crop: &scene.Rect{W: 400, H: 225}} // large enough in print
	box := near
	box.Marks = []figure.Mark{{ID: "b", Kind: figure.Box, Points: []scene.Point{{X: 90, Y: 90}, {X: 240, Y: 130}}}}
	cover := near
	cover.Marks = []figure.Mark{{ID: "c", Kind: figure.Concealment, Points: []scene.Point{{X: 90, Y: 90}, {X: 400, Y: 130}}}}
	says := screen(100, 100, "Receive lot")
	assert.Empty(t, pictured(bold("Press ", "Receive lot"), near, says))
	assert.Equal(t, []string{"not-in-picture Recieve lot > Receive lot"}, pictured(bold("Press ", "Recieve lot"), near, says))
	assert.Empty(t, pictured(bold("Press ", "Print label"), near, says), "nothing near it: perhaps it is not on the screen")
	assert.Empty(t, pictured(bold("Press ", "Recieve lot"), near, Read{Size: says.Size}), "silent where nothing was read")
	assert.Empty(t, pictured(bold("Press ", "Recieve lot"), cover, says), "and of what is concealed")
	assert.Equal(t, []string{"not-named  > Receive lot"}, pictured(words.Plain("Go on."), box, says))
	assert.Empty(t, pictured(words.Plain("Then receive it."), box, says), "it is named")
	assert.Equal(t, []string{"small-print  >"}, pictured(words.Plain("Go on."), figure.Figure{}, screen(100, 100, strings.Repeat("weight ", 12))))
	says.Secrets = []secrets.Suggestion{{Rect: scene.Rect{X: 100, Y: 100, W: 60, H: 20}, Why: "a name"}}
	assert.Equal(t, []string{"secrets  >"}, pictured(words.Plain("Go on."), near, says))
	assert.Empty(t, pictured(words.Plain("Go on."), cover, says))
	assert.Equal(t, []string{"over-cell  >"}, pictured(words.Plain(strings.Repeat("word ", 200)), near, Read{Size: says.Size}))
	assert.Equal(t, "Press Receive lot", bold("Press ", "Recieve lot").Reworded("Recieve lot", "Receive lot").Reading(nil))
	assert.Equal(t, "Press\nReceive lot", words.Plain("Press").Naming("Receive lot").Reading(nil))
}

func TestFramesThatJumpAndNamesSpeltInTwoWays(t *testing.T) {
	step := func(id string, w float64) document.Block {
		return document.NewStep(id, bold("Press ", map[bool]string{true: "Receive Lot", false: "Receive lot"}[id == "b"]),
			figure.Figure{ID: "f" + id, Shot: "shot", Alt: "x", Crop: &scene.Rect{W: w, H: 300}})
	}
	d := document.Document{Kind: document.Procedure, Facts: document.Facts{Title: "T"}, Blocks: []document.Block{step("a", 500), step("b", 490), step("c", 500)}}
	size := figure.Size{W: 1600, H: 900}
	var rules []string
	for _, f := range Pictured(d, style.Default(), map[string]Read{"shot": {Size: size}}) {
		rules = append(rules, f.Rule+" "+f.Block)
	}
	assert.Equal(t, []string{"frames-jump b", "frames-jump c"}, rules)
	even := d.Blocks[1].Figures[0].Evened(size, figure.Size{W: 500, H: 300})
	assert.Equal(t, scene.Rect{W: 500, H: 300}, even.Frame(size))
	found := Check(d, nil, nil)
	assert.Len(t, found, 1)
	assert.Equal(t, []string{"spelling", "b", "Receive Lot", "Receive lot"}, []string{found[0].Rule, found[0].Block, found[0].From, found[0].To})
}

func TestWhereADocumentLeads(t *testing.T) {
	leads := func(kind words.Kind, to string) words.Node {
		return words.Node{Type: "doc", Content: []words.Node{{Type: "paragraph", Content: []words.Node{{Type: "reference", Attrs: &words.Attrs{Kind: kind, To: to}}}}}}
	}
	does := func(to string) document.Block {
		b := document.NewStep("s", words.Plain(""))
		b.Document = to
		return b
	}
	around := document.Around{"ready": {ID: "ready", Revision: 2}, "draft": {ID: "draft"}, "old": {ID: "old", Revision: 1, Retired: true}, "shut": {ID: "shut", Closed: true}}
	for name, c := range map[string]struct {
		block  document.Block
		around document.Around
		rules  []string
	}{
		"to a step that is gone":              {document.NewStep("s", leads(words.ToStep, "gone")), nil, []string{"lost-reference"}},
		"to itself":                           {document.NewStep("s", leads(words.ToStep, "s")), nil, nil},
		"to a document that is gone":          {document.NewStep("s", leads(words.ToDocument, "gone")), around, []string{"lost-reference"}},
		"to a document, where none are known": {document.NewStep("s", leads(words.ToDocument, "gone")), nil, nil},
		"to a retired document":               {document.NewStep("s", leads(words.ToDocument, "old")), around, []string{"retired-link"}},
		"handing over":                        {does("ready"), around, nil},
		"handing over to nothing":             {does("gone"), around, []string{"lost-link"}},
		"handing over to what is retired":     {does("old"), around, []string{"retired-link"}},
		"handing over to a draft":             {does("draft"), around, []string{"no-revision"}},
		"handing over to something closed":    {does("shut"), around, nil},
		"an empty passage":                    {document.NewPassage("s", words.Plain("")), nil, []string{"no-steps", "empty-passage"}},
	} {
		var rules []string
		for _, f := range Check(document.Document{Kind: document.Procedure, Facts: document.Facts{Title: "T"}, Blocks: []document.Block{c.block}}, nil, c.around) {
			rules = append(rules, f.Rule)
		}
		assert.Equal(t, c.rules, rules, name)
	}
	chapter := document.Block{ID: "c", Content: document.Content{Type: document.Chapter, Document: "ready", Revision: 1}}
	manual := document.Document{Kind: document.Manual, Facts: document.Facts{Title: "M"}, Blocks: []document.Block{chapter}}
	assert.Equal(t, "newer-revision", Check(manual, nil, around)[0].Rule)
	manual.Blocks = nil
	assert.Equal(t, "no-chapters", Check(manual, nil, around)[0].Rule)
}

package readiness

import (
	"fmt"
	"github.com/stretchr/testify/require"
	"testing"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
)

func TestCheck(t *testing.T) {
	picture := func(alt string, marks ...figure.Mark) []figure.Figure {
		return []figure.Figure{{ID: "f", Shot: "s", Alt: alt, Marks: marks}}
	}
	refers := words.Node{Type: "doc", Content: []words.Node{{Type: "paragraph", Content: []words.Node{{Type: "markerRef", Attrs: &words.Attrs{Mark: "m"}}}}}}
	section := func(id, heading string) document.Block { return document.NewSection(id, 1, words.Plain(heading)) }
	warned := func(hazard, avoid string) document.Block {
		b := document.NewStep("a", words.Plain("x"))
		b.Notice = &document.Notice{Signal: document.Warning, Hazard: hazard, Avoid: avoid}
		return b
	}
	marker := figure.Mark{ID: "m", Kind: figure.Marker, Points: []scene.Point{{}}}
	for name, c := range map[string]struct {
		steps []document.Block
		rules []string
		block bool
	}{
		"no steps":                   {nil, []string{"no-steps"}, true},
		"words and described":        {[]document.Block{document.NewStep("a", words.Plain("x"), picture("y")...)}, []string{}, false},
		"words alone will do":        {[]document.Block{document.NewStep("a", words.Plain("x"))}, []string{}, false},
		"no description":             {[]document.Block{document.NewStep("a", words.Plain("x"), picture("")...)}, []string{"no-alt"}, false},
		"no words":                   {[]document.Block{document.NewStep("a", words.Plain(" "), picture("y")...)}, []string{"no-words"}, true},
		"a marker that is there":     {[]document.Block{document.NewStep("a", refers, picture("y", marker)...)}, []string{}, false},
		"a marker that is gone":      {[]document.Block{document.NewStep("a", refers, picture("y")...)}, []string{"lost-marker"}, true},
		"a section with a step":      {[]document.Block{section("h", "Before"), document.NewStep("a", words.Plain("x"))}, []string{}, false},
		"a step in a section in one": {[]document.Block{section("h", "Before"), document.NewSection("i", 2, words.Plain("At once")), document.NewStep("a", words.Plain("x"))}, []string{}, false},
		"a section without a step":   {[]document.Block{section("h", "Before"), section("i", "After"), document.NewStep("a", words.Plain("x"))}, []string{"empty-section"}, false},
		"a section at the end":       {[]document.Block{document.NewStep("a", words.Plain("x")), section("h", "After")}, []string{"empty-section"}, false},
		"a section without heading":  {[]document.Block{section("h", ""), document.NewStep("a", words.Plain("x"))}, []string{"no-heading"}, true},
		"a notice that is whole":     {[]document.Block{warned("Cold", "Wear gloves")}, []string{}, false},
		"a notice without hazard":    {[]document.Block{warned(" ", "Wear gloves")}, []string{"no-hazard"}, true},
		"a notice without a way out": {[]document.Block{warned("Cold", "")}, []string{"no-hazard"}, true},
		"a marker of another step's": {[]document.Block{document.NewStep("a", refers), document.NewStep("b", words.Plain("x"), picture("y", marker)...)}, []string{"lost-marker"}, true},
	} {
		findings := Check(document.Document{Kind: document.Procedure, Facts: document.Facts{Title: "T"}, Blocks: c.steps}, nil, nil)
		rules := []string{}
		for _, f := range findings {
			rules = append(rules, f.Rule)
			assert.NotEmpty(t, f.Advice, name)
		}
		assert.Equal(t, c.rules, rules, name)
		assert.Equal(t, c.block, Blocks(findings), name)
	}
}

func TestDoubtAfterANewShotIsAFindingUntilAPersonHasSaid(t *testing.T) {
	mark := figure.Mark{ID: "m", Kind: figure.Box, Unsure: true}
	d := document.Document{Blocks: []document.Block{document.NewStep("s", words.Plain("Do"), figure.Figure{ID: "f", Alt: "x", Marks: []figure.Mark{mark}})}}
	require.Len(t, Check(d, nil, nil), 1)
	assert.Equal(t, "unsure-target", Check(d, nil, nil)[0].Rule)
	assert.True(t, Blocks(Check(d, nil, nil)))
	d.Blocks[0].Figures[0].Marks[0].Unsure = false
	assert.Empty(t, Check(d, nil, nil))
}

func TestAReportSaysWhatItLeavesOpen(t *testing.T) {
	n := 0
	d := document.Document{ID: "d", Kind: document.Report, Facts: document.Facts{Title: "T"}}
	d.Blocks = document.Asked(d.Kind, nil, func() string { n++; return fmt.Sprint("b", n) })
	rules := func() (all []string) {
		for _, f := range Check(d, nil, nil) {
			all = append(all, f.Rule)
		}
		return all
	}
	assert.Equal(t, []string{"no-happened", "no-expected", "no-picture", "no-way-again"}, rules(), "and no empty passages besides")
	d.Blocks[0].Words = words.Plain("It stays on.")
	d.Blocks[1].Words = words.Plain("It goes off.")
	d.Blocks = append(d.Blocks, document.NewStep("s", words.Plain("Open it."), figure.Figure{ID: "f", Shot: "s", Alt: "A"}))
	assert.Empty(t, rules())
}

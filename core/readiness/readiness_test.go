package readiness

import (
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
	marker := figure.Mark{ID: "m", Kind: figure.Marker, Points: []scene.Point{{}}}
	for name, c := range map[string]struct {
		steps []document.Step
		rules []string
		block bool
	}{
		"no steps":                   {nil, []string{"no-steps"}, true},
		"words and described":        {[]document.Step{{ID: "a", Words: words.Plain("x"), Figures: picture("y")}}, []string{}, false},
		"words alone will do":        {[]document.Step{{ID: "a", Words: words.Plain("x")}}, []string{}, false},
		"no description":             {[]document.Step{{ID: "a", Words: words.Plain("x"), Figures: picture("")}}, []string{"no-alt"}, false},
		"no words":                   {[]document.Step{{ID: "a", Words: words.Plain(" "), Figures: picture("y")}}, []string{"no-words"}, true},
		"a marker that is there":     {[]document.Step{{ID: "a", Words: refers, Figures: picture("y", marker)}}, []string{}, false},
		"a marker that is gone":      {[]document.Step{{ID: "a", Words: refers, Figures: picture("y")}}, []string{"lost-marker"}, true},
		"a marker of another step's": {[]document.Step{{ID: "a", Words: refers}, {ID: "b", Words: words.Plain("x"), Figures: picture("y", marker)}}, []string{"lost-marker"}, true},
	} {
		findings := Check(document.Document{Title: "T", Steps: c.steps})
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
	d := document.Document{Steps: []document.Step{{ID: "s", Words: words.Plain("Do"), Figures: []figure.Figure{{ID: "f", Alt: "x", Marks: []figure.Mark{mark}}}}}}
	require.Len(t, Check(d), 1)
	assert.Equal(t, "unsure-target", Check(d)[0].Rule)
	assert.True(t, Blocks(Check(d)))
	d.Steps[0].Figures[0].Marks[0].Unsure = false
	assert.Empty(t, Check(d))
}

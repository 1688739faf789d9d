package style

import (
	"encoding/json"
	"maps"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestStylesThatShipAreInOrderAndComeBackFromTheirFile(t *testing.T) {
	require.Equal(t, "plain", BuiltIns()[0])
	for _, id := range BuiltIns() {
		s, there := BuiltIn(id)
		require.True(t, there)
		require.NoError(t, s.Check(), id)
		raw, err := json.Marshal(s)
		require.NoError(t, err)
		again, err := Read(raw)
		require.NoError(t, err)
		assert.Equal(t, s, again)
		assert.Equal(t, s.Sum(), again.Sum())
	}
	_, there := BuiltIn("other")
	assert.False(t, there)
	_, err := Read([]byte(`{"format":9}`))
	assert.ErrorContains(t, err, "reads up to")
	_, err = Read([]byte(`[`))
	assert.ErrorContains(t, err, "no house style")
	few, err := Read([]byte(`{"name":"Ours","paper":{"name":"a5"}}`))
	require.NoError(t, err, "what a file does not say is as in the style that ships")
	assert.Equal(t, Default().Colors, few.Colors)
}

func TestWhatIsWrongWithAStyleIsSaid(t *testing.T) {
	for says, spoil := range map[string]func(*Style){
		"a name":           func(s *Style) { s.Name = " " },
		"no language":      func(s *Style) { s.Language = "xx" },
		"no paper":         func(s *Style) { s.Paper.Name = "b7" },
		"71 to 847 mm":     func(s *Style) { s.Paper = Paper{Name: "own", Width: 10, Height: 500} },
		"narrower":         func(s *Style) { s.Margins.Left = -1 },
		"leave less":       func(s *Style) { s.Margins.Left = 500 },
		"named by":         func(s *Style) { s.Faces.Bold = "../x" },
		"6 to 24":          func(s *Style) { s.Size = math.NaN() },
		"no colour":        func(s *Style) { s.Colors.Line = "red" },
		"the logo":         func(s *Style) { s.Logo = &Logo{} },
		"no layout":        func(s *Style) { s.Layout = "" },
		"points a pixel":   func(s *Style) { s.Steps.Largest = 9 },
		"no such frame":    func(s *Style) { s.Steps.Frame = "gold" },
		"no such contents": func(s *Style) { s.Contents = "x" },
		"no word":          func(s *Style) { s.Words = map[string]string{"x": "y"} },
		"longer than 60":   func(s *Style) { s.Words = map[string]string{"step": strings.Repeat("x", 61)} },
		"header":           func(s *Style) { s.Header.Left = "a\nb" },
	} {
		s := Default()
		spoil(&s)
		assert.ErrorContains(t, s.Check(), says)
	}
}

func TestEveryLanguageHasEveryWordWithItsPlaceholders(t *testing.T) {
	keys := slices.Sorted(maps.Keys(said[English]))
	for _, l := range Languages {
		words := Printable(l.Tag)
		assert.Equal(t, keys, slices.Sorted(maps.Keys(words)), l.Name)
		for key, word := range words {
			for _, p := range []string{"{page}", "{pages}", "{n}", "{time}", "{name}", "{date}"} {
				assert.Equal(t, strings.Contains(said[English][key], p), strings.Contains(word, p), "%s: %s", l.Name, key)
			}
		}
	}
	s := Default()
	s.Language, s.Words = German, map[string]string{"step": "Handgriff"}
	assert.Equal(t, "Handgriff", s.Said("step"), "the house's own wording")
	assert.Equal(t, "Seite 2 von 9", s.Said("pages", "page", "2", "pages", "9"))
	assert.Equal(t, "1 Schritt", s.CountedSteps(1))
}

func TestPlaceholdersWithoutAValueLeaveNothingHanging(t *testing.T) {
	values := map[string]string{"house": "Pellworth", "number": "", "title": "Move · a lot"}
	value := func(name string) (string, bool) { v, known := values[name]; return v, known }
	for in, out := range map[string]string{
		"{house} · {title}":            "Pellworth · Move · a lot",
		"{house} · No. {number} · end": "Pellworth · end",
		"{number}":                     "",
		"as it is":                     "as it is",
		"{unknown} {house":             "{unknown} {house",
		"{house}{number} and {title}":  "Pellworth and Move · a lot",
		"{{house}}":                    "{{house}}",
		"}{":                           "}{",
	} {
		assert.Equal(t, out, Fill(in, value), in)
	}
}

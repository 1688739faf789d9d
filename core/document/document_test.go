package document

import (
	"encoding/json"
	"math/rand"
	"slices"
	"strings"
	"testing"

	"raconte/core/figure"
	"raconte/core/id"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// put inserts n steps at a position and returns the keys of all steps, as a client would.
func put(t *testing.T, keys []string, at, n int) []string {
	t.Helper()
	a := Arrange(keys, at, n)
	require.Len(t, a.Keys, n)
	if a.Anew != nil {
		require.Len(t, a.Anew, len(keys))
		keys = a.Anew
	}
	return slices.Insert(slices.Clone(keys), at, a.Keys...)
}

func inOrder(t *testing.T, keys []string) {
	t.Helper()
	for i, k := range keys {
		require.True(t, ValidOrder(k), k)
		require.LessOrEqual(t, len(k), longest)
		if i > 0 {
			require.Less(t, keys[i-1], k)
		}
	}
}

func TestArrangeKeepsOrderWhereverStepsGo(t *testing.T) {
	random := rand.New(rand.NewSource(1))
	for name, at := range map[string]func(have int) int{
		"at the end":               func(have int) int { return have },
		"at the start":             func(int) int { return 0 },
		"always in the same place": func(have int) int { return min(have, 3) },
		"step after step inside":   func(have int) int { return have / 2 },
		"anywhere":                 func(have int) int { return random.Intn(have + 1) },
	} {
		t.Run(name, func(t *testing.T) {
			keys := put(t, nil, 0, 5)
			for range 1200 {
				keys = put(t, keys, at(len(keys)), 1+random.Intn(3))
			}
			inOrder(t, keys)
		})
	}
}

func TestArrangeNumbersAnewWhenThereIsNoRoom(t *testing.T) {
	same := []string{"00A000", "00A000"}
	a := Arrange(same, 1, 1)
	assert.Len(t, a.Anew, 2, "two steps that share a key, as after two people added one at once")
	inOrder(t, []string{a.Anew[0], a.Keys[0], a.Anew[1]})
	assert.False(t, ValidOrder("short"))
	assert.False(t, ValidOrder("00A00-"))
}

func step(id string, figures ...figure.Figure) Step {
	return Step{ID: id, Words: words.Plain("x"), Figures: figures}
}

func TestCheckRefusesWhatCanNotBeKept(t *testing.T) {
	good := Document{ID: "d", Kind: Procedure, Title: "T", Steps: []Step{step("a", figure.Figure{ID: "f", Shot: "s"}), step("b")}}
	require.NoError(t, good.Check())
	for name, spoil := range map[string]func(d *Document){
		"unknown kind":        func(d *Document) { d.Kind = "poem" },
		"no title":            func(d *Document) { d.Title = "  " },
		"title of two lines":  func(d *Document) { d.Title = "a\nb" },
		"long title":          func(d *Document) { d.Title = strings.Repeat("x", LongestTitle+1) },
		"step used twice":     func(d *Document) { d.Steps = append(d.Steps, step("a")) },
		"figure used twice":   func(d *Document) { d.Steps[1].Figures = d.Steps[0].Figures },
		"step without id":     func(d *Document) { d.Steps[0].ID = "" },
		"too many steps":      func(d *Document) { d.Steps = make([]Step, MostSteps+1) },
		"too many pictures":   func(d *Document) { d.Steps[0].Figures = make([]figure.Figure, MostFigures+1) },
		"figure without shot": func(d *Document) { d.Steps[0].Figures[0].Shot = "" },
		"words off the model": func(d *Document) { d.Steps[0].Words.Content[0].Type = "script" },
	} {
		t.Run(name, func(t *testing.T) {
			d := good
			d.Steps = []Step{step("a", figure.Figure{ID: "f", Shot: "s"}), step("b")}
			spoil(&d)
			assert.Error(t, d.Check())
		})
	}
}

func TestFigureKnowsTheNumberOfItsFirstMarker(t *testing.T) {
	marker := func(id string) figure.Mark { return figure.Mark{ID: id, Kind: figure.Marker} }
	d := Document{Steps: []Step{step("a"), step("b",
		figure.Figure{ID: "f", Shot: "1", Marks: []figure.Mark{marker("x"), marker("y")}},
		figure.Figure{ID: "g", Shot: "2", Marks: []figure.Mark{marker("z")}})}}
	_, at, first, ok := d.Figure("g")
	assert.True(t, ok)
	assert.Equal(t, []int{1, 3}, []int{at, first})
	_, _, _, ok = d.Figure("none")
	assert.False(t, ok)
	assert.Equal(t, []string{"1", "2"}, d.Shots())
}

func TestStoredStepsOfEveryFormatAreReadUp(t *testing.T) {
	old := `{"words":{"type":"doc","content":[{"type":"paragraph","content":[{"type":"text","text":"Go","marks":[{"type":"bold"},{"type":"bold"}]},{"type":"markerRef","attrs":{"mark":"m/1"}}]}]},
		"figures":[{"id":"f 1","shot":"ü","alt":"","marks":[{"id":"m/1","kind":"marker","points":[{"x":-2000000,"y":5}],"ink":"red","weight":"fine"}]},{"id":"g","shot":"s","alt":"","marks":null}]}`
	s, err := ReadStep([]byte(old))
	require.NoError(t, err)
	s.ID = "s"
	require.NoError(t, s.Check())
	assert.Equal(t, s.Words.References(), []string{s.Figures[0].Marks[0].ID}, "words and marker are mended alike")
	assert.Equal(t, id.Mended("ü"), s.Figures[0].Shot)
	raw, err := json.Marshal(Store(s))
	require.NoError(t, err)
	again, err := ReadStep(raw)
	require.NoError(t, err)
	again.ID = "s"
	assert.Equal(t, s, again)
	assert.Contains(t, string(raw), `"format":3`)
	_, err = ReadStep([]byte(`{"format":99,"words":{"type":"doc"},"figures":[]}`))
	assert.ErrorContains(t, err, "reads up to")
	d := Document{ID: "d", Kind: Procedure, Title: "T", Steps: []Step{s, s}}
	d.Steps[1].ID = "t"
	assert.ErrorContains(t, d.Check(), "used twice")
	assert.NoError(t, d.Apart().Check(), "and made different")
	for bad, why := range map[string]func(*Document){
		"case":  func(d *Document) { d.Steps[0].ID = "a b" },
		"title": func(d *Document) { d.Title = "\xff" },
	} {
		e := d.Apart()
		why(&e)
		assert.Error(t, e.Check(), bad)
	}
}

func FuzzReadStep(f *testing.F) {
	f.Add([]byte(`{"format":3,"words":{"type":"doc"},"figures":[]}`))
	f.Add([]byte(`{"words":{"type":"doc"},"figures":[{"id":"/","shot":"s","alt":"","crop":{"x":-1e9,"y":1,"w":3,"h":4},"marks":[{"id":"m","kind":"pen","points":[{"x":1e300,"y":2}]}]}]}`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		s, err := ReadStep(raw)
		if err != nil {
			return
		}
		stored, err := json.Marshal(Store(s))
		require.NoError(t, err)
		again, err := ReadStep(stored)
		require.NoError(t, err, "what was read can be stored and read again")
		twice, err := json.Marshal(Store(again))
		require.NoError(t, err)
		require.JSONEq(t, string(stored), string(twice))
	})
}

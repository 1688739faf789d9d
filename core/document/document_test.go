package document

import (
	"encoding/json"
	"math/rand"
	"slices"
	"strings"
	"testing"

	"raconte/core/access"
	"raconte/core/figure"
	"raconte/core/id"
	"raconte/core/style"
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

func step(id string, figures ...figure.Figure) Block {
	return NewStep(id, words.Plain("x"), figures...)
}

func TestCheckRefusesWhatCanNotBeKept(t *testing.T) {
	good := Document{ID: "d", Kind: Procedure, Facts: Facts{Title: "T"}, Blocks: []Block{step("a", figure.Figure{ID: "f", Shot: "s"}), step("b")}}
	require.NoError(t, good.Check())
	for name, spoil := range map[string]func(d *Document){
		"unknown kind":            func(d *Document) { d.Kind = "poem" },
		"no title":                func(d *Document) { d.Facts.Title = "  " },
		"title of two lines":      func(d *Document) { d.Facts.Title = "a\nb" },
		"long title":              func(d *Document) { d.Facts.Title = strings.Repeat("x", LongestTitle+1) },
		"step used twice":         func(d *Document) { d.Blocks = append(d.Blocks, step("a")) },
		"figure used twice":       func(d *Document) { d.Blocks[1].Figures = d.Blocks[0].Figures },
		"step without id":         func(d *Document) { d.Blocks[0].ID = "" },
		"too many steps":          func(d *Document) { d.Blocks = make([]Block, MostBlocks+1) },
		"too many pictures":       func(d *Document) { d.Blocks[0].Figures = make([]figure.Figure, MostFigures+1) },
		"figure without shot":     func(d *Document) { d.Blocks[0].Figures[0].Shot = "" },
		"a block of another kind": func(d *Document) { d.Blocks[0] = Block{"a", Content{Type: Chapter, Document: "p"}} },
		"a section with pictures": func(d *Document) { d.Blocks[0].Type = Section },
		"a section too deep":      func(d *Document) { d.Blocks[1].Type, d.Blocks[1].Level = Section, 3 },
		"a step with a level":     func(d *Document) { d.Blocks[1].Level = 1 },
		"a step of days":          func(d *Document) { d.Blocks[1].Seconds = LongestStep + 1 },
		"an odd way of counting":  func(d *Document) { d.Facts.Counting = "backwards" },
		"a block of no type":      func(d *Document) { d.Blocks[0].Type = "poem" },
		"words off the model":     func(d *Document) { d.Blocks[0].Words.Content[0].Type = "script" },
	} {
		t.Run(name, func(t *testing.T) {
			d := good
			d.Blocks = []Block{step("a", figure.Figure{ID: "f", Shot: "s"}), step("b")}
			spoil(&d)
			assert.Error(t, d.Check())
		})
	}
}

func TestFigureKnowsTheNumberOfItsFirstMarker(t *testing.T) {
	marker := func(id string) figure.Mark { return figure.Mark{ID: id, Kind: figure.Marker} }
	d := Document{Blocks: []Block{step("a"), step("b",
		figure.Figure{ID: "f", Shot: "1", Marks: []figure.Mark{marker("x"), marker("y")}},
		figure.Figure{ID: "g", Shot: "2", Marks: []figure.Mark{marker("z")}})}}
	_, in, ok := d.Figure("g")
	assert.True(t, ok)
	assert.Equal(t, "b", in.ID)
	_, _, ok = d.Figure("none")
	assert.False(t, ok)
	n := d.Numbers()
	assert.Equal(t, map[string]string{"a": "1", "b": "2"}, n.Blocks)
	assert.Equal(t, map[string]int{"f": 1, "g": 3}, n.Markers)
	assert.Equal(t, map[string]int{"f": 1, "g": 2}, n.Figures)
	assert.Equal(t, []string{"1", "2"}, d.Shots())
}

func TestNumbersCountThroughSections(t *testing.T) {
	marker := figure.Mark{ID: "m", Kind: figure.Marker}
	onward := figure.Mark{ID: "o", Kind: figure.Marker, Onward: true}
	d := Document{Blocks: []Block{
		{"intro", Content{Type: Passage, Words: words.Plain("x"), Figures: []figure.Figure{{ID: "p", Shot: "s"}}}},
		NewSection("s1", 1, words.Plain("Before")), step("a", figure.Figure{ID: "f", Shot: "s", Marks: []figure.Mark{marker}}),
		NewSection("s2", 1, words.Plain("After")), step("b", figure.Figure{ID: "g", Shot: "s", Marks: []figure.Mark{onward}}),
		NewSection("s3", 2, words.Plain("At once")), step("c"), step("d"),
	}}
	n := d.Numbers()
	assert.Equal(t, map[string]string{"s1": "1", "a": "1", "s2": "2", "b": "2", "s3": "2.1", "c": "3", "d": "4"}, n.Blocks)
	assert.Equal(t, map[string]int{"p": 1, "f": 2, "g": 3}, n.Figures)
	assert.Equal(t, map[string]int{"p": 1, "f": 1, "g": 2}, n.Markers, "told to, markers count on from earlier blocks")
	assert.Equal(t, 4, n.Steps)
	d.Facts.Counting = Anew
	n = d.Numbers()
	assert.Equal(t, []string{"1", "1", "1", "2"}, []string{n.Blocks["a"], n.Blocks["b"], n.Blocks["c"], n.Blocks["d"]})
	assert.Equal(t, 4, n.Steps)

	counted := make([]Counted, len(d.Blocks))
	for i, b := range d.Blocks {
		counted[i] = b.Counts()
	}
	spans := []int{}
	for i := range counted {
		spans = append(spans, Span(counted, i))
	}
	assert.Equal(t, []int{1, 2, 1, 5, 1, 3, 1, 1}, spans, "a section has all up to the next that lies no deeper")
}

func TestTimesAreWrittenAndRead(t *testing.T) {
	for said, seconds := range map[string]int{"20 s": 20, "1 min 30 s": 90, "12 min": 720, "1 h 5 min": 3900, "": 0} {
		assert.Equal(t, said, SayTime(seconds))
		read, ok := ReadTime(said)
		assert.True(t, ok, said)
		assert.Equal(t, seconds, read)
	}
	for said, seconds := range map[string]int{"90": 90, "1:30": 90, "2 m": 120, " 1H ": 3600} {
		read, ok := ReadTime(said)
		assert.Equal(t, []any{seconds, true}, []any{read, ok}, said)
	}
	for _, said := range []string{"soon", "-1", "25 h", "1:75", strings.Repeat("9", 30)} {
		_, ok := ReadTime(said)
		assert.False(t, ok, said)
	}
	for said, about := range map[string]Time{"about 1 min 10 s": {Seconds: 61}, "about 4 min": {Seconds: 181}, "at least 30 s": {39, true}, "at least 4 min": {299, true}, "": {}} {
		assert.Equal(t, said, about.About())
	}
	d := Document{Blocks: []Block{step("a"), NewSection("s", 1, words.Plain("S")), step("b"), step("c")}}
	assert.Empty(t, d.Left())
	d.Facts.Seconds = 90
	assert.Equal(t, map[string]Time{"a": {90, false}, "b": {60, false}, "c": {30, false}}, d.Left(), "evenly where no step says")
	d.Blocks[0].Seconds, d.Blocks[3].Seconds = 10, 20
	assert.Equal(t, map[string]Time{"a": {90, false}, "b": {80, false}, "c": {20, false}}, d.Left(), "what the steps say, and what is left evenly")
	d.Facts.Seconds = 0
	assert.Equal(t, Time{30, true}, d.Time(), "a step is not timed")
	d.Blocks[2].Seconds = 5
	assert.Equal(t, map[string]Time{"a": {35, false}, "b": {25, false}, "c": {20, false}}, d.Left())

	// A manual takes as long as its chapters, each as its author says or as its steps do.
	chapter := func(id string) Block { return Block{ID: id, Content: Content{Type: Chapter, Document: id}} }
	manual := Document{Kind: Manual, Blocks: []Block{chapter("own"), chapter("steps"), chapter("gone")}}
	whole := manual.Composed(func(b Block) (Document, bool) {
		p := Document{Kind: Procedure, Blocks: []Block{step("x" + b.ID), step("y" + b.ID)}}
		p.Blocks[0].Seconds = 10
		if b.ID == "own" {
			p.Facts.Seconds = 240
		} else {
			p.Blocks[1].Seconds = 20
		}
		return p, b.ID != "gone"
	})
	assert.Equal(t, Time{270, false}, whole.Time())
	assert.Equal(t, 260, whole.Left()["yown"].Seconds)
	assert.Equal(t, 30, whole.Left()["xsteps"].Seconds)
}

func TestStatesFollowActs(t *testing.T) {
	author, reader := access.Viewer{Account: "a", Role: access.Author}, access.Viewer{Account: "r", Role: access.Reader}
	for _, c := range []struct {
		from State
		act  Act
		who  access.Viewer
		to   State
		why  string
	}{
		{Draft, Edit, author, Draft, ""}, {Ready, Edit, author, Draft, ""}, {Draft, Release, author, Ready, ""}, {Ready, Release, author, Ready, ""},
		{Ready, Reopen, author, Draft, ""}, {Draft, Release, reader, Draft, "may not make revisions"}, {Ready, Edit, reader, Ready, "may not change"},
		{"lost", Edit, author, "lost", "can't be changed"}, {Draft, "burn", author, Draft, "can't be changed"},
	} {
		to, err := Next(c.from, c.act, c.who)
		assert.Equal(t, c.to, to, "%s %s", c.from, c.act)
		if c.why == "" {
			assert.NoError(t, err)
		} else {
			assert.ErrorContains(t, err, c.why)
		}
	}
}

func TestStoredBlocksOfEveryFormatAreReadUp(t *testing.T) {
	old := `{"words":{"type":"doc","content":[{"type":"paragraph","content":[{"type":"text","text":"Go","marks":[{"type":"bold"},{"type":"bold"}]},{"type":"markerRef","attrs":{"mark":"m/1"}}]}]},
		"figures":[{"id":"f 1","shot":"ü","alt":"","marks":[{"id":"m/1","kind":"marker","points":[{"x":-2000000,"y":5}],"ink":"red","weight":"fine"}]},{"id":"g","shot":"s","alt":"","marks":null}]}`
	c, err := ReadContent([]byte(old))
	require.NoError(t, err)
	assert.Equal(t, Step, c.Type)
	b := Block{"s", c}
	require.NoError(t, b.Check())
	assert.Equal(t, b.Words.References(), []string{b.Figures[0].Marks[0].ID}, "words and marker are mended alike")
	assert.Equal(t, id.Mended("ü"), b.Figures[0].Shot)
	raw, err := json.Marshal(Store(c))
	require.NoError(t, err)
	again, err := ReadContent(raw)
	require.NoError(t, err)
	assert.Equal(t, c, again)
	assert.Contains(t, string(raw), `"format":10,"type":"step"`)
	third, err := ReadContent([]byte(`{"format":3,"words":{"type":"doc"},"figures":[{"id":"f","shot":"s","alt":"","marks":[
		{"id":"l","kind":"loupe","points":[{"x":1,"y":1},{"x":9,"y":9},{"x":40,"y":40}],"ink":"red","weight":"fine"}]}]}`))
	require.NoError(t, err)
	assert.Equal(t, Step, third.Type)
	assert.Equal(t, figure.Detail, third.Figures[0].Marks[0].Kind)
	assert.NoError(t, Block{"t", third}.Check())
	_, err = ReadContent([]byte(`{"format":109,"words":{"type":"doc"},"figures":[]}`))
	assert.ErrorContains(t, err, "reads up to")
	d := Document{ID: "d", Kind: Procedure, Facts: Facts{Title: "T"}, Blocks: []Block{b, b}}
	d.Blocks[1].ID = "t"
	assert.ErrorContains(t, d.Check(), "used twice")
	assert.NoError(t, d.Apart().Check(), "and made different")
	for bad, why := range map[string]func(*Document){
		"id":    func(d *Document) { d.Blocks[0].ID = "a b" },
		"title": func(d *Document) { d.Facts.Title = "\xff" },
	} {
		e := d.Apart()
		why(&e)
		assert.Error(t, e.Check(), bad)
	}
}

func TestDocumentsOfEveryFormatAreReadUp(t *testing.T) {
	for _, raw := range []string{
		`{"id":"d","kind":"procedure","title":"T","steps":[{"id":"a","words":{"type":"doc"},"figures":[]}]}`,
		`{"format":3,"id":"d","kind":"procedure","title":"T","steps":[{"id":"a","words":{"type":"doc"},"figures":[]}]}`,
		`{"format":4,"id":"d","kind":"procedure","facts":{"title":"T"},"blocks":[{"id":"a","type":"step","words":{"type":"doc"},"figures":[]}]}`,
	} {
		var d Document
		require.NoError(t, json.Unmarshal([]byte(raw), &d), raw)
		require.NoError(t, d.Check(), raw)
		assert.Equal(t, "T", d.Facts.Title)
		assert.Equal(t, 1, d.Numbers().Steps)
		written, err := json.Marshal(d)
		require.NoError(t, err)
		assert.Contains(t, string(written), `"format":10,"id":"d","kind":"procedure","facts":{"title":"T"},"blocks":[{`)
	}
	for counted, named := range map[string]style.Layout{"0": "", "2": style.Two, "4": style.Running} {
		var d Document
		require.NoError(t, json.Unmarshal([]byte(`{"format":6,"id":"d","kind":"procedure","facts":{"title":"T","layout":`+counted+`},"blocks":[]}`), &d))
		assert.Equal(t, named, d.Facts.Layout)
	}
	var d Document
	assert.ErrorContains(t, json.Unmarshal([]byte(`{"format":11}`), &d), "reads up to")
}

func FuzzReadContent(f *testing.F) {
	f.Add([]byte(`{"format":3,"words":{"type":"doc"},"figures":[]}`))
	f.Add([]byte(`{"words":{"type":"doc"},"figures":[{"id":"/","shot":"s","alt":"","crop":{"x":-1e9,"y":1,"w":3,"h":4},"marks":[{"id":"m","kind":"pen","points":[{"x":1e300,"y":2}]}]}]}`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		c, err := ReadContent(raw)
		if err != nil {
			return
		}
		stored, err := json.Marshal(Store(c))
		require.NoError(t, err)
		again, err := ReadContent(stored)
		require.NoError(t, err, "what was read can be stored and read again")
		twice, err := json.Marshal(Store(again))
		require.NoError(t, err)
		require.JSONEq(t, string(stored), string(twice))
	})
}

func TestTheMostSevereSignalWordIsTheDocuments(t *testing.T) {
	d := Document{ID: "d", Kind: Procedure, Facts: Facts{Title: "T"}, Blocks: []Block{step("a"), step("b")}}
	assert.Empty(t, d.Signal())
	d.Facts.Notice = &Notice{Signal: Caution, Hazard: "Cold", Avoid: "Wear gloves"}
	d.Blocks[1].Notice = &Notice{Signal: Danger, Hazard: "Ammonia", Consequence: " ", Avoid: "Leave"}
	require.NoError(t, d.Check())
	assert.Equal(t, Danger, d.Signal())
	assert.Equal(t, []string{"Ammonia", "Leave"}, d.Blocks[1].Notice.Lines())
	again, err := ReadContent(must(t, Store(d.Blocks[1].Content)))
	require.NoError(t, err)
	assert.Equal(t, d.Blocks[1].Content.Notice, again.Notice)
	for name, n := range map[string]Notice{"unknown word": {Signal: "attention"}, "no word": {}, "two lines": {Signal: Danger, Hazard: "a\nb"}, "long": {Signal: Danger, Avoid: strings.Repeat("x", 301)}} {
		assert.Error(t, n.Check(), name)
	}
	d.Blocks[0].Type = Section
	d.Blocks[0].Notice = d.Facts.Notice
	assert.Error(t, d.Check(), "a section warns of nothing")
}

func must(t *testing.T, v any) []byte {
	raw, err := json.Marshal(v)
	require.NoError(t, err)
	return raw
}

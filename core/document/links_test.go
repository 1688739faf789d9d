package document

import (
	"fmt"
	"testing"

	"raconte/core/figure"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// refer is a text that refers to something.
func refer(kind words.Kind, to string) words.Node {
	return words.Node{Type: "doc", Content: []words.Node{{Type: "paragraph", Content: []words.Node{
		{Type: "text", Text: "See "}, {Type: "reference", Attrs: &words.Attrs{Kind: kind, To: to}},
	}}}}
}

func procedure(title string, steps int) Document {
	d := Document{ID: title, Kind: Procedure, Facts: Facts{Title: title}, Blocks: []Block{NewSection("head", 1, words.Plain("Part"))}}
	for i := range steps {
		d.Blocks = append(d.Blocks, NewStep(fmt.Sprint("s", i), words.Plain("Do it"), figure.Figure{ID: fmt.Sprint("f", i), Shot: "shot"}))
	}
	return d
}

func chapter(id, of string) Block {
	return Block{id, Content{Type: Chapter, Document: of, Words: words.Plain(""), Figures: []figure.Figure{}}}
}

func TestReferencesReadAsWhatIsCountedNow(t *testing.T) {
	d := procedure("P", 3)
	d.Blocks[3].Figures[0].Marks = []figure.Mark{{ID: "arrow", Kind: figure.Arrow}, {ID: "m", Kind: figure.Marker, Style: figure.Style{Count: "A"}}}
	names := d.Names(map[string]string{"other": "PR-001 Other"}, nil)
	assert.Equal(t, []string{"section 1", "step 3", "picture 3", "A in picture 3", "the arrow in picture 3", "PR-001 Other"},
		[]string{names["head"], names["s2"], names["f2"], names["m"], names["arrow"], names["other"]})
	d.Blocks = append([]Block{NewStep("new", words.Plain("First"))}, d.Blocks...)
	assert.Equal(t, "step 4", d.Names(nil, nil)["s2"], "a step before it counts")
	said := refer(words.ToStep, "s2").Named(d.Names(nil, nil)).Reading(nil)
	assert.Equal(t, "See step 4", said)
	assert.Equal(t, "See ?", refer(words.ToStep, "gone").Named(d.Names(nil, nil)).Reading(nil))
}

func TestAManualHasItsChaptersReadIn(t *testing.T) {
	one, two := procedure("One", 2), procedure("Two", 3)
	two.Facts.Notice = &Notice{Signal: Danger, Hazard: "Gas.", Avoid: "Air."}
	two.Blocks[2].Words = refer(words.ToStep, "s2")
	all := map[string]Document{"One": one, "Two": two}
	d := Document{ID: "m", Kind: Manual, Facts: Facts{Title: "M"}, Blocks: []Block{
		NewPassage("intro", words.Plain("Welcome")), chapter("c1", "One"), chapter("c2", "Two"), chapter("c3", "Gone"),
	}}
	require.NoError(t, d.Check())
	whole := d.Composed(func(b Block) (Document, bool) { p, ok := all[b.Document]; return p, ok })
	n := whole.Numbers()
	var told []string
	seen := map[string]bool{}
	for _, b := range whole.Blocks {
		told = append(told, fmt.Sprint(b.Type, " ", n.Blocks[b.ID]))
		assert.False(t, seen[b.ID], "the id %s stands once", b.ID)
		seen[b.ID] = true
		for _, f := range b.Figures {
			assert.False(t, seen[f.ID], "the id %s stands once", f.ID)
			seen[f.ID] = true
		}
	}
	assert.Equal(t, []string{
		"passage ", "chapter 1", "section 1.1", "step 1", "step 2",
		"chapter 2", "passage ", "section 2.1", "step 1", "step 2", "step 3", "chapter 3",
	}, told)
	assert.Equal(t, Danger, whole.Signal(), "the manual bears what its chapters warn of")
	second := whole.Blocks[9]
	assert.Equal(t, "See step 3", second.Words.Named(whole.Names(nil, nil)).Reading(nil), "references lead within their own chapter")
	assert.Len(t, d.Blocks, 4, "and the manual itself is as it was")
	assert.Equal(t, []Lead{{"c1", "One", Holds}, {"c2", "Two", Holds}, {"c3", "Gone", Holds}}, d.Leads())
}

func TestTimeHasWhatIsHandedOverTo(t *testing.T) {
	d := procedure("P", 2)
	d.Blocks[1].Seconds = 60
	d.Blocks[2].Document = "other"
	around := Around{"other": {ID: "other", Seconds: 300}}
	assert.Equal(t, 360, d.Timed(around).Time().Seconds)
	assert.Equal(t, 300, d.Timed(around).Left()["s1"].Seconds)
	assert.Equal(t, 60, d.Time().Seconds, "what is stored stays")
}

func TestControl(t *testing.T) {
	c := Control{Lettered: true, Every: 6, Review: "2026-03-01"}
	assert.Equal(t, []string{"A", "Z", "AA"}, []string{c.SayRevision(1), c.SayRevision(26), c.SayRevision(27)})
	assert.Equal(t, "3", Control{}.SayRevision(3))
	assert.Equal(t, "2026-09-01", c.NextReview("2026-03-01"), "a review that was due is the next one on")
	assert.Equal(t, "2026-03-01", c.NextReview("2026-02-28"), "one that lies ahead stays")
	assert.Equal(t, []string{"overdue", "soon", "soon", "", ""},
		[]string{Due("2026-01-01", "2026-01-02"), Due("2026-01-02", "2026-01-02"), Due("2026-02-01", "2026-01-02"), Due("2026-02-02", "2026-01-02"), Due("", "2026-01-02")})
	assert.Equal(t, "PR-2026-007", Pattern("{kind}-{year}-{nnn}").Number(Procedure, 2026, 7))
	for bad, why := range map[Pattern]string{"PR": "one count", "{n}{n}": "one count", "{kind}{x}{n}": "there is no {x}"} {
		assert.ErrorContains(t, bad.Check(), why, bad)
	}
	require.NoError(t, UsualPattern.Check())
	for name, bad := range map[string]Control{
		"a day that is none": {Review: "2026-02-30"}, "no day": {Effective: "soon"}, "two lines": {Owner: "a\nb"}, "too often": {Every: -1},
	} {
		assert.Error(t, Facts{Title: "T", Control: bad}.Check(), name)
	}
}

func TestBlocksThatLeadAreChecked(t *testing.T) {
	good := NewStep("s", words.Plain("x"))
	good.Document, good.Beside = "other", []WebLink{{Address: "https://a.example/film", Title: "Film", Film: true}}
	require.NoError(t, good.Check())
	for name, spoil := range map[string]func(*Block){
		"a section that leads":     func(b *Block) { b.Type = Section },
		"a link to a script":       func(b *Block) { b.Beside[0].Address = "javascript:alert(1)" },
		"a title of two lines":     func(b *Block) { b.Beside[0].Title = "a\nb" },
		"an odd id":                func(b *Block) { b.Document = "a b" },
		"a revision of a step":     func(b *Block) { b.Revision = 2 },
		"a critical passage":       func(b *Block) { b.Type, b.Document, b.Critical = Passage, "", true },
		"a chapter without any":    func(b *Block) { *b = chapter("c", "") },
		"a reference to an oddity": func(b *Block) { b.Words = refer("planet", "x") },
		"a reference to nothing":   func(b *Block) { b.Words = refer(words.ToStep, "") },
	} {
		b := good
		b.Beside = []WebLink{good.Beside[0]}
		spoil(&b)
		assert.Error(t, b.Check(), name)
	}
}

func TestAPDFIsRewrittenIntoSteps(t *testing.T) {
	n := 0
	newID := func() string { n++; return fmt.Sprint("id", n) }
	blocks := Rewritten([]string{
		"Leak\n\nEdition of 2019\nby the safety team\n\n1 Whoever smells it\n\n1. Leave the room,\nagainst the wind.\n2) Press the button.\n",
		"Step 3: Count everybody.\n", "",
	}, []string{"p1", "p2", "p3"}, newID)
	var told []string
	for _, b := range blocks {
		told = append(told, fmt.Sprintf("%s: %s %d", b.Type, b.Words.Reading(nil), len(b.Figures)))
		require.NoError(t, b.Check())
	}
	assert.Equal(t, []string{
		"passage: Leak 1", "passage: Edition of 2019 by the safety team 0", "section: Whoever smells it 0",
		"step: Leave the room, against the wind. 0", "step: Press the button. 0", "step: Count everybody. 1", "passage:  1",
	}, told, "each page's picture stands with the first that it says")
}

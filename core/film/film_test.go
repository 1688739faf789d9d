package film_test

import (
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/film"
	"raconte/core/scene"
	"raconte/core/story"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// told is a procedure of a section with three steps: two with a picture, of which the second's words name their marker
// late.
func told(change ...func(*document.Document)) story.Story {
	marked := figure.Figure{ID: "f2", Shot: "s", Marks: []figure.Mark{
		{ID: "m", Kind: figure.Marker, Points: []scene.Point{{X: 200, Y: 150}}},
		{ID: "c", Kind: figure.Concealment, Points: []scene.Point{{X: 900, Y: 500}, {X: 990, Y: 590}}},
	}}
	late := words.Plain("When all of the lamps have gone green, press Receive")
	late.Content[0].Content = append(late.Content[0].Content, words.Node{Type: "markerRef", Attrs: &words.Attrs{Mark: "m"}})
	d := document.Document{ID: "d", Kind: document.Procedure, Facts: document.Facts{Title: "Receive a lot"}, Blocks: []document.Block{
		document.NewSection("sec", 1, words.Plain("At the dock")),
		document.NewStep("a", words.Plain("Open the room list. It takes a moment."), figure.Figure{ID: "f1", Shot: "s", Marks: []figure.Mark{}}),
		document.NewStep("b", late, marked),
		document.NewStep("bare", words.Plain("Wait.")),
	}}
	for _, c := range change {
		c(&d)
	}
	return story.Of(d, nil, nil)
}

var sizes = map[string]figure.Size{"s": {W: 1600, H: 900}}

func plan(s story.Story) film.Plan {
	return film.Of(s, s.Film, sizes, func(said string) (int, bool) { return 1000 + 50*len(said), true })
}

func ids(p film.Plan) (all []string) {
	for _, s := range p.Scenes {
		all = append(all, s.ID)
	}
	return all
}

func TestStepsWithPicturesAreToldAndWhatIsChosen(t *testing.T) {
	assert.Equal(t, []string{"title", "sec", "a", "b"}, ids(plan(told())))
	p := plan(told(func(d *document.Document) {
		d.Blocks[1].Film = &document.Told{Show: "out"}
		d.Blocks[3].Film = &document.Told{Show: "in", Said: "Have patience."}
	}))
	assert.Equal(t, []string{"title", "sec", "b", "bare"}, ids(p))
	assert.Equal(t, "Have patience.", p.Scenes[3].Said)
	assert.Equal(t, "Have patience.", p.Scenes[3].Captions[0].Text)
}

func TestAllOfAFilmIsFilledWithoutGaps(t *testing.T) {
	for _, f := range []document.Film{{}, {Captions: "both"}, {Still: true, Pause: 2000}, {Silent: true}} {
		s := told()
		s.Film = f
		p := plan(s)
		at := 0
		for _, scene := range p.Scenes {
			assert.Equal(t, at, scene.Start)
			inside := 0
			for _, one := range scene.Segments {
				assert.Equal(t, inside, one.Start, "%s", scene.ID)
				assert.Positive(t, one.Length)
				assert.Zero(t, one.Length%film.Beat)
				inside += one.Length
			}
			assert.Equal(t, scene.Length, inside, "%s", scene.ID)
			for i, c := range scene.Captions {
				assert.Less(t, c.From, c.To)
				assert.LessOrEqual(t, c.To, scene.Length)
				if i > 0 {
					assert.Equal(t, scene.Captions[i-1].To, c.From)
				}
			}
			at += scene.Length
		}
		assert.Equal(t, p.Length, at)
	}
}

func TestMarksComeAsTheyAreNamedAndThePictureIsGoneCloserTo(t *testing.T) {
	p := plan(told())
	step := p.Scenes[3]
	first, last := step.Segments[0], step.Segments[len(step.Segments)-1]
	assert.Equal(t, []string{"m"}, first.Hidden, "it is named at the end; what conceals is never hidden")
	assert.Empty(t, last.Hidden)
	assert.Equal(t, film.Whole, first.From)
	near := last.From
	assert.Less(t, near.W, 0.73)
	assert.True(t, near.X <= 200.0/1600 && near.X+near.W >= 200.0/1600, "the marker is in what is seen: %v", near)
	s := told()
	s.Film.Still = true
	for _, one := range plan(s).Scenes[3].Segments {
		assert.Equal(t, film.Whole, one.From)
		assert.Nil(t, one.To)
	}
	f := told().Blocks[2].Figures[0].Figure
	hidden := f.Without(1, []string{"m", "c"})
	require.Len(t, hidden.Marks, 1)
	assert.Equal(t, "c", hidden.Marks[0].ID)
}

func TestAClipPlaysToItsEnd(t *testing.T) {
	p := plan(told(func(d *document.Document) {
		d.Blocks[1].Figures[0].Clip = &figure.Clip{Ms: 30_000, Parts: []figure.Stretch{{Span: figure.Span{From: 0, To: 20_000}}}}
	}))
	assert.Equal(t, 20_000, p.Scenes[2].Length)
	assert.True(t, p.Scenes[2].Segments[0].Clip)
}

func TestCaptionsTranscriptAndChaptersSayTheSame(t *testing.T) {
	p := plan(told())
	vtt := p.VTT()
	assert.True(t, strings.HasPrefix(vtt, "WEBVTT\n\n1\n00:00:"))
	assert.Contains(t, vtt, "Open the room list.")
	assert.NotContains(t, vtt, "At the dock", "it is in the picture")
	assert.Contains(t, p.Transcript(), "1  Open the room list. It takes a moment.")
	assert.Equal(t, "2  When all of the lamps have gone green, press Receive.", p.Chapters()[3].Name)
	assert.Equal(t, "A &lt;b&gt;.", strings.TrimSpace(strings.Split(plan(told(func(d *document.Document) {
		d.Blocks[1].Words = words.Plain("A <b>.")
	})).VTT(), "\n")[4]))
}

func TestWordsAreSaidAsTheHouseSaysThem(t *testing.T) {
	list := []film.Saying{{Word: "QC", Said: "quality control"}, {Word: "QC lead", Said: "head of quality"}, {Word: "Lotroom", Said: "lot room"}}
	assert.Equal(t, "Ask quality control, not QCX; the head of quality opens lot room.", film.Spoken("Ask QC, not QCX; the QC lead opens Lotroom.", list))
	assert.Error(t, film.CheckSayings([]film.Saying{{Word: "A", Said: " "}}))
	assert.Error(t, film.CheckSayings([]film.Saying{{Word: "A\nB", Said: "C"}}))
}

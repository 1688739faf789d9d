package page

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// handbook is a manual of chapters with steps, read in; the first step of each refers to the last of its chapter.
func handbook(chapters, steps int) story.Story {
	d := document.Document{ID: "m", Kind: document.Manual, Facts: document.Facts{Title: "Handbook", Indexed: []string{"card"}}}
	d.Facts.Number = "MA-001"
	d.Blocks = append(d.Blocks, document.NewPassage("intro", words.Node{Type: "doc", Content: []words.Node{
		{Type: "paragraph", Content: []words.Node{{Type: "text", Text: "Welcome"}}},
		{Type: "table", Content: []words.Node{
			{Type: "tableRow", Content: []words.Node{{Type: "tableHeader", Content: words.Plain("Tool").Content}, {Type: "tableHeader", Content: words.Plain("Place").Content}}},
			{Type: "tableRow", Content: []words.Node{{Type: "tableCell", Content: words.Plain(strings.Repeat("scanner ", 20)).Content}, {Type: "tableCell"}}},
		}},
	}}))
	for c := range chapters {
		d.Blocks = append(d.Blocks, document.Block{ID: fmt.Sprint("c", c), Content: document.Content{Type: document.Chapter, Document: fmt.Sprint("p", c)}})
	}
	whole := d.Composed(func(b document.Block) (document.Document, bool) {
		p := document.Document{Kind: document.Procedure, Facts: document.Facts{Title: "Chapter of " + b.Document}}
		for i := range steps {
			s := document.NewStep(fmt.Sprint(b.ID, "s", i), words.Plain("Take the card"), figure.Figure{ID: fmt.Sprint(b.ID, "f", i), Shot: "wide"})
			if i == 0 {
				s.Words = words.Node{Type: "doc", Content: []words.Node{{Type: "paragraph", Content: []words.Node{
					{Type: "text", Text: "Press "}, {Type: "text", Text: "Go", Marks: []words.Style{{Type: "control"}}}, {Type: "text", Text: ", see "},
					{Type: "reference", Attrs: &words.Attrs{Kind: words.ToStep, To: fmt.Sprint(b.ID, "s", steps-1)}},
				}}}}
				s.Document = "p0"
			}
			p.Blocks = append(p.Blocks, s)
		}
		return p, true
	})
	return story.Of(whole, document.Around{"p0": {ID: "p0", Title: "Chapter of p0", Number: "PR-001", Revision: 1, Address: "http://127.0.0.1/d/p0"}}, nil)
}

func TestAManualHasATitlePageContentsChaptersAndAnIndex(t *testing.T) {
	told := handbook(3, 5)
	code := [][]bool{{true, false}, {false, true}}
	pages := lay(t, Request{Story: told, Style: plain, Layout: style.Running, Meta: "Revision 1", Sizes: map[string]figure.Size{"wide": {W: 1600, H: 900}}, Codes: map[string][][]bool{"http://127.0.0.1/d/p0": code}})
	assert.Contains(t, said(pages.Sheets[0]), "Handbook")
	assert.Contains(t, said(pages.Sheets[0]), "MA-001")
	assert.Contains(t, said(pages.Sheets[1]), "Contents")
	at := map[string]Place{}
	begun := map[int]bool{}
	for _, p := range pages.Places {
		at[p.Block] = p
		if p.Type == document.Chapter {
			assert.False(t, begun[p.Page], "each chapter begins a page")
			begun[p.Page] = true
		}
	}
	last := pages.Sheets[len(pages.Sheets)-1]
	index := strings.Join(strings.Fields(said(last)), " ")
	assert.Contains(t, index, "Index")
	assert.Contains(t, index, fmt.Sprintf("Go %d, %d, %d", at["c0s0"].Page, at["c1s0"].Page, at["c2s0"].Page), "names of controls, with their pages")
	assert.Contains(t, index, "card "+fmt.Sprint(at["c0s1"].Page))
	for c := range 3 {
		first, to := at[fmt.Sprintf("c%ds0", c)], at[fmt.Sprintf("c%ds4", c)]
		leads := 0
		for _, item := range pages.Sheets[first.Page-1].Items {
			if l := item.Link; l != nil && l.Page == to.Page && l.Y == to.Y {
				leads++
			}
		}
		assert.Positive(t, leads, "the reference leads to its step")
		page := strings.Join(strings.Fields(said(pages.Sheets[first.Page-1])), " ")
		assert.Contains(t, page, "Do: PR-001 Chapter of p0")
		assert.Contains(t, page, fmt.Sprintf("Page %d", at["c0"].Page), "where it stands in the same manual")
		assert.Contains(t, page, "step 5")
	}
	for _, sheet := range pages.Sheets {
		for _, item := range sheet.Items {
			if item.Link != nil {
				assert.False(t, strings.HasPrefix(item.Link.URL, toBlock), "no reference is left open")
			}
		}
	}
}

// TestTextFitIsThatOfThePrintedPage holds what is told while typing against what is printed: a step that fits takes its
// share of the page, and with one line more than is left it does not.
func TestTextFitIsThatOfThePrintedPage(t *testing.T) {
	random := rand.New(rand.NewPCG(7, 7))
	sizes := map[string]figure.Size{"wide": {W: 1600, H: 900}, "tall": {W: 700, H: 1500}}
	for range 60 {
		layout := layouts[random.IntN(len(layouts))]
		var said []words.Node
		for range 1 + random.IntN(9) {
			said = append(said, words.Plain(strings.Repeat("word ", random.IntN(60))).Content...)
		}
		b := document.NewStep("s", words.Node{Type: "doc", Content: said})
		if random.IntN(3) > 0 {
			b.Figures = []figure.Figure{{ID: "f", Shot: []string{"wide", "tall"}[random.IntN(2)]}}
		}
		if random.IntN(3) == 0 {
			b.Notice = &document.Notice{Signal: document.Caution, Hazard: "Hot.", Avoid: "Wait."}
		}
		told := story.Of(document.Document{Kind: document.Procedure, Blocks: []document.Block{b}}, nil, nil)
		fit := FitOf(told.Blocks[0], plain, layout, sizes)
		s := newSetter(Request{Story: told, Style: plain, Layout: layout, Sizes: sizes})
		tight := s.fit(told.Blocks[0], s.share()).tight
		share := s.share()
		if fit.Left >= 0 {
			assert.LessOrEqual(t, tight, share+0.02)
		} else {
			assert.Greater(t, tight, share-0.02)
		}
		if fit.Left < 0 {
			continue
		}
		for range fit.Left + 1 {
			said = append(said, words.Node{Type: "paragraph", Content: []words.Node{{Type: "hardBreak"}}})
		}
		b.Words.Content = said
		more := story.Of(document.Document{Kind: document.Procedure, Blocks: []document.Block{b}}, nil, nil)
		assert.Less(t, FitOf(more.Blocks[0], plain, layout, sizes).Left, 0)
	}
}

func TestWhatStepsLeadToStandsWithItsCode(t *testing.T) {
	d := document.Document{Kind: document.Procedure, Blocks: []document.Block{document.NewStep("s", words.Plain("Do it"))}}
	d.Blocks[0].Critical = true
	d.Blocks[0].Beside = []document.WebLink{{Address: "https://films.example/lift", Title: "Lifting", Film: true}}
	told := story.Of(d, nil, nil)
	require.Equal(t, []string{"https://films.example/lift"}, told.Addresses())
	pages := lay(t, Request{Story: told, Style: plain, Layout: style.Running, Codes: map[string][][]bool{"https://films.example/lift": {{true}}}})
	page := said(pages.Sheets[0])
	assert.Contains(t, page, "Film: Lifting")
	assert.Contains(t, page, "Critical step")
	code, pressed := false, false
	for _, item := range pages.Sheets[0].Items {
		code = code || item.Path != nil && item.Path.Outline.Bounds().W == besideCode
		pressed = pressed || item.Link != nil && item.Link.URL == "https://films.example/lift"
	}
	assert.True(t, code && pressed, "its code for paper, and an area to press for the screen")
}

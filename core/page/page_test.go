package page

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/text"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var (
	plain   = style.Default()
	layouts = style.Layouts
	a4      = lookOf(plain, style.Running)
)

func lay(t *testing.T, req Request) Pages {
	t.Helper()
	pages, err := Lay(t.Context(), req)
	require.NoError(t, err)
	return pages
}

func manual(n int, text func(i int) string, shotAt func(i int) string) Request {
	d := document.Document{ID: "d", Kind: document.Procedure, Facts: document.Facts{Title: "Receive a lot"}}
	for i := range n {
		s := document.NewStep(fmt.Sprint("s", i), words.Plain(text(i)))
		if shot := shotAt(i); shot != "" {
			s.Figures = []figure.Figure{{ID: fmt.Sprint("f", i), Shot: shot}}
		}
		d.Blocks = append(d.Blocks, s)
	}
	return Request{Story: story.Of(d, nil, nil), Style: plain, Layout: style.Running, Meta: "Draft", Values: map[string]string{"house": "House", "title": "Receive a lot"},
		Sizes: map[string]figure.Size{"wide": {W: 1600, H: 900}, "tall": {W: 400, H: 4000}, "tiny": {W: 1, H: 1}}}
}

func wide(int) string { return "wide" }

func said(s scene.Scene) string {
	var all []string
	for _, item := range s.Items {
		if item.Words != nil {
			all = append(all, strings.TrimSpace(item.Words.Text))
		}
	}
	return strings.Join(all, " ")
}

func TestNothingLeavesThePageAndNoStepIsTorn(t *testing.T) {
	texts := []string{"Short.", "", strings.Repeat("Some words to fill it. ", 30), strings.Repeat("x", 400), strings.Repeat("word ", 1500)}
	shots := []string{"wide", "tall", "", "tiny", "unknown"}
	for _, layout := range layouts {
		req := manual(40, func(i int) string { return texts[i%len(texts)] }, func(i int) string { return shots[i%7%len(shots)] })
		req.Layout = layout
		pages := lay(t, req)
		for n, sheet := range pages.Sheets {
			for _, item := range sheet.Items {
				var r scene.Rect
				switch {
				case item.Words != nil:
					w := item.Words
					r = scene.Rect{X: w.X, Y: w.Baseline - w.Size*0.7, W: w.Width - w.Size*0.3, H: w.Size * 0.7}
				case item.Picture != nil:
					r = item.Picture.Target
				default:
					continue
				}
				assert.GreaterOrEqual(t, r.X, a4.left-12.0, "page %d: %v", n+1, item)
				assert.LessOrEqual(t, r.X+r.W, a4.width-a4.right+1, "page %d: %+v", n+1, item.Words)
				assert.GreaterOrEqual(t, r.Y, 10.0)
				assert.LessOrEqual(t, r.Y+r.H, a4.height-10)
			}
		}
		require.Len(t, pages.Places, 40)
		for i, place := range pages.Places[1:] {
			before := pages.Places[i]
			assert.True(t, place.Page > before.Page || (place.Page == before.Page && place.Y >= before.Y))
		}
	}
}

func TestManyPicturesOfOneStepFitItsPage(t *testing.T) {
	for _, layout := range layouts {
		for _, n := range []int{2, 5, document.MostFigures} {
			req := manual(3, func(int) string { return "Look at all of these." }, wide)
			req.Layout = layout
			figures := []story.Figure{}
			for i := range n {
				figures = append(figures, story.Figure{Figure: figure.Figure{ID: fmt.Sprint("many", i), Shot: []string{"wide", "tall"}[i%2]}})
			}
			req.Story.Blocks[1].Figures = figures
			pages := lay(t, req)
			assert.Empty(t, pages.Notes, "layout %s, %d pictures", layout, n)
			shown := 0
			for _, item := range pages.Sheets[pages.Places[1].Page-1].Items {
				if p := item.Picture; p != nil && strings.HasPrefix(p.Ref, FigureRef("many")) {
					shown++
					assert.LessOrEqual(t, p.Target.Y+p.Target.H, a4.height-a4.bottom+1, "layout %s, %d pictures", layout, n)
					assert.Greater(t, p.Target.H, 15.0)
				}
			}
			assert.Equal(t, n, shown, "all on the page where the step begins")
		}
	}
}

func TestWholeTextIsOnThePages(t *testing.T) {
	long := strings.Repeat("alpha beta gamma ", 700)
	pages := lay(t, manual(3, func(i int) string { return []string{"One.", long, "Three."}[i] }, wide))
	all := ""
	for _, s := range pages.Sheets {
		all += said(s) + " "
	}
	assert.GreaterOrEqual(t, strings.Count(all, "gamma"), 700)
	require.Len(t, pages.Notes, 1, "a step too tall for a page is scaled, and says so")
	assert.Contains(t, pages.Notes[0].Text, "Step 2: Words set at")
	assert.Contains(t, all, "so that this step stays on one page")
}

func TestFourAndTwoStepsToAPage(t *testing.T) {
	for layout, each := range map[style.Layout]int{style.One: 1, style.Two: 2, style.Four: 4, style.Six: 6} {
		req := manual(21, func(int) string { return "Press the button." }, wide)
		req.Layout = layout
		perPage := map[int]int{}
		pages := lay(t, req)
		for _, s := range pages.Places {
			perPage[s.Page]++
		}
		for page := 2; page < len(pages.Sheets); page++ {
			assert.Equal(t, each, perPage[page], "layout %s, page %d", layout, page)
		}
	}
}

func TestTableOfStepsLeadsToTheSteps(t *testing.T) {
	for _, n := range []int{1, 7, 8, 60, 150} {
		pages := lay(t, manual(n, func(i int) string { return fmt.Sprintf("Label %d. More.", i+1) }, wide))
		var targets []scene.Link
		for _, s := range pages.Sheets {
			for _, item := range s.Items {
				if item.Link != nil && item.Link.Page > 0 {
					targets = append(targets, *item.Link)
				}
			}
		}
		require.Len(t, targets, n)
		for i, l := range targets {
			assert.Equal(t, pages.Places[i].Page, l.Page)
			assert.InDelta(t, pages.Places[i].Y, l.Y, 0.01)
		}
	}
}

func TestDraftsAreStampedOnEveryPage(t *testing.T) {
	req := manual(9, func(int) string { return "Words." }, wide)
	for _, s := range lay(t, req).Sheets {
		assert.NotContains(t, said(s), "DRAFT")
	}
	req.Stamp = Stamp{"DRAFT: not ready for use", "DRAFT"}
	for _, s := range lay(t, req).Sheets {
		assert.Contains(t, said(s), "DRAFT: not ready for use")
	}
}

func TestInlineThingsStayWithTheirPunctuation(t *testing.T) {
	step := story.Block{ID: "s", Tags: map[string]figure.Tag{"m": {Label: "1"}}}
	step.Words = words.Node{Type: "doc", Content: []words.Node{{Type: "paragraph", Content: []words.Node{
		{Type: "text", Text: "Press the button there "}, {Type: "markerRef", Attrs: &words.Attrs{Mark: "m"}}, {Type: "text", Text: "."},
	}}}}
	for width := 60.0; width < 260; width += 3 {
		var number, stop scene.Words
		for _, item := range a4.setWords(step, width, 1).drawn.Items {
			if item.Words == nil {
				continue
			}
			switch item.Words.Text {
			case "1":
				number = *item.Words
			case ".":
				stop = *item.Words
			}
		}
		assert.Less(t, stop.Baseline-number.Baseline, 3.0, "at width %.0f", width)
		assert.Greater(t, stop.X, number.X)
	}
}

func TestSmallPicturesAreNotBlownUp(t *testing.T) {
	pages := lay(t, manual(1, func(int) string { return "x" }, func(int) string { return "tiny" }))
	for _, item := range pages.Sheets[0].Items {
		if item.Picture != nil {
			assert.LessOrEqual(t, item.Picture.Target.W, plain.Steps.Largest+1e-9)
		}
	}
}

// TestAWordWithoutEndIsLaidOut takes what once never ended: letters without a space, as many as a step may have.
func TestAWordWithoutEndIsLaidOut(t *testing.T) {
	for _, word := range []string{strings.Repeat("W", 20_000), strings.Repeat("漢", 6000), strings.Repeat("W", 19_000) + strings.Repeat(" ", 999)} {
		pages := lay(t, manual(2, func(int) string { return word }, wide))
		for _, sheet := range pages.Sheets {
			for _, item := range sheet.Items {
				if w := item.Words; w != nil {
					require.LessOrEqual(t, w.X+text.Width(w.Face, w.Size, strings.TrimRight(w.Text, " ")), a4.width-a4.right+1, "no line runs out of its cell")
				}
			}
		}
	}
	ctx, gone := context.WithCancel(t.Context())
	gone()
	_, err := Lay(ctx, manual(3, func(int) string { return "x" }, wide))
	assert.ErrorIs(t, err, context.Canceled, "nobody waits any more")
}

func TestSectionsStandAboveTheirStepsAndInTheContents(t *testing.T) {
	for _, layout := range layouts {
		d := document.Document{ID: "d", Kind: document.Procedure, Facts: document.Facts{Title: "T", Counting: document.Anew}}
		for i := range 40 {
			if i%3 == 0 {
				level := 1 + i%2
				d.Blocks = append(d.Blocks, document.NewSection(fmt.Sprint("h", i), level, words.Plain(fmt.Sprint("Part ", i, strings.Repeat(" of many words", i)))))
			}
			d.Blocks = append(d.Blocks, document.NewStep(fmt.Sprint("s", i), words.Plain("Do it"), figure.Figure{ID: fmt.Sprint("f", i), Shot: "wide"}))
		}
		req := Request{Story: story.Of(d, nil, nil), Style: plain, Layout: layout, Sizes: map[string]figure.Size{"wide": {W: 1600, H: 900}}}
		pages := lay(t, req)
		assert.Contains(t, said(pages.Sheets[0]), "Contents")
		require.Len(t, pages.Places, len(d.Blocks))
		for i, p := range pages.Places {
			b := req.Story.Blocks[i]
			assert.Equal(t, b.ID, p.Block)
			if i > 0 {
				assert.LessOrEqual(t, p.Depth, pages.Places[i-1].Depth+1, "bookmarks skip no level")
			}
			if b.Type == document.Section {
				next := pages.Places[i+1]
				assert.Equal(t, p.Page, next.Page, "a heading is never left alone: %s", b.ID)
				assert.Greater(t, next.Y, p.Y)
				assert.Contains(t, strings.Join(strings.Fields(said(pages.Sheets[p.Page-1])), " "), "Part "+strings.TrimPrefix(b.ID, "h"))
			}
		}
	}
}

func TestAStepTakesWhatIsLeftWhereItFits(t *testing.T) {
	req := manual(3, func(int) string { return "Short." }, func(int) string { return "tiny" })
	pages := lay(t, req)
	assert.Len(t, pages.Sheets, 1, "no page is begun for a step that fits where less than its share is left")
	for i, p := range pages.Places[1:] {
		assert.Greater(t, p.Y, pages.Places[i].Y)
	}
}

func TestANoticeStandsBeforeTheActionAndTheTitleBearsTheWorst(t *testing.T) {
	for _, layout := range layouts {
		req := manual(6, func(i int) string { return fmt.Sprint("Act", i) }, wide)
		req.Layout = layout
		plain := len(lay(t, req).Sheets)
		req.Story.Signal = document.Danger
		for i := range req.Story.Blocks {
			req.Story.Blocks[i].Notice = &document.Notice{Signal: document.Caution, Hazard: fmt.Sprint("Hazard", i), Avoid: strings.Repeat("Keep away from it. ", 12)}
		}
		req.Story.Blocks[5].Notice.Signal = document.Danger
		pages := lay(t, req)
		assert.GreaterOrEqual(t, len(pages.Sheets), plain)
		assert.Contains(t, said(pages.Sheets[0]), "Procedure ! DANGER ", "with the title")
		at := map[string]scene.Words{}
		for _, sheet := range pages.Sheets {
			for _, item := range sheet.Items {
				if w := item.Words; w != nil {
					if w.Size == a4.body { // the contents are smaller
						at[strings.TrimSpace(w.Text)] = *w
					}
					assert.LessOrEqual(t, w.Baseline, a4.height-a4.bottom+40)
					assert.LessOrEqual(t, w.X+text.Width(w.Face, w.Size, strings.TrimRight(w.Text, " ")), a4.width-a4.right+1)
				}
			}
		}
		for i := range 6 {
			hazard, act := at[fmt.Sprint("Hazard", i)], at[fmt.Sprint("Act", i)]
			require.NotZero(t, hazard.Baseline)
			assert.Less(t, hazard.Baseline, act.Baseline, "step %d", i)
		}
	}
}

package page

import (
	"fmt"
	"testing"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestHeaderAndFooterSayWhatIsKnownOfEachPage(t *testing.T) {
	d := document.Document{Kind: document.Procedure, Facts: document.Facts{Title: "Move a lot"}}
	for part := range 3 {
		d.Blocks = append(d.Blocks, document.NewSection(fmt.Sprint("h", part), 1, words.Plain(fmt.Sprint("Part ", part+1))))
		for i := range 5 {
			d.Blocks = append(d.Blocks, document.NewStep(fmt.Sprint("s", part, i), words.Plain("Do it"), figure.Figure{ID: fmt.Sprint("f", part, i), Shot: "wide"}))
		}
	}
	s := style.Default()
	s.Language, s.Margins.Top = style.French, 60
	s.Header = style.Band{Left: "{number} · {section}", Right: "{state}", Rule: true}
	s.Footer = style.Band{Middle: "{page of pages}"}
	s.Words = map[string]string{"contents": "Table"}
	pages := lay(t, Request{Story: story.Of(d, nil, nil), Style: s, Values: map[string]string{"number": "", "state": "Révision 3"}, Sizes: map[string]figure.Size{"wide": {W: 1600, H: 900}}})
	require.Greater(t, len(pages.Sheets), 3)
	assert.Contains(t, said(pages.Sheets[0]), "Table", "worded by the house")
	assert.Contains(t, said(pages.Sheets[0]), "Procédure", "in the language of the style")
	begins := map[int]string{}
	for _, p := range pages.Places {
		if p.Type == document.Section && begins[p.Page] == "" {
			begins[p.Page] = p.Label
		}
	}
	holds := ""
	for i, sheet := range pages.Sheets {
		if begins[i+1] != "" {
			holds = begins[i+1]
		}
		text := said(sheet)
		assert.Contains(t, text, holds+" ", "page %d", i+1)
		assert.NotContains(t, text, " · ", "what is not known leaves nothing hanging")
		assert.Contains(t, text, fmt.Sprintf("Page %d sur %d", i+1, len(pages.Sheets)))
		assert.Contains(t, text, "Révision 3")
	}
}

func TestAGridHasItsStepsAndSharesOutWhatIsLeft(t *testing.T) {
	req := manual(16, func(int) string { return "Press the button." }, wide)
	req.Layout = style.Four
	pages := lay(t, req)
	byPage := map[int][]Place{}
	for _, p := range pages.Places {
		byPage[p.Page] = append(byPage[p.Page], p)
	}
	full := byPage[2]
	require.Len(t, full, 4)
	assert.Equal(t, full[0].Y, full[1].Y, "side by side")
	assert.InDelta(t, a4.content/2, full[2].Y-full[0].Y, 1, "each row has half of the page")
	across := req
	across.Style.Paper.Across, across.Layout = true, style.Six
	for _, p := range lay(t, across).Places[6:9] {
		assert.Equal(t, lay(t, across).Places[6].Y, p.Y, "three side by side on paper that lies")
	}
}

func TestABandShowsWhatIsMarked(t *testing.T) {
	req := manual(2, func(int) string { return "Look." }, wide)
	req.Layout = style.Bands
	box := figure.Mark{ID: "m", Kind: figure.Box, Points: []scene.Point{{X: 300, Y: 700}, {X: 500, Y: 760}}, Style: figure.Style{Ink: "red", Weight: figure.Medium}}
	req.Story.Blocks[1].Figures[0].Marks = []figure.Mark{box}
	for i, b := range req.Story.Blocks {
		for _, sheet := range lay(t, req).Sheets {
			for _, item := range sheet.Items {
				p := item.Picture
				if p == nil || p.Ref != FigureRef(b.Figures[0].ID) {
					continue
				}
				assert.InDelta(t, plain.Steps.Band, p.Target.H, 0.5)
				assert.Equal(t, 900.0, p.Whole.H)
				assert.InDelta(t, p.Target.W/p.Source.W, p.Target.H/p.Source.H, 1e-6, "nothing is stretched")
				middle := p.Source.Y + p.Source.H/2
				assert.InDelta(t, []float64{450, 730}[i], middle, 30)
			}
		}
	}
}

func TestWhatAStyleLeavesOutIsNotThere(t *testing.T) {
	req := manual(3, func(i int) string { return fmt.Sprint("Act", i) }, wide)
	req.Address, req.Code = "http://house.example/d/1", [][]bool{{true}}
	req.Style.Contents, req.Style.Numbers, req.Style.Links, req.Style.Footer = style.ListNothing, style.Numbers{}, style.Links{}, style.Band{}
	bare := lay(t, req)
	text := ""
	for _, sheet := range bare.Sheets {
		text += said(sheet)
		for _, item := range sheet.Items {
			assert.True(t, item.Link == nil, "no code leads anywhere")
		}
	}
	assert.NotContains(t, text, "Steps")
	assert.NotContains(t, text, "Page")
	assert.NotRegexp(t, `\b1\b`, text)
	req.Style.Title = style.AllTitled
	titled := lay(t, req)
	assert.Len(t, titled.Sheets, len(bare.Sheets)+1)
	assert.NotContains(t, said(titled.Sheets[0]), "Act0")
	req.Style.Numbers.Pictures, req.Style.Language = true, style.German
	assert.Contains(t, said(lay(t, req).Sheets[1]), "Bild 1")
}

// TestAStepThatJustDoesNotFitHasSmallerPictures has first pages of which the contents leave ever less.
func TestAStepThatJustDoesNotFitHasSmallerPictures(t *testing.T) {
	smaller := 0
	for n := 1; n < 30; n++ {
		usual := 0.0
		for _, sheet := range lay(t, manual(n, func(int) string { return "Short." }, wide)).Sheets {
			for _, item := range sheet.Items {
				p := item.Picture
				if p == nil {
					continue
				}
				if usual == 0 {
					usual = p.Target.H
				}
				if p.Target.H < usual-1 {
					smaller++
					assert.Greater(t, p.Target.H, usual*0.7, "never much smaller")
				}
			}
		}
	}
	assert.Positive(t, smaller)
}

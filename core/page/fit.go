package page

import (
	"math"

	"raconte/core/figure"
	"raconte/core/story"
)

// Fit says how a step's words fit the step's share of a page.
type Fit struct {
	Left int `json:"left"` // lines that are left; where it is negative, lines that are over
}

// FitOf tells how a step fits its share of a page in a layout, its words in their full size: measured as the page is.
func FitOf(step story.Block, layout Layout, sizes map[string]figure.Size) Fit {
	s := &setter{req: Request{Layout: layout, Sizes: sizes}}
	wide := layout == TwoSteps || len(step.Figures) == 0
	wordsWidth := inner - gutter
	if !wide {
		wordsWidth -= PictureWidth + wordGap
	}
	notice := stacked(setCritical(step), setNotice(step.Notice, inner-gutter)).height
	if notice > 0 {
		notice += between
	}
	share := content/float64(layout) - 2*rowPad - notice
	words := stacked(setWords(step, wordsWidth, 1), s.setBeside(step, wide)).height
	if wide {
		if pictures := s.pictures(step, content/float64(layout)-2*rowPad, wide, 0).height; pictures > 0 {
			share -= pictures + between
		}
	}
	return Fit{int(math.Floor((share - words + 0.01) / (bodySize * leading)))}
}

// Shrunk is how large a pixel of each of a step's pictures prints, in points.
func Shrunk(step story.Block, layout Layout, sizes map[string]figure.Size) []float64 {
	s := &setter{req: Request{Layout: layout, Sizes: sizes}}
	wide := layout == TwoSteps || len(step.Figures) == 0
	a := s.pictures(step, content/float64(layout)-2*rowPad, wide, PictureWidth)
	out := make([]float64, len(a.cells))
	for i, cell := range a.cells {
		out[i] = cell.W / a.frames[i].W
	}
	return out
}

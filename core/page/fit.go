package page

import (
	"math"

	"raconte/core/figure"
	"raconte/core/story"
	"raconte/core/style"
)

// Fit says how a step's words fit the step's share of a page.
type Fit struct {
	Left int `json:"left"` // lines that are left; where it is negative, lines that are over
}

// FitOf tells how a step fits its share of a page in a style's layout, its words in their full size: measured as the
// page is.
func FitOf(step story.Block, st style.Style, layout style.Layout, sizes map[string]figure.Size) Fit {
	s := newSetter(Request{Style: st, Layout: layout, Sizes: sizes})
	share := s.share()
	f := s.fit(step, share)
	words := f.words.height
	if f.scale < 1 { // it is set smaller than it is written
		width := s.cellWidth - s.gutter
		if f.wordsAt.X > f.gutter {
			width -= s.pictureWidth() + wordGap
		}
		words = stacked(s.setWords(step, width, 1), s.setBeside(step, width)).height
	}
	left := share - 2*rowPad - f.notice.height - words
	if f.wordsAt.X == f.gutter && f.pictures.height > 0 {
		// What pictures take at the least: they leave to words what these need.
		least := s.pictures(step, s.cellWidth-s.gutter, share-2*rowPad-f.notice.height, 0, false)
		left -= least.height + between
	}
	return Fit{int(math.Floor((left + 0.01) / (s.body * leading)))}
}

// Shrunk is how large a pixel of each of a step's pictures prints, in points.
func Shrunk(step story.Block, st style.Style, layout style.Layout, sizes map[string]figure.Size) []float64 {
	s := newSetter(Request{Style: st, Layout: layout, Sizes: sizes})
	a := s.fit(step, s.share()).pictures
	out := make([]float64, len(a.cells))
	for i, cell := range a.cells {
		out[i] = cell.W / a.sources[i].W
	}
	return out
}

// Roomier is the layout with more room for a step, where there is one: both are shown to who writes too much.
func Roomier(layout style.Layout) style.Layout {
	return map[style.Layout]style.Layout{
		style.Six: style.Four, style.Four: style.Two, style.Running: style.Two, style.Bands: style.Two, style.Two: style.One,
	}[layout]
}

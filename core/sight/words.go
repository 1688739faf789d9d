package sight

import (
	"sort"

	"raconte/core/scene"
)

// Word is a word that was found in a picture, in pixels.
type Word struct {
	Text string     `json:"text"`
	Rect scene.Rect `json:"rect"`
	Sure float64    `json:"sure"` // 0 to 100
}

// TextHeight is the usual height of text in a picture, in pixels from its lowest to its highest point: the
// median of the words of which one can be sure. It is 0 where there are too few.
func TextHeight(words []Word) float64 {
	var heights []float64
	for _, w := range words {
		if w.Sure >= 60 && len([]rune(w.Text)) > 2 {
			heights = append(heights, w.Rect.H)
		}
	}
	if len(heights) < 5 {
		return 0
	}
	sort.Float64s(heights)
	return heights[len(heights)/2]
}

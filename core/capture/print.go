package capture

import (
	"math"

	"raconte/core/figure"
)

// Print is what a shot of very high resolution will look like in print.
type Print struct {
	Points float64 `json:"points"` // at which its usual text will print
	Width  int     `json:"width"`  // of the copy that is offered, in pixels
}

const (
	veryWide   = 2560 // pixels from which a shot is of very high resolution
	usualText  = 15.0 // pixels to an em, of plain programs on a screen of scale 1
	wordToSize = 1.25 // from the height of words to the size of their face
	copyWidth  = 1920
)

// PrintOf tells what a shot will look like in print at a width in points, and which
// smaller copy to offer (rule 8); false where its resolution is usual. TextHeight is that of the
// words found in it, in pixels; 0 where unknown.
func PrintOf(size figure.Size, scale, textHeight, width float64) (Print, bool) {
	if size.W < veryWide {
		return Print{}, false
	}
	scale = math.Min(scale, largestScale) // as kept before it was checked
	em := usualText * math.Max(1, scale)
	if textHeight > 0 {
		em = textHeight * wordToSize
	}
	offered := copyWidth
	if scale > 1 {
		offered = int(math.Round(float64(size.W) / scale))
	}
	return Print{math.Round(em*width/float64(size.W)*10) / 10, min(offered, size.W/2)}, true
}

// Evened are the crops that make shots of a little different size come out in one frame: the size that all of
// them have, from the top left. Shots of quite another size have none.
func Evened(sizes []figure.Size) map[int]figure.Size {
	out := map[int]figure.Size{}
	for i := 0; i < len(sizes); {
		least, j, differ := sizes[i], i+1, false
		for ; j < len(sizes) && (sizes[j] == sizes[i] || Uneven(sizes[i], sizes[j])); j++ {
			differ = differ || sizes[j] != sizes[i]
			least.W, least.H = min(least.W, sizes[j].W), min(least.H, sizes[j].H)
		}
		for k := i; differ && k < j; k++ {
			out[k] = least
		}
		i = j
	}
	return out
}

package sight

import (
	"image"
	"math"

	"raconte/core/scene"
)

// Track follows a part of one picture through others, as through those of a recording.
type Track struct {
	from   *Seen
	part   scene.Rect
	center scene.Point // in the first picture
	last   scene.Point // how far it has moved
	shown  []uint8     // the part's pixels where it was last found
}

// What is as alike as this is the same thing; what is less so is perhaps another.
const (
	trackedOwn = 0.8
	steady     = 6.0 // levels of 255 by which pixels differ on average that are coded anew
)

// NewTrack begins with a part of a picture.
func NewTrack(img *image.RGBA, part scene.Rect) *Track {
	t := &Track{from: Look(img), part: part, center: part.Center()}
	t.shown = pixelsIn(img, part)
	return t
}

// In tells how far the part has moved in another picture, and whether that is sure. Where it is not found, it stays
// where it was last.
func (t *Track) In(img *image.RGBA) (by scene.Point, sure bool) {
	here := scene.Rect{X: t.part.X + t.last.X, Y: t.part.Y + t.last.Y, W: t.part.W, H: t.part.H}
	if apart(t.shown, pixelsIn(img, here)) <= steady {
		return t.last, true
	}
	found := Look(img).Find(t.from, t.part, 1)
	if len(found) == 0 || found[0].Own < trackedOwn || len(found) > 1 && found[1].Score() > found[0].Score()-standsApart {
		return t.last, false
	}
	t.last = found[0].Center.Minus(t.center)
	t.last = scene.Point{X: math.Round(t.last.X), Y: math.Round(t.last.Y)}
	return t.last, true
}

// standsApart is by how much a place must be more alike than any other.
const standsApart = 0.02

// pixelsIn are the lightnesses in a part of a picture; outside the picture they are 0.
func pixelsIn(img *image.RGBA, r scene.Rect) []uint8 {
	area := pixelRect(r)
	out := make([]uint8, 0, max(0, area.Dx()*area.Dy()))
	for y := area.Min.Y; y < area.Max.Y; y++ {
		for x := area.Min.X; x < area.Max.X; x++ {
			if !(image.Point{X: x, Y: y}).In(img.Rect) {
				out = append(out, 0)
				continue
			}
			p := img.Pix[img.PixOffset(x, y):]
			out = append(out, uint8((299*int(p[0])+587*int(p[1])+114*int(p[2]))/1000))
		}
	}
	return out
}

// apart is by how many levels pixels differ on average; those that do not compare differ wholly.
func apart(a, b []uint8) float64 {
	if len(a) != len(b) || len(a) == 0 {
		return 255
	}
	sum := 0
	for i := range a {
		sum += abs(int(a[i]) - int(b[i]))
	}
	return float64(sum) / float64(len(a))
}

// Stood tells whether two pictures of a recording show the same but for the noise of coding, a caret or a clock:
// whether nothing moves that is worth watching.
func Stood(a, b *image.RGBA) bool {
	if a.Rect != b.Rect {
		return false
	}
	differ, least := 0, len(a.Pix)/4/2000
	for i := 0; i < len(a.Pix); i += 4 {
		if abs(int(a.Pix[i])-int(b.Pix[i]))+abs(int(a.Pix[i+1])-int(b.Pix[i+1]))+abs(int(a.Pix[i+2])-int(b.Pix[i+2])) > 60 {
			if differ++; differ > least {
				return false
			}
		}
	}
	return true
}

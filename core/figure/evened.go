package figure

import (
	"math"

	"raconte/core/scene"
)

// Evened is the figure of a shot cropped to the size of a frame, around the middle of what it shows and within the
// shot; one that is turned, tilted or folded, or whose shot is too small, stays as it is.
func (f Figure) Evened(shot, frame Size) Figure {
	if f.Quarter != 0 || f.Tilt != 0 || f.Mirror || len(f.Folds) > 0 || frame.W > shot.W || frame.H > shot.H || f.Margin != nil {
		return f
	}
	now := Cut(f, shot)
	place := func(from, size, to, most float64) float64 {
		return math.Round(math.Max(0, math.Min(most-to, from+size/2-to/2)))
	}
	w, h := float64(frame.W), float64(frame.H)
	f.Crop = &scene.Rect{X: place(now.X, now.W, w, float64(shot.W)), Y: place(now.Y, now.H, h, float64(shot.H)), W: w, H: h}
	f.Outline = nil
	if frame == shot {
		f.Crop = nil
	}
	return f
}

package pictures

import (
	"context"
	"image"
	"math"

	"raconte/core/figure"
	"raconte/core/reshoot"
	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/output/pdf"
	"raconte/output/picture"
	"raconte/store"
)

// leastLetters is the height of text, in pixels, below which it can't be read on a screen.
const leastLetters = 6

// Wanted says how a finished picture is to be written. With Most > 0 it has at most so many bytes and the
// format is chosen too.
type Wanted struct {
	Figure  figure.Figure
	First   int
	Type    string
	Quality int
	Most    int
	Types   []string // media types that it may have with Most; none is all
}

// Finish makes a finished picture of a figure as it is; it keeps nothing. It is picture.ErrTooLarge where no
// rendition that can be read fits. Letters is how high the picture's usual text is in it, 0 where that is not known.
func (m *Maker) Finish(ctx context.Context, w Wanted) (file picture.Fitted, width int, letters float64, err error) {
	shot, err := m.store.Captures.Shot(ctx, w.Figure.Shot)
	if err != nil {
		return file, 0, 0, err
	}
	size := figure.Size{W: shot.Width, H: shot.Height}
	now := w.Figure.Still(w.First)
	pixels, release, err := m.load(ctx, now, 0)
	if err != nil {
		return file, 0, 0, err
	}
	defer release()
	img, err := picture.Flatten(ctx, now, pixels, w.First, 0)
	if err != nil {
		return file, 0, 0, err
	}
	full := img.Rect.Dx()
	frame := w.Figure.Frame(size)
	height := sight.TextHeight(shot.Words) * float64(full) / frame.W
	if w.Most == 0 {
		var made picture.File
		if w.Type == "pdf" {
			made, err = pdf.Picture(ctx, img, w.Figure.Alt)
		} else {
			made, err = picture.As(img, w.Type, w.Quality)
		}
		return picture.Fitted{File: made, Share: 1}, full, height, err
	}
	least := 0.0
	if height > 0 {
		least = math.Min(1, leastLetters/height)
	}
	file, err = picture.Fit(func(share float64) (*image.RGBA, error) {
		if share == 1 {
			return img, nil
		}
		return picture.Flatten(ctx, now, pixels, w.First, max(1, int(math.Round(float64(full)*share))))
	}, w.Most, least, w.Types...)
	return file, int(math.Round(float64(full) * file.Share)), height * file.Share, err
}

// Changed are the places in which a shot differs from the one before it in its session.
func (m *Maker) Changed(ctx context.Context, shot store.Shot) ([]scene.Rect, error) {
	before, err := m.store.Captures.Before(ctx, shot)
	if err != nil {
		return nil, err
	}
	if before.Width != shot.Width || before.Height != shot.Height {
		return nil, nil
	}
	release, err := m.room.take(ctx, pixelsOf(shot))
	if err != nil {
		return nil, err
	}
	defer release()
	a, err := m.recentPixels(ctx, before)
	if err != nil {
		return nil, err
	}
	b, err := m.recentPixels(ctx, shot)
	if err != nil {
		return nil, err
	}
	var rects []scene.Rect
	for _, r := range sight.Compare(a, b).Rectangles {
		rects = append(rects, scene.Rect{X: float64(r.Min.X), Y: float64(r.Min.Y), W: float64(r.Dx()), H: float64(r.Dy())})
	}
	return rects, nil
}

// Targets finds where the targets of marks on one shot are in another.
func (m *Maker) Targets(ctx context.Context, marks []figure.Mark, before, after store.Shot) ([]reshoot.Target, error) {
	side := func(shot store.Shot) (reshoot.Side, error) {
		release, err := m.room.take(ctx, pixelsOf(shot))
		if err != nil {
			return reshoot.Side{}, err
		}
		defer release()
		img, err := m.pixels(ctx, shot)
		if err != nil {
			return reshoot.Side{}, err
		}
		return reshoot.Side{Seen: sight.Look(img), Elements: shot.About.Elements}, nil
	}
	a, err := side(before)
	if err != nil {
		return nil, err
	}
	b, err := side(after)
	if err != nil {
		return nil, err
	}
	unit := figure.Unit(scene.Rect{W: float64(before.Width), H: float64(before.Height)})
	return reshoot.Marks(marks, unit, a, b), nil
}

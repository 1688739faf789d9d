// Package picture makes finished pictures: a figure's crop and marks on its shot, in one file.
package picture

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"math"

	"raconte/core/figure"
	"raconte/raster"
)

// mostPixels bounds a finished picture, whatever its margins and its width: 80 megapixels, 320 MB while it is drawn.
const mostPixels = 80e6

// Flatten draws a figure on its shots, which are given by the names that the figure has for them; first is
// the number of its first marker. With mostWidth > 0 a wider picture is scaled down to it, the marks being
// drawn sharp at that size. It stops, with ctx's error, soon after ctx is done.
func Flatten(ctx context.Context, f figure.Figure, shots map[string]*image.RGBA, first, mostWidth int) (*image.RGBA, error) {
	if f.Weight() > figure.MostWeight {
		return nil, ErrTooHeavy
	}
	shots = concealed(f, shots)
	size := shots[f.Shot].Bounds().Size()
	s := f.Scene(figure.Size{W: size.X, H: size.Y}, first)
	width := s.W
	if f.Width > 0 {
		width = float64(f.Width)
	}
	if mostWidth > 0 {
		width = math.Min(width, float64(mostWidth))
	}
	if area := width * width * s.H / s.W; area > mostPixels {
		width *= math.Sqrt(mostPixels / area)
	}
	img, err := raster.DrawWithin(ctx, s, width/s.W, func(name string) *image.RGBA { return shots[name] })
	if err != nil {
		return nil, fmt.Errorf("drawing a picture: %w", err)
	}
	return img, nil
}

// ErrTooHeavy says that a figure has more and larger marks than can be drawn.
var ErrTooHeavy = errors.New("the picture has more and larger marks than can be drawn; take some of them out")

// File is an encoded picture.
type File struct {
	Data []byte
	Type string // media type
}

// Encode writes a picture in the form that suits its origin: JPEG for what came as JPEG, as photos
// do, PNG for everything else.
func Encode(img *image.RGBA, origin string, effort raster.Effort) (File, error) {
	var buf bytes.Buffer
	if origin == "image/jpeg" && img.Opaque() {
		if err := jpeg.Encode(&buf, img, &jpeg.Options{Quality: 90}); err != nil {
			return File{}, fmt.Errorf("encoding a finished picture: %w", err)
		}
		return File{buf.Bytes(), "image/jpeg"}, nil
	}
	if err := raster.EncodePNG(&buf, img, effort); err != nil {
		return File{}, fmt.Errorf("encoding a finished picture: %w", err)
	}
	return File{buf.Bytes(), "image/png"}, nil
}

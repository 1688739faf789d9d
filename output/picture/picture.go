// Package picture makes finished pictures: a figure's crop and marks on its shot, in one file.
package picture

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/jpeg"
	"math"
	"time"

	"raconte/core/figure"
	"raconte/core/refusal"
	"raconte/engines/raster"
)

// mostPixels bounds a finished picture, whatever its margins and its width: 80 megapixels, 320 MB while it is drawn.
const mostPixels = 80e6

// Flatten draws a figure on its shots, which are given by the names that the figure has for them; first is
// the number of its first marker. With mostWidth > 0 a wider picture is scaled down to it, the marks being
// drawn sharp at that size. It stops, with ctx's error, soon after ctx is done; what takes longer than Longest is
// refused.
func Flatten(ctx context.Context, f figure.Shown, shots map[string]*image.RGBA, first, mostWidth int) (*image.RGBA, error) {
	if f.Cost() > figure.MostCost {
		return nil, refusal.New("This picture has more and larger marks than can be drawn. Take some of them out.")
	}
	limited, cancel := context.WithTimeout(ctx, Longest)
	defer cancel()
	shots = concealed(f, shots)
	size := shots[f.Shot].Bounds().Size()
	s := f.Scene(figure.Size{W: size.X, H: size.Y}, first)
	width := widthOf(f.Figure, s.W, s.H, mostWidth)
	var img *image.RGBA
	coloured, err := raster.Recoloured(limited, shots[f.Shot], f.Recolours, f.Hidden(), 1)
	if shots[f.Shot] = coloured; err == nil {
		img, err = raster.DrawWithin(limited, s, width/s.W, func(name string) *image.RGBA { return shots[name] })
	}
	if err != nil && ctx.Err() == nil {
		return nil, refusal.New("This picture takes longer than %d seconds to draw. Take some of its marks out, or make them smaller.", int(Longest.Seconds()))
	}
	if err != nil {
		return nil, fmt.Errorf("drawing a picture: %w", err)
	}
	return img, nil
}

// Longest is how long one picture may take to draw.
const Longest = 6 * time.Second

// Pixels is how many pixels the finished picture of a figure has, without drawing it.
func Pixels(f figure.Figure, shot figure.Size, mostWidth int) int64 {
	frame := f.Frame(shot)
	width := widthOf(f, frame.W, frame.H, mostWidth)
	return int64(width * width * frame.H / frame.W)
}

// widthOf is how wide the finished picture of a figure is that shows w × h pixels of its shot.
func widthOf(f figure.Figure, w, h float64, mostWidth int) float64 {
	width := w
	if f.Width > 0 {
		width = float64(f.Width)
	}
	if mostWidth > 0 {
		width = math.Min(width, float64(mostWidth))
	}
	if area := width * width * h / w; area > mostPixels {
		width *= math.Sqrt(mostPixels / area)
	}
	return width
}

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

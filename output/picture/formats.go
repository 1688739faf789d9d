package picture

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/color/palette"
	"image/draw"
	"image/gif"
	"image/jpeg"
	"image/png"
	"slices"

	"raconte/engines/raster"

	"github.com/HugoSmits86/nativewebp"
	"github.com/soniakeys/quant/median"
)

// Types are the formats that a finished picture can be written in, with their media types.
var Types = map[string]string{
	"png": "image/png", "jpeg": "image/jpeg", "webp": "image/webp", "gif": "image/gif", "pdf": "application/pdf",
}

// As writes a picture in a format but PDF, which output/pdf writes; quality, 1 to 100, is that of JPEG alone. WebP is
// lossless. Where a format knows no transparency, the picture lies on white.
func As(img *image.RGBA, format string, quality int) (File, error) {
	var buf bytes.Buffer
	var err error
	switch format {
	case "png":
		err = raster.EncodePNG(&buf, img, raster.Small)
	case "jpeg":
		err = jpeg.Encode(&buf, onWhite(img), &jpeg.Options{Quality: quality})
	case "webp":
		err = nativewebp.Encode(&buf, img, nil)
	case "gif":
		err = gif.Encode(&buf, reduced(onWhite(img), 256), nil)
	default:
		err = errors.New("the format is unknown")
	}
	if err != nil {
		return File{}, fmt.Errorf("writing a finished picture as %s: %w", format, err)
	}
	return File{buf.Bytes(), Types[format]}, nil
}

func onWhite(img *image.RGBA) *image.RGBA {
	if img.Opaque() {
		return img
	}
	out := image.NewRGBA(img.Rect)
	draw.Draw(out, out.Rect, image.White, image.Point{}, draw.Src)
	draw.Draw(out, out.Rect, img, img.Rect.Min, draw.Over)
	return out
}

// Reduce is a picture with at most so many colours, as a PNG; 0 leaves it as it is, and so does one that has no more.
func Reduce(f File, colors int) (File, error) {
	if colors == 0 {
		return f, nil
	}
	img, _, err := image.Decode(bytes.NewReader(f.Data))
	if err != nil {
		return f, fmt.Errorf("reading a finished picture: %w", err)
	}
	plain := image.NewRGBA(image.Rectangle{Max: img.Bounds().Size()})
	draw.Draw(plain, plain.Rect, img, img.Bounds().Min, draw.Src)
	var buf bytes.Buffer
	if err := (&png.Encoder{CompressionLevel: png.BestCompression}).Encode(&buf, reduced(onWhite(plain), colors)); err != nil {
		return f, fmt.Errorf("writing a picture with fewer colours: %w", err)
	}
	return File{buf.Bytes(), "image/png"}, nil
}

// reduced is a picture in so many colours: its own where it has no more, else those of a median cut.
func reduced(img *image.RGBA, most int) *image.Paletted {
	colors := median.Quantizer(most).Palette(img).ColorPalette()
	if len(colors) == 0 {
		colors = palette.Plan9
	}
	out := image.NewPaletted(img.Rect, colors)
	draw.Draw(out, out.Rect, img, img.Rect.Min, draw.Src)
	return out
}

// Fitted is the sharpest rendition of a picture that a receiving channel takes.
type Fitted struct {
	File
	Share float64 // of the picture's full width
}

// ErrTooLarge says that no rendition that can still be read fits.
var ErrTooLarge = errors.New("no rendition that can still be read is small enough")

// shares are the widths that are tried, largest first.
var shares = []float64{1, 0.85, 0.75, 0.66, 0.5, 0.4, 0.33, 0.25, 0.2}

// Fit makes the sharpest rendition of at most so many bytes (rule 18): the largest scale at which one form
// fits, and at that scale the form that loses least. drawAt gives the picture at a share of its full width.
// least is the smallest share at which it can still be read. Only the media types that are named are tried; without
// any, all.
func Fit(drawAt func(share float64) (*image.RGBA, error), most int, least float64, types ...string) (Fitted, error) {
	fits := func(share float64) (Fitted, error) {
		img, err := drawAt(share)
		if err != nil {
			return Fitted{}, err
		}
		for _, form := range []func() (File, error){
			func() (File, error) { return As(img, "png", 0) },
			func() (File, error) { return fewColours(img) },
			func() (File, error) { return As(img, "jpeg", 85) },
			func() (File, error) { return As(img, "jpeg", 70) },
		} {
			file, err := form()
			if err != nil {
				return Fitted{}, err
			}
			if len(file.Data) <= most && (len(types) == 0 || slices.Contains(types, file.Type)) {
				return Fitted{file, share}, nil
			}
		}
		return Fitted{}, ErrTooLarge
	}
	best, err := fits(1) // it may be smaller than a softer one of fewer pixels
	if !errors.Is(err, ErrTooLarge) {
		return best, err
	}
	smaller := shares[1:]
	for len(smaller) > 0 && smaller[len(smaller)-1] < least {
		smaller = smaller[:len(smaller)-1]
	}
	if len(smaller) == 0 {
		return Fitted{}, ErrTooLarge
	}
	low, high := 0, len(smaller)-1
	if best, err = fits(smaller[high]); err != nil {
		return Fitted{}, err
	}
	for low < high { // smaller[high] fits, nothing before low does
		between := (low + high) / 2
		switch tried, err := fits(smaller[between]); {
		case err == nil:
			best, high = tried, between
		case errors.Is(err, ErrTooLarge):
			low = between + 1
		default:
			return Fitted{}, err
		}
	}
	return best, nil
}

// fewColours is a PNG in 256 colours.
func fewColours(img *image.RGBA) (File, error) {
	if !img.Opaque() {
		return As(img, "png", 0)
	}
	few := image.NewRGBA(img.Rect)
	draw.Draw(few, few.Rect, reduced(img, 256), img.Rect.Min, draw.Src)
	return As(few, "png", 0)
}

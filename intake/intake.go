// Package intake takes pictures from outside: it finds out what a file is, refuses what is broken,
// too large or a trap before decoding it, turns it upright and leaves out everything but pixels.
package intake

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/draw"
	"image/gif"
	"image/jpeg"
	"image/png"
	"io"
	"time"

	"raconte/core/figure"
	"raconte/core/refusal"
	"raconte/engines/raster"

	"github.com/bep/imagemeta"
	"golang.org/x/image/bmp"
	"golang.org/x/image/tiff"
	"golang.org/x/image/webp"
)

// Limits of one picture.
const (
	MostBytes  = 40 << 20
	MostPixels = 50_000_000
	mostKept   = 256 << 20
	mostSide   = 32_000 // pixels: what common viewers and printers take
)

// Refusal is an error whose text is meant for the person who brought the file.
type Refusal = refusal.Error

var refuse = refusal.New

// Shot is a picture as Raconte keeps it: PNG, or the JPEG data that came, without metadata.
type Shot struct {
	Data   []byte
	Type   string // media type of Data
	Size   figure.Size
	Pixels *image.RGBA
}

type format struct {
	name   string
	magic  func([]byte) bool
	config func(io.Reader) (image.Config, error)
	decode func(io.Reader) (image.Image, error)
	meta   imagemeta.ImageFormat
}

func starts(prefixes ...string) func([]byte) bool {
	return func(b []byte) bool {
		for _, p := range prefixes {
			if bytes.HasPrefix(b, []byte(p)) {
				return true
			}
		}
		return false
	}
}

var formats = []format{
	{"PNG", starts("\x89PNG\r\n\x1a\n"), png.DecodeConfig, raster.DecodePNG, imagemeta.PNG},
	{"JPEG", starts("\xff\xd8\xff"), jpeg.DecodeConfig, jpeg.Decode, imagemeta.JPEG},
	{"GIF", starts("GIF87a", "GIF89a"), gif.DecodeConfig, gif.Decode, 0},
	{"WebP", func(b []byte) bool {
		return len(b) > 12 && string(b[:4]) == "RIFF" && string(b[8:12]) == "WEBP"
	}, webp.DecodeConfig, webp.Decode, imagemeta.WebP},
	{"BMP", starts("BM"), bmp.DecodeConfig, bmp.Decode, 0},
	{"TIFF", starts("II*\x00", "MM\x00*"), tiff.DecodeConfig, tiff.Decode, imagemeta.TIFF},
}

// Read takes a picture. An error of type Refusal says, for people, why the file can't be used. Decoding stops soon
// after ctx is done.
func Read(ctx context.Context, data []byte) (Shot, error) { return read(ctx, data, MostBytes) }

// Restore takes a picture that was kept before, as from a bundle: it may have grown past MostBytes
// when it was turned into PNG.
func Restore(ctx context.Context, data []byte) (Shot, error) { return read(ctx, data, mostKept) }

func read(ctx context.Context, data []byte, most int) (Shot, error) {
	f, err := sniff(data, most)
	if err != nil {
		return Shot{}, err
	}
	img, err := f.safely(ctx, data)
	if err != nil {
		return Shot{}, err
	}
	pixels := RGBA(img)
	turn := orientation(data, f.meta)
	shot := Shot{Pixels: upright(pixels, turn)}
	bare, laidOut := []byte(nil), false
	if f.name == "JPEG" && turn == 1 && scans(data) <= usualScans {
		bare, laidOut = bareJPEG(data)
	}
	if laidOut {
		shot.Type, shot.Data = "image/jpeg", bare
	} else {
		var buf bytes.Buffer
		if err := raster.EncodePNG(&buf, shot.Pixels, raster.Quick); err != nil {
			return Shot{}, fmt.Errorf("keeping a picture: %w", err)
		}
		shot.Type, shot.Data = "image/png", buf.Bytes()
	}
	size := shot.Pixels.Bounds().Size()
	shot.Size = figure.Size{W: size.X, H: size.Y}
	return shot, nil
}

// Decode is the pixels of a picture that Read has kept, within the same limits. It stops soon after ctx is done.
func Decode(ctx context.Context, data []byte) (*image.RGBA, error) {
	f, err := sniff(data, mostKept)
	if err != nil {
		return nil, err
	}
	img, err := f.safely(ctx, data)
	if err != nil {
		return nil, err
	}
	return RGBA(img), nil
}

// sniff finds the format by its first bytes and checks the limits that its header tells.
func sniff(data []byte, most int) (format, error) {
	if len(data) == 0 {
		return format{}, refuse("The file is empty.")
	}
	if len(data) > most {
		return format{}, refuse("The file is larger than %d MB.", most>>20)
	}
	for _, f := range formats {
		if !f.magic(data) {
			continue
		}
		cfg, err := f.config(bytes.NewReader(data))
		if err != nil {
			return f, refuse("The file starts like a %s picture, but its header is damaged.", f.name)
		}
		if cfg.Width < 1 || cfg.Height < 1 {
			return f, refuse("The picture has no pixels.")
		}
		if cfg.Width > mostSide || cfg.Height > mostSide || cfg.Width*cfg.Height > MostPixels {
			return f, refuse("The picture is %d × %d pixels. At most %d megapixels and %d pixels a side can be used.",
				cfg.Width, cfg.Height, MostPixels/1_000_000, mostSide)
		}
		return f, costly(f, data)
	}
	return format{}, refuse("This is not a picture that Raconte reads. It reads PNG, JPEG, GIF, WebP, BMP and TIFF.")
}

// safely decodes; a decoder that panics on hostile data is a refusal, not a crash, and one that takes too long is
// ended.
func (f format) safely(ctx context.Context, data []byte) (img image.Image, err error) {
	limited, cancel := context.WithTimeout(ctx, longestDecode)
	defer cancel()
	defer func() {
		if r := recover(); r != nil {
			err = refuse("The %s picture is damaged.", f.name)
		}
	}()
	img, err = f.decode(watched{limited, bytes.NewReader(data)})
	if err != nil {
		if ended := tooSlow(limited, ctx); ended != nil {
			return nil, ended
		}
		return nil, refuse("The %s picture is damaged: it ends early or holds data that can't be read.", f.name)
	}
	return img, nil
}

// RGBA is the image with its top left at the origin, in the one form that all pixel work uses.
func RGBA(img image.Image) *image.RGBA {
	if p, ok := img.(*image.RGBA); ok && p.Rect.Min == (image.Point{}) {
		return p
	}
	b := img.Bounds()
	out := image.NewRGBA(image.Rect(0, 0, b.Dx(), b.Dy()))
	if p, ok := img.(*image.NRGBA); ok && p.Opaque() {
		for y := range b.Dy() {
			copy(out.Pix[y*out.Stride:(y+1)*out.Stride], p.Pix[y*p.Stride:y*p.Stride+4*b.Dx()])
		}
		return out
	}
	draw.Draw(out, out.Bounds(), img, b.Min, draw.Src)
	return out
}

// orientation is the EXIF orientation, 1 to 8; 1 where there is none.
func orientation(data []byte, kind imagemeta.ImageFormat) int {
	turn := 1
	if kind == 0 {
		return turn
	}
	_, err := imagemeta.Decode(imagemeta.Options{
		R: bytes.NewReader(data), ImageFormat: kind, Sources: imagemeta.EXIF, Timeout: time.Second,
		ShouldHandleTag: func(t imagemeta.TagInfo) bool { return t.Tag == "Orientation" },
		HandleTag: func(t imagemeta.TagInfo) error {
			if v, ok := t.Value.(uint16); ok && v >= 1 && v <= 8 && t.Namespace == "IFD0" {
				turn = int(v)
			}
			return nil
		},
	})
	var damaged *imagemeta.InvalidFormatError
	if err != nil && !errors.As(err, &damaged) {
		return 1 // unreadable metadata is none
	}
	return turn
}

// upright applies an EXIF orientation.
func upright(img *image.RGBA, turn int) *image.RGBA {
	if turn == 1 {
		return img
	}
	w, h := img.Rect.Dx(), img.Rect.Dy()
	size := image.Rect(0, 0, w, h)
	if turn >= 5 {
		size = image.Rect(0, 0, h, w)
	}
	out := image.NewRGBA(size)
	for y := range h {
		for x := range w {
			nx, ny := x, y
			switch turn {
			case 2:
				nx = w - 1 - x
			case 3:
				nx, ny = w-1-x, h-1-y
			case 4:
				ny = h - 1 - y
			case 5:
				nx, ny = y, x
			case 6:
				nx, ny = h-1-y, x
			case 7:
				nx, ny = h-1-y, w-1-x
			case 8:
				nx, ny = y, w-1-x
			}
			copy(out.Pix[out.PixOffset(nx, ny):][:4], img.Pix[img.PixOffset(x, y):][:4])
		}
	}
	return out
}

// Measure is the size of a picture that Read has kept, from its header alone.
func Measure(data []byte) (figure.Size, error) {
	f, err := sniff(data, mostKept)
	if err != nil {
		return figure.Size{}, err
	}
	cfg, err := f.config(bytes.NewReader(data))
	if err != nil {
		return figure.Size{}, fmt.Errorf("measuring a picture: %w", err)
	}
	return figure.Size{W: cfg.Width, H: cfg.Height}, nil
}

package pdf

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"io"
	"math"
	"time"

	"raconte/core/page"
	"raconte/core/scene"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/engines/raster"
	"raconte/output"
	"raconte/output/picture"
)

// Scenes writes sheets that no document stands on, such as codes to cut out. Pictures are the files that they show, by
// page.FigureRef of their names; made is when, zero where that is not known.
func Scenes(ctx context.Context, w io.Writer, title string, made time.Time, sheets []scene.Scene, pictures map[string]picture.File) error {
	return Format{}.Write(ctx, w, output.Input{
		Story: story.Story{Title: title}, Made: made, Progress: func(int, int) {},
		Pages: func(context.Context, style.Layout) (page.Pages, error) { return page.Pages{Sheets: sheets}, nil },
		Picture: func(_ context.Context, name string, _ int) (picture.File, error) {
			return pictures[name], nil
		},
	}, output.Options{})
}

// dpi is how many pixels of a screenshot print on an inch, at most; larger ones are fitted to a page.
const dpi = 96

// Picture is a picture alone on a page of its own size, at most A4's.
func Picture(ctx context.Context, img *image.RGBA, alt string) (picture.File, error) {
	size := img.Rect.Size()
	w, h := float64(size.X)*72/dpi, float64(size.Y)*72/dpi
	if k := math.Min(1, math.Min(math.Max(842/w, 842/h), math.Min(1190/w, 1190/h))); k < 1 {
		w, h = w*k, h*k
	}
	var png, out bytes.Buffer
	if err := raster.EncodePNG(&png, img, raster.Small); err != nil {
		return picture.File{}, fmt.Errorf("writing a finished picture: %w", err)
	}
	sheet := scene.Scene{W: w, H: h}
	sheet.Begin(scene.Tag{Role: "Figure", Alt: alt})
	sheet.Items = append(sheet.Items, scene.Item{Picture: &scene.Picture{Ref: page.FigureRef("it"), Target: scene.Rect{W: w, H: h}, Alt: alt}})
	sheet.Close(1)
	files := map[string]picture.File{"it": {Data: png.Bytes(), Type: "image/png"}}
	if err := Scenes(ctx, &out, alt, time.Time{}, []scene.Scene{sheet}, files); err != nil {
		return picture.File{}, err
	}
	return picture.File{Data: out.Bytes(), Type: picture.Types["pdf"]}, nil
}

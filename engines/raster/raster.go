// Package raster turns scenes into pixels. It draws what it is told and decides nothing.
package raster

import (
	"context"
	"image"
	"image/color"
	"image/draw"
	"math"

	"raconte/core/scene"
	"raconte/core/text"

	"golang.org/x/image/vector"
)

// Canvas draws scenes on an image. Scale is in pixels to a unit of the scene; Pictures finds the
// pixels that a picture's Ref names, nil where there are none.
type Canvas struct {
	Image    *image.RGBA
	Scale    float64
	Pictures func(ref string) *image.RGBA
	raster   vector.Rasterizer
	bare     bool // the white ground is not laid: the first picture may cover it
	done     <-chan struct{}
}

// Draw is the scene as an image of scale pixels to a unit: on white, or, where it is clear, or begins with
// a clip as pictures with a shape of their own do, on nothing.
func Draw(s scene.Scene, scale float64, pictures func(string) *image.RGBA) *image.RGBA {
	img, _ := DrawWithin(context.Background(), s, scale, pictures) // nothing ends it
	return img
}

// DrawWithin is Draw that stops, with ctx's error, at the next item once ctx is done.
func DrawWithin(ctx context.Context, s scene.Scene, scale float64, pictures func(string) *image.RGBA) (*image.RGBA, error) {
	img := image.NewRGBA(image.Rect(0, 0, max(1, int(math.Round(s.W*scale))), max(1, int(math.Round(s.H*scale)))))
	c := &Canvas{Image: img, Scale: scale, Pictures: pictures, bare: true, done: ctx.Done()}
	if s.Clear || len(s.Items) > 0 && s.Items[0].Clip != nil {
		c.bare = false
	} else if !covered(s) {
		c.ground()
		c.bare = false
	}
	rest := s.Items
	for len(rest) > 0 && rest[0].Picture != nil {
		c.Picture(*rest[0].Picture)
		rest = rest[1:]
	}
	// What lies on the pictures is drawn on two halves at the same time.
	bands(img.Rect.Dy(), func(y0, y1 int) {
		half := img.SubImage(image.Rect(0, y0, img.Rect.Dx(), y1)).(*image.RGBA)
		scene.Scene{Items: rest}.Draw(&Canvas{Image: half, Scale: scale, Pictures: pictures, done: ctx.Done()})
	})
	return img, ctx.Err()
}

// ended tells whether nobody waits for the drawing any more.
func (c *Canvas) ended() bool {
	select {
	case <-c.done:
		return true
	default:
		return false
	}
}

// covered tells whether the scene begins with a picture as large as itself, as figures do.
func covered(s scene.Scene) bool {
	return len(s.Items) > 0 && s.Items[0].Picture != nil && s.Items[0].Picture.Target == scene.Rect{W: s.W, H: s.H}
}

// Path fills an outline with the non-zero winding rule. Only the pixels under it are visited.
func (c *Canvas) Path(p scene.Path) {
	if c.ended() {
		return
	}
	area := c.outline(p.Outline)
	if area.Empty() {
		return
	}
	fill := color.NRGBA{R: p.Fill.R, G: p.Fill.G, B: p.Fill.B, A: p.Fill.A}
	if p.Blend == "" {
		cover(c.Image, area, c.coverage(area), fill)
		return
	}
	blend(c.Image, area, c.coverage(area), fill, p.Blend)
}

// outline gives the outline to the rasterizer and says which pixels it can touch.
func (c *Canvas) outline(o scene.Outline) image.Rectangle {
	b := o.Bounds()
	area := image.Rect(
		int(math.Floor(b.X*c.Scale)), int(math.Floor(b.Y*c.Scale)),
		int(math.Ceil((b.X+b.W)*c.Scale))+1, int(math.Ceil((b.Y+b.H)*c.Scale))+1,
	).Intersect(c.Image.Bounds())
	if area.Empty() {
		return area
	}
	c.raster.Reset(area.Dx(), area.Dy())
	at := func(q scene.Point) (float32, float32) {
		return float32(q.X*c.Scale - float64(area.Min.X)), float32(q.Y*c.Scale - float64(area.Min.Y))
	}
	for _, s := range o {
		x, y := at(s.P[0])
		switch s.Op {
		case 'M':
			c.raster.MoveTo(x, y)
		case 'L':
			c.raster.LineTo(x, y)
		case 'Q':
			x1, y1 := at(s.P[1])
			c.raster.QuadTo(x, y, x1, y1)
		case 'C':
			x1, y1 := at(s.P[1])
			x2, y2 := at(s.P[2])
			c.raster.CubeTo(x, y, x1, y1, x2, y2)
		case 'Z':
			c.raster.ClosePath()
		}
	}
	return area
}

// coverage is how much of each pixel of the area the outline covers.
func (c *Canvas) coverage(area image.Rectangle) *image.Alpha {
	mask := image.NewAlpha(area)
	c.raster.DrawOp = draw.Src // nothing is under it: the quick way
	c.raster.Draw(mask, area, image.Opaque, image.Point{})
	return mask
}

// Clip draws items on a layer of their own and lays on the picture what is inside the outline.
func (c *Canvas) Clip(clip scene.Clip) {
	if c.ended() {
		return
	}
	area := c.outline(clip.Outline)
	if area.Empty() {
		return
	}
	mask := c.coverage(area)
	layer := &Canvas{Image: image.NewRGBA(area), Scale: c.Scale, Pictures: c.Pictures, done: c.done}
	scene.Scene{Items: clip.Items}.Draw(layer)
	draw.DrawMask(c.Image, area, layer.Image, area.Min, mask, area.Min, draw.Over)
}

// Words fills the letters' outlines.
func (c *Canvas) Words(w scene.Words) { c.Path(scene.Path{Outline: text.Outline(w), Fill: w.Fill}) }

// Link draws nothing: pixels lead nowhere.
func (c *Canvas) Link(scene.Link) {}

// Picture draws the named pixels, scaled with a good filter where their size differs.
func (c *Canvas) Picture(p scene.Picture) {
	if c.ended() {
		return
	}
	var src *image.RGBA
	if c.Pictures != nil {
		src = c.Pictures(p.Ref)
	}
	if src != nil && p.Matrix != nil {
		if !axial(*p.Matrix) {
			c.ground()
			c.bare = false
			c.turned(toned(src, src.Rect, p.Tone), p)
			return
		}
		src, p.Source = uprightPart(src, p)
	}
	op := draw.Src
	to := pixels(p.Target, c.Scale)
	if src == nil || !opaque(src) || (c.bare && to != c.Image.Rect) {
		op = draw.Over
		c.ground()
	}
	c.bare = false
	if src == nil || !to.Overlaps(c.Image.Rect) {
		return
	}
	from := src.Bounds()
	if !p.Source.Empty() {
		from = pixels(p.Source, 1).Intersect(from)
	}
	src = toned(src, from, p.Tone)
	if from.Size() != to.Size() {
		// Of a picture that is far larger than what it is drawn on, no more is scaled than is seen.
		seen := to.Intersect(c.Image.Rect)
		src = scaled(src, from, to.Dx(), to.Dy(), seen.Sub(to.Min), c.ended)
		to, from = seen, src.Rect
	}
	draw.Draw(c.Image, to, src, from.Min, op)
}

// ground lays the white that shows where nothing is drawn.
func (c *Canvas) ground() {
	if c.bare {
		draw.Draw(c.Image, c.Image.Bounds(), image.White, image.Point{}, draw.Src)
	}
}

// KeepInside makes everything outside an outline transparent.
func KeepInside(img *image.RGBA, o scene.Outline) {
	mask := image.NewRGBA(img.Rect)
	c := Canvas{Image: mask, Scale: 1}
	c.Path(scene.Path{Outline: o, Fill: scene.Color{A: 255}})
	for i := 0; i < len(img.Pix); i += 4 {
		a := int(mask.Pix[i+3])
		for k := range 4 {
			img.Pix[i+k] = uint8(int(img.Pix[i+k]) * a / 255)
		}
	}
}

func pixels(r scene.Rect, k float64) image.Rectangle {
	return image.Rect(int(math.Round(r.X*k)), int(math.Round(r.Y*k)), int(math.Round((r.X+r.W)*k)), int(math.Round((r.Y+r.H)*k)))
}

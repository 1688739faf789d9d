package raster

import (
	"image"
	"image/draw"
	"math"

	"raconte/core/scene"

	xdraw "golang.org/x/image/draw"
	"golang.org/x/image/math/f64"
)

// axial tells whether a matrix turns by quarters only, mirrored or not, and neither stretches nor tilts.
func axial(m scene.Matrix) bool {
	one := func(v float64) bool { return math.Abs(math.Abs(v)-1) < 1e-9 }
	none := func(v float64) bool { return math.Abs(v) < 1e-9 }
	return (one(m.A) && one(m.D) && none(m.B) && none(m.C)) || (one(m.B) && one(m.C) && none(m.A) && none(m.D))
}

// uprightPart is the part of a picture that shows in p's target, turned pixel by pixel, and its place.
func uprightPart(src *image.RGBA, p scene.Picture) (*image.RGBA, scene.Rect) {
	t := pixels(p.Target, 1)
	out := image.NewRGBA(image.Rect(0, 0, t.Dx(), t.Dy()))
	back := p.Matrix.Inverse()
	// The middle of a pixel is half a pixel in: matrices lead from edge to edge.
	start := back.Apply(scene.Point{X: float64(t.Min.X) + 0.5, Y: float64(t.Min.Y) + 0.5})
	for y := range t.Dy() {
		for x := range t.Dx() {
			fx, fy := float64(x), float64(y)
			sx := int(math.Floor(start.X + back.A*fx + back.C*fy))
			sy := int(math.Floor(start.Y + back.B*fx + back.D*fy))
			to := out.Pix[y*out.Stride+4*x:][:4]
			if !(image.Point{X: sx, Y: sy}).In(src.Rect) {
				copy(to, "\xff\xff\xff\xff")
				continue
			}
			copy(to, src.Pix[src.PixOffset(sx, sy):][:4])
		}
	}
	return out, scene.Rect{W: float64(t.Dx()), H: float64(t.Dy())}
}

// turned draws a picture that is tilted, through the Catmull-Rom cubic, on white.
func (c *Canvas) turned(src *image.RGBA, p scene.Picture) {
	to := pixels(p.Target, c.Scale).Intersect(c.Image.Rect)
	if to.Empty() {
		return
	}
	part := c.Image.SubImage(to).(*image.RGBA)
	draw.Draw(part, to, image.White, image.Point{}, draw.Src)
	m := p.Matrix.Then(scene.Stretch(c.Scale, scene.Point{}))
	// In strips, on both halves at the same time, so that it ends soon after nobody waits for it any more.
	bands((to.Dy()+strip-1)/strip, func(first, end int) {
		for i := first; i < end && !c.ended(); i++ {
			y := to.Min.Y + i*strip
			rows := part.SubImage(image.Rect(to.Min.X, y, to.Max.X, y+strip).Intersect(to)).(*image.RGBA)
			xdraw.CatmullRom.Transform(rows, f64.Aff3{m.A, m.C, m.E, m.B, m.D, m.F}, src, src.Rect, xdraw.Over, nil)
		}
	})
}

// strip is how many rows are turned at a time.
const strip = 64

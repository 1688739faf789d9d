package raster

import (
	"image"
	"image/color"

	"raconte/core/scene"
)

// toned is a part of a picture in a tone, at the same place; the picture itself where the tone changes nothing.
func toned(src *image.RGBA, part image.Rectangle, t scene.Tone) *image.RGBA {
	part = part.Intersect(src.Rect)
	if t == (scene.Tone{}) || part.Empty() {
		return src
	}
	out := image.NewRGBA(part)
	bands(part.Dy(), func(y0, y1 int) {
		var was scene.Color
		made := t.Apply(was)
		for y := part.Min.Y + y0; y < part.Min.Y+y1; y++ {
			from := src.Pix[src.PixOffset(part.Min.X, y):][:4*part.Dx()]
			to := out.Pix[out.PixOffset(part.Min.X, y):][:4*part.Dx()]
			for x := 0; x < len(from); x += 4 {
				// Screens are areas of one colour: the last answer is often the next.
				c := scene.Color{R: from[x], G: from[x+1], B: from[x+2], A: from[x+3]}
				if c != was {
					was, made = c, t.Apply(c)
				}
				to[x], to[x+1], to[x+2], to[x+3] = made.R, made.G, made.B, made.A
			}
		}
	})
	return out
}

// blend fills by a blend mode of W3C's Compositing and Blending, as far as the mask covers each pixel.
func blend(img *image.RGBA, area image.Rectangle, mask *image.Alpha, fill color.NRGBA, mode scene.Blend) {
	mix := func(under, over uint8, cover int) uint8 {
		v := int(under) * int(over) / 255
		if mode == scene.Screen {
			v = int(under) + int(over) - v
		}
		return uint8((int(under)*(255-cover) + v*cover + 127) / 255)
	}
	for y := area.Min.Y; y < area.Max.Y; y++ {
		for x := area.Min.X; x < area.Max.X; x++ {
			cover := int(mask.AlphaAt(x, y).A) * int(fill.A) / 255
			if cover == 0 {
				continue
			}
			p := img.Pix[img.PixOffset(x, y):][:4]
			p[0], p[1], p[2] = mix(p[0], fill.R, cover), mix(p[1], fill.G, cover), mix(p[2], fill.B, cover)
		}
	}
}

package raster

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
)

// untouched are pixels of a mask that nothing covers.
var untouched [32]byte

// cover paints a colour over pixels as far as a mask, which begins at the origin, covers them. Most of an outline's
// rectangle is bare or whole, and that is skipped or filled at once: the general way is several times as slow.
func cover(img *image.RGBA, area image.Rectangle, mask *image.Alpha, fill color.NRGBA) {
	a := uint32(fill.A)
	r, g, b := uint32(fill.R)*a/255, uint32(fill.G)*a/255, uint32(fill.B)*a/255
	whole := r | g<<8 | b<<16 | a<<24
	for y := range area.Dy() {
		row := mask.Pix[y*mask.Stride:][:area.Dx()]
		pixels := img.Pix[img.PixOffset(area.Min.X, area.Min.Y+y):][:4*area.Dx()]
		for x := 0; x < len(row); x++ {
			if x+len(untouched) <= len(row) && bytes.Equal(row[x:x+len(untouched)], untouched[:]) {
				x += len(untouched) - 1
				continue
			}
			m := uint32(row[x])
			if m == 0 {
				continue
			}
			p := pixels[4*x : 4*x+4]
			if m == 255 && a == 255 {
				binary.LittleEndian.PutUint32(p, whole)
				continue
			}
			rest := 255*255 - a*m
			mix := func(v uint8, c uint32) uint8 { return uint8((uint32(v)*rest + c*m*255 + 255*255/2) / (255 * 255)) }
			p[0], p[1], p[2], p[3] = mix(p[0], r), mix(p[1], g), mix(p[2], b), mix(p[3], a)
		}
	}
}

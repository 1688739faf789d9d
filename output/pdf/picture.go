package pdf

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"

	"raconte/engines/raster"
	"raconte/output/picture"
)

// image writes a finished picture: as it is where a PDF can hold it so, else its pixels on white, as paper is.
func (f *file) image(id int, p picture.File) error {
	const head = "/Type/XObject/Subtype/Image/Width %d/Height %d/ColorSpace%s/BitsPerComponent 8"
	if p.Type == "image/jpeg" {
		c, err := jpeg.DecodeConfig(bytes.NewReader(p.Data))
		if err != nil {
			return fmt.Errorf("reading a finished picture: %w", err)
		}
		if space := map[color.Model]string{color.YCbCrModel: "/DeviceRGB", color.GrayModel: "/DeviceGray"}[c.ColorModel]; space != "" {
			f.stream(id, fmt.Sprintf(head+"/Filter/DCTDecode", c.Width, c.Height, space), p.Data)
			return nil
		}
	}
	if w, h, space, channels, data, plain := f.plainPNG(p.Data); plain {
		f.stream(id, fmt.Sprintf(head+"/Filter/FlateDecode/DecodeParms<</Predictor 15/Colors %d/BitsPerComponent 8/Columns %d>>", w, h, space, channels, w), data)
		return nil
	}
	img, _, err := image.Decode(bytes.NewReader(p.Data))
	if err != nil {
		return fmt.Errorf("reading a finished picture: %w", err)
	}
	flat := image.NewRGBA(image.Rectangle{Max: img.Bounds().Size()})
	draw.Draw(flat, flat.Rect, image.White, image.Point{}, draw.Src)
	draw.Draw(flat, flat.Rect, img, img.Bounds().Min, draw.Over)
	var again bytes.Buffer
	if err := raster.EncodePNG(&again, flat, raster.Small); err != nil {
		return fmt.Errorf("writing a finished picture: %w", err)
	}
	return f.image(id, picture.File{Data: again.Bytes(), Type: "image/png"})
}

// plainPNG takes a PNG apart that a PDF can hold as it is packed: 8 bits, colours or an opaque palette, not interlaced.
func (f *file) plainPNG(data []byte) (w, h uint32, space string, channels int, packed []byte, ok bool) {
	const signature, header = 8, 25
	if len(data) < signature+header || data[24] != 8 || data[28] != 0 || data[25] != 2 && data[25] != 3 {
		return
	}
	w, h = binary.BigEndian.Uint32(data[16:]), binary.BigEndian.Uint32(data[20:])
	space, channels = "/DeviceRGB", 3
	for rest := data[signature:]; len(rest) >= 12; {
		n := int(binary.BigEndian.Uint32(rest))
		if n < 0 || n > len(rest)-12 {
			return
		}
		body := rest[8 : 8+n]
		switch string(rest[4:8]) {
		case "PLTE":
			if data[25] == 3 {
				space, channels = fmt.Sprintf("[/Indexed/DeviceRGB %d%s]", n/3-1, f.literal(body)), 1
			}
		case "tRNS":
			return
		case "IDAT":
			packed = append(packed, body...)
		}
		rest = rest[12+n:]
	}
	return w, h, space, channels, packed, len(packed) > 0
}

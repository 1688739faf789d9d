package raster

import (
	"bytes"
	"encoding/binary"
	"errors"
	"hash/crc32"
	"image"
	"image/png"
	"io"

	"github.com/klauspost/compress/zlib"
)

// DecodePNG reads a PNG as image/png does, and several times as fast where it is as screens are kept: 8 bits a channel,
// in colours or with an opaque palette, not interlaced. Everything else is left to image/png.
// The format is that of the W3C's PNG specification, third edition.
func DecodePNG(r io.Reader) (image.Image, error) {
	data, err := io.ReadAll(r)
	if err != nil {
		return nil, err
	}
	p, ok := parsePNG(data)
	if !ok {
		return png.Decode(bytes.NewReader(data))
	}
	return p.decode()
}

// plainPNG is a PNG of the usual kind, taken apart.
type plainPNG struct {
	w, h     int
	channels int
	palette  []uint32 // of opaque colours, as four bytes of pixels
	parts    []io.Reader
}

// parsePNG takes a PNG apart; false where it is of another kind, or damaged.
func parsePNG(data []byte) (p plainPNG, ok bool) {
	const signature = 8
	rest := data[min(signature, len(data)):]
	for len(rest) >= 12 {
		n := int(binary.BigEndian.Uint32(rest))
		if n < 0 || n > len(rest)-12 {
			return p, false
		}
		name, body := string(rest[4:8]), rest[8:8+n]
		if crc32.ChecksumIEEE(rest[4:8+n]) != binary.BigEndian.Uint32(rest[8+n:]) {
			return p, false
		}
		rest = rest[12+n:]
		switch name {
		case "IHDR":
			if n != 13 || body[8] != 8 || body[10] != 0 || body[11] != 0 || body[12] != 0 {
				return p, false
			}
			p.w, p.h = int(binary.BigEndian.Uint32(body)), int(binary.BigEndian.Uint32(body[4:]))
			p.channels = map[byte]int{2: 3, 3: 1, 6: 4}[body[9]]
		case "PLTE":
			for i := 0; i+2 < n; i += 3 {
				p.palette = append(p.palette, uint32(body[i])|uint32(body[i+1])<<8|uint32(body[i+2])<<16|0xff000000)
			}
		case "tRNS":
			return p, false
		case "IDAT":
			p.parts = append(p.parts, bytes.NewReader(body))
		case "IEND":
			whole := p.channels > 0 && p.w > 0 && p.h > 0 && len(p.parts) > 0 && (p.channels > 1 || len(p.palette) > 0)
			return p, whole && len(p.palette) <= 256
		}
	}
	return p, false
}

var errDamaged = errors.New("png: the picture is damaged")

func (p plainPNG) decode() (image.Image, error) {
	z, err := zlib.NewReader(io.MultiReader(p.parts...))
	if err != nil {
		return nil, err
	}
	defer z.Close()
	img := image.NewRGBA(image.Rect(0, 0, p.w, p.h))
	line := make([]byte, 1+p.w*p.channels)
	above := make([]byte, len(line))
	for y := range p.h {
		if _, err := io.ReadFull(z, line); err != nil {
			return nil, err
		}
		filter, row := line[0], line[1:]
		pixels := img.Pix[y*img.Stride:][:4*p.w]
		if err := unfilter(filter, row, above[1:], p.channels); err != nil {
			return nil, err
		}
		if y > 0 && bytes.Equal(row, above[1:]) {
			copy(pixels, img.Pix[(y-1)*img.Stride:])
		} else if err := p.paint(pixels, row); err != nil {
			return nil, err
		}
		line, above = above, line
	}
	// The checksum at the stream's end is read with it; more data than the picture has pixels is none of its own.
	if n, err := z.Read(line[:1]); n > 0 || err != io.EOF {
		return nil, errDamaged
	}
	return img, nil
}

// paint turns a row as it is kept into pixels.
func (p plainPNG) paint(pixels, row []byte) error {
	switch p.channels {
	case 1:
		for x, v := range row {
			if int(v) >= len(p.palette) {
				return errDamaged
			}
			binary.LittleEndian.PutUint32(pixels[4*x:], p.palette[v])
		}
	case 3:
		i, j := 0, 0
		for ; i+4 <= len(row); i, j = i+3, j+4 {
			binary.LittleEndian.PutUint32(pixels[j:], binary.LittleEndian.Uint32(row[i:])|0xff000000)
		}
		pixels[j], pixels[j+1], pixels[j+2], pixels[j+3] = row[i], row[i+1], row[i+2], 255
	case 4:
		for i := 0; i < len(row); i += 4 {
			a := uint32(row[i+3])
			if a == 255 {
				copy(pixels[i:i+4], row[i:])
				continue
			}
			for c := range 3 { // premultiplied as image/color does it, by 16 bits
				pixels[i+c] = uint8(uint32(row[i+c]) * 0x101 * a * 0x101 / 0xffff >> 8)
			}
			pixels[i+3] = row[i+3]
		}
	}
	return nil
}

// unfilter takes a row's filter away, as section 9 of the specification says it.
func unfilter(filter byte, row, above []byte, channels int) error {
	switch filter {
	case 0:
	case 1:
		for i := channels; i < len(row); i++ {
			row[i] += row[i-channels]
		}
	case 2:
		for i, v := range above {
			row[i] += v
		}
	case 3:
		for i := range row {
			left := 0
			if i >= channels {
				left = int(row[i-channels])
			}
			row[i] += uint8((left + int(above[i])) / 2)
		}
	case 4:
		for i := range row {
			var left, corner uint8
			if i >= channels {
				left, corner = row[i-channels], above[i-channels]
			}
			row[i] += paeth(left, above[i], corner)
		}
	default:
		return errDamaged
	}
	return nil
}

// paeth is the neighbour that is nearest to left + above - corner.
func paeth(left, above, corner uint8) uint8 {
	p := int(left) + int(above) - int(corner)
	distance := func(v uint8) int { return max(p-int(v), int(v)-p) }
	switch l, a, c := distance(left), distance(above), distance(corner); {
	case l <= a && l <= c:
		return left
	case a <= c:
		return above
	}
	return corner
}

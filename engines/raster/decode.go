package raster

import (
	"bufio"
	"bytes"
	"encoding/binary"
	"errors"
	"hash/crc32"
	"image"
	"image/png"
	"io"

	"github.com/klauspost/compress/flate"

	"raconte/platform/together"
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

// decode unpacks the rows in one goroutine while another makes pixels of those that are there.
func (p plainPNG) decode() (image.Image, error) {
	from := bufio.NewReader(io.MultiReader(p.parts...))
	var head [2]byte // of the zlib stream (RFC 1950)
	if _, err := io.ReadFull(from, head[:]); err != nil {
		return nil, err
	}
	if head[0]&0xf != 8 || head[0]>>4 > 7 || binary.BigEndian.Uint16(head[:])%31 != 0 || head[1]&0x20 != 0 {
		return nil, errDamaged
	}
	z := flate.NewReader(from)
	defer z.Close()
	length := 1 + p.w*p.channels
	many := min(p.h, max(1, unpackedAtOnce/length))
	full, empty := make(chan unpacked, 2), make(chan []byte, 3)
	for range cap(empty) {
		empty <- make([]byte, many*length)
	}
	still := make([]byte, length-1)
	unpack := func() error {
		sum := uint32(1)
		for y := 0; y < p.h; y += many {
			block := (<-empty)[:min(many, p.h-y)*length]
			_, err := io.ReadFull(z, block)
			for rows := block; err == nil && len(rows) > 0; rows = rows[length:] {
				sum = added(sum, rows[:length], still)
			}
			if err == nil && y+many >= p.h {
				err = ended(z, from, sum)
			}
			if full <- (unpacked{block, err}); err != nil {
				return nil
			}
		}
		return nil
	}
	go func() {
		defer close(full)
		if err := together.Guarded(unpack); err != nil {
			full <- unpacked{nil, err}
		}
	}()
	img := image.NewRGBA(image.Rect(0, 0, p.w, p.h))
	above := make([]byte, length-1)
	y := 0
	var err error
	for block := range full {
		if err == nil {
			err = block.err
		}
		for rows := block.rows; err == nil && len(rows) > 0; rows = rows[length:] {
			err = p.row(img, y, rows[0], rows[1:length], above, still)
			copy(above, rows[1:length])
			y++
		}
		empty <- block.rows[:cap(block.rows)]
	}
	return img, err
}

// unpackedAtOnce is about how many bytes of rows are unpacked before pixels are made of them.
const unpackedAtOnce = 256 << 10

// unpacked are some rows, or why there are no more.
type unpacked struct {
	rows []byte
	err  error
}

// ended reads the checksum at the end of a stream. More data than the picture has pixels is none of its own.
func ended(z, from io.Reader, sum uint32) error {
	if n, err := z.Read(make([]byte, 1)); n > 0 || err != io.EOF {
		return errDamaged
	}
	var said [4]byte
	if _, err := io.ReadFull(from, said[:]); err != nil {
		return err
	}
	if binary.BigEndian.Uint32(said[:]) != sum {
		return errDamaged
	}
	return nil
}

// added is the Adler-32 of what had one, and a row more (RFC 1950). Zeros only move what was.
func added(sum uint32, row, still []byte) uint32 {
	const mod = 65521
	a, b := sum&0xffff, sum>>16
	if bytes.Equal(row[1:], still) {
		a = (a + uint32(row[0])) % mod
		b = uint32((uint64(b) + uint64(a)*uint64(len(row))) % mod)
		return b<<16 | a
	}
	for len(row) > 0 {
		part := row[:min(len(row), 5552)] // no more, or the sums no longer fit
		row = row[len(part):]
		for ; len(part) >= 8; part = part[8:] {
			v := binary.LittleEndian.Uint64(part)
			for range 8 {
				a += uint32(v & 0xff)
				b += a
				v >>= 8
			}
		}
		for _, v := range part {
			a += uint32(v)
			b += a
		}
		a, b = a%mod, b%mod
	}
	return b<<16 | a
}

// row makes pixels of a row; still is one of zeros.
func (p plainPNG) row(img *image.RGBA, y int, filter byte, row, above, still []byte) error {
	pixels := img.Pix[y*img.Stride:][:4*p.w]
	if filter == 2 && y > 0 && bytes.Equal(row, still) { // as the one above
		copy(row, above)
		copy(pixels, img.Pix[(y-1)*img.Stride:])
		return nil
	}
	if err := unfilter(filter, row, above, p.channels); err != nil {
		return err
	}
	return p.paint(pixels, row)
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

package raster

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"hash/adler32"
	"hash/crc32"
	"image"
	"io"

	"github.com/klauspost/compress/flate"
	"golang.org/x/sync/errgroup"
)

// Effort says how hard an encoder tries to make a file small.
type Effort int

// Quick is for pictures that someone waits for, Small for those that are kept or sent.
const (
	Quick Effort = 1
	Small Effort = 7
)

// EncodePNG writes an image as PNG: with a palette where 256 colours suffice, else as RGB, or RGBA
// where a pixel is not opaque. It is several times as fast as the standard library's encoder and
// meant for screens: it picks between no filter and "up" for each row instead of trying them all.
// The format is that of the W3C's PNG specification, third edition.
func EncodePNG(w io.Writer, img *image.RGBA, effort Effort) error {
	size := img.Bounds().Size()
	if size.X < 1 || size.Y < 1 {
		return fmt.Errorf("encoding a PNG: the picture is %d × %d", size.X, size.Y)
	}
	palette, index := palettize(img)
	kind, channels := byte(2), 3
	switch {
	case palette != nil:
		kind, channels = 3, 1
	case !opaque(img):
		kind, channels = 6, 4
	}
	if _, err := io.WriteString(w, "\x89PNG\r\n\x1a\n"); err != nil {
		return fmt.Errorf("encoding a PNG: %w", err)
	}
	head := make([]byte, 13)
	binary.BigEndian.PutUint32(head, uint32(size.X))
	binary.BigEndian.PutUint32(head[4:], uint32(size.Y))
	head[8], head[9] = 8, kind
	chunks := &chunkWriter{w: w}
	chunks.write("IHDR", head)
	if palette != nil {
		chunks.write("PLTE", palette)
	}
	data, err := compress(img, index, channels, effort)
	if err != nil {
		return fmt.Errorf("encoding a PNG: %w", err)
	}
	for len(data) > 0 {
		n := min(len(data), mostChunk)
		chunks.write("IDAT", data[:n])
		data = data[n:]
	}
	chunks.write("IEND", nil)
	if chunks.err != nil {
		return fmt.Errorf("encoding a PNG: %w", chunks.err)
	}
	return nil
}

const (
	mostChunk = 1 << 20 // bytes of an IDAT chunk
	fewRows   = 64      // of an image that is not worth cutting in two
)

// compress makes the zlib stream (RFC 1950) of an image's filtered rows. The rows are cut in two parts that
// are compressed at the same time; a flush at the end of the first lets the second follow it.
func compress(img *image.RGBA, index []byte, channels int, effort Effort) ([]byte, error) {
	size := img.Bounds().Size()
	cut := size.Y / 2
	if size.Y < fewRows {
		cut = size.Y
	}
	parts := [2]*part{{from: 0, to: cut}, {from: cut, to: size.Y, last: true}}
	if cut == size.Y {
		parts[0].last = true
	}
	var group errgroup.Group
	for _, p := range parts {
		if p.from < p.to {
			group.Go(func() error { return p.compress(img, index, channels, effort) })
		}
	}
	if err := group.Wait(); err != nil {
		return nil, err
	}
	out := append([]byte{0x78, 0x01}, parts[0].data.Bytes()...)
	out = append(out, parts[1].data.Bytes()...)
	sum := parts[0].sum
	if parts[1].length > 0 {
		sum = joinSums(sum, parts[1].sum, parts[1].length)
	}
	return binary.BigEndian.AppendUint32(out, sum), nil
}

// part is some of an image's rows, compressed.
type part struct {
	from, to int
	last     bool
	data     bytes.Buffer
	sum      uint32 // Adler-32 of the filtered rows
	length   int    // of the filtered rows, in bytes
}

func (p *part) compress(img *image.RGBA, index []byte, channels int, effort Effort) error {
	z, err := flate.NewWriter(&p.data, int(effort))
	if err != nil {
		return err
	}
	width := img.Bounds().Dx()
	row, previous := make([]byte, width*channels), make([]byte, width*channels)
	if p.from > 0 {
		fillRow(previous, img, index, p.from-1)
	}
	filtered := make([]byte, 1+width*channels)
	sum := adler32.New()
	for y := p.from; y < p.to; y++ {
		fillRow(row, img, index, y)
		filter(filtered, row, previous, y > 0 && channels > 1)
		_, _ = sum.Write(filtered) // a checksum never fails
		if _, err := z.Write(filtered); err != nil {
			return err
		}
		previous, row = row, previous
	}
	p.sum, p.length = sum.Sum32(), (p.to-p.from)*len(filtered)
	if p.last {
		return z.Close()
	}
	return z.Flush()
}

// joinSums is the Adler-32 (RFC 1950) of two stretches of data, of which the second is length bytes long.
func joinSums(a, b uint32, length int) uint32 {
	const base = 65521
	a1, a2 := uint64(a&0xffff), uint64(a>>16)
	b1, b2 := uint64(b&0xffff), uint64(b>>16)
	n := uint64(length) % base
	low := (a1 + b1 + base - 1) % base
	high := (a2 + b2 + n*a1 + base*base - n) % base
	return uint32(high<<16 | low)
}

// fillRow gives a row as it is before filtering; as many bytes a pixel as the row has room for.
func fillRow(row []byte, img *image.RGBA, index []byte, y int) {
	width := img.Bounds().Dx()
	pix := img.Pix[y*img.Stride : y*img.Stride+4*width]
	switch len(row) / width {
	case 1:
		copy(row, index[y*width:])
	case 3:
		for i, j := 0, 0; i < len(pix); i, j = i+4, j+3 {
			row[j], row[j+1], row[j+2] = pix[i], pix[i+1], pix[i+2]
		}
	case 4:
		straighten(row, pix)
	}
}

// opaque tells whether every pixel is; two pixels at a time.
func opaque(img *image.RGBA) bool {
	const alphas = 0xff000000_ff000000
	for y := range img.Rect.Dy() {
		row := img.Pix[y*img.Stride:][:4*img.Rect.Dx()]
		all := uint64(alphas)
		for ; len(row) >= 8; row = row[8:] {
			all &= binary.LittleEndian.Uint64(row)
		}
		if all != alphas || (len(row) == 4 && row[3] != 255) {
			return false
		}
	}
	return true
}

// filter writes a row with its filter type in front: "up" where it leaves smaller numbers, as in
// photos and gradients, else none, which keeps the long repeats of user interfaces.
func filter(out, row, previous []byte, try bool) {
	out[0] = 0
	if try {
		plain, up, repeats := 0, 0, 0
		for i := 0; i < len(row); i += 7 { // a sample says enough
			d := int8(row[i] - previous[i])
			if d == 0 {
				repeats++
			}
			plain += abs(int8(row[i]))
			up += abs(d)
		}
		if up*4 < plain && repeats*7 < len(row)/2 {
			out[0] = 2
			for i := range row {
				out[i+1] = row[i] - previous[i]
			}
			return
		}
	}
	copy(out[1:], row)
}

func abs(v int8) int {
	if v < 0 {
		return -int(v)
	}
	return int(v)
}

// straighten turns premultiplied alpha, as images hold it, into straight alpha, as PNG wants it.
func straighten(out, pix []byte) {
	for i := 0; i < len(pix); i += 4 {
		a := uint32(pix[i+3])
		if a == 0 {
			out[i], out[i+1], out[i+2], out[i+3] = 0, 0, 0, 0
			continue
		}
		for j := range 3 {
			out[i+j] = byte(min(255, (uint32(pix[i+j])*255+a/2)/a))
		}
		out[i+3] = byte(a)
	}
}

// palettize gives the palette and one index a pixel, or nil where the image has more than 256
// colours or is not opaque.
func palettize(img *image.RGBA) (palette, index []byte) {
	size := img.Bounds().Size()
	index = make([]byte, size.X*size.Y)
	var keys [1024]uint32 // open addressing; 0 is free, which no opaque colour is
	var slots [1024]byte
	count := 0
	last := uint32(1) // no pixel that colours premultiplied by alpha can have
	var lastIndex byte
	for y := range size.Y {
		pix := img.Pix[y*img.Stride : y*img.Stride+4*size.X]
		out := index[y*size.X : (y+1)*size.X]
		for x := range out {
			c := binary.LittleEndian.Uint32(pix[4*x:])
			if c == last {
				out[x] = lastIndex
				continue
			}
			if c>>24 != 255 {
				return nil, nil
			}
			h := (c * 2654435769) >> 22
			for keys[h] != c && keys[h] != 0 {
				h = (h + 1) & 1023
			}
			if keys[h] == 0 {
				if count == 256 {
					return nil, nil
				}
				keys[h], slots[h] = c, byte(count)
				palette = append(palette, byte(c), byte(c>>8), byte(c>>16))
				count++
			}
			last, lastIndex = c, slots[h]
			out[x] = lastIndex
		}
	}
	return palette, index
}

type chunkWriter struct {
	w   io.Writer
	err error
}

func (c *chunkWriter) write(kind string, data []byte) {
	if c.err != nil {
		return
	}
	buf := make([]byte, 8, 12+len(data))
	binary.BigEndian.PutUint32(buf, uint32(len(data)))
	copy(buf[4:], kind)
	buf = append(buf, data...)
	buf = binary.BigEndian.AppendUint32(buf, crc32.ChecksumIEEE(buf[4:]))
	_, c.err = c.w.Write(buf)
}

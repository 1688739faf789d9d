package raster

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"hash/adler32"
	"hash/crc32"
	"image"
	"io"
	"raconte/platform/together"
	"runtime"
	"sync"
	"sync/atomic"

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
	partRows  = 270     // rows that one processor compresses at a time
)

// compress makes the zlib stream (RFC 1950) of an image's filtered rows. The rows are cut in parts that are
// compressed side by side; a flush at the end of each lets the next follow it.
func compress(img *image.RGBA, index []byte, channels int, effort Effort) ([]byte, error) {
	height := img.Bounds().Dy()
	var parts []*part
	for y := 0; y < height; y += partRows {
		end := min(y+partRows, height)
		parts = append(parts, &part{from: y, to: end, last: end == height})
	}
	still := sync.OnceValues(func() (*stillRows, error) { return newStillRows(1+img.Bounds().Dx()*channels, effort) })
	var group errgroup.Group
	group.SetLimit(runtime.GOMAXPROCS(0))
	for _, p := range parts {
		group.Go(together.Safe(func() error { return p.compress(img, index, channels, effort, still) }))
	}
	if err := group.Wait(); err != nil {
		return nil, err
	}
	out := []byte{0x78, 0x01}
	sum := uint32(1)
	for _, p := range parts {
		out = append(out, p.data.Bytes()...)
		sum = joinSums(sum, p.sum, p.length)
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

func (p *part) compress(img *image.RGBA, index []byte, channels int, effort Effort, still func() (*stillRows, error)) error {
	z, err := writerTo(&p.data, effort)
	if err != nil {
		return err
	}
	defer release(z, effort)
	// Rows with the type of their filter in front, here "none".
	length := 1 + img.Bounds().Dx()*channels
	row, previous, filtered := make([]byte, length), make([]byte, length), make([]byte, length)
	if p.from > 0 {
		fillRow(previous[1:], img, index, p.from-1)
	}
	sum := uint32(1)
	for y := p.from; y < p.to; y++ {
		if n := repeats(img, y, p.to); n >= fewestStill {
			// What follows is compressed on its own: the encoder does not know of these rows.
			if err := z.Flush(); err != nil {
				return err
			}
			rows, err := still()
			if err != nil {
				return err
			}
			sum = joinSums(sum, rows.write(&p.data, n), n*length)
			z.Reset(&p.data)
			if y += n; y == p.to {
				break
			}
		}
		fillRow(row[1:], img, index, y)
		out := row
		if y > 0 && channels > 1 && upIsBetter(row, previous) {
			out = filtered
			out[0] = 2
			for i := 1; i < length; i++ {
				out[i] = row[i] - previous[i]
			}
		}
		sum = joinSums(sum, adler32.Checksum(out), length)
		if _, err := z.Write(out); err != nil {
			return err
		}
		previous, row = row, previous
	}
	p.sum, p.length = sum, (p.to-p.from)*length
	if p.last {
		return z.Close()
	}
	return z.Flush()
}

// Encoders hold a megabyte of tables each; they are used again.
var writers = map[Effort]*sync.Pool{Quick: {}, Small: {}}

func writerTo(out *bytes.Buffer, effort Effort) (*flate.Writer, error) {
	if z, ok := writers[effort].Get().(*flate.Writer); ok {
		z.Reset(out)
		return z, nil
	}
	return flate.NewWriter(out, int(effort))
}

func release(z *flate.Writer, effort Effort) {
	z.Reset(nil)
	writers[effort].Put(z)
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
	pix := rowOf(img, y)
	switch len(row) / width {
	case 1:
		copy(row, index[y*width:])
	case 3:
		last := len(pix) - 4
		for i, j := 0, 0; i < last; i, j = i+4, j+3 { // four bytes at once; the fourth is written over by the next
			binary.LittleEndian.PutUint32(row[j:], binary.LittleEndian.Uint32(pix[i:]))
		}
		copy(row[len(row)-3:], pix[last:])
	case 4:
		straighten(row, pix)
	}
}

// opaque tells whether every pixel is.
func opaque(img *image.RGBA) bool {
	var clear atomic.Bool
	bands(img.Rect.Dy(), func(from, to int) {
		if !opaqueRows(img, from, to) {
			clear.Store(true)
		}
	})
	return !clear.Load()
}

// opaqueRows looks at two pixels at a time.
func opaqueRows(img *image.RGBA, from, to int) bool {
	const alphas = 0xff000000_ff000000
	for y := from; y < to; y++ {
		row := rowOf(img, y)
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

// upIsBetter tells whether the filter "up" leaves smaller numbers, as in photos and gradients. Without a filter the
// long repeats of user interfaces stay.
func upIsBetter(row, previous []byte) bool {
	plain, up, repeats := 0, 0, 0
	for i := 1; i < len(row); i += 7 { // a sample says enough
		d := int8(row[i] - previous[i])
		if d == 0 {
			repeats++
		}
		plain += abs(int8(row[i]))
		up += abs(d)
	}
	return up*4 < plain && repeats*7 < len(row)/2
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
		pix := rowOf(img, y)
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

package raster

import (
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"io"

	"github.com/klauspost/compress/zlib"
)

// Effort says how hard an encoder tries to make a file small.
type Effort int

// Quick is for pictures that someone waits for, Small for those that are kept or sent.
const (
	Quick Effort = 1
	Small Effort = 4
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
	body := &idat{chunks: chunks}
	z, err := zlib.NewWriterLevel(body, int(effort))
	if err != nil {
		return fmt.Errorf("encoding a PNG: %w", err)
	}
	rows := filteredRows(img, index, channels)
	for batch := range rows.ready {
		if err == nil {
			_, err = z.Write(batch)
		}
		rows.free <- batch
	}
	if err != nil {
		return fmt.Errorf("encoding a PNG: %w", err)
	}
	if err := z.Close(); err != nil {
		return fmt.Errorf("encoding a PNG: %w", err)
	}
	body.flush()
	chunks.write("IEND", nil)
	if chunks.err != nil {
		return fmt.Errorf("encoding a PNG: %w", chunks.err)
	}
	return nil
}

// rowBatches hands filtered rows from the goroutine that makes them to the one that compresses them.
type rowBatches struct{ ready, free chan []byte }

const batchRows = 64

// filteredRows filters an image's rows, some at a time, while others are compressed.
func filteredRows(img *image.RGBA, index []byte, channels int) rowBatches {
	size := img.Bounds().Size()
	length := 1 + size.X*channels
	b := rowBatches{make(chan []byte, 2), make(chan []byte, 3)}
	for range cap(b.free) {
		b.free <- make([]byte, 0, batchRows*length)
	}
	go func() {
		defer close(b.ready)
		previous, row := make([]byte, size.X*channels), make([]byte, size.X*channels)
		for y := 0; y < size.Y; {
			batch := (<-b.free)[:0]
			for ; y < size.Y && len(batch) < batchRows*length; y++ {
				pix := img.Pix[y*img.Stride : y*img.Stride+4*size.X]
				switch channels {
				case 1:
					copy(row, index[y*size.X:])
				case 3:
					for i, j := 0, 0; i < len(pix); i, j = i+4, j+3 {
						row[j], row[j+1], row[j+2] = pix[i], pix[i+1], pix[i+2]
					}
				case 4:
					straighten(row, pix)
				}
				batch = batch[:len(batch)+length]
				filter(batch[len(batch)-length:], row, previous, y > 0 && channels > 1)
				previous, row = row, previous
			}
			b.ready <- batch
		}
	}()
	return b
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
	var last uint32
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

// idat gathers compressed data into chunks of a useful size.
type idat struct {
	chunks *chunkWriter
	buf    []byte
}

func (d *idat) Write(p []byte) (int, error) {
	d.buf = append(d.buf, p...)
	if len(d.buf) >= 1<<18 {
		d.flush()
	}
	return len(p), d.chunks.err
}

func (d *idat) flush() {
	if len(d.buf) > 0 {
		d.chunks.write("IDAT", d.buf)
		d.buf = d.buf[:0]
	}
}

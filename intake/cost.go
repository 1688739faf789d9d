package intake

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"io"
	"time"

	"raconte/core/refusal"
)

// What decoding one picture may cost.
const (
	mostScans     = 64     // of a progressive JPEG: every one visits all of the picture
	usualScans    = 20     // with more, it is kept as PNG: others would wait for it each time it is shown
	mostBlocks    = 20_000 // tiles or strips of a TIFF
	longestDecode = 8 * time.Second
)

// costly refuses, before anything is decoded, what is made to take long.
func costly(f format, data []byte) error {
	switch f.name {
	case "JPEG":
		if n := scans(data); n > mostScans {
			return refusal.New("The picture is a JPEG of %d passes, which takes too long to read. Save it again as PNG or plain JPEG.", n)
		}
	case "TIFF":
		if n := blocks(data); n > mostBlocks {
			return refusal.New("The picture is a TIFF of %d parts, which takes too long to read. Save it again as PNG.", n)
		}
	}
	return nil
}

// blocks is how many tiles or strips a TIFF's first picture has, by the fields of TIFF 6.0; 0 where it can't be told.
func blocks(data []byte) int {
	if len(data) < 8 {
		return 0
	}
	var order binary.ByteOrder = binary.LittleEndian
	if data[0] == 'M' {
		order = binary.BigEndian
	}
	at := int64(order.Uint32(data[4:]))
	if at < 8 || at+2 > int64(len(data)) {
		return 0
	}
	field := map[uint16]int64{}
	for i := range int64(order.Uint16(data[at:])) {
		e := at + 2 + 12*i
		if e+12 > int64(len(data)) {
			break
		}
		v := int64(order.Uint32(data[e+8:]))
		if order.Uint16(data[e+2:]) == 3 { // a short lies at the start of the four bytes
			v = int64(order.Uint16(data[e+8:]))
		}
		field[order.Uint16(data[e:])] = v
	}
	const width, height, rows, tileWidth, tileHeight = 256, 257, 278, 322, 323
	parts := func(whole, part int64) int64 {
		if part < 1 || part > whole {
			return 1
		}
		return (whole + part - 1) / part
	}
	if field[tileWidth] > 0 {
		return int(parts(field[width], field[tileWidth]) * parts(field[height], field[tileHeight]))
	}
	return int(parts(field[height], field[rows]))
}

// watched is data that can't be read any more once nobody waits for the picture: decoders stop at the next bytes they
// ask for.
type watched struct {
	ctx context.Context
	*bytes.Reader
}

// mostAtOnce is how many bytes a decoder gets at a time, so that it asks often.
const mostAtOnce = 2048

func (w watched) Read(p []byte) (int, error) {
	if err := w.ctx.Err(); err != nil {
		return 0, err
	}
	return w.Reader.Read(p[:min(len(p), mostAtOnce)])
}

func (w watched) ReadAt(p []byte, at int64) (int, error) {
	if err := w.ctx.Err(); err != nil {
		return 0, err
	}
	return w.Reader.ReadAt(p, at)
}

// ReadByte and WriteTo would go round Read.
func (w watched) ReadByte() (byte, error) {
	var b [1]byte
	_, err := io.ReadFull(w, b[:])
	return b[0], err
}

func (w watched) WriteTo(out io.Writer) (int64, error) {
	return io.Copy(out, struct{ io.Reader }{w})
}

// tooSlow is the refusal of a picture whose decoding took too long; nil where ctx ended for another reason.
func tooSlow(ctx, outer context.Context) error {
	if outer.Err() == nil && errors.Is(ctx.Err(), context.DeadlineExceeded) {
		return refusal.New("The picture takes longer than %d seconds to read. Save it again as PNG.", int(longestDecode.Seconds()))
	}
	return outer.Err()
}

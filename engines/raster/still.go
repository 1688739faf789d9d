package raster

import (
	"bytes"
	"hash/adler32"
	"image"
)

// Half of a screen is rows that repeat the one above: margins, bars, plain ground. As PNG each is the filter "up"
// and nothing but noughts, the same bytes every time. They are compressed once and written as often as they stand
// in the picture, which leaves the encoder the rows with something in them.

const (
	fewestStill = 4  // rows that are worth leaving the encoder for
	manyStill   = 16 // rows that are written at a time
)

// repeats is how many rows from y on, before end, are each the same as the one above.
func repeats(img *image.RGBA, y, end int) int {
	n := 0
	for y > 0 && y+n < end && bytes.Equal(rowOf(img, y+n), rowOf(img, y+n-1)) {
		n++
	}
	return n
}

func rowOf(img *image.RGBA, y int) []byte {
	return img.Pix[y*img.Stride:][:4*img.Rect.Dx()]
}

// stillRows holds rows that repeat the one above, compressed: blocks of deflate that refer to nothing before them.
type stillRows struct {
	length    int // of one row, in bytes
	one, many []byte
	checksum  uint32 // Adler-32 of one row
}

func newStillRows(length int, effort Effort) (*stillRows, error) {
	row := make([]byte, length)
	row[0] = 2
	one, err := alone(row, effort)
	if err != nil {
		return nil, err
	}
	many, err := alone(bytes.Repeat(row, manyStill), effort)
	return &stillRows{length, one, many, adler32.Checksum(row)}, err
}

// write appends n rows and gives their Adler-32.
func (s *stillRows) write(out *bytes.Buffer, n int) uint32 {
	sum := uint32(1)
	for range n {
		sum = joinSums(sum, s.checksum, s.length)
	}
	for ; n >= manyStill; n -= manyStill {
		out.Write(s.many)
	}
	for range n {
		out.Write(s.one)
	}
	return sum
}

// alone is some data compressed up to a whole byte.
func alone(data []byte, effort Effort) ([]byte, error) {
	var out bytes.Buffer
	z, err := writerTo(&out, effort)
	if err != nil {
		return nil, err
	}
	defer release(z, effort)
	if _, err := z.Write(data); err != nil {
		return nil, err
	}
	if err := z.Flush(); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}

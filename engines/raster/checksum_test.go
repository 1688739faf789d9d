package raster_test

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"testing"

	"raconte/engines/raster"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestAWrongChecksumOfThePixelsIsAnError changes the stream's checksum and makes the chunk's right again.
func TestAWrongChecksumOfThePixelsIsAnError(t *testing.T) {
	var buf bytes.Buffer
	require.NoError(t, raster.EncodePNG(&buf, image.NewRGBA(image.Rect(0, 0, 40, 30)), raster.Quick))
	data := buf.Bytes()
	at := bytes.Index(data, []byte("IDAT"))
	end := at + 4 + int(binary.BigEndian.Uint32(data[at-4:]))
	_, err := raster.DecodePNG(bytes.NewReader(data))
	require.NoError(t, err)
	data[end-1] ^= 1
	binary.BigEndian.PutUint32(data[end:], crc32.ChecksumIEEE(data[at:end]))
	_, err = raster.DecodePNG(bytes.NewReader(data))
	assert.Error(t, err)
}

package intake

import (
	"bytes"
	"context"
	"encoding/binary"
	"encoding/json"
	"hash/crc32"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"strings"
	"testing"

	"raconte/core/figure"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/bmp"
	"golang.org/x/image/tiff"
)

// sample is 30 × 20 with a red top left corner, to tell which way is up.
func sample() *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, 30, 20))
	for y := range 20 {
		for x := range 30 {
			img.SetRGBA(x, y, color.RGBA{200, 200, 200, 255})
			if x < 15 && y < 10 {
				img.SetRGBA(x, y, color.RGBA{255, 0, 0, 255})
			}
		}
	}
	return img
}

func encoded(t testing.TB, encode func(*bytes.Buffer) error) []byte {
	var buf bytes.Buffer
	require.NoError(t, encode(&buf))
	return buf.Bytes()
}

func asJPEG(t testing.TB) []byte {
	return encoded(t, func(b *bytes.Buffer) error { return jpeg.Encode(b, sample(), &jpeg.Options{Quality: 95}) })
}

func asPNG(t testing.TB) []byte {
	return encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, sample()) })
}

// webP is a lossless WebP of 1 × 1.
var webP = []byte("RIFF\x1a\x00\x00\x00WEBPVP8L\x0d\x00\x00\x00\x2f\x00\x00\x00\x10\x07\x10\x11\x11\x88\x88\xfe\x07\x00")

// withEXIF adds an EXIF segment that names an orientation and holds a secret.
func withEXIF(data []byte, turn byte) []byte {
	exif := []byte("Exif\x00\x00MM\x00*\x00\x00\x00\x08\x00\x02" +
		"\x01\x0e\x00\x02\x00\x00\x00\x07\x00\x00\x00\x26" + // ImageDescription
		"\x01\x12\x00\x03\x00\x00\x00\x01\x00" + string(turn) + "\x00\x00" +
		"\x00\x00\x00\x00secret\x00")
	segment := append([]byte{0xff, 0xe1, 0, 0}, exif...)
	binary.BigEndian.PutUint16(segment[2:], uint16(len(exif)+2))
	return append(append(append([]byte{}, data[:2]...), segment...), data[2:]...)
}

func TestReadTakesEveryFormat(t *testing.T) {
	for name, data := range map[string][]byte{
		"PNG":  asPNG(t),
		"JPEG": asJPEG(t),
		"GIF":  encoded(t, func(b *bytes.Buffer) error { return gif.Encode(b, sample(), nil) }),
		"BMP":  encoded(t, func(b *bytes.Buffer) error { return bmp.Encode(b, sample()) }),
		"TIFF": encoded(t, func(b *bytes.Buffer) error { return tiff.Encode(b, sample(), &tiff.Options{Compression: tiff.Deflate}) }),
	} {
		shot, err := Read(t.Context(), data)
		require.NoError(t, err, name)
		assert.Equal(t, figure.Size{W: 30, H: 20}, shot.Size, name)
		assert.InDelta(t, 255, shot.Pixels.RGBAAt(3, 3).R, 12, name)
		assert.InDelta(t, 0, shot.Pixels.RGBAAt(3, 3).G, 12, name)
		back, err := Decode(t.Context(), shot.Data)
		require.NoError(t, err, name)
		assert.Equal(t, shot.Pixels.Pix, back.Pix, "%s: what is kept is what was read", name)
	}
	shot, err := Read(t.Context(), webP)
	require.NoError(t, err)
	assert.Equal(t, figure.Size{W: 1, H: 1}, shot.Size)
}

func TestReadTurnsUprightAndLeavesMetadataOut(t *testing.T) {
	corners := map[byte]image.Point{1: {2, 2}, 2: {27, 2}, 3: {27, 17}, 4: {2, 17}, 5: {2, 2}, 6: {17, 2}, 7: {17, 27}, 8: {2, 27}}
	for turn, at := range corners {
		shot, err := Read(t.Context(), append(withEXIF(asJPEG(t), turn), "trailing secret"...))
		require.NoError(t, err)
		c := shot.Pixels.RGBAAt(at.X, at.Y)
		assert.True(t, c.R > 200 && c.G < 60, "orientation %d: the red corner is at %v, not %v", turn, at, c)
		assert.NotContains(t, string(shot.Data), "secret", "orientation %d", turn)
		assert.Equal(t, turn >= 5, shot.Size.W == 20)
	}
}

// bomb is a PNG whose header promises more pixels than are allowed.
func bomb(w, h uint32) []byte {
	head := make([]byte, 25)
	binary.BigEndian.PutUint32(head, 13)
	copy(head[4:], "IHDR")
	binary.BigEndian.PutUint32(head[8:], w)
	binary.BigEndian.PutUint32(head[12:], h)
	head[16], head[17] = 8, 2
	binary.BigEndian.PutUint32(head[21:], crc32.ChecksumIEEE(head[4:21]))
	return append([]byte("\x89PNG\r\n\x1a\n"), head...)
}

func TestReadRefusesClearly(t *testing.T) {
	cut := asPNG(t)
	for name, c := range map[string]struct {
		data []byte
		says string
	}{
		"empty":                {nil, "The file is empty."},
		"no picture":           {[]byte("hello, world, this is text"), "This is not a picture that Raconte reads."},
		"a page":               {[]byte("<svg onload=alert(1)>"), "This is not a picture"},
		"too many pixels":      {bomb(30000, 30000), "At most 50 megapixels"},
		"too long a side":      {bomb(40000, 1), "At most 50 megapixels"},
		"sides that overflow":  {bomb(1<<31-1, 1<<31-1), "picture"},
		"cut off":              {cut[:len(cut)-30], "damaged"},
		"only its first bytes": {cut[:10], "damaged"},
		"more than 40 MB":      {make([]byte, MostBytes+1), "larger than 40 MB"},
		"JPEG that is nothing": {[]byte("\xff\xd8\xff\xe0garbage"), "damaged"},
		"TIFF that is nothing": {[]byte("II*\x00\xff\xff\xff\xff"), "damaged"},
		"WebP that is nothing": {[]byte("RIFF\xff\xff\xff\xffWEBPVP8 "), "damaged"},
		"GIF of no pixels":     {[]byte("GIF89a\x00\x00\x00\x00\x00\x00\x00"), ""},
	} {
		_, err := Read(t.Context(), c.data)
		var refusal Refusal
		require.ErrorAs(t, err, &refusal, name)
		assert.Contains(t, refusal.Reason, c.says, name)
	}
}

func FuzzRead(f *testing.F) {
	f.Add(asPNG(f))
	f.Add(withEXIF(asJPEG(f), 6))
	f.Add(webP)
	f.Add(bomb(9, 9))
	f.Add(encoded(f, func(b *bytes.Buffer) error { return gif.Encode(b, sample(), nil) }))
	f.Add(encoded(f, func(b *bytes.Buffer) error { return bmp.Encode(b, sample()) }))
	f.Add(encoded(f, func(b *bytes.Buffer) error { return tiff.Encode(b, sample(), nil) }))
	f.Fuzz(func(t *testing.T, data []byte) {
		if size, err := Measure(data); err != nil || size.W*size.H > 1_000_000 {
			return // keep the fuzzer quick
		}
		shot, err := Read(t.Context(), data)
		if err != nil {
			var refusal Refusal
			require.ErrorAs(t, err, &refusal)
			return
		}
		back, err := Decode(t.Context(), shot.Data)
		require.NoError(t, err, "what is kept can be read")
		require.Equal(t, shot.Pixels.Bounds(), back.Bounds())
	})
}

// manyScans is a JPEG whose scan comes again and again, as that of a progressive one does.
func manyScans(t testing.TB, n int) []byte {
	data := asJPEG(t)
	at := bytes.Index(data, []byte{0xff, 0xda})
	end := scanEnd(data, at+2+int(data[at+2])<<8+int(data[at+3]))
	scan := data[at:end]
	return append(append(append([]byte{}, data[:at]...), bytes.Repeat(scan, n)...), data[end:]...)
}

// tiles is the header of a TIFF of 4000 by 4000 pixels in tiles of 8 by 8.
func tiles() []byte {
	data := []byte("II*\x00\x08\x00\x00\x00")
	fields := [][2]uint32{{256, 4000}, {257, 4000}, {258, 8}, {259, 1}, {262, 1}, {277, 1}, {322, 8}, {323, 8}}
	data = binary.LittleEndian.AppendUint16(data, uint16(len(fields)))
	for _, f := range fields {
		data = binary.LittleEndian.AppendUint16(data, uint16(f[0]))
		data = binary.LittleEndian.AppendUint16(data, 4)
		data = binary.LittleEndian.AppendUint32(data, 1)
		data = binary.LittleEndian.AppendUint32(data, f[1])
	}
	return append(data, make([]byte, 64)...)
}

func TestWhatTakesLongToDecodeIsRefusedBefore(t *testing.T) {
	_, err := Read(t.Context(), manyScans(t, 1000))
	assert.ErrorContains(t, err, "JPEG of 1000 passes")
	_, err = Read(t.Context(), tiles())
	assert.ErrorContains(t, err, "TIFF of 250000 parts")
	ctx, gone := context.WithCancel(t.Context())
	gone()
	_, err = Read(ctx, asPNG(t))
	assert.ErrorIs(t, err, context.Canceled, "nobody waits for it any more")
	assert.Error(t, CheckJSON([]byte(strings.Repeat("[1,", 100)), 90))
	assert.Error(t, CheckJSON([]byte(strings.Repeat("{\"a\":", 70)), 1000), "too deep")
	assert.NoError(t, CheckJSON([]byte(`["a,b,{[,\",,,"]`), 2), "what stands in quotes does not count")
}

func TestAnAdobeSegmentKeepsNothingButTheColourTransform(t *testing.T) {
	adobe := func(payload string) []byte {
		data := asJPEG(t)
		segment := append([]byte{0xff, 0xee, 0, byte(2 + len(payload))}, payload...)
		return append(append(append([]byte{}, data[:2]...), segment...), data[2:]...)
	}
	for name, c := range map[string]struct {
		payload string
		kept    bool
	}{
		"as it is written":       {"Adobe\x00\x64\x00\x00\x00\x00\x01", true},
		"with more behind it":    {"Adobe\x00\x64\x00\x00\x00\x00\x01secret", true},
		"with words for numbers": {"AdobeSECRET\x01", true},
		"of somebody else":       {"OtherXXXXXsecret", false},
	} {
		shot, err := Read(t.Context(), adobe(c.payload))
		require.NoError(t, err, name)
		assert.Equal(t, "image/jpeg", shot.Type, name)
		assert.NotContains(t, strings.ToLower(string(shot.Data)), "secret", name)
		assert.Equal(t, c.kept, bytes.Contains(shot.Data, []byte("Adobe")), name)
	}
}

func FuzzCheckJSON(f *testing.F) {
	f.Add([]byte(`{"a":[1,2,{"b":"c,d"}],"e":"\"["}`))
	f.Fuzz(func(t *testing.T, raw []byte) {
		var v any
		if json.Unmarshal(raw, &v) != nil {
			return
		}
		n := 0
		var count func(any)
		count = func(v any) {
			n++
			switch v := v.(type) {
			case []any:
				for _, e := range v {
					count(e)
				}
			case map[string]any:
				for _, e := range v {
					count(e)
				}
			}
		}
		count(v)
		if CheckJSON(raw, n/2-1) == nil {
			t.Fatalf("%d values pass for half as many", n)
		}
	})
}

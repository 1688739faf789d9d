package hostile

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"image/gif"
	"image/jpeg"
	"image/png"
	"math/rand/v2"
	"sync"

	"golang.org/x/image/bmp"
	"golang.org/x/image/tiff"
)

// File is one thing to send.
type File struct {
	Name string
	Data []byte
}

func gradient(w, h int) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			copy(img.Pix[y*img.Stride+4*x:], []byte{uint8(x * 7), uint8(y * 5), uint8(x ^ y), 255})
		}
	}
	return img
}

func written(encode func(*bytes.Buffer) error) []byte {
	var buf bytes.Buffer
	if err := encode(&buf); err != nil {
		panic(fmt.Sprintf("hostile: %v", err)) // what is encoded is ours
	}
	return buf.Bytes()
}

// largeJPEG is a JPEG of six megapixels in few bytes.
var largeJPEG = sync.OnceValue(func() []byte {
	return written(func(b *bytes.Buffer) error { return jpeg.Encode(b, gradient(3000, 2000), &jpeg.Options{Quality: 10}) })
})

// largePNG and longPNG are as large as pictures may be, in few bytes.
var (
	largePNG = sync.OnceValue(func() []byte { return pngOf(7000, 7000, deflated(7000*(1+3*7000))) })
	longPNG  = sync.OnceValue(func() []byte { return pngOf(960, 31_000, deflated(31_000*(1+3*960))) })
)

// webP is a lossless WebP of 1 × 1.
var webP = []byte("RIFF\x1a\x00\x00\x00WEBPVP8L\x0d\x00\x00\x00\x2f\x00\x00\x00\x10\x07\x10\x11\x11\x88\x88\xfe\x07\x00")

// bases are pictures in order, by their kind.
func bases() []File {
	img := gradient(160, 90)
	return []File{
		{"png", written(func(b *bytes.Buffer) error { return png.Encode(b, img) })},
		{"jpeg", written(func(b *bytes.Buffer) error { return jpeg.Encode(b, img, nil) })},
		{"gif", written(func(b *bytes.Buffer) error { return gif.Encode(b, img, nil) })},
		{"bmp", written(func(b *bytes.Buffer) error { return bmp.Encode(b, img) })},
		{"tiff", written(func(b *bytes.Buffer) error { return tiff.Encode(b, img, &tiff.Options{Compression: tiff.Deflate}) })},
		{"webp", webP},
	}
}

// Pictures are files that pass for pictures, or nearly: broken, cut, lying about their size, and made to take long.
func Pictures(seed uint64) []File {
	random := rand.New(rand.NewPCG(seed, 1))
	var all []File
	add := func(name string, data []byte) { all = append(all, File{fmt.Sprintf("%03d %s", len(all), name), data}) }
	for _, base := range bases() {
		for range 30 {
			add(base.Name+" with bytes changed", mutated(random, base.Data, 1+random.IntN(12)))
		}
		for range 14 {
			add(base.Name+" cut", base.Data[:random.IntN(len(base.Data))])
		}
		for range 4 {
			add(base.Name+" with more behind it", append(bytes.Clone(base.Data), bytes.Repeat([]byte{byte(random.IntN(256))}, 1<<16)...))
		}
	}
	for _, size := range [][2]uint32{{1, 1}, {30_000, 30_000}, {40_000, 1}, {1 << 31, 1 << 31}, {0, 5}, {32_000, 1500}, {7000, 7000}} {
		add(fmt.Sprintf("png of %d × %d with nothing in it", size[0], size[1]), pngOf(size[0], size[1], nil))
	}
	add("large png in few bytes", largePNG())
	add("long png in few bytes", longPNG())
	for _, n := range []int{2, 20, 65, 200, 1000} {
		add(fmt.Sprintf("jpeg of %d scans", n), scansOf(bases()[1].Data, n))
		add(fmt.Sprintf("large jpeg of %d scans", n), scansOf(largeJPEG(), n/4+1))
	}
	for _, side := range []uint32{1, 8, 16, 64} {
		add(fmt.Sprintf("tiff in tiles of %d", side), tiffOf(7000, 7000, side))
	}
	for _, text := range []string{"", "<svg onload=alert(1)>", "%PDF-1.7\n", "GIF89a", "\x89PNG\r\n\x1a\n", "RIFF\xff\xff\xff\xffWEBPVP8X", "\x00\x00\x01\x00", "#!/bin/sh\n"} {
		add("no picture", []byte(text))
	}
	return all
}

// fit are pictures that are in order, some of them as large and as costly as pictures may be.
func fit(seed uint64) []File {
	random := rand.New(rand.NewPCG(seed, 6))
	noise := image.NewRGBA(image.Rect(0, 0, 1200, 900))
	for i := range noise.Pix {
		noise.Pix[i] = uint8(random.IntN(256)) | uint8(255*((i%4)/3))
	}
	return append(bases()[:2:2],
		File{"large png", largePNG()},
		File{"long png", longPNG()},
		File{"jpeg of 30 scans", scansOf(largeJPEG(), 30)},
		File{"noise", written(func(b *bytes.Buffer) error { return png.Encode(b, noise) })},
	)
}

func mutated(random *rand.Rand, data []byte, times int) []byte {
	out := bytes.Clone(data)
	for range times {
		out[random.IntN(len(out))] = []byte{0, 1, 0x7f, 0x80, 0xff, byte(random.IntN(256))}[random.IntN(6)]
	}
	return out
}

func pngOf(w, h uint32, idat []byte) []byte {
	out := []byte("\x89PNG\r\n\x1a\n")
	chunk := func(kind string, data []byte) {
		out = binary.BigEndian.AppendUint32(out, uint32(len(data)))
		body := append([]byte(kind), data...)
		out = append(out, body...)
		out = binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(body))
	}
	head := binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32(nil, w), h)
	chunk("IHDR", append(head, 8, 2, 0, 0, 0))
	chunk("IDAT", idat)
	chunk("IEND", nil)
	return out
}

// deflated are n zeros in few bytes.
func deflated(n int) []byte {
	return written(func(b *bytes.Buffer) error {
		w, err := zlib.NewWriterLevel(b, zlib.BestSpeed)
		if err != nil {
			return err
		}
		zeros := make([]byte, 1<<16)
		for n > 0 {
			k := min(n, len(zeros))
			if _, err := w.Write(zeros[:k]); err != nil {
				return err
			}
			n -= k
		}
		return w.Close()
	})
}

// scansOf is a JPEG whose one scan comes n times.
func scansOf(data []byte, n int) []byte {
	at := bytes.LastIndex(data, []byte{0xff, 0xda})
	scan := data[at : len(data)-2]
	out := bytes.Clone(data[:at])
	for range n {
		if out = append(out, scan...); len(out) > 4<<20 {
			break
		}
	}
	return append(out, 0xff, 0xd9)
}

func tiffOf(w, h, tile uint32) []byte {
	data := []byte("II*\x00\x08\x00\x00\x00")
	fields := [][2]uint32{{256, w}, {257, h}, {258, 8}, {259, 1}, {262, 1}, {277, 1}, {322, tile}, {323, tile}, {324, 200}, {325, tile * tile}}
	data = binary.LittleEndian.AppendUint16(data, uint16(len(fields)))
	for _, f := range fields {
		data = binary.LittleEndian.AppendUint16(data, uint16(f[0]))
		data = binary.LittleEndian.AppendUint16(data, 4)
		data = binary.LittleEndian.AppendUint32(data, 1)
		data = binary.LittleEndian.AppendUint32(data, f[1])
	}
	return append(data, make([]byte, 1<<12)...)
}

package hostile

import (
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"image"
	"math/rand/v2"
	"mime/multipart"
	"os"
	"path/filepath"

	"raconte/engines/media"
)

// Recordings are forms with moving pictures that nobody should send, and their media type. None where ffmpeg is not
// there.
func Recordings(seed uint64) (all []File, kind string) {
	var files []File
	for _, f := range recorded() {
		files = append(files, f)
		random := rand.New(rand.NewPCG(seed, uint64(len(f.Data))))
		for i := range 25 {
			files = append(files, File{fmt.Sprintf("%s, damaged %d", f.Name, i), mutated(random, f.Data, 1+i*i)})
		}
		files = append(files, File{f.Name + ", cut off", f.Data[:len(f.Data)/2]})
	}
	files = append(files,
		File{"a playlist", []byte("#EXTM3U\n#EXT-X-TARGETDURATION:1\n#EXTINF:1,\nfile:///etc/passwd\n")},
		File{"a list of files", []byte("ffconcat version 1.0\nfile /etc/passwd\n")},
		File{"a GIF of 65,535 pixels a side", append([]byte("GIF89a\xff\xff\xff\xff\x00\x00\x00"), bytes.Repeat([]byte("\x2c\x00\x00\x00\x00\xff\xff\xff\xff\x00\x02\x01\x00\x00"), 2000)...)},
		File{"a box that says it has 4 GB", binary.BigEndian.AppendUint32(nil, 0xffffffff)},
	)
	const boundary = "hostile"
	for _, f := range files {
		var body bytes.Buffer
		w := multipart.NewWriter(&body)
		_ = w.SetBoundary(boundary) // one word
		_ = w.WriteField("about", `{"taken":"2026-11-26T09:00:00Z","source":"screen"}`)
		part, _ := w.CreateFormFile("clip", "clip") // into memory
		_, _ = part.Write(f.Data)
		_ = w.Close()
		all = append(all, File{f.Name, body.Bytes()})
	}
	return all, "multipart/form-data; boundary=" + boundary
}

// recorded are a second of moving pictures in each form that is taken.
func recorded() (all []File) {
	dir, err := os.MkdirTemp("", "raconte-hostile-*")
	if err != nil || !media.Found() {
		return nil
	}
	defer os.RemoveAll(dir)
	for _, form := range []media.Form{media.MP4, media.WebM} {
		path := filepath.Join(dir, "a."+form.Extension)
		img := gradient(160, 90)
		w, err := media.Write(context.Background(), path, form, image.Pt(160, 90), media.Look{Rate: 10}, "")
		for range 10 {
			if err == nil {
				err = w.Add(img)
			}
		}
		if err == nil {
			err = w.Close()
		}
		if data, read := os.ReadFile(path); err == nil && read == nil {
			all = append(all, File{form.Name, data})
		}
	}
	return all
}

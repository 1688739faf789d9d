package prose

import (
	"archive/zip"
	"io"
	"io/fs"
	"time"
)

// Unzip is a zipped folder. The error is a refusal where it is none, or unpacks to more than is allowed.
func Unzip(r io.ReaderAt, size int64) (fs.FS, error) {
	z, err := zip.NewReader(r, size)
	if err != nil {
		return nil, refuse("This is no DOCX, HTML or Markdown file, and no zipped folder with one.")
	}
	if len(z.File) > mostFiles {
		return nil, refuse("The folder holds more than %d files.", mostFiles)
	}
	var total uint64
	for _, f := range z.File {
		if total += f.UncompressedSize64; total > mostUnpacked {
			return nil, refuse("The folder unpacks to more than is allowed.")
		}
	}
	return z, nil
}

// File is a folder that holds one file.
func File(name string, data []byte) fs.FS { return single{name, data} }

type single struct {
	name string
	data []byte
}

// Open opens the file, or the folder.
func (s single) Open(name string) (fs.File, error) {
	switch name {
	case s.name:
		return &opened{single: s}, nil
	case ".":
		return &opened{single: s, folder: true}, nil
	}
	return nil, fs.ErrNotExist
}

type opened struct {
	single
	folder bool
	at     int
}

func (o *opened) Stat() (fs.FileInfo, error) { return o, nil }
func (o *opened) Close() error               { return nil }
func (o *opened) Read(p []byte) (int, error) {
	if o.folder || o.at >= len(o.data) {
		return 0, io.EOF
	}
	n := copy(p, o.data[o.at:])
	o.at += n
	return n, nil
}

// ReadDir lists the folder.
func (o *opened) ReadDir(n int) ([]fs.DirEntry, error) {
	if o.at > 0 {
		if n > 0 {
			return nil, io.EOF
		}
		return nil, nil
	}
	o.at = 1
	return []fs.DirEntry{fs.FileInfoToDirEntry(&opened{single: o.single})}, nil
}

func (o *opened) Name() string {
	if o.folder {
		return "."
	}
	return o.name
}
func (o *opened) Size() int64 { return int64(len(o.data)) }
func (o *opened) Mode() fs.FileMode {
	if o.folder {
		return fs.ModeDir | 0o755
	}
	return 0o644
}
func (o *opened) ModTime() time.Time { return time.Time{} }
func (o *opened) IsDir() bool        { return o.folder }
func (o *opened) Sys() any           { return nil }

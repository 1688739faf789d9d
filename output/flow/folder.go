package flow

import (
	"archive/zip"
	"context"
	"fmt"
	"io"
	"time"
)

// Folder is a zip file that is written as its files are made. The same files make the same bytes.
type Folder struct {
	zip  *zip.Writer
	made time.Time
}

// NewFolder begins a folder; made is when its files are said to be from.
func NewFolder(w io.Writer, made time.Time) *Folder { return &Folder{zip.NewWriter(w), made} }

// Put puts a file into the folder. What is packed already, such as pictures, is stored as it is.
func (f *Folder) Put(name string, data []byte, packed bool) error {
	w, err := f.Create(name, packed)
	if err == nil {
		_, err = w.Write(data)
	}
	if err != nil {
		return fmt.Errorf("writing %s: %w", name, err)
	}
	return nil
}

// Create begins a file in the folder.
func (f *Folder) Create(name string, packed bool) (io.Writer, error) {
	h := &zip.FileHeader{Name: name, Method: zip.Deflate, Modified: f.made}
	if packed {
		h.Method = zip.Store
	}
	return f.zip.CreateHeader(h)
}

// Pictures puts all pictures of a document into the folder, below a path, each named by its place in the document; from
// is how the document finds that path.
func (f *Folder) Pictures(ctx context.Context, d *Document, path, from string) error {
	for i, p := range d.All() {
		if err := ctx.Err(); err != nil {
			return err
		}
		file, err := p.File()
		if err != nil {
			return err
		}
		name := fmt.Sprintf("%03d.%s", i+1, Extension(file))
		if err := f.Put(path+name, file.Data, true); err != nil {
			return err
		}
		p.Name = from + name
		if !p.Moves() {
			continue
		}
		clip := fmt.Sprintf("%03d.mp4", i+1)
		if err := f.clip(path+clip, p); err != nil {
			return err
		}
		p.Film = from + clip
	}
	return nil
}

func (f *Folder) clip(name string, p *Picture) error {
	c, err := p.Clip()
	if err != nil {
		return err
	}
	defer c.Data.Close()
	to, err := f.Create(name, true)
	if err == nil {
		_, err = io.Copy(to, c.Data)
	}
	if err != nil {
		return fmt.Errorf("writing %s: %w", name, err)
	}
	return nil
}

// Close finishes the folder.
func (f *Folder) Close() error {
	if err := f.zip.Close(); err != nil {
		return fmt.Errorf("finishing the file: %w", err)
	}
	return nil
}

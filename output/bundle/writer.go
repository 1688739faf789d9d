package bundle

import (
	"archive/zip"
	"encoding/json"
	"fmt"
	"io"

	"raconte/core/capture"
	"raconte/core/document"
)

// Content is a shot's file and what is known of it.
type Content struct {
	Data  []byte
	Type  string // media type
	Name  string // the name it came with
	About *capture.About
}

// Source gives a shot by its SHA-256.
type Source func(sha string) (Content, error)

// Write makes a bundle of a document whose figures name their shots by SHA-256. The same document
// gives the same bytes. Shots are asked for one at a time.
func Write(w io.Writer, d document.Document, shots Source) error {
	m := manifest{Format: Format, Version: Version, Document: d, Shots: map[string]Shot{}}
	z := zip.NewWriter(w)
	for _, sha := range d.Shots() {
		c, err := shots(sha)
		if err != nil {
			return fmt.Errorf("bundling the shot %s: %w", sha, err)
		}
		shot := Shot{File: fileName(sha, c.Type), Name: c.Name}
		m.Shots[sha] = shot
		if c.About != nil {
			if err := writeJSON(z, aboutName(sha), c.About); err != nil {
				return fmt.Errorf("bundling what is known of the shot %s: %w", sha, err)
			}
		}
		// Pictures are compressed already: stored as they are, they are read faster.
		f, err := z.CreateHeader(&zip.FileHeader{Name: shot.File, Method: zip.Store})
		if err == nil {
			_, err = f.Write(c.Data)
		}
		if err != nil {
			return fmt.Errorf("bundling the shot %s: %w", sha, err)
		}
	}
	if err := writeJSON(z, "document.json", m); err != nil {
		return fmt.Errorf("bundling the document: %w", err)
	}
	if err := z.Close(); err != nil {
		return fmt.Errorf("finishing the bundle: %w", err)
	}
	return nil
}

func writeJSON(z *zip.Writer, name string, v any) error {
	f, err := z.Create(name)
	if err != nil {
		return err
	}
	return json.NewEncoder(f).Encode(v)
}

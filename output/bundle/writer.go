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
// gives the same bytes.
func Write(w io.Writer, d document.Document, shots Source) error {
	m := manifest{Format: Format, Version: Version, Document: d, Shots: map[string]Shot{}}
	z := zip.NewWriter(w)
	for _, sha := range d.Shots() {
		c, err := shots(sha)
		if err != nil {
			return fmt.Errorf("bundling the shot %s: %w", sha, err)
		}
		shot := Shot{File: fileName(sha, c.Type), Name: c.Name, About: c.About}
		m.Shots[sha] = shot
		// Pictures are compressed already: stored as they are, they are read faster.
		f, err := z.CreateHeader(&zip.FileHeader{Name: shot.File, Method: zip.Store})
		if err == nil {
			_, err = f.Write(c.Data)
		}
		if err != nil {
			return fmt.Errorf("bundling the shot %s: %w", sha, err)
		}
	}
	f, err := z.Create("document.json")
	if err != nil {
		return fmt.Errorf("bundling the document: %w", err)
	}
	enc := json.NewEncoder(f)
	enc.SetIndent("", "  ")
	if err := enc.Encode(m); err != nil {
		return fmt.Errorf("bundling the document: %w", err)
	}
	if err := z.Close(); err != nil {
		return fmt.Errorf("finishing the bundle: %w", err)
	}
	return nil
}

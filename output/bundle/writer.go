package bundle

import (
	"archive/zip"
	"encoding/json"
	"fmt"
	"io"

	"raconte/core/document"
)

// Source gives the file of a shot by its SHA-256, with its media type and the name it came with.
type Source func(sha string) (data []byte, mediaType, name string, err error)

// Write makes a bundle of a document whose figures name their shots by SHA-256. The same document
// gives the same bytes.
func Write(w io.Writer, d document.Document, shots Source) error {
	m := manifest{Format: Format, Version: Version, Document: d, Shots: map[string]Shot{}}
	z := zip.NewWriter(w)
	for _, sha := range d.Shots() {
		data, mediaType, name, err := shots(sha)
		if err != nil {
			return fmt.Errorf("bundling the shot %s: %w", sha, err)
		}
		shot := Shot{File: fileName(sha, mediaType), Name: name}
		m.Shots[sha] = shot
		// Pictures are compressed already: stored as they are, they are read faster.
		f, err := z.CreateHeader(&zip.FileHeader{Name: shot.File, Method: zip.Store})
		if err == nil {
			_, err = f.Write(data)
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

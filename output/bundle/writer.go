package bundle

import (
	"archive/zip"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"slices"

	"raconte/core/document"
	"raconte/output"
)

// Format is the bundle.
type Format struct{}

// Write makes a bundle. Shots are asked for one at a time, and pass through.
func (Format) Write(ctx context.Context, w io.Writer, in output.Input, _ output.Options) error {
	m := manifest{Format: MediaFormat, Version: Version, Documents: append([]document.Document{in.Document}, in.Chapters...), Shots: map[string]Shot{}}
	z := zip.NewWriter(w)
	var shots []string
	for _, d := range m.Documents {
		shots = append(shots, d.Shots()...)
	}
	slices.Sort(shots)
	shots = slices.Compact(shots)
	for i, sha := range shots {
		if err := ctx.Err(); err != nil {
			return fmt.Errorf("bundling: %w", err)
		}
		shot, err := pack(ctx, z, in, sha)
		if err != nil {
			return fmt.Errorf("bundling the shot %s: %w", sha, err)
		}
		m.Shots[sha] = shot
		in.Progress(i+1, len(shots))
	}
	if file := in.Document.Facts.File; file != nil {
		if err := packPDF(ctx, z, in, file.SHA256); err != nil {
			return fmt.Errorf("bundling the PDF: %w", err)
		}
	}
	if err := ctx.Err(); err != nil {
		return fmt.Errorf("bundling: %w", err)
	}
	if err := writeJSON(z, "document.json", m); err != nil {
		return fmt.Errorf("bundling the document: %w", err)
	}
	if err := z.Close(); err != nil {
		return fmt.Errorf("finishing the bundle: %w", err)
	}
	return nil
}

// pack puts one shot in, with what is known of it.
func pack(ctx context.Context, z *zip.Writer, in output.Input, sha string) (Shot, error) {
	c, err := in.Shot(ctx, sha)
	if err != nil {
		return Shot{}, err
	}
	defer c.Data.Close()
	shot := Shot{File: fileName(sha, c.Type), Name: c.Name}
	if c.About != nil {
		if err := writeJSON(z, aboutName(sha), c.About); err != nil {
			return shot, err
		}
	}
	// Pictures are compressed already: stored as they are, they are read faster.
	f, err := z.CreateHeader(&zip.FileHeader{Name: shot.File, Method: zip.Store})
	if err == nil {
		_, err = io.Copy(f, c.Data)
	}
	return shot, err
}

func packPDF(ctx context.Context, z *zip.Writer, in output.Input, sha string) error {
	data, err := in.PDF(ctx, sha)
	if err != nil {
		return err
	}
	defer data.Close()
	f, err := z.CreateHeader(&zip.FileHeader{Name: pdfName(sha), Method: zip.Store})
	if err == nil {
		_, err = io.Copy(f, data)
	}
	return err
}

func writeJSON(z *zip.Writer, name string, v any) error {
	f, err := z.Create(name)
	if err != nil {
		return err
	}
	return json.NewEncoder(f).Encode(v)
}

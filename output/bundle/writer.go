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
	m := manifest{Format: MediaFormat, Version: Version, Documents: append([]document.Document{in.Whole.Document}, in.Whole.Chapters...), Shots: map[string]Shot{}}
	z := zip.NewWriter(w)
	var shots []string
	for _, d := range m.Documents {
		shots = append(shots, d.Shots()...)
	}
	slices.Sort(shots)
	shots = slices.Compact(shots)
	clips := map[string]bool{}
	for i, sha := range shots {
		if err := ctx.Err(); err != nil {
			return fmt.Errorf("bundling: %w", err)
		}
		shot, err := pack(ctx, z, in, sha, clips)
		if err != nil {
			return fmt.Errorf("bundling the shot %s: %w", sha, err)
		}
		m.Shots[sha] = shot
		in.Progress(i+1, len(shots))
	}
	if err := packVoices(ctx, z, in, m.Documents); err != nil {
		return err
	}
	if file := in.Whole.Document.Facts.File; file != nil {
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
func pack(ctx context.Context, z *zip.Writer, in output.Input, sha string, clips map[string]bool) (Shot, error) {
	c, err := in.Whole.Shot(ctx, sha)
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
	if err != nil || c.Clip == nil {
		return shot, err
	}
	shot.Clip = &Clip{File: clipName(c.Clip.SHA256, c.Clip.Type), Ms: c.Clip.Ms, Poster: c.Clip.Poster, Sounds: c.Clip.Sounds}
	files := map[string]string{c.Clip.SHA256: shot.Clip.File}
	if c.Clip.Camera != "" {
		shot.Clip.Camera = clipName(c.Clip.Camera, "video/webm")
		files[c.Clip.Camera] = shot.Clip.Camera
	}
	for sha, name := range files {
		if clips[sha] {
			continue
		}
		clips[sha] = true
		if err := packFile(ctx, z, name, sha, in.Whole.Recording); err != nil {
			return shot, err
		}
	}
	return shot, nil
}

// packVoices puts in what was spoken.
func packVoices(ctx context.Context, z *zip.Writer, in output.Input, documents []document.Document) error {
	seen := map[string]bool{}
	for _, d := range documents {
		for _, sha := range d.Voices() {
			if seen[sha] {
				continue
			}
			seen[sha] = true
			if err := packFile(ctx, z, voiceName(sha), sha, in.Whole.Voice); err != nil {
				return fmt.Errorf("bundling a voice: %w", err)
			}
		}
	}
	return nil
}

func packFile(ctx context.Context, z *zip.Writer, name, sha string, open func(context.Context, string) (io.ReadCloser, error)) error {
	data, err := open(ctx, sha)
	if err != nil {
		return err
	}
	defer data.Close()
	f, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Store})
	if err == nil {
		_, err = io.Copy(f, data)
	}
	return err
}

func packPDF(ctx context.Context, z *zip.Writer, in output.Input, sha string) error {
	return packFile(ctx, z, pdfName(sha), sha, in.Whole.PDF)
}

func writeJSON(z *zip.Writer, name string, v any) error {
	f, err := z.Create(name)
	if err != nil {
		return err
	}
	return json.NewEncoder(f).Encode(v)
}

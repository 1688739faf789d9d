package assemble

import (
	"context"
	"errors"
	"fmt"
	"image"
	"io"
	"os"
	"path/filepath"
	"strings"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/engines/media"
	"raconte/engines/raster"
	"raconte/intake"
	"raconte/output"
	"raconte/output/bundle"
	"raconte/output/clip"
	"raconte/output/picture"
)

// Bundle is a bundle as a source.
type Bundle struct {
	*bundle.Bundle
	Sizes map[string]figure.Size // of its shots
}

// OfBundle reads the sizes of a bundle's shots. The error says which can't be read.
func OfBundle(b *bundle.Bundle) (Bundle, error) {
	sizes := map[string]figure.Size{}
	for sha := range b.Shots {
		data, err := b.Shot(sha)
		if err == nil {
			sizes[sha], err = intake.Measure(data)
		}
		if err != nil {
			return Bundle{}, fmt.Errorf("the shot %.12s: %w", sha, err)
		}
	}
	return Bundle{b, sizes}, nil
}

// Around are the chapters of a manual, as it leads to them.
func (b Bundle) Around() document.Around {
	all := document.Around{}
	for _, c := range b.Chapters {
		all[c.ID] = document.Other{ID: c.ID, Kind: c.Kind, Title: c.Facts.Title, Number: c.Facts.Number, Revision: 1, Seconds: c.Time().Seconds}
	}
	return all
}

// Revision is one of the bundle's chapters.
func (b Bundle) Revision(_ context.Context, other document.Other) (document.Document, map[string]figure.Size, bool, error) {
	for _, c := range b.Chapters {
		if c.ID == other.ID {
			return c, nil, true, nil
		}
	}
	return document.Document{}, nil, false, nil
}

// Drawn is a figure in pixels.
func (b Bundle) Drawn(ctx context.Context, f figure.Figure, first, width int) (*image.RGBA, error) {
	shots, err := b.Pixels(ctx, f)
	if err != nil {
		return nil, err
	}
	return picture.Flatten(ctx, f.Still(first), shots, first, width)
}

// Finished is a figure as a file of the kind that its shot is.
func (b Bundle) Finished(ctx context.Context, f figure.Figure, first, width int) (picture.File, error) {
	img, err := b.Drawn(ctx, f, first, width)
	if err != nil {
		return picture.File{}, err
	}
	mediaType := "image/png"
	if strings.HasSuffix(b.Shots[f.Shot].File, ".jpg") {
		mediaType = "image/jpeg"
	}
	return picture.Encode(img, mediaType, raster.Small)
}

// Pixels are those of all shots that a figure shows.
func (b Bundle) Pixels(ctx context.Context, f figure.Figure) (map[string]*image.RGBA, error) {
	shots := map[string]*image.RGBA{}
	for _, sha := range f.Shots() {
		data, err := b.Shot(sha)
		if err != nil {
			return nil, err
		}
		if shots[sha], err = intake.Decode(ctx, data); err != nil {
			return nil, fmt.Errorf("the shot %.12s: %w", sha, err)
		}
	}
	if rec := b.Shots[f.Shot].Clip; rec != nil && f.Clip != nil && f.Clip.Stands() != rec.Poster {
		file, err := b.extracted(rec.File)
		if err != nil {
			return nil, err
		}
		defer file.Close()
		if shots[f.Shot], err = media.Frame(ctx, file.Name(), f.Clip.Stands(), 0); err != nil {
			return nil, err
		}
	}
	return shots, nil
}

// Voice is what someone has said.
func (b Bundle) Voice(_ context.Context, sha string) (io.ReadCloser, error) {
	file, err := b.extracted(bundle.VoiceName(sha))
	if err != nil {
		return nil, err
	}
	return file, nil
}

// Clip makes a finished clip of a recording.
func (b Bundle) Clip(ctx context.Context, f figure.Figure, first int, form media.Form) (output.Clip, error) {
	rec := b.Shots[f.Shot].Clip
	if f.Clip == nil || rec == nil {
		return output.Clip{}, fmt.Errorf("the picture %s does not move", f.ID)
	}
	dir, err := os.MkdirTemp("", "raconte-clip-*")
	if err != nil {
		return output.Clip{}, err
	}
	r := clip.Request{Figure: f, First: first, Recording: filepath.Join(dir, "recording")}
	extract := map[string]string{rec.File: r.Recording}
	if rec.Camera != "" {
		r.Camera = filepath.Join(dir, "camera")
		extract[rec.Camera] = r.Camera
	}
	if f.Clip.Voice != "" {
		r.Voice = filepath.Join(dir, "voice.wav")
		extract[bundle.VoiceName(f.Clip.Voice)] = r.Voice
	}
	for name, path := range extract {
		err = errors.Join(err, b.Extract(name, path))
	}
	if err == nil {
		r.Insets, err = b.Pixels(ctx, f)
	}
	made := filepath.Join(dir, "made."+form.Extension)
	if err == nil {
		err = r.Make(ctx, made, form, media.Look{})
	}
	file, opened := passing(made, dir)
	if err = errors.Join(err, opened); err != nil {
		return output.Clip{}, errors.Join(err, os.RemoveAll(dir))
	}
	info, err := file.Stat()
	if err != nil {
		return output.Clip{}, errors.Join(err, file.Close())
	}
	return output.Clip{Data: file, Bytes: info.Size()}, nil
}

// passingFile is a file that goes, with the folder that it lies in, when it is closed.
type passingFile struct {
	*os.File
	folder string
}

func (p passingFile) Close() error { return errors.Join(p.File.Close(), os.RemoveAll(p.folder)) }

func passing(path, folder string) (passingFile, error) {
	f, err := os.Open(path)
	return passingFile{f, folder}, err
}

// extracted is a file of the bundle, for as long as it is open.
func (b Bundle) extracted(name string) (passingFile, error) {
	dir, err := os.MkdirTemp("", "raconte-extracted-*")
	if err != nil {
		return passingFile{}, err
	}
	path := filepath.Join(dir, "file")
	err = b.Extract(name, path)
	if err == nil {
		return passing(path, dir)
	}
	return passingFile{}, errors.Join(err, os.RemoveAll(dir))
}

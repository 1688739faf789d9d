package main

import (
	"context"
	"encoding/json"
	"fmt"
	"image"
	"io"
	"os"
	"path/filepath"
	"strings"

	"raconte/core/figure"
	"raconte/core/readiness"
	"raconte/core/story"
	"raconte/engines/fonts"
	"raconte/engines/raster"
	"raconte/intake"
	"raconte/output/bundle"
	"raconte/output/picture"

	"github.com/spf13/cobra"
)

// openBundle opens a bundle file; the caller closes the file.
func openBundle(ctx context.Context, path string) (*bundle.Bundle, io.Closer, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, nil, err
	}
	info, err := f.Stat()
	if err == nil {
		var b *bundle.Bundle
		if b, err = bundle.Open(ctx, f, info.Size()); err == nil {
			return b, f, nil
		}
	}
	f.Close()
	return nil, nil, fmt.Errorf("%s: %w", path, err)
}

// writeFile writes a result so that a failure leaves no half of it and keeps what was there.
func writeFile(path string, write func(*os.File) error) error {
	tmp, err := os.CreateTemp(filepath.Dir(path), ".raconte-*")
	if err != nil {
		return fmt.Errorf("writing %s: %w", path, err)
	}
	defer os.Remove(tmp.Name())
	err = write(tmp)
	if e := tmp.Close(); err == nil {
		err = e
	}
	if err == nil {
		err = os.Chmod(tmp.Name(), 0o644)
	}
	if err == nil {
		err = os.Rename(tmp.Name(), path)
	}
	if err != nil {
		return fmt.Errorf("writing %s: %w", path, err)
	}
	return nil
}

// outputFlag adds the required flag -o.
func outputFlag(cmd *cobra.Command, what string) *string {
	out := cmd.Flags().StringP("output", "o", "", what)
	_ = cmd.MarkFlagRequired("output")
	return out
}

// sizesOf are the sizes of a bundle's shots.
func sizesOf(b *bundle.Bundle) (map[string]figure.Size, error) {
	sizes := map[string]figure.Size{}
	for sha := range b.Shots {
		data, err := b.Shot(sha)
		if err == nil {
			sizes[sha], err = intake.Measure(data)
		}
		if err != nil {
			return nil, fmt.Errorf("the shot %.12s: %w", sha, err)
		}
	}
	return sizes, nil
}

// bundlePicture finishes pictures from a bundle's shots.
func bundlePicture(b *bundle.Bundle, told story.Story) func(context.Context, string, int) (picture.File, error) {
	return func(ctx context.Context, id string, width int) (picture.File, error) {
		if err := ctx.Err(); err != nil {
			return picture.File{}, err
		}
		f, _, ok := told.Figure(id)
		if !ok {
			return picture.File{}, fmt.Errorf("the document has no picture %s", id)
		}
		shots, err := bundleShots(ctx, b, f.Figure)
		if err != nil {
			return picture.File{}, err
		}
		mediaType := "image/png"
		if strings.HasSuffix(b.Shots[f.Shot].File, ".jpg") {
			mediaType = "image/jpeg"
		}
		img, err := picture.Flatten(ctx, f.Figure.Still(f.First), shots, f.First, width)
		if err != nil {
			return picture.File{}, err
		}
		return picture.Encode(img, mediaType, raster.Small)
	}
}

// bundleShots are the pixels of all shots that a figure shows.
func bundleShots(ctx context.Context, b *bundle.Bundle, f figure.Figure) (map[string]*image.RGBA, error) {
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
		var err error
		if shots[f.Shot], err = bundleMoment(ctx, b, rec.File, f.Clip.Stands()); err != nil {
			return nil, err
		}
	}
	return shots, nil
}

func flattenCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "flatten IN.bundle --figure ID -o OUT.png",
		Short: "Make the finished picture of one figure",
		Args:  cobra.ExactArgs(1),
	}
	out := outputFlag(cmd, "the PNG to write")
	id := cmd.Flags().String("figure", "", "the figure's id, as in the bundle's document.json")
	_ = cmd.MarkFlagRequired("figure")
	cmd.RunE = run(func(cmd *cobra.Command, args []string) error {
		b, file, err := openBundle(cmd.Context(), args[0])
		if err != nil {
			return err
		}
		defer file.Close()
		fonts.Register()
		f, _, ok := story.Of(b.Whole(), nil, nil).Figure(*id)
		if !ok {
			return fmt.Errorf("%s has no figure %s", args[0], *id)
		}
		shots, err := bundleShots(cmd.Context(), b, f.Figure)
		if err != nil {
			return err
		}
		img, err := picture.Flatten(cmd.Context(), f.Figure.Still(f.First), shots, f.First, 0)
		if err != nil {
			return err
		}
		return writeFile(*out, func(w *os.File) error { return raster.EncodePNG(w, img, raster.Quick) })
	})
	return cmd
}

func checkCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "check IN.bundle",
		Short: "List a bundle's findings as JSON; exit 1 if any must be fixed",
		Args:  cobra.ExactArgs(1),
		RunE: run(func(cmd *cobra.Command, args []string) error {
			b, file, err := openBundle(cmd.Context(), args[0])
			if err != nil {
				return err
			}
			defer file.Close()
			sizes, err := sizesOf(b)
			if err != nil {
				return err
			}
			findings := readiness.Check(b.Document, sizes, nil)
			for _, chapter := range b.Chapters {
				findings = append(findings, readiness.Check(chapter, sizes, nil)...)
			}
			if err := writeJSON(cmd.OutOrStdout(), findings); err != nil {
				return err
			}
			if readiness.Blocks(findings) {
				return exit{code: exitFindings}
			}
			return nil
		}),
	}
}

func writeJSON(w io.Writer, v any) error {
	enc := json.NewEncoder(w)
	enc.SetIndent("", "  ")
	return enc.Encode(v)
}

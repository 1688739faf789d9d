package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"time"

	"raconte/core/film"
	"raconte/core/readiness"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/engines/fonts"
	"raconte/engines/raster"
	"raconte/engines/voice"
	"raconte/output"
	"raconte/output/assemble"
	"raconte/output/bundle"

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
		img, err := assemble.Bundle{Bundle: b}.Drawn(cmd.Context(), f.Figure, f.First, 0)
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
			from, err := assemble.OfBundle(b)
			if err != nil {
				return err
			}
			findings := readiness.Check(b.Document, from.Sizes, nil)
			for _, chapter := range b.Chapters {
				findings = append(findings, readiness.Check(chapter, from.Sizes, nil)...)
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

// assembled asks for what a form needs of a bundle, of the steps that are named; "" is all.
func assembled(b *bundle.Bundle, st style.Style, form output.Format, steps string) (assemble.Bundle, assemble.Request, error) {
	from, err := assemble.OfBundle(b)
	if err != nil {
		return from, assemble.Request{}, err
	}
	r := assemble.Request{
		Document: b.Whole(), Around: from.Around(), Sizes: from.Sizes, Form: form, Made: time.Now(), Progress: func(int, int) {},
		Edition: output.Edition{Style: st, State: "From a bundle"},
	}
	if steps != "" {
		if r.Steps, err = story.Of(r.Document, r.Around, nil).Numbered(steps); err != nil {
			err = exit{exitUsage, err.Error()}
		}
	}
	return from, r, err
}

// spoken is how texts are said: by a command, or by what is installed; nil where nothing speaks.
func spoken(command string, words []film.Saying) func(ctx context.Context, text string, language style.Language, pace int) ([]byte, error) {
	engine := voice.Find(command)
	if engine == nil {
		return nil
	}
	return func(ctx context.Context, text string, language style.Language, pace int) ([]byte, error) {
		return voice.Speak(ctx, engine, film.Spoken(text, words), string(language), pace)
	}
}

func writeJSON(w io.Writer, v any) error {
	enc := json.NewEncoder(w)
	enc.SetIndent("", "  ")
	return enc.Encode(v)
}

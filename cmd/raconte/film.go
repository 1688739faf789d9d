package main

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

	"raconte/core/document"
	"raconte/core/film"
	"raconte/core/style"
	"raconte/engines/fonts"
	"raconte/output"
	"raconte/output/assemble"
	films "raconte/output/film"
	"raconte/output/formats"

	"github.com/spf13/cobra"
)

func filmCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "film IN.bundle -o OUT.mp4",
		Short: "Make a film of a bundle's document: .mp4, .webm, .vtt (captions), .txt (transcript) or .m4a (sound)",
		Args:  cobra.ExactArgs(1),
	}
	out := outputFlag(cmd, "the file to write: its ending names the form")
	styled := cmd.Flags().String("style", "", "a house style: a file, or one of "+strings.Join(style.BuiltIns(), ", "))
	steps := cmd.Flags().String("steps", "", "the steps to take, such as 1-3,7; else those with pictures")
	var told document.Film
	cmd.Flags().StringVar(&told.Size, "size", "", "720p or upright; else 1920 × 1080, or as the document says")
	cmd.Flags().StringVar(&told.Captions, "captions", "", "picture, both or none; else a track")
	cmd.Flags().IntVar(&told.Pace, "pace", 0, "of a synthetic voice, in percent of its usual, 50 to 200")
	cmd.Flags().BoolVar(&told.Still, "still", false, "pictures stay whole: nothing moves to where the marks are")
	cmd.Flags().BoolVar(&told.Silent, "silent", false, "without a synthetic voice")
	command := cmd.Flags().String("voice", "", "a command that reads a text and writes WAV: {language}, {pace} and {out} stand for what they name; else espeak-ng")
	list := cmd.Flags().String("words", "", `a file of how words are said: [{"word": "WMS", "said": "W M S"}]`)
	parts := cmd.Flags().String("parts", "", "a folder for parts, so that what has not changed is not made again")
	cmd.RunE = run(func(cmd *cobra.Command, args []string) error {
		kind := map[string]string{".mp4": films.MP4, ".webm": films.WebM, ".vtt": films.Captions, ".txt": films.Transcript, ".m4a": films.Sound}[strings.ToLower(filepath.Ext(*out))]
		if kind == "" {
			return exit{exitUsage, fmt.Sprintf("the ending %q names no form of a film: .mp4, .webm, .vtt, .txt, .m4a", filepath.Ext(*out))}
		}
		if err := told.Check(); err != nil {
			return exit{exitUsage, err.Error()}
		}
		st, err := styleFor(*styled)
		if err != nil {
			return err
		}
		var words []film.Saying
		if *list != "" {
			raw, err := os.ReadFile(*list)
			if err == nil {
				err = json.Unmarshal(raw, &words)
			}
			if err == nil {
				err = film.CheckSayings(words)
			}
			if err != nil {
				return exit{exitUsage, fmt.Sprintf("%s: %v", *list, err)}
			}
		}
		b, file, err := openBundle(cmd.Context(), args[0])
		if err != nil {
			return err
		}
		defer file.Close()
		fonts.Register()
		f, _ := formats.Named(kind)
		from, r, err := assembled(b, st, f, *steps)
		if err != nil {
			return err
		}
		in, err := assemble.Input(cmd.Context(), from, r)
		if err != nil {
			return err
		}
		for _, name := range []string{"size", "captions", "pace", "still", "silent"} {
			if cmd.Flags().Changed(name) {
				in.Story.Film = merged(in.Story.Film, told, name)
			}
		}
		in.Film.Speak = spoken(*command, words)
		if *parts != "" {
			in.Film.Parts = folder(*parts)
		}
		return writeFile(*out, func(w *os.File) error { return f.Write(cmd.Context(), w, in, output.Options{}) })
	})
	return cmd
}

// merged is how a film is told, with one of its settings changed.
func merged(f, to document.Film, name string) document.Film {
	switch name {
	case "size":
		f.Size = to.Size
	case "captions":
		f.Captions = to.Captions
	case "pace":
		f.Pace = to.Pace
	case "still":
		f.Still = to.Still
	case "silent":
		f.Silent = to.Silent
	}
	return f
}

func copyFile(from, to string) error {
	a, err := os.Open(from)
	if err != nil {
		return err
	}
	defer a.Close()
	b, err := os.Create(to)
	if err != nil {
		return err
	}
	defer b.Close()
	_, err = io.Copy(b, a)
	return err
}

// folder keeps parts of films as files.
type folder string

func (f folder) Fetch(_ context.Context, name, path string) (bool, error) {
	err := copyFile(filepath.Join(string(f), name), path)
	if os.IsNotExist(err) {
		return false, nil
	}
	return err == nil, err
}

func (f folder) KeepPart(_ context.Context, name, path string) error {
	if err := os.MkdirAll(string(f), 0o755); err != nil {
		return err
	}
	// Whole or not at all: a command that is stopped leaves no half of one.
	half := filepath.Join(string(f), "."+name)
	if err := copyFile(path, half); err != nil {
		return err
	}
	return os.Rename(half, filepath.Join(string(f), name))
}

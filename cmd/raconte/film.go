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

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/film"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/engines/fonts"
	"raconte/engines/media"
	"raconte/engines/voice"
	"raconte/output"
	"raconte/output/bundle"
	"raconte/output/clip"
	films "raconte/output/film"
	"raconte/output/formats"
	"raconte/output/picture"

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
		s := story.Of(b.Whole(), nil, nil)
		if *steps != "" {
			ids, err := s.Numbered(*steps)
			if err != nil {
				return exit{exitUsage, err.Error()}
			}
			s = s.Only(ids)
		}
		for _, name := range []string{"size", "captions", "pace", "still", "silent"} {
			if cmd.Flags().Changed(name) {
				s.Film = merged(s.Film, told, name)
			}
		}
		sizes, err := sizesOf(b)
		if err != nil {
			return err
		}
		in := output.Input{Story: s, Edition: output.Edition{Style: st, State: "From a bundle"}, Sizes: sizes, Progress: func(int, int) {}}
		filmed(&in, b, *command, words)
		if *parts != "" {
			in.Parts = folder(*parts)
		}
		f, _ := formats.Named(kind)
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

// filmed gives an input what films and clips need of a bundle.
func filmed(in *output.Input, b *bundle.Bundle, command string, words []film.Saying) {
	in.Drawn = func(ctx context.Context, f figure.Figure, first, width int) (*image.RGBA, error) {
		shots, err := bundleShots(ctx, b, f)
		if err != nil {
			return nil, err
		}
		return picture.Flatten(ctx, f.Still(first), shots, first, width)
	}
	if engine := voice.Find(command); engine != nil {
		in.Speak = func(ctx context.Context, text string, language style.Language, pace int) ([]byte, error) {
			return voice.Speak(ctx, engine, film.Spoken(text, words), string(language), pace)
		}
	}
	in.Voice = func(_ context.Context, sha string) (io.ReadCloser, error) {
		file, err := extracted(b, bundle.VoiceName(sha))
		if err != nil {
			return nil, err
		}
		return file, nil
	}
	if media.Found() {
		told := in.Story
		in.Clip = func(ctx context.Context, id, form string) (output.Clip, error) {
			return bundleClip(ctx, b, told, id, form)
		}
	}
}

// gone is a file that goes when it is closed.
type gone struct{ *os.File }

func (g gone) Close() error {
	err := g.File.Close()
	_ = os.Remove(g.Name()) // it is a temporary one
	return err
}

func extracted(b *bundle.Bundle, name string) (gone, error) {
	tmp, err := os.CreateTemp("", "raconte-extracted-*")
	if err != nil {
		return gone{}, err
	}
	tmp.Close()
	if err := b.Extract(name, tmp.Name()); err != nil {
		os.Remove(tmp.Name())
		return gone{}, err
	}
	f, err := os.Open(tmp.Name())
	return gone{f}, err
}

// bundleMoment is what is seen at a moment of a bundle's recording.
func bundleMoment(ctx context.Context, b *bundle.Bundle, name string, at int) (*image.RGBA, error) {
	file, err := extracted(b, name)
	if err != nil {
		return nil, err
	}
	defer file.Close()
	return media.Frame(ctx, file.Name(), at, 0)
}

// bundleClip makes a finished clip of a bundle's recording.
func bundleClip(ctx context.Context, b *bundle.Bundle, told story.Story, id, form string) (output.Clip, error) {
	f, _, ok := told.Figure(id)
	rec := b.Shots[f.Shot].Clip
	if !ok || f.Clip == nil || rec == nil {
		return output.Clip{}, fmt.Errorf("the document has no clip %s", id)
	}
	dir, err := os.MkdirTemp("", "raconte-clip-*")
	if err != nil {
		return output.Clip{}, err
	}
	defer os.RemoveAll(dir)
	r := clip.Request{Figure: f.Figure, First: f.First, Recording: filepath.Join(dir, "recording")}
	if err := b.Extract(rec.File, r.Recording); err != nil {
		return output.Clip{}, err
	}
	if rec.Camera != "" {
		r.Camera = filepath.Join(dir, "camera")
		if err := b.Extract(rec.Camera, r.Camera); err != nil {
			return output.Clip{}, err
		}
	}
	if f.Clip.Voice != "" {
		r.Voice = filepath.Join(dir, "voice.wav")
		if err := b.Extract(bundle.VoiceName(f.Clip.Voice), r.Voice); err != nil {
			return output.Clip{}, err
		}
	}
	if r.Insets, err = bundleShots(ctx, b, f.Figure); err != nil {
		return output.Clip{}, err
	}
	for _, as := range media.Forms {
		if as.Name != form {
			continue
		}
		tmp, err := os.CreateTemp("", "raconte-made-*."+as.Extension)
		if err != nil {
			return output.Clip{}, err
		}
		tmp.Close()
		made := filepath.Join(dir, "made."+as.Extension)
		if err := r.Make(ctx, made, as, media.Look{}); err != nil {
			os.Remove(tmp.Name())
			return output.Clip{}, err
		}
		if err := copyFile(made, tmp.Name()); err != nil {
			return output.Clip{}, err
		}
		file, err := os.Open(tmp.Name())
		if err != nil {
			return output.Clip{}, err
		}
		info, err := file.Stat()
		if err != nil {
			return output.Clip{}, err
		}
		return output.Clip{Data: gone{file}, Bytes: info.Size()}, nil
	}
	return output.Clip{}, fmt.Errorf("clips are not made as %s", form)
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

// Package voice speaks texts: by espeak-ng, or by a command of the house that reads a text and writes a WAV file.
package voice

import (
	"context"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"raconte/core/figure"
	"raconte/core/film"
	"raconte/core/refusal"
	"raconte/engines/confined"
	"raconte/engines/media"
)

// Engine speaks. Say writes what is said as a WAV file, in a language ("en", "de") and at a pace in percent of its
// usual; Name changes whenever it would say the same otherwise.
type Engine interface {
	Name() string
	Say(ctx context.Context, text, language string, pace int, path string) error
}

// ErrMissing says that nothing speaks here.
var ErrMissing = refusal.New("A synthetic voice needs espeak-ng on the server, which is not installed there. Record what is said, or have an administrator install it (Debian's package espeak-ng).")

// limits of a voice: some minutes of speech.
var limits = confined.Limits{Memory: 4 << 30, Longest: 2 * time.Minute, Output: 1 << 20}

// longest is the most letters that are spoken at once, with words as they are said, which may be longer.
const longest = 4 * film.LongestSaid

// Find is the engine of this machine: the command of the house where one is set, else espeak-ng; nil where there is
// neither. A command is a program with its arguments, in which {language}, {pace} and {out} stand for what they name;
// it reads the text from its input and writes WAV to {out}, or to its output where no {out} is named.
func Find(command string) Engine {
	if fields := strings.Fields(command); len(fields) > 0 {
		return own{fields}
	}
	if _, err := exec.LookPath("espeak-ng"); err == nil {
		return espeak{}
	}
	return nil
}

// espeak is Debian's espeak-ng.
type espeak struct{}

func (espeak) Name() string { return "espeak-ng" }

// usual is espeak's pace in words a minute: a little slower than its own, for those who follow what they hear.
const usual = 155

func (espeak) Say(ctx context.Context, text, language string, pace int, path string) error {
	voices := map[string]string{"en": "en-gb", "de": "de", "fr": "fr", "es": "es"}
	v := voices[language]
	if v == "" {
		v = "en-gb"
	}
	return run(ctx, text, path, "", "espeak-ng", "-v", v, "-s", strconv.Itoa(usual*pace/100), "-b", "1", "--stdin", "-w", path)
}

// own is a command of the house.
type own struct{ fields []string }

func (o own) Name() string { return strings.Join(o.fields, " ") }

func (o own) Say(ctx context.Context, text, language string, pace int, path string) error {
	args := make([]string, len(o.fields))
	named := false
	for i, f := range o.fields {
		named = named || strings.Contains(f, "{out}")
		args[i] = strings.NewReplacer("{language}", language, "{pace}", strconv.Itoa(pace), "{out}", path).Replace(f)
	}
	to := path
	if named {
		to = ""
	}
	return run(ctx, text, path, to, args[0], args[1:]...)
}

// run runs an engine; to is a file for what it writes, "" where it writes one itself.
func run(ctx context.Context, text, path, to, name string, args ...string) error {
	if len([]rune(text)) > longest {
		return refusal.New("What is said is longer than %d letters. Divide the step.", longest)
	}
	ctx, cancel := context.WithTimeout(ctx, limits.Longest)
	defer cancel()
	cmd := confined.Command(ctx, limits, name, args...)
	// A line that begins as an option is no option: the text comes by the input.
	cmd.Stdin = strings.NewReader(text)
	errs := &confined.Limited{Left: 2000}
	cmd.Stderr = errs
	if to != "" {
		f, err := os.Create(to)
		if err != nil {
			return fmt.Errorf("speaking: %w", err)
		}
		defer f.Close()
		cmd.Stdout = f
	}
	if err := cmd.Run(); err != nil {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		return fmt.Errorf("speaking: %s: %w", strings.TrimSpace(errs.String()), err)
	}
	if info, err := os.Stat(path); err != nil || info.Size() < 44 {
		return refusal.New("The voice of the house has said nothing.")
	}
	return nil
}

// Speak says a text and makes its loudness even: a WAV file's bytes, one channel.
func Speak(ctx context.Context, e Engine, text, language string, pace int) ([]byte, error) {
	if e == nil {
		return nil, ErrMissing
	}
	if pace == 0 {
		pace = 100
	}
	dir, err := os.MkdirTemp("", "raconte-voice-*")
	if err != nil {
		return nil, fmt.Errorf("speaking: %w", err)
	}
	defer os.RemoveAll(dir)
	raw, even := filepath.Join(dir, "raw.wav"), filepath.Join(dir, "even.wav")
	if err := e.Say(ctx, text, language, pace, raw); err != nil {
		return nil, err
	}
	if _, err := media.Voice(ctx, raw, even, figure.Span{}); err != nil {
		return nil, err
	}
	data, err := os.ReadFile(even)
	if err != nil {
		return nil, fmt.Errorf("speaking: %w", err)
	}
	return data, nil
}

// Package ocr finds words in pictures with tesseract, run as a bounded process of its own. Where tesseract is
// not installed, nothing is read and everything else works.
package ocr

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"os"
	"os/exec"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"time"

	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/engines/raster"
)

// Reader reads pictures in some languages.
type Reader struct {
	path      string
	languages string
}

// ErrAbsent says that tesseract, or one of its language packs, is not installed.
var ErrAbsent = errors.New("tesseract is not installed")

// longest bounds the time for one picture.
const longest = 90 * time.Second

// Find looks for tesseract. Languages are its names of language packs joined by "+", as in "eng+deu"; those
// that are not installed are left out.
func Find(ctx context.Context, languages string) (Reader, error) {
	path, err := exec.LookPath("tesseract")
	if err != nil {
		return Reader{}, ErrAbsent
	}
	list, err := exec.CommandContext(ctx, path, "--list-langs").Output()
	if err != nil {
		return Reader{}, fmt.Errorf("%w: %w", ErrAbsent, err)
	}
	there := strings.Fields(string(list))
	var use []string
	for _, l := range strings.Split(languages, "+") {
		for _, t := range there {
			if l == t {
				use = append(use, l)
			}
		}
	}
	if len(use) == 0 {
		return Reader{}, fmt.Errorf("%w in the language %s", ErrAbsent, languages)
	}
	return Reader{path, strings.Join(use, "+")}, nil
}

// Languages are those that the reader reads, joined by "+"; empty where it reads nothing.
func (r Reader) Languages() string { return r.languages }

// Ways of cutting a picture up, in tesseract's terms. Screens are not pages, their words stand anywhere, which the
// first finds; but it takes fields with a frame for drawings, and what is written in those the second reads.
const (
	sparse = "11"
	page   = "3"
)

// Words are the words in a picture.
func (r Reader) Words(ctx context.Context, picture *image.RGBA) ([]sight.Word, error) {
	if r.path == "" {
		return nil, ErrAbsent
	}
	ctx, cancel := context.WithTimeout(ctx, longest)
	defer cancel()
	words, err := r.cut(ctx, picture, sparse)
	if err != nil {
		return nil, err
	}
	large, k := enlarged(picture)
	more, err := r.cut(ctx, large, page)
	for i := range more {
		w := &more[i].Rect
		*w = scene.Rect{X: w.X / k, Y: w.Y / k, W: w.W / k, H: w.H / k}
	}
	return joined(words, more), err
}

// enlarged is a picture at twice its size, in which tesseract reads letters of a screen better; a picture that is
// large enough already stays.
func enlarged(picture *image.RGBA) (large *image.RGBA, k float64) {
	size := picture.Rect.Size()
	if size.X > largeEnough || size.Y > largeEnough {
		return picture, 1
	}
	return raster.Scale(picture, picture.Rect, 2*size.X, 2*size.Y), 2
}

const largeEnough = 1600 // pixels

// joined are words and those of some more that lie where none was found, or none that is as sure.
func joined(words, more []sight.Word) []sight.Word {
	out := slices.Clone(words)
	for _, m := range more {
		rival := func(w sight.Word) bool { return !w.Rect.Intersect(m.Rect).Empty() }
		surer := func(w sight.Word) bool { return rival(w) && w.Sure > m.Sure-clearly }
		if m.Sure < trusted || slices.ContainsFunc(words, surer) {
			continue
		}
		out = append(slices.DeleteFunc(out, rival), m)
	}
	return out
}

// Of 100: how sure a word of the second look must be, which else sees words in lines and icons, and how much surer
// than what it takes the place of.
const (
	trusted = 40
	clearly = 15
)

func (r Reader) cut(ctx context.Context, picture *image.RGBA, way string) ([]sight.Word, error) {
	var png bytes.Buffer
	if err := raster.EncodePNG(&png, picture, raster.Quick); err != nil {
		return nil, fmt.Errorf("reading the text in a picture: %w", err)
	}
	cmd := exec.CommandContext(ctx, r.path, "stdin", "stdout", "-l", r.languages, "--psm", way, "tsv")
	cmd.Env = append(os.Environ(), "OMP_THREAD_LIMIT=1")
	cmd.Stdin = &png
	cmd.WaitDelay = time.Second
	var table, said bytes.Buffer
	cmd.Stdout, cmd.Stderr = &table, &said
	if err := cmd.Start(); err != nil {
		return nil, fmt.Errorf("reading the text in a picture: %w", err)
	}
	// Reading can wait; people can't. Where the system refuses, it reads as fast as it can.
	_ = syscall.Setpriority(syscall.PRIO_PROCESS, cmd.Process.Pid, politeness)
	if err := cmd.Wait(); err != nil {
		return nil, fmt.Errorf("reading the text in a picture: %w: %.200s", err, said.String())
	}
	return parse(table.Bytes()), nil
}

const politeness = 15 // of 19

// parse reads tesseract's table: a row for each page, block, paragraph, line and word; words are level 5.
func parse(table []byte) []sight.Word {
	words := []sight.Word{}
	for _, line := range strings.Split(string(table), "\n") {
		f := strings.Split(line, "\t")
		if len(f) != 12 || f[0] != "5" || strings.TrimSpace(f[11]) == "" {
			continue
		}
		var n [5]float64
		ok := true
		for i, s := range []string{f[6], f[7], f[8], f[9], f[10]} {
			v, err := strconv.ParseFloat(s, 64)
			n[i], ok = v, ok && err == nil
		}
		if ok {
			words = append(words, sight.Word{Text: strings.TrimSpace(f[11]), Rect: scene.Rect{X: n[0], Y: n[1], W: n[2], H: n[3]}, Sure: n[4]})
		}
	}
	return words
}

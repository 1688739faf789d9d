// Package face reads font files from outside: TrueType and OpenType, bounded, whole, and allowed to be embedded.
package face

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"time"

	"raconte/core/refusal"
	"raconte/core/text"
	"raconte/engines/confined"

	"github.com/go-text/typesetting/font"
	"github.com/go-text/typesetting/font/opentype"
)

// MostBytes bounds a font file.
const MostBytes = 20 << 20

// About is what is known of a font file.
type About struct {
	Media  string
	Family string
	Cut    string // as people read it: "bold italic"
}

// Check reads a font file, and sets words of every script in it, in a process of its own where that can be; the error
// is a refusal that says what is wrong with it.
func Check(ctx context.Context, data []byte) (About, error) {
	a, err := read(data)
	if err != nil {
		return a, err
	}
	return a, trial(ctx, data)
}

// Own is the command of this program by which a face is tried in a process of its own.
const Own = "try-face"

// limits of the process in which a face is tried.
var limits = confined.Limits{Memory: 4 << 30, Longest: 20 * time.Second, Output: 4096}

// trial sets words in a face: in a process of its own, or, where this program is not the one that knows how to, in this
// one.
func trial(ctx context.Context, data []byte) error {
	own, err := os.Executable()
	if err != nil || filepath.Base(own) != "raconte" {
		return tried(text.Trial(data))
	}
	dir, err := os.MkdirTemp("", "raconte-face-*")
	if err != nil {
		return fmt.Errorf("trying a face: %w", err)
	}
	defer os.RemoveAll(dir)
	file := filepath.Join(dir, "face")
	if err := os.WriteFile(file, data, 0o600); err != nil {
		return fmt.Errorf("trying a face: %w", err)
	}
	_, said, err := confined.Run(ctx, limits, own, Own, file)
	if err != nil && ctx.Err() == nil && said != "" {
		err = errors.Join(err, errors.New(said))
	}
	if ctx.Err() != nil {
		return ctx.Err()
	}
	return tried(err)
}

func tried(err error) error {
	if err == nil {
		return nil
	}
	return errors.Join(refusal.New("The face is damaged: words set in it end whatever sets them. Take another copy of it from its maker."), err)
}

func read(data []byte) (About, error) {
	var a About
	if len(data) > MostBytes {
		return a, refusal.New("A face has at most %d MB.", MostBytes>>20)
	}
	kinds := map[string]string{"\x00\x01\x00\x00": "font/ttf", "true": "font/ttf", "OTTO": "font/otf"}
	if len(data) < 12 {
		return a, refusal.New("The file is no face: TTF and OTF files are read.")
	}
	a.Media = kinds[string(data[:4])]
	if a.Media == "" {
		return a, refusal.New("The file is no face: TTF and OTF files are read.")
	}
	ld, err := opentype.NewLoader(bytes.NewReader(data))
	if err != nil {
		return a, refusal.New("The face is broken: its tables can't be read.")
	}
	if os2, err := ld.RawTable(opentype.MustNewTag("OS/2")); err == nil && len(os2) > 10 {
		// OpenType's fsType: bit 1 alone is “restricted license embedding”.
		if binary.BigEndian.Uint16(os2[8:])&0xf == 2 {
			return a, refusal.New("Its maker does not allow this face to be embedded in files.")
		}
	}
	if _, err := ld.RawTable(opentype.MustNewTag("fvar")); err == nil {
		return a, refusal.New("The face is a variable one. Take the files of its single weights.")
	}
	parsed, err := font.ParseTTF(bytes.NewReader(data))
	if err != nil {
		return a, refusal.New("The face is broken: its letters can't be read.")
	}
	letter, ok := parsed.NominalGlyph('a')
	if !ok {
		return a, refusal.New("The face has no letter a: it is no face for words.")
	}
	_, err = ld.RawTable(opentype.MustNewTag("CFF "))
	if drawn, is := parsed.GlyphData(letter).(font.GlyphOutline); !is || len(drawn.Segments) == 0 || (err == nil) != (a.Media == "font/otf") {
		return a, refusal.New("The face is broken: its letters can't be read.")
	}
	d := parsed.Describe()
	a.Family, a.Cut = text.Plain(d.Family), "regular"
	bold, italic := d.Aspect.Weight >= font.WeightSemibold, d.Aspect.Style == font.StyleItalic
	switch {
	case bold && italic:
		a.Cut = "bold italic"
	case bold:
		a.Cut = "bold"
	case italic:
		a.Cut = "italic"
	}
	return a, nil
}

// Package text knows fonts: which face shows a character, how wide words are, where lines may
// break, and what outlines the letters have. It knows nothing of documents.
//
// The family of the application is built in. Faces for other scripts are large; whoever runs the
// core hands them in with Offer (the server) or Register (the browser, when Missing names one).
package text

import (
	"bytes"
	"embed"
	"fmt"
	"strings"
	"sync"
	"unicode"

	"github.com/go-text/typesetting/font"
)

// The faces of the application's own family, and those that stand in for scripts it lacks.
const (
	Regular    = "regular"
	Bold       = "bold"
	Italic     = "italic"
	BoldItalic = "bold-italic"
	Mono       = "mono"
	MonoBold   = "mono-bold"
	Wide       = "wide"      // Latin extended, Greek, Cyrillic
	WideBold   = "wide-bold" //
	Han        = "han"       // Chinese, Japanese
	HanBold    = "han-bold"  //
	Arabic     = "arabic"
	ArabicBold = "arabic-bold"
	Hebrew     = "hebrew"
	HebrewBold = "hebrew-bold"
	Emoji      = "emoji" // one colour, one weight
)

//go:embed faces/*.ttf
var builtIn embed.FS

type face struct {
	name string
	ttf  []byte
	font *font.Face
	mu   sync.Mutex // a font.Face keeps caches and is not safe for use by several goroutines
	runs map[run]shaped
	kept int // letters in runs
}

var (
	facesMu sync.RWMutex
	faces   = map[string]*face{}
	offered = map[string]func(){} // each reads a face, once
)

func init() {
	for _, name := range []string{Regular, Bold, Italic, BoldItalic, Mono, MonoBold} {
		ttf, err := builtIn.ReadFile("faces/" + name + ".ttf")
		if err == nil {
			err = Register(name, ttf)
		}
		if err != nil {
			panic(fmt.Sprintf("text: built-in face %s: %v", name, err))
		}
	}
}

// Register makes a TrueType face known under a name. Registering a name again replaces it.
func Register(name string, ttf []byte) error {
	parsed, err := font.ParseTTF(bytes.NewReader(ttf))
	if err != nil {
		return fmt.Errorf("reading the font %s: %w", name, err)
	}
	facesMu.Lock()
	defer facesMu.Unlock()
	faces[name] = &face{name: name, ttf: ttf, font: parsed, runs: map[run]shaped{}}
	return nil
}

// Offer makes a face known that is read when the first text needs it. One that can't be read then is a fault of the
// program, and panics.
func Offer(name string, read func() ([]byte, error)) {
	facesMu.Lock()
	defer facesMu.Unlock()
	offered[name] = sync.OnceFunc(func() {
		ttf, err := read()
		if err == nil {
			err = Register(name, ttf)
		}
		if err != nil {
			panic(fmt.Sprintf("text: the face %s: %v", name, err))
		}
	})
}

// TTF is the file of a face, or nil where it is not registered.
func TTF(name string) []byte {
	if f := lookup(name); f != nil {
		return f.ttf
	}
	return nil
}

func lookup(name string) *face {
	f, read := known(name)
	if f == nil && read != nil {
		read()
		f, _ = known(name)
	}
	return f
}

func known(name string) (*face, func()) {
	facesMu.RLock()
	defer facesMu.RUnlock()
	return faces[name], offered[name]
}

const houses = "house:"

// House is the name of a face of the house that stands for one that ships; file is its SHA-256.
func House(name, file string) string { return houses + name + ":" + file }

// substitutes are the faces tried, in order, for a character that a face lacks.
func substitutes(name string) [2]string {
	if own, _, house := strings.Cut(strings.TrimPrefix(name, houses), ":"); house {
		name = own
	}
	switch name {
	case Bold, BoldItalic, MonoBold:
		return [2]string{WideBold, HanBold}
	}
	return [2]string{Wide, Han}
}

func (f *face) has(r rune) bool {
	_, ok := f.font.NominalGlyph(r)
	return ok
}

// foreign tells whether a letter belongs to a script of which the family has a few letters only, such as a
// mu for units: a word set half in one face and half in another reads badly.
func foreign(r rune) bool { return unicode.In(r, unicode.Greek, unicode.Cyrillic) }

// special is the face of a script, or of signs, that no other face has; "" of all others.
func special(r rune, bold bool) string {
	pick := func(usual, heavy string) string {
		if bold {
			return heavy
		}
		return usual
	}
	switch {
	case r < 0x590:
		return ""
	case unicode.Is(unicode.Arabic, r):
		return pick(Arabic, ArabicBold)
	case unicode.Is(unicode.Hebrew, r):
		return pick(Hebrew, HebrewBold)
	case r >= 0x2300 && r < 0x2c00, r >= 0x1f000 && r < 0x20000: // symbols
		return Emoji
	}
	return ""
}

// candidates are the faces to try for a character, best first; "" is none.
func candidates(name string, r rune) [4]string {
	s := substitutes(name)
	own := special(r, s[0] == WideBold)
	switch {
	case own == Arabic, own == ArabicBold: // a word half in one face and half in another does not join
		return [4]string{own, name, s[0], s[1]}
	case foreign(r):
		return [4]string{s[0], s[1], name, own}
	}
	return [4]string{name, s[0], s[1], own}
}

// rightToLeft are the faces of scripts that are written so.
var rightToLeft = map[string]bool{Arabic: true, ArabicBold: true, Hebrew: true, HebrewBold: true}

// joins tells whether a character belongs to the one before it: what makes one sign of several, and what stands above
// or below a letter.
func joins(r rune) bool {
	return r >= 0x300 && (unicode.In(r, unicode.Mn, unicode.Me) || r == 0x200c || r == 0x200d || r >= 0x1f3fb && r <= 0x1f3ff)
}

// Run is a stretch of text that one face can show.
type Run struct{ Face, Text string }

// Runs splits text into stretches by the face that has each character, preferring the named face.
// A character that no registered face has stays with the named face and shows as an empty box.
func Runs(name, text string) []Run {
	if lookup(name) == nil {
		name = Regular
	}
	var runs []Run
	start := 0
	for i, r := range text {
		use := name
		if n := len(runs); n > 0 && joins(r) && (lookup(runs[n-1].Face).has(r) || !unicode.IsMark(r) || r >= 0xfe00 && r <= 0xfe0f) {
			continue
		}
		if n := len(runs); n > 0 && r == ' ' && rightToLeft[runs[n-1].Face] {
			continue // words of one face with what is between them are one
		}
		if n := len(runs); n > 0 && strings.HasSuffix(text[:i], "\u200d") && runs[n-1].Face == Emoji {
			continue // joined to the sign before
		}
		for _, c := range candidates(name, r) {
			if f := lookup(c); f != nil && f.has(r) {
				use = c
				break
			}
		}
		if n := len(runs); n == 0 || runs[n-1].Face != use {
			if n > 0 {
				runs[n-1].Text = text[start:i]
			}
			runs, start = append(runs, Run{Face: use}), i
		}
	}
	if n := len(runs); n > 0 {
		runs[n-1].Text = text[start:]
	}
	return runs
}

// Missing names the substitute faces, the likelier first, that text set in the named face might need
// and that are not registered yet.
func Missing(name, text string) []string {
	if lookup(name) == nil {
		name = Regular
	}
	for _, r := range text {
		var names []string
		for _, c := range candidates(name, r) {
			f := lookup(c)
			if f != nil && f.has(r) {
				break
			}
			if f == nil && c != "" {
				names = append(names, c)
			}
		}
		if len(names) > 0 {
			return names
		}
	}
	return nil
}

package document

import (
	"errors"
	"slices"
	"unicode/utf8"
)

// Film is how a document is told as a film. The zero Film is the usual one.
type Film struct {
	Size     string `json:"size,omitempty"`     // "" is 1920 × 1080; "720p" 1280 × 720; "upright" 1080 × 1920
	Captions string `json:"captions,omitempty"` // "" is a track that can be shown; "picture" in the picture; "both"; "none"
	Pace     int    `json:"pace,omitempty"`     // of a synthetic voice, in percent of its usual; 0 is 100
	Pause    int    `json:"pause,omitempty"`    // milliseconds of silence around what is said; 0 is Pause
	Still    bool   `json:"still,omitempty"`    // pictures stay whole: nothing moves to where the marks are
	Silent   bool   `json:"silent,omitempty"`   // without a synthetic voice
	Within   bool   `json:"within,omitempty"`   // linked procedures are told within it; else a card names them
	Offered  bool   `json:"offered,omitempty"`  // readers can watch it
}

// Told is how a block is told in a film. The zero Told is told where the film proposes it, by its own words.
type Told struct {
	Show  string `json:"show,omitempty"`  // "in" or "out"; "" as proposed
	Said  string `json:"said,omitempty"`  // what is spoken, where that is not its words
	Voice *Voice `json:"voice,omitempty"` // spoken by a person
}

// Voice is a recording of what is said. Its file is kept beside the document, by its SHA-256.
type Voice struct {
	SHA256 string `json:"sha256"`
	Ms     int    `json:"ms"` // how long it is
}

// The usual times and limits of a film, in milliseconds, and of what is said, in characters.
const (
	Pause       = 600
	mostPause   = 10_000
	longestSaid = 4000
	mostVoice   = 10 * 60 * 1000
)

// The sizes of films by their names.
var filmSizes = map[string][2]int{"": {1920, 1080}, "720p": {1280, 720}, "upright": {1080, 1920}}

// Pixels are the width and height of the film.
func (f Film) Pixels() (w, h int) {
	s := filmSizes[f.Size]
	return s[0], s[1]
}

// Around is the silence around what is said, in milliseconds.
func (f Film) Around() int {
	if f.Pause == 0 {
		return Pause
	}
	return f.Pause
}

// Check tells what is wrong with how a document is told as a film.
func (f *Film) Check() error {
	if f == nil {
		return nil
	}
	_, known := filmSizes[f.Size]
	captions := f.Captions == "" || f.Captions == "picture" || f.Captions == "both" || f.Captions == "none"
	if !known || !captions || f.Pace != 0 && (f.Pace < 50 || f.Pace > 200) || f.Pause < 0 || f.Pause > mostPause {
		return errors.New("how it is told as a film can't be right")
	}
	return nil
}

func (t *Told) check() error {
	if t == nil {
		return nil
	}
	bad := t.Show != "" && t.Show != "in" && t.Show != "out" || utf8.RuneCountInString(t.Said) > longestSaid
	if v := t.Voice; v != nil {
		bad = bad || !isSHA.MatchString(v.SHA256) || v.Ms < 1 || v.Ms > mostVoice
	}
	if bad {
		return errors.New("how it is told in a film can't be right")
	}
	return nil
}

// Voices are the recordings of what is said, by their SHA-256, each once: of blocks, and instead of the sound of clips.
func (d Document) Voices() []string {
	var all []string
	seen := map[string]bool{}
	add := func(sha string) {
		if sha != "" && !seen[sha] {
			seen[sha] = true
			all = append(all, sha)
		}
	}
	for _, b := range d.Blocks {
		if b.Film != nil && b.Film.Voice != nil {
			add(b.Film.Voice.SHA256)
		}
		for _, f := range b.Figures {
			if f.Clip != nil {
				add(f.Clip.Voice)
			}
		}
	}
	return all
}

// OnlyVoices is the document without the voices that are not to be kept.
func (d Document) OnlyVoices(keep func(sha string) bool) Document {
	d.Blocks = slices.Clone(d.Blocks)
	for i, b := range d.Blocks {
		if b.Film != nil && b.Film.Voice != nil && !keep(b.Film.Voice.SHA256) {
			told := *b.Film
			told.Voice = nil
			d.Blocks[i].Film = &told
		}
		for j, f := range b.Figures {
			if f.Clip != nil && f.Clip.Voice != "" && !keep(f.Clip.Voice) {
				d.Blocks[i].Figures = slices.Clone(d.Blocks[i].Figures)
				clip := *f.Clip
				clip.Voice = ""
				d.Blocks[i].Figures[j].Clip = &clip
			}
		}
	}
	return d
}

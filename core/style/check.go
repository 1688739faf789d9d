package style

import (
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"
)

const (
	longestName = 80  // characters of a name
	longestBand = 200 // characters of each part of a header or footer
	longestWord = 60  // characters of a word that is printed
	smallestW   = 200.0
	largestW    = 2400.0 // points: A0 is 2384 wide
	least       = 20.0   // points of each margin
)

var (
	isColor = regexp.MustCompile(`^#[0-9a-fA-F]{6}$`)
	isSHA   = regexp.MustCompile(`^[0-9a-f]{64}$`)
)

// Check tells what is wrong with a style that came from outside; nil where nothing is.
func (s Style) Check() error {
	if n := utf8.RuneCountInString(strings.TrimSpace(s.Name)); n == 0 || n > longestName || !line(s.Name, longestName) {
		return fmt.Errorf("a style needs a name of one line and at most %d characters", longestName)
	}
	if said[s.Language] == nil {
		return fmt.Errorf("there is no language %q to print in", s.Language)
	}
	if err := s.sheet(); err != nil {
		return err
	}
	for _, sha := range s.Faces.All() {
		if !isSHA.MatchString(sha) {
			return errors.New("a face is not named by its file")
		}
	}
	if !within(s.Size, 6, 24) {
		return errors.New("words are 6 to 24 points large")
	}
	for _, c := range []string{s.Colors.Text, s.Colors.Soft, s.Colors.Line, s.Colors.Accent, s.Colors.Shade} {
		if !isColor.MatchString(c) {
			return fmt.Errorf("%q is no colour such as #0b5f66", c)
		}
	}
	if l := s.Logo; l != nil && (!isSHA.MatchString(l.SHA256) || l.Width < 1 || l.Pixels < 1 || !within(l.Height, 8, 200) || !line(l.Alt, longestBand)) {
		return errors.New("the logo has no file, or is not 8 to 200 points high")
	}
	for _, b := range []string{s.Header.Left, s.Header.Middle, s.Header.Right, s.Footer.Left, s.Footer.Middle, s.Footer.Right} {
		if !line(b, longestBand) {
			return fmt.Errorf("a part of the header or footer is longer than %d characters, or no line", longestBand)
		}
	}
	if !s.Layout.Known() {
		return fmt.Errorf("there is no layout %q", s.Layout)
	}
	if !within(s.Steps.Share, 0.3, 0.75) || !within(s.Steps.Largest, 0.2, 1.5) || !within(s.Steps.Band, 40, 300) {
		return errors.New("pictures take 0.3 to 0.75 of the width, 0.2 to 1.5 points a pixel, and bands are 40 to 300 points high")
	}
	return s.choices()
}

// sheet tells what is wrong with paper and margins.
func (s Style) sheet() error {
	w, h := s.Paper.Size()
	if _, known := papers[s.Paper.Name]; !known && s.Paper.Name != "own" {
		return fmt.Errorf("there is no paper %q", s.Paper.Name)
	}
	if !within(w, smallestW, largestW) || !within(h, smallestW, largestW) {
		return fmt.Errorf("paper is %.0f to %.0f points (%.0f to %.0f mm) wide and high", smallestW, largestW, smallestW*25.4/72, largestW*25.4/72)
	}
	m := s.Margins
	for _, v := range []float64{m.Top, m.Right, m.Bottom, m.Left} {
		if !within(v, least, largestW) {
			return fmt.Errorf("a margin is narrower than %.0f points", least)
		}
	}
	if w-m.Left-m.Right < 150 || h-m.Top-m.Bottom < 150 {
		return errors.New("the margins leave less than 150 points (53 mm) for what is printed")
	}
	return nil
}

// choices tells what is wrong with what is chosen from a few.
func (s Style) choices() error {
	of := func(what, v string, all ...string) error {
		if !slices.Contains(all, v) {
			return fmt.Errorf("there is no such %s as %q", what, v)
		}
		return nil
	}
	if err := errors.Join(
		of("title page", string(s.Title), string(ManualsTitled), string(AllTitled), string(NoneTitled)),
		of("contents", string(s.Contents), string(ListSteps), string(ListSections), string(ListNothing)),
		of("frame", string(s.Steps.Frame), string(Hairline), string(Line), string(NoFrame)),
		of("look of signal words", string(s.Notices), string(Across), string(Beside)),
	); err != nil {
		return err
	}
	for _, key := range slices.Sorted(maps.Keys(s.Words)) {
		if _, known := said[English][key]; !known {
			return fmt.Errorf("no word %q is printed", key)
		}
		if !line(s.Words[key], longestWord) {
			return fmt.Errorf("a word that is printed is longer than %d characters, or no line", longestWord)
		}
	}
	return nil
}

// Read reads a style that was exported; the error says what is wrong with it.
func Read(raw []byte) (Style, error) {
	s := Default()
	if err := json.Unmarshal(raw, &s); err != nil {
		return Style{}, fmt.Errorf("the file is no house style: %w", err)
	}
	if s.Format > Format {
		return Style{}, fmt.Errorf("the style is of format %d; this Raconte reads up to %d", s.Format, Format)
	}
	s.Format = Format
	return s, s.Check()
}

func within(v, from, to float64) bool { return v >= from && v <= to } // false of no number

func line(s string, most int) bool {
	return utf8.ValidString(s) && utf8.RuneCountInString(s) <= most && !strings.ContainsAny(s, "\n\r\x00")
}

package text

import (
	"slices"

	"raconte/core/scene"

	"github.com/go-text/typesetting/di"
	"github.com/go-text/typesetting/font"
	"github.com/go-text/typesetting/font/opentype"
	"github.com/go-text/typesetting/language"
	"github.com/go-text/typesetting/shaping"
	"golang.org/x/image/math/fixed"
)

type glyph struct {
	id     font.GID
	x, y   float64 // where it is drawn, in ems from the run's start
	letter int     // the first of those it stands for, counted from the run's start
	before float64 // the width of what is read before it, in ems
	start  float64 // the width of what stands at its left
}

type shaped struct {
	glyphs []glyph
	width  float64 // in ems
}

// keptLetters bounds the memory of shaped runs of one face, 24 bytes a letter; a manual's different words have far
// fewer. Runs longer than longestKept are rarely met twice.
const (
	keptLetters = 200_000
	longestKept = 200
)

// shape lays out a run of one face in one direction; callers hold no lock. Its glyphs come from left to right.
func (f *face) shape(text string, rtl bool) shaped {
	f.mu.Lock()
	defer f.mu.Unlock()
	key := run{text, rtl}
	if s, ok := f.runs[key]; ok {
		return s
	}
	runes := []rune(text)
	upem := float64(f.font.Upem())
	script := language.Latin
	for _, r := range runes {
		if s := language.LookupScript(r); s != language.Common && s != language.Inherited {
			script = s
			break
		}
	}
	direction := di.DirectionLTR
	if rtl {
		direction = di.DirectionRTL
	}
	var shaper shaping.HarfbuzzShaper
	out := shaper.Shape(shaping.Input{
		Text: runes, RunEnd: len(runes), Direction: direction, Face: f.font,
		Size: fixed.I(int(upem)), Script: script, Language: language.NewLanguage("en"),
	})
	s := shaped{glyphs: make([]glyph, 0, len(out.Glyphs))}
	for _, g := range out.Glyphs {
		s.glyphs = append(s.glyphs, glyph{
			id: g.GlyphID, x: s.width + float64(g.XOffset)/64/upem, y: float64(g.YOffset) / 64 / upem, letter: g.TextIndex(), before: s.width, start: s.width,
		})
		s.width += float64(g.Advance) / 64 / upem
	}
	if rtl { // what comes before a letter stands at its right
		for i := range s.glyphs {
			after := s.width
			if i+1 < len(s.glyphs) {
				after = s.glyphs[i+1].start
			}
			s.glyphs[i].before = s.width - after
		}
	}
	if len(runes) > longestKept {
		return s
	}
	if f.kept += len(runes) + 1; f.kept > keptLetters {
		clear(f.runs)
		f.kept = len(runes) + 1
	}
	f.runs[key] = s
	return s
}

// run is a text that is set in one direction.
type run struct {
	text string
	rtl  bool
}

// Width is how wide text is in the named face at size, in the unit of size.
func Width(name string, size float64, text string) float64 {
	if !Turned(text) {
		return widthOf(name, text, false) * size
	}
	w := 0.0
	for _, s := range Stretches(text, Levels(text, RightToLeft(text))) {
		w += widthOf(name, s.Text, s.Level%2 == 1)
	}
	return w * size
}

// StretchWidth is how wide a text of one direction is.
func StretchWidth(name string, size float64, text string, rtl bool) float64 {
	return widthOf(name, text, rtl) * size
}

// widthOf is the width of a text of one direction, in ems.
func widthOf(name, text string, rtl bool) float64 {
	w := 0.0
	for _, run := range Runs(name, text) {
		w += lookup(run.Face).shape(run.Text, rtl).width
	}
	return w
}

// Line is the text as words placed with their left end at (x, baseline): one for each face and direction it needs, in
// the order in which they are read.
func Line(name string, size, x, baseline float64, text string, fill scene.Color) []scene.Words {
	if !Turned(text) {
		return Stretch(name, size, x, baseline, text, false, fill)
	}
	parts := Stretches(text, Levels(text, RightToLeft(text)))
	levels := make([]uint8, len(parts))
	for i, p := range parts {
		levels[i] = p.Level
	}
	placed := make([][]scene.Words, len(parts))
	for _, i := range Visual(levels) {
		placed[i] = Stretch(name, size, x, baseline, parts[i].Text, parts[i].Level%2 == 1, fill)
		for _, w := range placed[i] {
			x += w.Width
		}
	}
	return slices.Concat(placed...)
}

// Stretch is a text of one direction as words placed with their left end at (x, baseline), one for each face it needs.
func Stretch(name string, size, x, baseline float64, text string, rtl bool, fill scene.Color) []scene.Words {
	var words []scene.Words
	for _, run := range Runs(name, text) {
		w := lookup(run.Face).shape(run.Text, rtl).width * size
		words = append(words, scene.Words{
			Face: run.Face, Size: size, X: x, Baseline: baseline, Width: w, Text: run.Text, RTL: rtl, Fill: fill,
		})
		x += w
	}
	if rtl && len(words) > 1 { // the first stands at the right
		for i := range words {
			x -= words[i].Width
			words[i].X = x
		}
	}
	return words
}

// Outline is the letters of placed words as one outline.
func Outline(w scene.Words) scene.Outline {
	f := lookup(w.Face)
	if f == nil {
		return nil
	}
	s := f.shape(w.Text, w.RTL)
	f.mu.Lock()
	defer f.mu.Unlock()
	var o scene.Outline
	for _, g := range s.glyphs {
		o = f.form(o, g.id, scene.Point{X: w.X + g.x*w.Size, Y: w.Baseline - g.y*w.Size}, w.Size)
	}
	return o
}

// Form is the outline of a glyph of a face at a place and a size, in the unit of the size; nil where the face is not
// known.
func Form(name string, glyph uint16, at scene.Point, size float64) scene.Outline {
	f := lookup(name)
	if f == nil {
		return nil
	}
	f.mu.Lock()
	defer f.mu.Unlock()
	return f.form(nil, font.GID(glyph), at, size)
}

// form appends the outline of a glyph; callers hold the lock.
func (f *face) form(o scene.Outline, id font.GID, at scene.Point, size float64) scene.Outline {
	data, ok := f.font.GlyphData(id).(font.GlyphOutline)
	if !ok {
		return o
	}
	k := size / float64(f.font.Upem())
	open := false
	for _, seg := range data.Segments {
		var out scene.Seg
		switch seg.Op {
		case opentype.SegmentOpMoveTo:
			if open {
				o = append(o, scene.Seg{Op: 'Z'})
			}
			open, out.Op = true, 'M'
		case opentype.SegmentOpLineTo:
			out.Op = 'L'
		case opentype.SegmentOpQuadTo:
			out.Op = 'Q'
		default:
			out.Op = 'C'
		}
		for i, p := range seg.ArgsSlice() {
			out.P[i] = scene.Point{X: at.X + float64(p.X)*k, Y: at.Y - float64(p.Y)*k}
		}
		o = append(o, out)
	}
	if open {
		o = append(o, scene.Seg{Op: 'Z'})
	}
	return o
}

// Ascent and Descent of the application's family as shares of the size: where lines are placed.
const (
	Ascent  = 0.95
	Descent = 0.29
	CapTop  = 0.668 // height of capitals
)

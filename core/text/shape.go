package text

import (
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
	before float64 // the width of what comes before it, in ems
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

// shape lays out a run of one face; callers hold no lock.
func (f *face) shape(text string) shaped {
	f.mu.Lock()
	defer f.mu.Unlock()
	if s, ok := f.runs[text]; ok {
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
	var shaper shaping.HarfbuzzShaper
	out := shaper.Shape(shaping.Input{
		Text: runes, RunEnd: len(runes), Direction: di.DirectionLTR, Face: f.font,
		Size: fixed.I(int(upem)), Script: script, Language: language.NewLanguage("en"),
	})
	s := shaped{glyphs: make([]glyph, 0, len(out.Glyphs))}
	for _, g := range out.Glyphs {
		s.glyphs = append(s.glyphs, glyph{
			id: g.GlyphID, x: s.width + float64(g.XOffset)/64/upem, y: float64(g.YOffset) / 64 / upem, letter: g.TextIndex(), before: s.width,
		})
		s.width += float64(g.Advance) / 64 / upem
	}
	if len(runes) > longestKept {
		return s
	}
	if f.kept += len(runes) + 1; f.kept > keptLetters {
		clear(f.runs)
		f.kept = len(runes) + 1
	}
	f.runs[text] = s
	return s
}

// Width is how wide text is in the named face at size, in the unit of size.
func Width(name string, size float64, text string) float64 {
	w := 0.0
	for _, run := range Runs(name, text) {
		w += lookup(run.Face).shape(run.Text).width
	}
	return w * size
}

// Line is the text as words placed with their start at (x, baseline): one for each face it needs.
func Line(name string, size, x, baseline float64, text string, fill scene.Color) []scene.Words {
	var words []scene.Words
	for _, run := range Runs(name, text) {
		w := lookup(run.Face).shape(run.Text).width * size
		words = append(words, scene.Words{
			Face: run.Face, Size: size, X: x, Baseline: baseline, Width: w, Text: run.Text, Fill: fill,
		})
		x += w
	}
	return words
}

// Outline is the letters of placed words as one outline.
func Outline(w scene.Words) scene.Outline {
	f := lookup(w.Face)
	if f == nil {
		return nil
	}
	s := f.shape(w.Text)
	f.mu.Lock()
	defer f.mu.Unlock()
	k := w.Size / float64(f.font.Upem())
	var o scene.Outline
	for _, g := range s.glyphs {
		data, ok := f.font.GlyphData(g.id).(font.GlyphOutline)
		if !ok {
			continue
		}
		x, y := w.X+g.x*w.Size, w.Baseline-g.y*w.Size
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
				out.P[i] = scene.Point{X: x + float64(p.X)*k, Y: y - float64(p.Y)*k}
			}
			o = append(o, out)
		}
		if open {
			o = append(o, scene.Seg{Op: 'Z'})
		}
	}
	return o
}

// Ascent and Descent of the application's family as shares of the size: where lines are placed.
const (
	Ascent  = 0.95
	Descent = 0.29
	CapTop  = 0.668 // height of capitals
)

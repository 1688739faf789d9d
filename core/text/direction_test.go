package text_test

import (
	"math/rand/v2"
	"strings"
	"testing"

	"raconte/core/scene"
	"raconte/core/text"
	"raconte/engines/fonts"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/text/unicode/bidi"
)

// TestDirectionsAreThoseOfTheStandardLibrary holds the levels against golang.org/x/text/unicode/bidi, which tells
// directions and no levels. Pairs of brackets are held against the examples of UAX #9 (N0) below.
func TestDirectionsAreThoseOfTheStandardLibrary(t *testing.T) {
	signs := []rune("abZ אבג بجد ١٢ 12,345.6 +-$%/:<>«»!? \u0301\u064b\u200e\u200f—…")
	random := rand.New(rand.NewPCG(1, 2))
	for range 20_000 {
		var line strings.Builder
		for range 1 + random.IntN(14) {
			line.WriteRune(signs[random.IntN(len(signs))])
		}
		for _, rtl := range []bool{false, true} {
			var p bidi.Paragraph
			way := bidi.LeftToRight
			if rtl {
				way = bidi.RightToLeft
			}
			_, err := p.SetString(line.String(), bidi.DefaultDirection(way))
			require.NoError(t, err)
			base := rtl || text.RightToLeft(line.String()) // the library takes RightToLeft as said, and looks otherwise
			order, err := p.Order()
			require.NoError(t, err)
			levels := text.Levels(line.String(), base)
			at := 0
			for n := range order.NumRuns() {
				run := order.Run(n)
				for range []rune(run.String()) {
					assert.Equal(t, run.Direction() == bidi.RightToLeft, levels[at]%2 == 1, "%q at %d", line.String(), at)
					at++
				}
			}
			if t.Failed() {
				return
			}
		}
	}
}

func TestBracketsGoWithWhatIsInThem(t *testing.T) {
	for line, want := range map[string]string{ // levels, as the examples of N0 have them
		"אב(גד[&ef]!)gh":           "11111112211122",
		"smith (fabrikam אבג) דהו": "000000000000000011100111",
		"אב (א)c":                  "1111112",
		"a(ב)c]":                   "001000",
	} {
		var got strings.Builder
		for _, l := range text.Levels(line, text.RightToLeft(line)) {
			got.WriteByte('0' + l)
		}
		assert.Equal(t, want, got.String(), line)
	}
}

func TestWordsStandWhereTheirDirectionPutsThem(t *testing.T) {
	fonts.Register()
	placed := func(line string) (said []string) {
		words := text.Line(text.Regular, 10, 0, 0, line, scene.Color{})
		var read strings.Builder
		width := 0.0
		for _, w := range words {
			read.WriteString(w.Text)
			width += w.Width
		}
		assert.Equal(t, line, read.String(), "in the order in which they are read")
		assert.InDelta(t, text.Width(text.Regular, 10, line), width, 0.01)
		for x := 0.0; x < width-0.01; { // from left to right
			found := false
			for _, w := range words {
				if w.X-x < 0.01 && x-w.X < 0.01 && w.Width > 0 {
					said, x, found = append(said, w.Text), x+w.Width, true
				}
			}
			require.True(t, found, "nothing stands at %g in %q", x, line)
		}
		return said
	}
	// The examples are those of UAX #9, with Hebrew for what is in capitals there.
	assert.Equal(t, []string{"car is ", "מכונית", " in arabic"}, placed("car is מכונית in arabic"))
	assert.Equal(t, []string{"car", "מכונית ", " "}, placed(" מכונית car"))
	assert.Equal(t, []string{" (", "123", "שלום "}, placed("שלום 123 ("))
	assert.Equal(t, []string{"a ", "123", "שלום ", " b"}, placed("a שלום 123 b"))
	arabic := text.Line(text.Bold, 10, 0, 0, "الوزن", scene.Color{})
	require.Len(t, arabic, 1)
	assert.Equal(t, text.ArabicBold, arabic[0].Face)
	var letters []string
	for _, g := range text.Glyphs(arabic[0]) {
		if g.Text != "" { // a letter may be drawn in parts
			letters = append(letters, g.Text)
		}
	}
	assert.Equal(t, []string{"ن", "ز", "و", "ل", "ا"}, letters, "the last letter stands at the left")
	assert.NotEmpty(t, text.Outline(arabic[0]))
	alone := text.Width(text.Bold, 10, "ا") + text.Width(text.Bold, 10, "ل")
	assert.Less(t, text.Width(text.Bold, 10, "لا"), alone, "letters join")
	signs := text.Line(text.Regular, 10, 0, 0, "ok 👍🏽 ✅", scene.Color{})
	assert.Equal(t, text.Emoji, signs[1].Face)
	for _, g := range text.Glyphs(signs[1]) {
		assert.NotZero(t, g.ID)
	}
}

package text_test

import (
	"strings"
	"testing"

	"raconte/core/scene"
	"raconte/core/text"
	"raconte/engines/fonts"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestBreaksFollowUAX14(t *testing.T) {
	for in, want := range map[string][]string{
		"":                        nil,
		"one two":                 {"one ", "two"},
		"4 °C, then":              {"4 ", "°C, ", "then"},
		"no\u00a0break here":      {"no\u00a0break ", "here"},
		"well-known":              {"well-", "known"},
		"a/b":                     {"a/", "b"},
		"「温度」です":                  {"「温", "度」", "で", "す"},
		"press \uFFFC.":           {"press ", "\uFFFC."},
		"https://a.example/b?c=d": {"https://", "a.example/", "b?", "c=d"},
	} {
		got := text.Breaks(in)
		assert.Equal(t, strings.Join(want, "|"), strings.Join(got, "|"), in)
		assert.Equal(t, in, strings.Join(got, ""), "nothing is lost")
	}
}

func TestWrapKeepsEveryLetterAndTheWidth(t *testing.T) {
	for _, in := range []string{
		"Receive a lot into a cold room and stick the label on the first bin.",
		strings.Repeat("x", 200), "a\n\nb", "Donaudampfschifffahrtsgesellschaft is one word", "", " leading",
	} {
		for _, width := range []float64{12, 40, 90, 400} {
			lines := text.Wrap(text.Regular, 10, width, in)
			strip := func(s string) string { return strings.NewReplacer(" ", "", "\n", "").Replace(s) }
			assert.Equal(t, strip(in), strip(strings.Join(lines, "")), "width %v", width)
			for _, l := range lines {
				if len([]rune(l)) > 1 {
					assert.LessOrEqual(t, text.Width(text.Regular, 10, l), width+0.01, "%q", l)
				}
			}
		}
	}
	assert.Equal(t, []string{"a", "", "b"}, text.Wrap(text.Regular, 10, 400, "a\n\nb"))
}

func TestShorten(t *testing.T) {
	assert.Equal(t, "short", text.Shorten(text.Regular, 10, 500, "short"))
	cut := text.Shorten(text.Regular, 10, 60, "a long sentence that does not fit")
	assert.True(t, strings.HasSuffix(cut, "…"))
	assert.LessOrEqual(t, text.Width(text.Regular, 10, cut), 60.0)
}

func TestWidthsScaleAndKern(t *testing.T) {
	assert.InDelta(t, 4*text.Width(text.Bold, 10, "Rooms"), text.Width(text.Bold, 40, "Rooms"), 1e-9)
	assert.Less(t, text.Width(text.Regular, 100, "AV"), text.Width(text.Regular, 100, "A")+text.Width(text.Regular, 100, "V"), "the pair is kerned")
	assert.InDelta(t, text.Width(text.Mono, 10, "iiii"), text.Width(text.Mono, 10, "WWWW"), 1e-9)
}

func TestOtherScriptsComeFromOtherFaces(t *testing.T) {
	fonts.Register()
	faces := func(face, s string) (out []string) {
		for _, r := range text.Runs(face, s) {
			out = append(out, r.Face+" "+r.Text)
		}
		return out
	}
	assert.Equal(t, []string{"regular Wärme ", "wide Καλημέρα", "regular  ", "han 温度", "regular !"}, faces(text.Regular, "Wärme Καλημέρα 温度!"))
	assert.Equal(t, []string{"wide-bold да"}, faces(text.Bold, "да"))
	assert.Equal(t, []string{"regular x"}, faces("no such face", "x"))
	assert.Empty(t, text.Missing(text.Regular, "Wärme Καλημέρα 温度"))
	for _, s := range []string{"Wärme", "Καλημέρα", "доброе", "温度"} {
		x := 5.0
		for _, w := range text.Line(text.Regular, 20, 5, 30, s, scene.Hex("#000000")) {
			assert.InDelta(t, x, w.X, 1e-9)
			b := text.Outline(w).Bounds()
			require.False(t, b.Empty(), s)
			assert.InDelta(t, 30-10, b.Y+b.H/2, 10, s)
			assert.InDelta(t, w.Width, b.W, 6, s)
			x += w.Width
		}
		assert.InDelta(t, text.Width(text.Regular, 20, s), x-5, 1e-9)
	}
	assert.Nil(t, text.Outline(scene.Words{Face: "none", Size: 9, Text: "x"}))
	assert.Error(t, text.Register("broken", []byte("no font")))
}

func TestCharactersThatSteerAreSeenOrLeftOut(t *testing.T) {
	assert.Equal(t, "photo‹U+202E›gnp.exe", text.Shown("photo\u202egnp.exe"))
	assert.Equal(t, "photognp.exe", text.Plain("photo\u202egnp.exe"))
	assert.Equal(t, "a‹U+001B›[31m", text.Shown("a\x1b[31m"))
	assert.Equal(t, "a [31m b", text.Plain("a\t\x1b[31m\nb"))
	assert.Equal(t, "שלום\u200f!", text.Shown("שלום\u200f!"), "marks that keep punctuation in place stay")
}

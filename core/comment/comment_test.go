package comment_test

import (
	"strings"
	"testing"

	"raconte/core/comment"

	"github.com/stretchr/testify/assert"
)

func quoted(text, part string) comment.Quote {
	at := len([]rune(text[:strings.Index(text, part)]))
	return comment.QuoteOf(text, at, at+len([]rune(part)))
}

func TestWordsAreFoundAgainWhereTheyCanBe(t *testing.T) {
	const text = "Scan the bin card. Check the grower, then scan the bin card again — für alle."
	for name, c := range map[string]struct{ quote, now, want string }{
		"as they were":                {"Check the grower", text, "Check the grower"},
		"the second of two":           {"bin card again", text, "bin card again"},
		"moved":                       {"Check the grower", "Wait. Then check the grower.", "check the grower"},
		"another word between":        {"Check the grower, then scan", "Check the old grower, then scan it.", "Check the old grower, then scan"},
		"other letters":               {"für alle", "Scan. Für Alle!", "Für Alle"},
		"a line broken":               {"bin card again", "the bin\ncard again", "bin\ncard again"},
		"gone":                        {"Check the grower", "Wait for the label.", ""},
		"one word that is gone":       {"grower", "Wait.", ""},
		"nothing left":                {"grower", "", ""},
		"what has a few of the words": {"Check the grower, then scan the bin card again", "Press the key of the door.", ""},
	} {
		from, to, ok := quoted(text, c.quote).In(c.now)
		assert.Equal(t, c.want != "", ok, name)
		if ok {
			assert.Equal(t, c.want, string([]rune(c.now)[from:to]), name)
		}
	}
	// Of two that are alike, the one with what stood around it.
	twice := "Press Go. Wait. Press Go again."
	at := strings.LastIndex(twice, "Press Go")
	from, _, ok := comment.QuoteOf(twice, at, at+8).In("First: " + twice)
	assert.True(t, ok)
	assert.Equal(t, at+7, from)
	from, _, _ = comment.QuoteOf("Press Go", 6, 8).In("Touch Go. Press Go.")
	assert.Equal(t, 16, from, "what stood before tells too")
	_, _, ok = comment.QuoteOf("a b", 5, -3).In("a b")
	assert.True(t, ok, "places beyond a text are its ends")
}

func TestOnlyUsablePlacesAreTaken(t *testing.T) {
	quote := &comment.Quote{Text: "x"}
	for name, p := range map[string]comment.Place{
		"a bad id": {Block: "../x"}, "words of nothing": {Words: quote}, "a picture of nothing": {Figure: "f"}, "both": {Block: "b", Figure: "f", Words: quote},
		"no words": {Block: "b", Words: &comment.Quote{Text: "  "}}, "too many": {Block: "b", Words: &comment.Quote{Text: strings.Repeat("x", 601)}},
	} {
		assert.Error(t, p.Check(), name)
	}
	for _, p := range []comment.Place{{}, {Block: "b"}, {Block: "b", Figure: "f"}, {Block: "b", Words: quote}} {
		assert.NoError(t, p.Check())
	}
}

func FuzzWordsAreWhereTheyAreSaidToBe(f *testing.F) {
	f.Add("Check the grower", "x check the\tgrower y")
	f.Fuzz(func(t *testing.T, quote, text string) {
		if from, to, ok := (comment.Quote{Text: quote}).In(text); ok && (from < 0 || to > len([]rune(text)) || from >= to) {
			t.Fatalf("%d to %d of %q", from, to, text)
		}
	})
}

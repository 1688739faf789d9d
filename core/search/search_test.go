package search

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestWordsThatWereMisspeltByOneLetterAreFound(t *testing.T) {
	vocabulary := []string{"receive", "receiver", "label", "labels", "lot", "grüße", "room", "temperature"}
	for word, want := range map[string][]string{
		"recieve":    {"receive"},     // swapped
		"receve":     {"receive"},     // too few
		"labbel":     {"label"},       // too many
		"lavel":      {"label"},       // another letter
		"grüse":      {"grüße"},       // another letter of more bytes
		"temprature": {"temperature"}, // too few
		"temprture":  nil,             // two off
		"lo":         nil,             // too short to say
	} {
		assert.Equal(t, want, Near(word, vocabulary), word)
	}
	assert.Equal(t, []string{"label", "receive", "grüsse"}, Asked("LABEL, receive label: Grüße"))
}

func TestWhatWasFoundIsMarkedInWhatSurroundsIt(t *testing.T) {
	parts := Shown("First press Receive lot, then choose a room.", []string{"rec", "room"})
	assert.Equal(t, []Part{{"First press ", false}, {"Receive", true}, {" lot, then choose a ", false}, {"room", true}, {".", false}}, parts)
	long := Shown(strings.Repeat("word ", 200)+"Äpfel hier "+strings.Repeat("wort ", 200), []string{"äpfel"})
	text, hits := "", 0
	for _, p := range long {
		text += p.Text
		if p.Hit {
			hits++
			assert.Equal(t, "Äpfel", p.Text)
		}
	}
	assert.Equal(t, 1, hits)
	assert.True(t, strings.HasPrefix(text, "… word") && strings.HasSuffix(text, "…"), text)
	assert.Less(t, len(text), 260)
	assert.Empty(t, Shown("", nil))
}

package report

import (
	"strings"
	"testing"
	"time"

	"raconte/core/capture"
	"raconte/core/scene"
	"raconte/core/sight"

	"github.com/stretchr/testify/assert"
)

// read is text as it stands in a picture: each line 40 pixels below the one before, a word every 10 pixels a letter.
func read(lines ...string) []sight.Word {
	var all []sight.Word
	for i, line := range lines {
		x := 10.0
		for _, w := range strings.Fields(line) {
			width := float64(10 * len(w))
			all = append(all, sight.Word{Text: w, Rect: scene.Rect{X: x, Y: float64(40 * i), W: width, H: 18}, Sure: 90})
			x += width + 10
		}
	}
	return all
}

func TestTheTitleIsTheLineThatTellsOfTheFault(t *testing.T) {
	window := capture.About{Window: &capture.Window{Title: "Lotroom: Labels"}}
	for want, lines := range map[string][]string{
		"Printer LP-2 failed: unable to reach it": {"Labels", "Error", "Printer LP-2 failed: unable to reach it", "OK"},
		"Der Druckauftrag ist fehlgeschlagen":     {"Etiketten", "Der Druckauftrag ist fehlgeschlagen", "Abbrechen"},
		"Lotroom: Labels":                         {"Labels", "Reprint", "Close"},
	} {
		assert.Equal(t, want, TitleOf(read(lines...), window))
	}
	assert.Empty(t, TitleOf(nil, capture.About{}))
	long := TitleOf(read("Error "+strings.Repeat("very ", 60)), window)
	assert.LessOrEqual(t, len([]rune(long)), 121)
	// Words of two columns at one height are no line.
	two := append(read("Error here"), sight.Word{Text: "Menu", Rect: scene.Rect{X: 900, W: 40, H: 18}})
	assert.Equal(t, "Error here", TitleOf(two, window))
}

func TestWhereLeavesOutWhatWasAskedThere(t *testing.T) {
	about := capture.About{Address: "https://lotroom.example/rooms/3?token=secret#x", Taken: time.Date(2026, 11, 2, 9, 30, 0, 0, time.UTC),
		Window: &capture.Window{Title: " Rooms \n"}}
	facts := WhereOf(about, []Fact{{"Browser", "Chromium on Linux"}, {"Screen", ""}})
	assert.Equal(t, []Fact{{"Window", "Rooms"}, {"Page", "https://lotroom.example/rooms/3"}, {"Browser", "Chromium on Linux"}, {"Taken", "2026-11-02 09:30 UTC"}}, facts)
	w := Listed(facts)
	assert.NoError(t, w.Check())
	assert.Contains(t, w.Reading(nil), "Window: Rooms")
	assert.True(t, Listed(nil).Empty())
}

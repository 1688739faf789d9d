package workstation

import (
	"bytes"
	"testing"

	"raconte/core/scene"
	"raconte/core/sight"

	"github.com/stretchr/testify/assert"
)

var sections = []Section{Receiving, Rooms, Moves, Labels, Alarms}

func state(change func(*State)) State {
	st := State{User: "Ines Brackwater", Clock: "10:42", Marked: -1}
	change(&st)
	return st
}

func TestElementsLieOnTheScreenAndAreNamed(t *testing.T) {
	whole := scene.Rect{W: Width, H: Height}
	for _, section := range sections {
		for _, open := range []string{"", "Room", "Move to", "Reason", "Printer", "Cause"} {
			s := Show(section, state(func(st *State) { st.Open, st.Alarm, st.Variety = open, "seen", "Red Tamsin" }))
			assert.Equal(t, "Lotroom: "+string(section), s.Title)
			for _, e := range s.Elements {
				assert.NotEmpty(t, e.Role, e.Name)
				assert.False(t, e.Rect.Empty(), e.Name)
				assert.True(t, e.Rect.X >= 0 && e.Rect.Y >= 0 && e.Rect.X+e.Rect.W <= whole.W && e.Rect.Y+e.Rect.H <= whole.H, "%s: %s", section, e.Name)
			}
			assert.False(t, s.Find("Rooms").Empty(), "every section can be chosen")
		}
	}
	assert.True(t, Show(Rooms, State{}).Find("no such thing").Empty())
}

func TestTheSameStateGivesTheSamePixels(t *testing.T) {
	for _, section := range sections {
		st := state(func(st *State) { st.Lot = "24-1187" })
		assert.True(t, bytes.Equal(Show(section, st).Image().Pix, Show(section, st).Image().Pix), section)
	}
}

func TestWhatAPersonDoesChangesTheScreenWhereItShould(t *testing.T) {
	before := Show(Receiving, state(func(*State) {}))
	after := Show(Receiving, state(func(st *State) { st.Bins = "18" }))
	c := sight.Compare(before.Image(), after.Image())
	assert.Equal(t, sight.Changed, c.Verdict)
	field := after.Find("Bins")
	for _, r := range c.Rectangles {
		assert.True(t, field.Contains(scene.Point{X: float64(r.Min.X), Y: float64(r.Min.Y)}), "%v is not in the field", r)
	}
	caret := Show(Receiving, state(func(st *State) { st.Bins, st.Focus = "18", "Bins" }))
	assert.Equal(t, sight.Changed, sight.Compare(after.Image(), caret.Image()).Verdict, "the focused field has a heavier frame")
}

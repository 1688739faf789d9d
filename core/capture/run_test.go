package capture

import (
	"fmt"
	"testing"
	"time"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
)

func TestARunIsWrittenUpInSectionsWithTheTimeOfEachStep(t *testing.T) {
	at := time.Date(2026, 11, 26, 9, 0, 0, 0, time.UTC)
	var shots []Taken
	did := func(after time.Duration, page, dialog, name string) {
		at = at.Add(after)
		shots = append(shots, Taken{fmt.Sprint("s", len(shots)), figure.Size{W: 800, H: 600}, About{
			Taken: at, Window: &Window{Title: page}, Action: &Action{Kind: Click, Element: &Element{Role: RoleButton, Name: name, Window: dialog}},
		}})
	}
	did(0, "Sign in - Lotroom", "", "E-mail")
	did(4*time.Second, "Sign in - Lotroom", "", "Sign in")
	did(23*time.Second, "New lot - Lotroom", "", "Bins")
	did(time.Hour, "New lot - Lotroom", "", "Receive lot")
	did(3*time.Second, "New lot - Lotroom", "Sure?", "Yes") // a dialog for one step is no section
	did(3*time.Second, "New lot - Lotroom", "", "Done")
	did(3*time.Second, "Rooms - Lotroom", "", "Room 4") // nor is a page
	n := 0
	blocks := WriteUp(shots, Wording{Language: English}, func() string { n++; return fmt.Sprint("id", n) })
	var seen []string
	for _, b := range blocks {
		seen = append(seen, fmt.Sprintf("%s %s %d", b.Type, b.Label(), b.Seconds))
	}
	assert.Equal(t, []string{
		"section Sign in 0", "step Press E-mail 0", "step Press Sign in 4",
		"section New lot 0", "step Press Bins 25", "step Press Receive lot 0", "step Press Yes 3", "step Press Done 3", "step Press Room 4 3",
	}, seen)
	assert.NoError(t, document.Document{Kind: document.Procedure, Facts: document.Facts{Title: "Receive"}, Blocks: blocks}.Check())
	assert.Empty(t, Sections([]About{shots[2].About, shots[3].About, shots[5].About}), "all in one place")
}

func TestHowMuchOfAShotIsShownCanBeChangedAfterwards(t *testing.T) {
	box := figure.Mark{ID: "b", Kind: figure.Box, Points: []scene.Point{{X: 900, Y: 700}, {X: 800, Y: 660}}}
	f, size := figure.Figure{ID: "f", Shot: "s", Marks: []figure.Mark{box}}, figure.Size{W: 1920, H: 1080}
	near := ShowNear.Shown(f, size)
	assert.Equal(t, &scene.Rect{X: 640, Y: 500, W: 420, H: 360}, near.Crop)
	band := ShowBand.Shown(near, size)
	assert.Equal(t, [2]float64{1920, 432}, [2]float64{band.Crop.W, band.Crop.H})
	assert.Nil(t, ShowWhole.Shown(band, size).Crop)
	f.Marks = nil
	assert.Equal(t, f, ShowNear.Shown(f, size), "what was used is not known")
}

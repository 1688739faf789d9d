package difference_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"raconte/core/difference"
	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/words"

	"github.com/stretchr/testify/assert"
)

func step(id, text string, figures ...figure.Figure) document.Block {
	return document.NewStep(id, words.Plain(text), figures...)
}

func doc(blocks ...document.Block) document.Document {
	return document.Document{ID: "d", Kind: document.Procedure, Facts: document.Facts{Title: "Lots"}, Blocks: blocks}
}

// told is a difference in short: of each block its ids, its changes and its words.
func told(d difference.Difference) (all []string) {
	for _, b := range d.Blocks {
		var said strings.Builder
		for _, w := range b.Words {
			said.WriteString(map[string]string{"same": "", "added": "+", "removed": "-"}[w.Kind] + "[" + w.Text + "]")
		}
		all = append(all, strings.TrimSpace(fmt.Sprintf("%s>%s %v %s", b.Before, b.After, b.Changes, said.String())))
	}
	return all
}

func TestStepsAreAddedRemovedMovedAndReworded(t *testing.T) {
	before := doc(step("a", "Scan the bin card."), step("b", "Press Go."), step("c", "Wait for the label."), step("d", "Close the door."))
	after := doc(step("d", "Close the door."), step("a", "Scan the lot card."), step("n", "Count the bins."), step("c", "Wait for the label."))
	d := difference.Of(before, after)
	assert.Equal(t, []string{
		"d>d [moved]", "a>a [reworded] [Scan the ]-[bin]+[lot][ card.]", ">n [added] +[Count the bins.]", "b> [removed] -[Press Go.]", "c>c []",
	}, told(d))
	assert.Equal(t, map[difference.Change]int{"moved": 1, "reworded": 1, "added": 1, "removed": 1}, d.Counts)
	assert.Equal(t, "4", d.Blocks[0].Was)
	assert.Equal(t, "1", d.Blocks[0].Number)
	assert.True(t, difference.Of(before, before).Same())
	assert.False(t, d.Same())
}

func TestStepsThatWereWrittenAnewArePairedByLikeness(t *testing.T) {
	before := doc(step("a", "Scan the bin card at the dock scale."), step("b", "Nothing like it."))
	after := doc(step("x", "Something else altogether."), step("y", "Scan the bin card at the old dock scale."))
	assert.Equal(t, []string{">x [added] +[Something else altogether.]", "a>y [reworded] [Scan the bin card at the ]+[old ][dock scale.]", "b> [removed] -[Nothing like it.]"}, told(difference.Of(before, after)))
}

func TestPicturesNoticesAndFactsAreTold(t *testing.T) {
	shown := figure.Figure{ID: "f", Shot: "one", Marks: []figure.Mark{}}
	cropped, other, alt := shown, shown, shown
	cropped.Crop = &scene.Rect{W: 10, H: 10}
	other.Shot = "two"
	alt.Alt = "The card"
	warned := step("w", "Open it.")
	warned.Notice = &document.Notice{Signal: document.Danger, Hazard: "Ammonia."}
	plain := step("w", "Open it.")
	plain.Seconds = 60
	before := doc(step("a", "A", shown), step("b", "B", shown), step("c", "C", shown), step("e", "E", shown), plain)
	after := doc(step("a", "A", cropped), step("b", "B", other), step("c", "C", alt), step("e", "E"), warned)
	after.Facts.Title, after.Facts.Owner = "Bins", "Maud"
	d := difference.Of(before, after)
	assert.Equal(t, []difference.Fact{{Name: "title", Before: "Lots", After: "Bins"}, {Name: "owner", After: "Maud"}}, d.Facts)
	assert.Equal(t, []difference.Picture{{Before: "f", After: "f"}}, d.Blocks[0].Pictures)
	assert.Equal(t, []difference.Picture{{Before: "f", After: "f", Shot: true}}, d.Blocks[1].Pictures)
	assert.Equal(t, []difference.Picture{{Before: "f", After: "f", Alt: true}}, d.Blocks[2].Pictures)
	assert.Equal(t, []difference.Picture{{Before: "f"}}, d.Blocks[3].Pictures)
	assert.Equal(t, []difference.Change{"notice", "about"}, d.Blocks[4].Changes)
	assert.Equal(t, difference.Fact{Name: "notice", After: "DANGER: Ammonia."}, d.Blocks[4].Facts[0])
	assert.Equal(t, difference.Fact{Name: "time", Before: "1 min", After: ""}, d.Blocks[4].Facts[1])
}

// TestEveryBlockIsToldOnceAndItsWordsAreThere shuffles, removes, adds and rewords at random.
func TestEveryBlockIsToldOnceAndItsWordsAreThere(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 4))
	for range 200 {
		var before []document.Block
		for i := range random.IntN(30) {
			before = append(before, step(fmt.Sprint("s", i), fmt.Sprintf("Carry %d bins to room %d, الباب %d.", random.IntN(9), i, i)))
		}
		after := slices.Clone(before)
		random.Shuffle(len(after), func(i, j int) {
			if random.IntN(3) == 0 {
				after[i], after[j] = after[j], after[i]
			}
		})
		for i := range after {
			switch random.IntN(5) {
			case 0:
				after[i] = step(after[i].ID, "And "+after[i].Words.Reading(nil)+" Slowly.")
			case 1:
				after[i] = step(fmt.Sprint("n", i), fmt.Sprint("New ", random.IntN(100)))
			}
		}
		d := difference.Of(doc(before...), doc(after...))
		var was, is []string
		for _, b := range d.Blocks {
			if b.Before != "" {
				was = append(was, b.Before)
			}
			if b.After != "" {
				is = append(is, b.After)
			}
			if len(b.Words) == 0 {
				continue
			}
			var old, now strings.Builder
			for _, p := range b.Words {
				if p.Kind != "added" {
					old.WriteString(p.Text)
				}
				if p.Kind != "removed" {
					now.WriteString(p.Text)
				}
			}
			for _, s := range before {
				if s.ID == b.Before {
					assert.Equal(t, s.Words.Reading(nil), old.String())
				}
			}
			for _, s := range after {
				if s.ID == b.After {
					assert.Equal(t, s.Words.Reading(nil), now.String())
				}
			}
		}
		ids := func(all []document.Block) (out []string) {
			for _, b := range all {
				out = append(out, b.ID)
			}
			return out
		}
		assert.ElementsMatch(t, ids(before), was)
		assert.Equal(t, ids(after), is, "in the order of the later state")
	}
}

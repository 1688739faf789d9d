package demo_test

import (
	"bytes"
	"testing"

	"raconte/core/capture"
	"raconte/core/figure"
	"raconte/core/readiness"
	"raconte/practice/demo"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTheDemoIsWellMade(t *testing.T) {
	procedures, again := demo.Procedures(), demo.Procedures()
	require.GreaterOrEqual(t, len(procedures), 3)
	blocked := 0
	for i, p := range procedures {
		require.NoError(t, p.Document.Check(), p.Document.Facts.Title)
		assert.True(t, len(p.Document.Blocks) >= 5 && len(p.Document.Blocks) <= 9, p.Document.Facts.Title)
		sizes := map[string]figure.Size{}
		for _, shot := range p.Session.Shots {
			sizes[shot.ID] = shot.Size
		}
		findings := readiness.Check(p.Document, sizes, nil)
		if readiness.Blocks(findings) {
			blocked++
		}
		assert.Equal(t, p.Ready, len(findings) == 0, "%s: what is ready has nothing to settle", p.Document.Facts.Title)
		assert.Equal(t, p.Document, again[i].Document)
		marksInFrame(t, p)
		for j, shot := range p.Session.Shots {
			assert.True(t, bytes.Equal(shot.PNG, again[i].Session.Shots[j].PNG), "the demo is the same each time")
			assert.Equal(t, "practice", shot.About.Source)
			assert.NotEmpty(t, shot.About.Elements)
		}
	}
	assert.Equal(t, 1, blocked, "one procedure shows what findings look like")
}

// marksInFrame checks that no mark points at something that its crop has cut away.
func marksInFrame(t *testing.T, p demo.Procedure) {
	shots := map[string]demo.Shot{}
	for _, s := range p.Session.Shots {
		shots[s.ID] = s
	}
	for i, step := range p.Document.Blocks {
		for _, f := range step.Figures {
			for _, m := range f.Marks {
				for _, point := range m.Points {
					assert.True(t, f.Frame(shots[f.Shot].Size).Contains(point), "%s, step %d: a %s is outside its frame", p.Document.Facts.Title, i+1, m.Kind)
				}
			}
		}
	}
}

func TestTheSessionToPlaceTellsWhatWasDone(t *testing.T) {
	s := demo.SeasonPlan()
	var said []string
	for _, shot := range s.Shots {
		if w := shot.About.Words(capture.English); !w.Empty() {
			said = append(said, w.Label())
		}
	}
	assert.Equal(t, []string{
		"Choose Season plan", "Type the season’s name in Name", "Press Next", "Tick Room 1", "Tick Room 4", "Press Next",
		"Type the temperature to keep in Keep at", "Type the temperature that raises an alarm in Alarm above", "Press Next",
		"Turn Alarm when a door is open for ten minutes on", "Press Next", "Press Finish",
	}, said)
	last := s.Shots[len(s.Shots)-1]
	assert.Greater(t, last.Size.H, 5000, "the door log from top to end")
}

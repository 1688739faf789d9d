package figure

import (
	"fmt"
	"strings"
	"testing"

	"raconte/core/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func segments(items []scene.Item) (n int) {
	for _, it := range items {
		switch {
		case it.Path != nil:
			n += len(it.Path.Outline)
		case it.Clip != nil:
			n += len(it.Clip.Outline) + segments(it.Clip.Items)
		}
	}
	return n
}

// TestNoMarkIsLaidOutFarBeyondThePicture draws marks as they were kept before places were bounded.
func TestNoMarkIsLaidOutFarBeyondThePicture(t *testing.T) {
	far := func(kind Kind, style Style) Mark {
		m := Mark{ID: "m", Kind: kind, Points: []scene.Point{p(-1e6, -9e5), p(1e6, 9e5)}, Style: style}
		m.Ink, m.Weight = "red", Fine
		return m
	}
	zigzag := far(Pen, Style{Dash: "dotted"})
	for i := range MostPoints {
		zigzag.Points = append(zigzag.Points, p(float64(i%2)*2e6-1e6, float64(i)*900-9e5))
	}
	for name, m := range map[string]Mark{
		"dotted line":         far(Line, Style{Dash: "dotted"}),
		"dashed box":          far(Box, Style{Dash: "dashed", Shadow: true}),
		"dotted ellipse":      far(Ellipse, Style{Dash: "dotted", Shadow: true}),
		"hatched concealment": far(Concealment, Style{Look: "hatched"}),
		"dotted pen":          zigzag,
	} {
		f := Figure{ID: "f", Shot: "s", Marks: []Mark{m}}
		n := segments(f.Still(1).Scene(Size{W: 1600, H: 900}, 1).Items)
		assert.Less(t, n, 350_000, name)
		mended := f.Mended()
		for _, q := range mended.Marks[0].Points {
			assert.True(t, finite(q.X, q.Y), "%s: read up, its places are within bounds", name)
		}
	}
	// A line through the picture still shows in it where it did.
	line := Figure{ID: "f", Shot: "s", Marks: []Mark{far(Line, Style{})}}
	line.Marks[0].Points = []scene.Point{p(-1e5, 450), p(1e5, 450)}
	b := bounds(line.Still(1).Scene(Size{W: 1600, H: 900}, 1).Items[1:])
	assert.True(t, b.Contains(p(0, 450)) && b.Contains(p(1600, 450)))
}

func TestTheWeightOfAFigureIsKnownBeforeItIsDrawn(t *testing.T) {
	random := []string{"", "dashed", "dotted"}
	usual := Figure{ID: "f", Shot: "s"}
	for i := range MostMarks {
		m := one([]Kind{Arrow, Line, Box, Text, Note, Marker, Highlight, Pointer, Concealment}[i%9])
		m.ID, m.Dash = fmt.Sprint("m", i), random[i%3]
		usual.Marks = append(usual.Marks, m)
	}
	require.NoError(t, usual.Check(), "hundreds of ordinary marks are no burden")
	estimate, drawn := usual.Cost(), segments(usual.Still(1).Scene(Size{W: 1600, H: 900}, 1).Items)
	assert.Greater(t, 3*estimate, drawn, "the estimate is not far too low")
	heavy := func(fill func(m *Mark)) Figure {
		f := Figure{ID: "f", Shot: "s"}
		for i := range MostMarks {
			m := one(Text)
			m.ID = fmt.Sprint("m", i)
			fill(&m)
			f.Marks = append(f.Marks, m)
		}
		return f
	}
	for name, fill := range map[string]func(*Mark){
		"long bare texts": func(m *Mark) { m.Plate, m.Text = "bare", strings.Repeat("W", LongestText) },
		"long notes": func(m *Mark) {
			m.Kind, m.Text, m.Points = Note, strings.Repeat("W", LongestText), append(m.Points, p(0, 0))
		},
		"pens": func(m *Mark) {
			m.Kind, m.Points = Pen, nil
			for i := range MostPoints {
				m.Points = append(m.Points, p(float64(i%2)*1600, float64(i)/3))
			}
		},
		"dotted ellipses": func(m *Mark) {
			m.Kind, m.Dash, m.Shadow = Ellipse, "dotted", true
			m.Points = []scene.Point{p(0, 0), p(1600, 900)}
		},
	} {
		assert.ErrorContains(t, heavy(fill).Check(), "more and larger marks", name)
	}
}

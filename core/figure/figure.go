// Package figure is one use of a shot: its crop and its marks, what they look like, where their
// grips are and what a drag makes of them. It never changes the shot and never reads its pixels.
//
// All places are in pixels of the shot, so that marks stay on their targets when the crop changes.
package figure

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"unicode/utf8"

	"raconte/core/scene"
)

// Kind says what a mark is.
type Kind string

// The kinds of marks.
const (
	Arrow  Kind = "arrow"  // Points: tail, tip
	Box    Kind = "box"    // Points: two opposite corners
	Text   Kind = "text"   // Points: top left, right edge (its Y is not used)
	Marker Kind = "marker" // Points: its middle
	// Pointer is the mouse pointer of a capture that knew it apart from the picture. Points: its tip.
	Pointer Kind = "pointer"
)

// Kinds are all kinds of marks.
var Kinds = []Kind{Arrow, Box, Text, Marker, Pointer}

// Weight is how heavy a mark is drawn.
type Weight string

// The weights of a mark.
const (
	Fine   Weight = "fine"
	Medium Weight = "medium"
	Strong Weight = "strong"
)

// Mark is one mark. Marks are painted in the order of the figure's list; markers count in the
// order of Turn, so that bringing one forward does not renumber it.
type Mark struct {
	ID     string        `json:"id"`
	Kind   Kind          `json:"kind"`
	Points []scene.Point `json:"points"`
	Ink    string        `json:"ink"`
	Weight Weight        `json:"weight"`
	Text   string        `json:"text,omitempty"`
	Turn   int           `json:"turn,omitempty"`
}

// Figure is one use of a shot.
type Figure struct {
	ID    string      `json:"id"`
	Shot  string      `json:"shot"`
	Alt   string      `json:"alt"`
	Crop  *scene.Rect `json:"crop,omitempty"` // nil: the whole shot
	Marks []Mark      `json:"marks"`
}

// Size is the size of a shot in pixels.
type Size struct {
	W int `json:"w"`
	H int `json:"h"`
}

// Ink is one of the house's colours for marks.
type Ink struct {
	Name  string      `json:"name"`
	Color scene.Color `json:"color"`
}

// Inks are the house inks; the first is the one new marks get.
var Inks = []Ink{
	{"red", scene.Hex("#c62828")}, {"amber", scene.Hex("#e0a100")}, {"green", scene.Hex("#2a7d3f")},
	{"blue", scene.Hex("#1768ac")}, {"purple", scene.Hex("#7b3fa0")}, {"dark", scene.Hex("#16272d")},
}

// AutoInks are those to choose from by contrast (rule 10): the colours. A neutral would stand out best nearly
// always, and say nothing.
func AutoInks() []Ink {
	return slices.DeleteFunc(slices.Clone(Inks), func(i Ink) bool { return i.Name == "dark" })
}

// InkColor is the colour of a house ink; an unknown name is the first ink.
func InkColor(name string) scene.Color {
	for _, ink := range Inks {
		if ink.Name == name {
			return ink.Color
		}
	}
	return Inks[0].Color
}

// The limits of a figure.
const (
	MostMarks   = 500
	LongestText = 2000 // characters in a mark's or an alternative text
	SmallestCut = 8    // pixels, each side of a crop
)

// Check tells what is wrong with a figure that came from outside; nil where nothing is.
func (f Figure) Check() error {
	switch {
	case f.ID == "" || len(f.ID) > 64:
		return errors.New("a picture has no usable id")
	case f.Shot == "" || len(f.Shot) > 64:
		return fmt.Errorf("picture %s names no shot", f.ID)
	case utf8.RuneCountInString(f.Alt) > LongestText:
		return fmt.Errorf("the alternative text of picture %s is longer than %d characters", f.ID, LongestText)
	case len(f.Marks) > MostMarks:
		return fmt.Errorf("picture %s has more than %d marks", f.ID, MostMarks)
	}
	if f.Crop != nil && (!finite(f.Crop.X, f.Crop.Y, f.Crop.W, f.Crop.H) || f.Crop.W < 1 || f.Crop.H < 1) {
		return fmt.Errorf("the crop of picture %s is no rectangle", f.ID)
	}
	seen := map[string]bool{}
	for _, m := range f.Marks {
		if err := m.check(); err != nil {
			return fmt.Errorf("picture %s: %w", f.ID, err)
		}
		if seen[m.ID] {
			return fmt.Errorf("picture %s has two marks with the id %s", f.ID, m.ID)
		}
		seen[m.ID] = true
	}
	return nil
}

func (m Mark) check() error {
	want := 2
	if m.Kind == Marker || m.Kind == Pointer {
		want = 1
	}
	switch {
	case m.ID == "" || len(m.ID) > 64:
		return errors.New("a mark has no usable id")
	case !slices.Contains(Kinds, m.Kind):
		return fmt.Errorf("mark %s is of the unknown kind %q", m.ID, m.Kind)
	case len(m.Points) != want:
		return fmt.Errorf("mark %s has %d points, a %s has %d", m.ID, len(m.Points), m.Kind, want)
	case utf8.RuneCountInString(m.Text) > LongestText:
		return fmt.Errorf("the text of mark %s is longer than %d characters", m.ID, LongestText)
	}
	for _, p := range m.Points {
		if !finite(p.X, p.Y) {
			return fmt.Errorf("mark %s has a point that is no place", m.ID)
		}
	}
	return nil
}

// finite tells whether all v are ordinary numbers of a size that a picture can have.
func finite(v ...float64) bool {
	for _, x := range v {
		if math.IsNaN(x) || math.Abs(x) > 1e6 {
			return false
		}
	}
	return true
}

// Frame is the part of the shot that the figure shows, within the shot and in whole pixels.
func (f Figure) Frame(shot Size) scene.Rect {
	whole := scene.Rect{W: float64(shot.W), H: float64(shot.H)}
	if f.Crop == nil {
		return whole
	}
	x0, y0 := math.Round(f.Crop.X), math.Round(f.Crop.Y)
	x1, y1 := math.Round(f.Crop.X+f.Crop.W), math.Round(f.Crop.Y+f.Crop.H)
	r := scene.Rect{X: x0, Y: y0, W: x1 - x0, H: y1 - y0}.Intersect(whole)
	if r.Empty() {
		return whole
	}
	return r
}

// Numbers gives each marker of the figure its number, the first being first.
func (f Figure) Numbers(first int) map[string]int {
	var markers []Mark
	for _, m := range f.Marks {
		if m.Kind == Marker {
			markers = append(markers, m)
		}
	}
	slices.SortStableFunc(markers, func(a, b Mark) int { return a.Turn - b.Turn })
	numbers := make(map[string]int, len(markers))
	for i, m := range markers {
		numbers[m.ID] = first + i
	}
	return numbers
}

// Numbers gives each marker of a step's figures its number: they count on from one picture of the
// step to the next, so that "1" in the step's words means one marker only.
func Numbers(figures []Figure) map[string]int {
	all := map[string]int{}
	for i, first := range Firsts(figures) {
		for id, n := range figures[i].Numbers(first) {
			all[id] = n
		}
	}
	return all
}

// Firsts are the numbers that the first marker of each of a step's figures has or would have.
func Firsts(figures []Figure) []int {
	firsts, next := make([]int, len(figures)), 1
	for i, f := range figures {
		firsts[i] = next
		next += len(f.Numbers(next))
	}
	return firsts
}

// Tag is how a marker looks where words refer to it.
type Tag struct {
	Number int         `json:"number"`
	Ink    scene.Color `json:"ink"`
	On     scene.Color `json:"on"` // of the number on the ink
}

// Tags are the tags of a step's markers, by the markers' ids.
func Tags(figures []Figure) map[string]Tag {
	tags := map[string]Tag{}
	numbers := Numbers(figures)
	for _, f := range figures {
		for _, m := range f.Marks {
			if n, ok := numbers[m.ID]; ok {
				tags[m.ID] = Tag{n, InkColor(m.Ink), OnInk(InkColor(m.Ink))}
			}
		}
	}
	return tags
}

// Find is the place of a mark in the list, or -1.
func (f Figure) Find(id string) int {
	return slices.IndexFunc(f.Marks, func(m Mark) bool { return m.ID == id })
}

// Clone is a copy that shares nothing with f.
func (f Figure) Clone() Figure {
	if f.Crop != nil {
		crop := *f.Crop
		f.Crop = &crop
	}
	f.Marks = slices.Clone(f.Marks)
	for i := range f.Marks {
		f.Marks[i].Points = slices.Clone(f.Marks[i].Points)
	}
	return f
}

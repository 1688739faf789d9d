package figure

import (
	"errors"
	"fmt"
	"slices"

	"raconte/core/scene"
)

// Weight is how heavy a mark is drawn.
type Weight string

// The weights of a mark.
const (
	Fine   Weight = "fine"
	Medium Weight = "medium"
	Strong Weight = "strong"
)

// Style is how a mark looks, whatever its place and words. Every field but Ink and Weight may be left
// empty, which means the usual; fields that a kind has no use for are ignored.
type Style struct {
	Ink     string `json:"ink"`
	Weight  Weight `json:"weight"`
	Auto    bool   `json:"auto,omitempty"`    // the ink is chosen by contrast until a person chooses
	Keyline string `json:"keyline,omitempty"` // "": light; dark or none
	Opacity int    `json:"opacity,omitempty"` // percent; 0: all of it
	Corner  int    `json:"corner,omitempty"`  // radius in units; 0: the usual; −1: square
	Dash    string `json:"dash,omitempty"`    // "": solid; dashed or dotted
	Shadow  bool   `json:"shadow,omitempty"`
	Fill    string `json:"fill,omitempty"`  // of a box or ellipse. "": none; tint or solid
	Size    int    `json:"size,omitempty"`  // of letters in units; 0: by weight
	Align   string `json:"align,omitempty"` // of lines of text. "": start; middle or end
	Plate   string `json:"plate,omitempty"` // of a text. "": on a plate; bare: letters with a keyline
	Way     string `json:"way,omitempty"`   // of an arrow or line. "": straight; bent or curved
	Heads   string `json:"heads,omitempty"` // of an arrow. "": at its end; both
	Count   string `json:"count,omitempty"` // of a marker. "": 1, 2; A, a or i
	Look    string `json:"look,omitempty"`  // of a concealment. "": plain; hatched or scrambled. Of a detail. "": square; round
	Ground  string `json:"ground,omitempty"`
	Zoom    int    `json:"zoom,omitempty"` // of a detail, percent; 0: 200
}

// choices are the values that fields of a style may have beside "".
var choices = map[string][]string{
	"keyline": {"dark", "none"}, "dash": {"dashed", "dotted"}, "fill": {"tint", "solid"}, "align": {"middle", "end"},
	"plate": {"bare"}, "way": {"bent", "curved"}, "heads": {"both"}, "count": {"A", "a", "i"},
	"look": {"hatched", "scrambled", "round"}, "ground": {"dark"},
}

// Check tells what is wrong with a style that came from outside; nil where nothing is.
func (s Style) Check() error {
	for field, value := range map[string]string{
		"keyline": s.Keyline, "dash": s.Dash, "fill": s.Fill, "align": s.Align, "plate": s.Plate, "way": s.Way,
		"heads": s.Heads, "count": s.Count, "look": s.Look, "ground": s.Ground,
	} {
		if value != "" && !slices.Contains(choices[field], value) {
			return fmt.Errorf("its %s %q is unknown", field, value)
		}
	}
	in := func(v, low, high int) bool { return v >= low && v <= high }
	if !in(s.Opacity, 0, 100) || !in(s.Corner, -1, 200) || !in(s.Size, 0, 200) || (s.Zoom != 0 && !in(s.Zoom, 110, 1000)) {
		return errors.New("its opacity, corner, letters or magnification are out of bounds")
	}
	return nil
}

// Restyled is a style with what is said of looks in another; what belongs to the ground under one mark stays.
func (s Style) Restyled(to Style) Style {
	if to.Auto {
		to.Ink, to.Keyline = s.Ink, s.Keyline
	}
	to.Ground = s.Ground
	return to
}

// Ink is one of the house's colours for marks.
type Ink struct {
	Name  string      `json:"name"`
	Color scene.Color `json:"color"`
}

// Inks are the house inks; the first is the one new marks get.
var Inks = []Ink{
	{"red", scene.Hex("#c62828")}, {"amber", scene.Hex("#e0a100")}, {"green", scene.Hex("#2a7d3f")},
	{"blue", scene.Hex("#1768ac")}, {"purple", scene.Hex("#7b3fa0")}, {"dark", darkInk},
}

var (
	darkInk  = scene.Hex("#16272d")
	lightInk = scene.Hex("#ffffff")
)

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

// OnInk is the colour of letters on a plate of ink: whichever of white and dark reads better.
func OnInk(ink scene.Color) scene.Color {
	if scene.Contrast(ink, lightInk) >= scene.Contrast(ink, darkInk) {
		return lightInk
	}
	return darkInk
}

func (w Weight) of(unit float64) float64 { return w.pick(2.5, 4.5, 7) * unit }

func (w Weight) pick(fine, medium, strong float64) float64 {
	switch w {
	case Fine:
		return fine
	case Strong:
		return strong
	}
	return medium
}

func (s Style) corner(unit float64) float64 {
	switch {
	case s.Corner < 0:
		return 0
	case s.Corner == 0:
		return 4 * unit
	}
	return float64(s.Corner) * unit
}

// letters is the size of the letters of a text or note in pixels of the shot.
func (s Style) letters(unit float64) float64 {
	if s.Size > 0 {
		return float64(s.Size) * unit
	}
	return textSize * s.Weight.pick(0.8, 1, 1.4) * unit
}

// Restyled is the figure with all its marks of a kind in a style.
func (f Figure) Restyled(kind Kind, to Style) Figure {
	f = f.Clone()
	for i, m := range f.Marks {
		if m.Kind == kind {
			f.Marks[i].Style = m.Style.Restyled(to)
		}
	}
	return f
}

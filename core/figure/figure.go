// Package figure is one use of a shot: its crop and its marks, what they look like, where their
// grips are and what a drag makes of them. It never changes the shot and never reads its pixels.
//
// All places are kept in pixels of the shot, so that marks stay on their targets when the picture is
// cropped, turned or folded. Geometry leads to the places in the finished picture and back.
package figure

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"unicode/utf8"

	"raconte/core/id"
	"raconte/core/scene"
)

// Kind says what a mark is.
type Kind string

// The kinds of marks. Those with two opposite corners may have them in any order.
const (
	Arrow       Kind = "arrow"       // Points: tail, tip, and the bend of one that is not straight
	Line        Kind = "line"        // as an arrow
	Box         Kind = "box"         // Points: two opposite corners
	Ellipse     Kind = "ellipse"     // as a box
	Pen         Kind = "pen"         // Points: the way of the pen
	Text        Kind = "text"        // Points: top left, right edge (its Y is not used)
	Note        Kind = "note"        // Points: as a text, then what it points at
	Marker      Kind = "marker"      // Points: its middle
	Concealment Kind = "concealment" // as a box; what it covers is in no finished picture
	Patch       Kind = "patch"       // as a box; covered with the colour around it
	Highlight   Kind = "highlight"   // as a box
	Light       Kind = "light"       // as a box; everything outside all lights is dimmed
	Detail      Kind = "detail"      // Points: two opposite corners of a part, then the middle of its enlargement
	Inset       Kind = "inset"       // as a box; another shot is placed in it
	// Pointer is the mouse pointer of a capture that knew it apart from the picture. Points: its tip.
	Pointer Kind = "pointer"
)

// Mark is one mark. Marks are painted in the order of the figure's list; markers count in the
// order of Turn, so that bringing one forward does not renumber it.
type Mark struct {
	ID     string        `json:"id"`
	Kind   Kind          `json:"kind"`
	Points []scene.Point `json:"points"`
	Style
	Text   string `json:"text,omitempty"`
	Turn   int    `json:"turn,omitempty"`
	Start  int    `json:"start,omitempty"`  // a marker's own number, from which the next ones count
	Shares bool   `json:"shares,omitempty"` // a marker has the number of the one before it
	Onward bool   `json:"onward,omitempty"` // a step's first marker counts on from the steps before
	From   string `json:"from,omitempty"`   // the mark that an arrow's tail follows
	To     string `json:"to,omitempty"`     // the mark that an arrow's tip follows
	Group  string `json:"group,omitempty"`  // marks of one group are chosen together
	Locked bool   `json:"locked,omitempty"` // can't be chosen on the picture
	Color  string `json:"color,omitempty"`  // of a patch, "#rrggbb"
	Shot   string `json:"shot,omitempty"`   // of an inset
	Lost   bool   `json:"lost,omitempty"`   // its target was not found in a new shot
	Unsure bool   `json:"unsure,omitempty"` // its target was perhaps found in a new shot: a person has to say
	// Of a clip: when it is there, nil being the whole time, and how it moves with what it is about, in order of time.
	During *Span   `json:"during,omitempty"`
	Path   []Place `json:"path,omitempty"`
}

// Figure is one use of a shot.
type Figure struct {
	ID   string      `json:"id"`
	Shot string      `json:"shot"`
	Alt  string      `json:"alt"`
	Crop *scene.Rect `json:"crop,omitempty"` // of the upright picture; nil: all of it
	View
	Marks []Mark `json:"marks"`
	Clip  *Clip  `json:"clip,omitempty"` // of a recording: how it is shown; nil of a still picture
}

// View is how the picture itself is shown. The zero View shows it as it was taken.
type View struct {
	Outline []scene.Point `json:"outline,omitempty"` // a freehand crop in the upright picture: outside it nothing shows
	Quarter int           `json:"quarter,omitempty"` // quarter turns clockwise, 0 to 3
	Mirror  bool          `json:"mirror,omitempty"`  // left and right changed over, before it is turned
	Tilt    float64       `json:"tilt,omitempty"`    // then turned by degrees clockwise, −45 to 45
	Folds   []Fold        `json:"folds,omitempty"`   // bands of the upright picture that are taken out
	Margin  *Margin       `json:"margin,omitempty"`  // blank room around it
	Width   int           `json:"width,omitempty"`   // of the finished picture in pixels; 0: its own
	Edge    Edge          `json:"edge,omitzero"`
	Tone    scene.Tone    `json:"tone,omitzero"`
	// Recolours are colours of the picture that become others, one after the other, before it is turned and toned. What is
	// concealed is neither changed by them nor gone across.
	Recolours []scene.Recolour `json:"recolours,omitempty"`
}

// Fold is a band taken out of the upright picture, from one side to the other.
type Fold struct {
	Down bool    `json:"down,omitempty"` // the band runs down the picture, otherwise across it
	From float64 `json:"from"`
	To   float64 `json:"to"`
}

// Margin is blank room around a picture, in pixels of the shot.
type Margin struct {
	Top    float64 `json:"top"`
	Right  float64 `json:"right"`
	Bottom float64 `json:"bottom"`
	Left   float64 `json:"left"`
}

// Edge is how a picture ends at its sides.
type Edge struct {
	Look string `json:"look,omitempty"` // "": plain; hairline, rounded or faded
	Open string `json:"open,omitempty"` // the sides drawn as going on: letters of "nesw"; auto: those that the crop cut
}

// Size is the size of a shot in pixels.
type Size struct {
	W int `json:"w"`
	H int `json:"h"`
}

// The limits of a figure.
const (
	MostMarks   = 500
	MostPoints  = 2000 // of one pen mark
	MostFolds   = 8
	LongestText = 2000 // characters in a mark's or an alternative text
	SmallestCut = 8    // pixels, each side of a crop
	RoomAround  = 6.0  // pixels of the shot between a thing and a box around it
	MostInsets  = 12   // shots set into a figure
	Farthest    = 1e5  // pixels of the shot: no place lies farther off
	widest      = 16384
	longestInk  = 32 // characters of the name of an ink
)

// Check tells what is wrong with a figure that came from outside; nil where nothing is.
func (f Figure) Check() error {
	switch {
	case !id.Valid(f.ID):
		return errors.New("a picture has no usable id")
	case !id.Valid(f.Shot):
		return fmt.Errorf("picture %s names no shot", f.ID)
	case utf8.RuneCountInString(f.Alt) > LongestText:
		return fmt.Errorf("the alternative text of picture %s is longer than %d characters", f.ID, LongestText)
	case len(f.Marks) > MostMarks:
		return fmt.Errorf("picture %s has more than %d marks", f.ID, MostMarks)
	}
	if f.Crop != nil && (!finite(f.Crop.X, f.Crop.Y, f.Crop.W, f.Crop.H) || f.Crop.W < 1 || f.Crop.H < 1) {
		return fmt.Errorf("the crop of picture %s is no rectangle", f.ID)
	}
	if err := f.View.check(); err != nil {
		return fmt.Errorf("picture %s: %w", f.ID, err)
	}
	if err := f.Clip.check(); err != nil {
		return fmt.Errorf("picture %s: %w", f.ID, err)
	}
	if len(f.Shots()) > MostInsets+1 {
		return fmt.Errorf("picture %s has more than %d other shots set into it", f.ID, MostInsets)
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
	if f.Cost() > MostCost {
		return fmt.Errorf("picture %s has more and larger marks than can be drawn; take some of them out", f.ID)
	}
	return nil
}

func (v View) check() error {
	bad := len(v.Outline) > MostPoints || len(v.Folds) > MostFolds || v.Quarter < 0 || v.Quarter > 3 ||
		!finite(v.Tilt) || math.Abs(v.Tilt) > 45 || v.Width < 0 || v.Width > widest || math.Abs(float64(v.Tone.Light)) > 100 ||
		!slices.Contains(scene.Looks, v.Tone.Look) || !slices.Contains([]string{"", "hairline", "rounded", "faded"}, v.Edge.Look)
	if len(v.Recolours) > scene.MostRecolours {
		bad = true
	}
	for _, r := range v.Recolours {
		bad = bad || r.Check() != nil
	}
	for _, p := range v.Outline {
		bad = bad || !finite(p.X, p.Y)
	}
	for _, fold := range v.Folds {
		bad = bad || !finite(fold.From, fold.To) || fold.To <= fold.From
	}
	if m := v.Margin; m != nil {
		for _, side := range []float64{m.Top, m.Right, m.Bottom, m.Left} {
			bad = bad || !finite(side) || side < 0 || side > widest
		}
	}
	if v.Edge.Open != "auto" {
		for _, side := range v.Edge.Open {
			bad = bad || !slices.Contains([]rune("nesw"), side)
		}
	}
	if bad {
		return errors.New("how it is turned, folded or framed is out of bounds")
	}
	return nil
}

func (m Mark) check() error {
	least, most := shapes[m.Kind].least, shapes[m.Kind].most
	switch {
	case !id.Valid(m.ID):
		return errors.New("a mark has no usable id")
	case !slices.Contains(Kinds, m.Kind):
		return fmt.Errorf("mark %s is of the unknown kind %.20q", m.ID, m.Kind)
	case len(m.Points) < least || len(m.Points) > most:
		return fmt.Errorf("mark %s has %d points, too few or too many for a %s", m.ID, len(m.Points), m.Kind)
	case utf8.RuneCountInString(m.Text) > LongestText:
		return fmt.Errorf("the text of mark %s is longer than %d characters", m.ID, LongestText)
	case m.Kind == Inset && !id.Valid(m.Shot):
		return fmt.Errorf("mark %s names no shot", m.ID)
	case !tie(m.From) || !tie(m.To) || !tie(m.Group) || len(m.Color) > 9 || len(m.Ink) > longestInk || m.Start < 0 || m.Start > 9999 ||
		m.Turn < -1e6 || m.Turn > 1e6:
		return fmt.Errorf("mark %s is tied, grouped, coloured or numbered in a way that can't be read", m.ID)
	}
	if err := m.Style.Check(); err != nil {
		return fmt.Errorf("mark %s: %w", m.ID, err)
	}
	if !m.checkTimes() {
		return fmt.Errorf("mark %s comes, goes or moves at times that can't be", m.ID)
	}
	for _, p := range m.Points {
		if !finite(p.X, p.Y) {
			return fmt.Errorf("mark %s has a point that is no place", m.ID)
		}
	}
	return nil
}

// tie tells whether s names a mark, a group, or nothing.
func tie(s string) bool { return s == "" || id.Valid(s) }

// finite tells whether all v are ordinary numbers of a size that a picture can have.
func finite(v ...float64) bool {
	for _, x := range v {
		if math.IsNaN(x) || math.Abs(x) > Farthest {
			return false
		}
	}
	return true
}

// Shots are the shots that the figure shows: its own, then those of its insets.
func (f Figure) Shots() []string {
	shots := []string{f.Shot}
	for _, m := range f.Marks {
		if m.Kind == Inset && !slices.Contains(shots, m.Shot) {
			shots = append(shots, m.Shot)
		}
	}
	return shots
}

// WithShots is the figure with its shots named anew.
func (f Figure) WithShots(name func(string) string) Figure {
	f = f.Clone()
	f.Shot = name(f.Shot)
	for i := range f.Marks {
		if f.Marks[i].Kind == Inset {
			f.Marks[i].Shot = name(f.Marks[i].Shot)
		}
	}
	return f
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
	if f.Margin != nil {
		margin := *f.Margin
		f.Margin = &margin
	}
	f.Outline, f.Folds, f.Recolours = slices.Clone(f.Outline), slices.Clone(f.Folds), slices.Clone(f.Recolours)
	f.Marks = slices.Clone(f.Marks)
	for i, m := range f.Marks {
		f.Marks[i].Points, f.Marks[i].Path = slices.Clone(m.Points), slices.Clone(m.Path)
		if m.During != nil {
			during := *m.During
			f.Marks[i].During = &during
		}
	}
	f.Clip = f.Clip.clone()
	return f
}

// Mended is a figure of a time when less was checked: ids are ids, no place lies farther off than Farthest, and the
// names of inks are names.
func (f Figure) Mended() Figure {
	f = f.Clone()
	f.ID, f.Shot = id.Mended(f.ID), id.Mended(f.Shot)
	mend := func(s string) string {
		if s == "" {
			return s
		}
		return id.Mended(s)
	}
	for i, m := range f.Marks {
		m.ID, m.Shot, m.From, m.To, m.Group = id.Mended(m.ID), mend(m.Shot), mend(m.From), mend(m.To), mend(m.Group)
		if len(m.Ink) > longestInk {
			m.Ink = Inks[0].Name
		}
		near(m.Points)
		f.Marks[i] = m
	}
	near(f.Outline)
	if c := f.Crop; c != nil {
		a, b := scene.Point{X: c.X, Y: c.Y}, scene.Point{X: c.X + c.W, Y: c.Y + c.H}
		corners := []scene.Point{a, b}
		near(corners)
		if corners[0] != a || corners[1] != b {
			r := scene.Between(corners[0], corners[1])
			f.Crop = &r
		}
		if f.Crop.W < 1 || f.Crop.H < 1 {
			f.Crop = nil
		}
	}
	for i, fold := range f.Folds {
		f.Folds[i].From, f.Folds[i].To = held(fold.From), held(fold.To)
	}
	return f
}

// near moves points that lie too far off to where they may lie.
func near(pts []scene.Point) {
	for i, p := range pts {
		pts[i] = scene.Point{X: held(p.X), Y: held(p.Y)}
	}
}

func held(v float64) float64 { return math.Max(-Farthest, math.Min(Farthest, v)) }

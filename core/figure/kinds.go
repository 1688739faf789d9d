package figure

import (
	"math"
	"slices"
	"strings"

	"raconte/core/scene"
)

// shape is what a kind of marks is like. A new kind is a file with its shape, and a line in shapes.
type shape struct {
	name        string // as people read it
	least, most int    // points that such a mark has
	corners     bool   // its first two points are opposite corners, in any order
	framed      bool   // the corners are all of it
	ground      bool   // it changes the picture itself, under all other marks and in every detail
	speaks      bool   // it shows words, on a plate as wide as its first two points say
	wire        bool   // it leads from its first point to its second, and may follow other marks
	counts      bool   // it shows a number or letter that counts by itself
	inked       bool   // its ink must stand out on the picture
	tints       bool   // its ink colours what is under it
	covers      bool   // nothing shows of what is under it
	matches     bool   // it has the colour around it
	stays       []int  // points that stay when it is moved by hand: what it points at
	about       int    // the point that it is about, or one of the two below
	usual       Style  // of the first mark of the kind; without an ink it gets the first
	area        func(m Mark, unit float64) scene.Rect
	grips       func(m Mark, unit float64) []Grip
	hits        func(m Mark, h hit) bool
	edge        func(m Mark, unit float64) []scene.Point // the way along which its ink must stand out
	free        bool                                     // it begins where the press is, without snapping
	pulled      func(m Mark, p Pull) []scene.Point
	finished    func(m Mark, p Pull) (Mark, bool) // without one, a press alone draws nothing
	ties        ties
	inMiddle    func(at func(x, y float64) scene.Point) []scene.Point
	cost        func(m Mark) int // in segments of outlines, without its dashes
	dashed      int              // how often its line is drawn in dashes
	draw        func(d *drawing)
}

// What a mark is about where that is no one point.
const (
	aboutNothing = -1
	aboutCorners = -2
)

// hit is a press, give or take a tolerance, on a mark whose line is so wide and whose drawing has bounds.
type hit struct {
	at              scene.Point
	unit, tolerance float64
	width           float64
	bounds          scene.Rect
}

// onFrame tells whether the press is on the line around r. The inside is not on it, so that what lies in it can be
// reached.
func (h hit) onFrame(r scene.Rect) bool {
	inner := r.Grow(-h.width/2 - h.tolerance)
	return r.Grow(h.width/2+h.tolerance).Contains(h.at) && (inner.W <= 0 || inner.H <= 0 || !inner.Contains(h.at))
}

var shapes map[Kind]shape

// Kinds are all kinds of marks.
var Kinds = []Kind{Arrow, Line, Box, Ellipse, Pen, Text, Note, Marker, Concealment, Patch, Highlight, Light, Detail, Inset, Pointer}

func init() { // shapes ask each other
	shapes = map[Kind]shape{
		Arrow: arrowShape(), Line: lineShape(), Box: boxShape(), Ellipse: ellipseShape(), Pen: penShape(), Text: textShape(), Note: noteShape(),
		Marker: markerShape(), Concealment: concealmentShape(), Patch: patchShape(), Highlight: highlightShape(), Light: lightShape(),
		Detail: detailShape(), Inset: insetShape(), Pointer: pointerShape(),
	}
}

// Name is the kind as people read it.
func (k Kind) Name() string { return shapes[k].name }

// Word is the kind as it stands in a sentence.
func (k Kind) Word() string { return strings.ToLower(k.Name()) }

// Framed tells whether the kind is a rectangle between two corners.
func (k Kind) Framed() bool { return shapes[k].framed }

// Ground tells whether the kind changes the picture itself, under all other marks and in every detail.
func (k Kind) Ground() bool { return shapes[k].ground }

// Speaks tells whether the kind shows words.
func (k Kind) Speaks() bool { return shapes[k].speaks }

// Wire tells whether the kind leads from one place to another.
func (k Kind) Wire() bool { return shapes[k].wire }

// Counts tells whether the kind shows a number or letter that counts by itself.
func (k Kind) Counts() bool { return shapes[k].counts }

// Inked tells whether the kind has an ink that must stand out on the picture.
func (k Kind) Inked() bool { return shapes[k].inked }

// Tints tells whether the kind's ink colours what is under it.
func (k Kind) Tints() bool { return shapes[k].tints }

// Covers tells whether nothing shows of what is under the kind.
func (k Kind) Covers() bool { return shapes[k].covers }

// Matches tells whether the kind has the colour of what is around it.
func (k Kind) Matches() bool { return shapes[k].matches }

// ByHand tells whether the kind's points are the way of a hand.
func (k Kind) ByHand() bool { return shapes[k].most == MostPoints }

// Dot tells whether the kind is placed by one point.
func (k Kind) Dot() bool { return shapes[k].most == 1 }

// Points is how many points a mark of the kind has, at least.
func (k Kind) Points() int { return shapes[k].least }

// Usual is the style of the first mark of a kind.
func (k Kind) Usual() Style {
	style := shapes[k].usual
	if style.Ink == "" {
		style.Ink = Inks[0].Name
	}
	if style.Weight == "" {
		style.Weight = Medium
	}
	return style
}

// InMiddle are the points of a mark of the kind that is placed without a mouse; at leads to so many units from the
// middle of the picture. None where the kind can't be placed so.
func (k Kind) InMiddle(at func(x, y float64) scene.Point) []scene.Point {
	if shapes[k].inMiddle == nil {
		return nil
	}
	return shapes[k].inMiddle(at)
}

// Edge is the way in the picture along which the mark's ink must stand out.
func (m Mark) Edge(unit float64) []scene.Point { return shapes[m.Kind].edge(m, unit) }

// Area is the room that a mark takes in a picture whose unit is given: what arrows are tied to and what is aligned.
func (m Mark) Area(unit float64) scene.Rect {
	switch {
	case len(m.Points) == 0:
		return scene.Rect{}
	case shapes[m.Kind].area == nil:
		return spread(m, unit)
	}
	return shapes[m.Kind].area(m, unit)
}

// Grips are the grips of a mark; a marker has none and is only moved.
func (m Mark) Grips(unit float64) []Grip {
	if shapes[m.Kind].grips == nil {
		return nil
	}
	return shapes[m.Kind].grips(m, unit)
}

// Hits tells whether p is on the mark, give or take the tolerance. The inside of a box that is not
// filled is not on it, so that what lies in the box can be reached.
func (m Mark) Hits(p scene.Point, unit, tolerance float64, bounds scene.Rect) bool {
	h := hit{p, unit, tolerance, m.Weight.of(unit), bounds}
	if shapes[m.Kind].hits == nil {
		return bounds.Grow(tolerance / 2).Contains(p)
	}
	return shapes[m.Kind].hits(m, h)
}

// corners is the rectangle between a mark's first two points.
func (m Mark) corners() scene.Rect { return scene.Between(m.Points[0], m.Points[1]) }

// Parts of shapes that several kinds share.

func cornersArea(m Mark, _ float64) scene.Rect { return m.corners() }

func cornersGrips(m Mark, _ float64) []Grip { return RectGrips(m.corners()) }

func cornersHit(m Mark, h hit) bool { return m.corners().Grow(h.tolerance / 2).Contains(h.at) }

// spread is the room around all points.
func spread(m Mark, _ float64) scene.Rect {
	low, high := m.Points[0], m.Points[0]
	for _, p := range m.Points {
		low = scene.Point{X: math.Min(low.X, p.X), Y: math.Min(low.Y, p.Y)}
		high = scene.Point{X: math.Max(high.X, p.X), Y: math.Max(high.Y, p.Y)}
	}
	return scene.Between(low, high)
}

// aroundArea is the way around a mark's room.
func aroundArea(by float64) func(m Mark, unit float64) []scene.Point {
	return func(m Mark, unit float64) []scene.Point {
		way := scene.Around(m.Area(unit).Grow(by*unit), 0)
		return append(way, way[0])
	}
}

func itself(m Mark, _ float64) []scene.Point { return slices.Clone(m.Points) }

func plain(w int) func(Mark) int { return func(Mark) int { return w } }

func inMiddle(points ...[2]float64) func(func(x, y float64) scene.Point) []scene.Point {
	return func(at func(x, y float64) scene.Point) []scene.Point {
		out := make([]scene.Point, len(points))
		for i, p := range points {
			out[i] = at(p[0], p[1])
		}
		return out
	}
}

var boxInMiddle = inMiddle([2]float64{-80, -40}, [2]float64{80, 40})

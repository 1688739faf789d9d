package figure

import (
	"maps"
	"math"
	"reflect"
	"slices"
	"strconv"

	"raconte/core/scene"
)

// Piece is what one mark looks like.
type Piece struct {
	Mark   string       // the mark's id, or one of the names below
	Key    string       // changes whenever the looks change
	Items  []scene.Item // in places of the finished picture
	Bounds scene.Rect
}

// Pieces that belong to no one mark.
const (
	GroundPiece = "#ground" // the picture itself
	EdgePiece   = "#edge"   // its edges and folds
	LightPiece  = "#light"  // what dims all but the lights
)

// Layouter lays figures out and keeps the pieces it made, so that a drag lays out one mark only.
// The zero value is ready; it is not for use by several goroutines at once.
type Layouter struct {
	kept   map[string]*laid
	made   int
	turn   int // of laying out, to tell pieces that are no longer there
	ground groundState
}

// laid is a piece with all that went into it.
type laid struct {
	mark   Mark
	label  string
	unit   float64
	ground int
	piece  Piece
	turn   int
}

// groundState is all that the picture itself is made of; Version changes with it.
type groundState struct {
	shot    string
	crop    *scene.Rect
	view    View
	size    Size
	marks   []Mark
	items   []scene.Item
	shape   scene.Outline
	version int
}

func (l *laid) stillIs(m Mark, label string, unit float64, ground int) bool {
	return l.label == label && l.unit == unit && l.mark.Kind == m.Kind && l.mark.Style == m.Style && l.mark.Text == m.Text &&
		l.mark.Color == m.Color && l.mark.Shot == m.Shot && slices.Equal(l.mark.Points, m.Points) && l.ground == ground
}

// Layout is the look of each mark in painting order; first is the number of the first marker.
func (l *Layouter) Layout(f Shown, shot Size, first int) []Piece {
	g := f.Geometry(shot)
	shown := make([]Mark, len(f.Marks))
	for i, m := range f.Marks {
		shown[i] = g.ShowMark(m)
	}
	return l.Lay(f.Figure, g, shown, first)
}

// Lay is Layout for marks that are in the places of the finished picture already; f's own are not looked at.
func (l *Layouter) Lay(f Figure, g Geometry, shown []Mark, first int) []Piece {
	unit := Unit(g.Frame)
	shown = clip(Tied(Drawable(shown), unit), g.Frame)
	f.Marks = shown
	numbers := f.Numbers(first)
	l.layGround(f, g, unit)
	if l.kept == nil {
		l.kept = map[string]*laid{}
	}
	l.turn++
	pieces := make([]Piece, 0, len(shown)+3)
	put := func(m Mark, label string, ground int, draw func() []scene.Item) {
		before, ok := l.kept[m.ID]
		if !ok || !before.stillIs(m, label, unit, ground) {
			l.made++
			p := Piece{Mark: m.ID, Key: strconv.Itoa(l.made), Items: draw()}
			p.Bounds = bounds(p.Items)
			if len(p.Items) == 0 || m.Kind == Light {
				p.Bounds = m.Area(unit)
			}
			m.Points = slices.Clone(m.Points)
			before = &laid{mark: m, label: label, unit: unit, ground: ground, piece: p}
			l.kept[m.ID] = before
		}
		before.turn = l.turn
		pieces = append(pieces, before.piece)
	}
	clipped := func(items []scene.Item) []scene.Item {
		if l.ground.shape == nil {
			return items
		}
		return []scene.Item{{Clip: &scene.Clip{Outline: l.ground.shape, Items: items}}}
	}
	put(Mark{ID: GroundPiece}, "", l.ground.version, func() []scene.Item {
		items := clipped(f.pictures(g))
		if f.Margin != nil {
			var s scene.Scene
			s.Fill(scene.Rounded(g.Frame, 0), lightInk)
			items = append(s.Items, items...)
		}
		return items
	})
	for _, insets := range []bool{true, false} {
		for _, m := range shown {
			if m.Kind.Ground() && (m.Kind == Inset) == insets {
				put(m, "", l.ground.version, func() []scene.Item { return clipped(f.cover(m, g, unit)) })
			}
		}
	}
	put(Mark{ID: EdgePiece}, "", l.ground.version, func() []scene.Item { return f.furniture(g, unit) })
	if lights, at := f.lights(); len(lights) > 0 {
		put(Mark{ID: LightPiece, Points: at}, "", l.ground.version, func() []scene.Item { return dimmed(g.Inner, lights) })
	}
	for _, m := range shown {
		if m.Kind.Ground() {
			continue
		}
		ground := 0
		if m.Kind == Detail {
			ground = l.ground.version
		}
		if m.Kind == Marker && m.Text != "" { // its word stands where there is room in the frame
			ground = int(g.Frame.X) ^ int(g.Frame.W)<<20
		}
		put(m, numbers[m.ID].Label, ground, func() []scene.Item {
			return m.draw(unit, numbers[m.ID].Label, l.ground.items, g.Frame)
		})
	}
	if len(l.kept) > len(pieces) {
		maps.DeleteFunc(l.kept, func(_ string, piece *laid) bool { return piece.turn != l.turn })
	}
	return pieces
}

// Drawable are the marks that have all their points: what is damaged is not drawn, and takes nothing else with it.
func Drawable(marks []Mark) []Mark {
	whole := func(m Mark) bool { return m.Kind.Name() != "" && len(m.Points) >= m.Kind.Points() }
	if !slices.ContainsFunc(marks, func(m Mark) bool { return !whole(m) }) {
		return marks
	}
	return slices.DeleteFunc(slices.Clone(marks), func(m Mark) bool { return !whole(m) })
}

// clip are marks without what lies more than a picture's size off the picture.
func clip(marks []Mark, frame scene.Rect) []Mark {
	area := frame.Grow(math.Max(frame.W, frame.H))
	out := make([]Mark, 0, len(marks))
	for _, m := range marks {
		if m, seen := m.clip(area); seen {
			out = append(out, m)
		}
	}
	return out
}

// layGround keeps the picture itself up to date.
func (l *Layouter) layGround(f Figure, g Geometry, unit float64) {
	marks := []Mark{}
	for _, m := range f.Marks {
		if m.Kind.Ground() {
			m.Points = slices.Clone(m.Points)
			marks = append(marks, m)
		}
	}
	was := &l.ground
	if was.version > 0 && was.shot == f.Shot && was.size == g.Sheet && reflect.DeepEqual(was.crop, f.Crop) && reflect.DeepEqual(was.view, f.View) && reflect.DeepEqual(was.marks, marks) {
		return
	}
	now := f.Clone()
	*was = groundState{
		shot: f.Shot, crop: now.Crop, view: now.View, size: g.Sheet, marks: marks,
		items: f.ground(g, marks, unit), shape: f.shape(g, unit), version: was.version + 1,
	}
}

// lights are the areas that stay light, and their corners.
func (f Figure) lights() (rects []scene.Rect, corners []scene.Point) {
	for _, m := range f.Marks {
		if m.Kind == Light {
			a, b := m.Points[0], m.Points[1]
			a, b = scene.Point{X: math.Round(a.X), Y: math.Round(a.Y)}, scene.Point{X: math.Round(b.X), Y: math.Round(b.Y)}
			rects = append(rects, scene.Between(a, b))
			corners = append(corners, a, b)
		}
	}
	return rects, corners
}

// dimmed darkens all of the picture but the lights.
func dimmed(whole scene.Rect, lights []scene.Rect) []scene.Item {
	var s scene.Scene
	var o scene.Outline
	for _, r := range scene.Outside(whole, lights) {
		o = append(o, scene.Rounded(r, 0)...)
	}
	shade := darkInk
	shade.A = 140
	s.Fill(o, shade)
	return s.Items
}

// Unit is the length, in pixels of the shot, that marks are drawn in. It follows the width of the
// frame, so that the marks of all pictures of a document come out alike in print; pictures that
// are never blown up (narrow frames) keep the plain size.
func Unit(frame scene.Rect) float64 { return math.Max(1, math.Min(8, frame.W/960)) }

func bounds(items []scene.Item) scene.Rect {
	var r scene.Rect
	for _, item := range items {
		switch {
		case item.Path != nil:
			r = r.Union(item.Path.Outline.Bounds())
		case item.Picture != nil:
			r = r.Union(item.Picture.Target)
		case item.Clip != nil:
			r = r.Union(item.Clip.Outline.Bounds())
		}
	}
	return r
}

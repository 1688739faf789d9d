package capture

import (
	"time"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
)

// Taken is a shot that may become a step.
type Taken struct {
	Shot  string      `json:"shot"`
	Size  figure.Size `json:"size"`
	About About       `json:"about"`
}

// Steps makes steps of shots in their order: the words say what was done, the crop is what was meant,
// the element that was used gets a box, and a pointer that is known apart becomes a mark. Consecutive
// keys in one field are one step, with the last shot. NewID makes ids.
func Steps(shots []Taken, newID func() string) []document.Block {
	var steps []document.Block
	for i, t := range shots {
		if i+1 < len(shots) && Joins(t.About.Action, shots[i+1].About.Action) {
			continue
		}
		f := figure.Figure{ID: newID(), Shot: t.Shot, Marks: []figure.Mark{}}
		frame := scene.Rect{W: float64(t.Size.W), H: float64(t.Size.H)}
		if t.About.Crop != nil {
			if crop := Whole(t.About.Crop.Intersect(frame)); crop.W >= figure.SmallestCut && crop.H >= figure.SmallestCut {
				f.Crop, frame = &crop, crop
			}
		}
		if act := t.About.Action; act != nil && act.Element != nil {
			if b := act.Element.Rect.Grow(figure.RoomAround).Intersect(frame); !b.Empty() {
				f.Marks = append(f.Marks, figure.Mark{
					ID: newID(), Kind: figure.Box, Style: figure.Style{Ink: figure.Inks[0].Name, Weight: figure.Medium},
					Points: []scene.Point{{X: b.X, Y: b.Y}, {X: b.X + b.W, Y: b.Y + b.H}},
				})
			}
		}
		if p := t.About.Pointer; p != nil && !p.Drawn && frame.Contains(scene.Point{X: p.X, Y: p.Y}) {
			f.Marks = append(f.Marks, figure.Mark{
				ID: newID(), Kind: figure.Pointer, Style: figure.Style{Ink: figure.Inks[0].Name, Weight: figure.Medium}, Points: []scene.Point{{X: p.X, Y: p.Y}},
			})
		}
		steps = append(steps, document.Block{ID: newID(), Content: document.Content{Type: document.Step, Words: t.About.Words(), Figures: []figure.Figure{f}}})
	}
	return steps
}

// Apart tells whether two shots are steps of their own even where they look the same: what was done in
// them differs.
func Apart(a, b About) bool {
	if b.Action == nil || Joins(a.Action, b.Action) {
		return false
	}
	return a.Action == nil || a.Action.Kind != b.Action.Kind || a.Action.Text != b.Action.Text || !sameElement(a.Action.Element, b.Action.Element)
}

// Clocks are the parts of two consecutive shots in which a clock may have moved on: those that the source
// names as clocks or, where it names nothing and the minute changed between them, the screen's corners.
func Clocks(a, b About, size figure.Size) []scene.Rect {
	var clocks []scene.Rect
	for _, e := range b.Elements {
		if e.Role == RoleClock {
			clocks = append(clocks, e.Rect)
		}
	}
	if len(b.Elements) > 0 || a.Taken.Truncate(time.Minute).Equal(b.Taken.Truncate(time.Minute)) {
		return clocks
	}
	scale := max(1, b.Scale)
	w, h := 160*scale, 48*scale
	for _, x := range []float64{0, float64(size.W) - w} {
		for _, y := range []float64{0, float64(size.H) - h} {
			clocks = append(clocks, scene.Rect{X: x, Y: y, W: w, H: h})
		}
	}
	return clocks
}

// Pointers are the places in two shots at which the mouse pointer is known to be drawn.
func Pointers(a, b About) []scene.Rect {
	var places []scene.Rect
	for _, p := range []*Pointer{a.Pointer, b.Pointer} {
		if p != nil && p.Drawn {
			// Its tip is at the place; its body lies below, and wherever a hand or a crosshair reaches.
			places = append(places, scene.Rect{X: p.X - 24, Y: p.Y - 24, W: 64, H: 64})
		}
	}
	return places
}

// uneven is the most, as a share, that sizes may differ and still be meant as the same frame (rule 7).
const uneven = 0.08

// Uneven tells whether two shots differ a little in size, so that a sequence of them jumps.
func Uneven(a, b figure.Size) bool {
	if a == b {
		return false
	}
	near := func(x, y int) bool { return float64(max(x, y)-min(x, y)) <= uneven*float64(max(x, y)) }
	return near(a.W, b.W) && near(a.H, b.H)
}

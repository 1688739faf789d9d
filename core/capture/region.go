package capture

import (
	"math"

	"raconte/core/scene"
)

// Smallest is the least side of a region, in pixels.
const Smallest = 8

// Region is an area to take again. It is kept relative to a window where one was under it, so that it
// follows the window when that is moved; Rect is then in pixels from the window's top left.
type Region struct {
	Rect   scene.Rect `json:"rect"`
	Window string     `json:"window,omitempty"` // the window's title
	W      float64    `json:"w"`                // the screen's size then
	H      float64    `json:"h"`
}

// Remember keeps an area of the screen for taking it again. It belongs to the window that holds all of it.
func (s Screen) Remember(r scene.Rect) Region {
	out := Region{Rect: r, W: s.W, H: s.H}
	if w, ok := s.WindowAt(r.Center()); ok && inside(r, w.Rect.Grow(w.Shadow)) {
		out.Window = w.Title
		out.Rect.X, out.Rect.Y = r.X-w.Rect.X, r.Y-w.Rect.Y
	}
	return out
}

// Again is where a kept region lies now. The note says, for people, what had to be done to it; it is
// empty where nothing was.
func (s Screen) Again(kept Region) (r scene.Rect, note string) {
	r = kept.Rect
	if kept.Window != "" {
		found := false
		for _, w := range s.Windows {
			if w.Title == kept.Window {
				r.X, r.Y, found = r.X+w.Rect.X, r.Y+w.Rect.Y, true
				break
			}
		}
		if !found && len(s.Windows) > 0 {
			w := s.Windows[0]
			r.X, r.Y = r.X+w.Rect.X, r.Y+w.Rect.Y
			note = "The window “" + kept.Window + "” is not open; the area is taken from “" + w.Title + "”."
		}
	}
	clamped := Clamp(r, scene.Rect{W: s.W, H: s.H})
	if clamped != Whole(r) {
		note = "The screen changed; the area was moved or made smaller to lie on it."
	}
	return clamped, note
}

// Clamp moves r onto the screen and, only where it is larger than that, makes it smaller. Its places
// are whole pixels.
func Clamp(r, screen scene.Rect) scene.Rect {
	r = Whole(r)
	r.W, r.H = math.Min(math.Max(r.W, 1), screen.W), math.Min(math.Max(r.H, 1), screen.H)
	r.X = math.Max(screen.X, math.Min(r.X, screen.X+screen.W-r.W))
	r.Y = math.Max(screen.Y, math.Min(r.Y, screen.Y+screen.H-r.H))
	return r
}

// Whole is r on whole pixels.
func Whole(r scene.Rect) scene.Rect {
	x, y := math.Round(r.X), math.Round(r.Y)
	return scene.Rect{X: x, Y: y, W: math.Round(r.X+r.W) - x, H: math.Round(r.Y+r.H) - y}
}

func inside(r, o scene.Rect) bool {
	return r.X >= o.X && r.Y >= o.Y && r.X+r.W <= o.X+o.W && r.Y+r.H <= o.Y+o.H
}

// Drag is a region while it is picked: the rectangle from one corner to the pointer, or an exact size
// or ratio that was asked for. Ratio is width to height, 0 for free.
type Drag struct {
	From  scene.Point `json:"from"`
	To    scene.Point `json:"to"`
	Ratio float64     `json:"ratio"`
	W     float64     `json:"w"` // an exact size; 0 for free
	H     float64     `json:"h"`
}

// Rect is the region, on the screen and on whole pixels.
func (d Drag) Rect(screen scene.Rect) scene.Rect {
	if d.W > 0 && d.H > 0 {
		return Clamp(scene.Rect{X: d.To.X - d.W/2, Y: d.To.Y - d.H/2, W: d.W, H: d.H}, screen)
	}
	r := scene.Between(d.From, d.To)
	if d.Ratio > 0 {
		if r.W/d.Ratio > r.H {
			r.H = r.W / d.Ratio
		} else {
			r.W = r.H * d.Ratio
		}
		// It grows away from where the drag began; where the screen ends, it is made smaller in its ratio.
		room := scene.Point{X: screen.X + screen.W - d.From.X, Y: screen.Y + screen.H - d.From.Y}
		if d.To.X < d.From.X {
			room.X = d.From.X - screen.X
		}
		if d.To.Y < d.From.Y {
			room.Y = d.From.Y - screen.Y
		}
		if k := math.Min(1, math.Min(room.X/math.Max(r.W, 1), room.Y/math.Max(r.H, 1))); k < 1 {
			r.W, r.H = r.W*k, r.H*k
		}
		if d.To.X < d.From.X {
			r.X = d.From.X - r.W
		}
		if d.To.Y < d.From.Y {
			r.Y = d.From.Y - r.H
		}
	}
	return Whole(r.Intersect(screen))
}

// Reshape is a region after its handle was moved by d. A handle names the sides that it moves: "n",
// "se", and "" for the whole region.
func Reshape(r scene.Rect, handle string, d scene.Point, screen scene.Rect) scene.Rect {
	if handle == "" {
		r.X, r.Y = r.X+d.X, r.Y+d.Y
		return Clamp(r, screen)
	}
	x0, y0, x1, y1 := r.X, r.Y, r.X+r.W, r.Y+r.H
	for _, side := range handle {
		switch side {
		case 'w':
			x0 = math.Max(screen.X, math.Min(x0+d.X, x1-Smallest))
		case 'e':
			x1 = math.Min(screen.X+screen.W, math.Max(x1+d.X, x0+Smallest))
		case 'n':
			y0 = math.Max(screen.Y, math.Min(y0+d.Y, y1-Smallest))
		case 's':
			y1 = math.Min(screen.Y+screen.H, math.Max(y1+d.Y, y0+Smallest))
		}
	}
	return Whole(scene.Rect{X: x0, Y: y0, W: x1 - x0, H: y1 - y0})
}

// Band is the part of a window that is meant: its full width and a share of its height around the
// pointer. It stays inside the window.
func Band(window scene.Rect, pointerY, share float64) scene.Rect {
	h := math.Max(math.Min(1, math.Max(share, 0.05))*window.H, Smallest)
	return Clamp(scene.Rect{X: window.X, Y: pointerY - h/2, W: window.W, H: h}, window)
}

package comment

import (
	"math"

	"raconte/core/figure"
	"raconte/core/id"
	"raconte/core/scene"
)

// Pin is a point or an area of a shot, in its pixels, so that it stays where it is however the picture is cropped or
// turned.
type Pin struct {
	Shot string  `json:"shot"`
	X    float64 `json:"x"`
	Y    float64 `json:"y"`
	W    float64 `json:"w,omitempty"` // 0 of a point
	H    float64 `json:"h,omitempty"`
	Lost string  `json:"lost,omitempty"` // the shot that took the first one's place and in which this was not found again
}

const farthest = 100_000 // pixels

func (p Pin) usable() bool {
	for _, v := range []float64{p.X, p.Y, p.W, p.H} {
		if math.IsNaN(v) || math.Abs(v) > farthest {
			return false
		}
	}
	return id.Valid(p.Shot) && p.W >= 0 && p.H >= 0 && (p.Lost == "" || id.Valid(p.Lost))
}

// Shown is where a pin lies in the finished picture, as shares of its width and height; false where it lies outside of
// it.
func (p Pin) Shown(f figure.Figure, shot figure.Size) (scene.Rect, bool) {
	g := f.Geometry(shot)
	box := bounds(g.Show, scene.Rect{X: p.X, Y: p.Y, W: p.W, H: p.H})
	r := scene.Rect{X: (box.X - g.Frame.X) / g.Frame.W, Y: (box.Y - g.Frame.Y) / g.Frame.H, W: box.W / g.Frame.W, H: box.H / g.Frame.H}
	return r, r.X+r.W >= 0 && r.Y+r.H >= 0 && r.X <= 1 && r.Y <= 1
}

// PinAt is the pin for a place of the finished picture, given as shares of its width and height.
func PinAt(f figure.Figure, shot figure.Size, at scene.Rect) Pin {
	g := f.Geometry(shot)
	r := bounds(g.Keep, scene.Rect{X: g.Frame.X + at.X*g.Frame.W, Y: g.Frame.Y + at.Y*g.Frame.H, W: at.W * g.Frame.W, H: at.H * g.Frame.H})
	return Pin{Shot: f.Shot, X: math.Round(r.X), Y: math.Round(r.Y), W: math.Round(r.W), H: math.Round(r.H)}
}

// bounds is the upright rectangle around where the corners of one are led to.
func bounds(to func(scene.Point) scene.Point, r scene.Rect) scene.Rect {
	x0, y0, x1, y1 := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	for _, c := range []scene.Point{{X: r.X, Y: r.Y}, {X: r.X + r.W, Y: r.Y}, {X: r.X, Y: r.Y + r.H}, {X: r.X + r.W, Y: r.Y + r.H}} {
		q := to(c)
		x0, y0, x1, y1 = min(x0, q.X), min(y0, q.Y), max(x1, q.X), max(y1, q.Y)
	}
	return scene.Rect{X: x0, Y: y0, W: x1 - x0, H: y1 - y0}
}

// least is the side that a point is given to be found again by its looks, in pixels.
const least = 48

// Mark is the pin as a mark whose target is looked for in another shot.
func (p Pin) Mark() figure.Mark {
	w, h := max(p.W, least), max(p.H, least)
	x, y := p.X-(w-p.W)/2, p.Y-(h-p.H)/2
	return figure.Mark{ID: "pin", Kind: figure.Box, Points: []scene.Point{{X: x, Y: y}, {X: x + w, Y: y + h}}}
}

// Moved is the pin on another shot, where its mark was found there.
func (p Pin) Moved(shot string, to figure.Mark) Pin {
	from := p.Mark()
	if len(to.Points) < 2 {
		p.Lost = shot
		return p
	}
	p.Shot, p.Lost = shot, ""
	p.X += (to.Points[0].X + to.Points[1].X - from.Points[0].X - from.Points[1].X) / 2
	p.Y += (to.Points[0].Y + to.Points[1].Y - from.Points[0].Y - from.Points[1].Y) / 2
	return p
}

package scene

import "math"

// Point is a place in a scene.
type Point struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
}

// Plus is p moved by d.
func (p Point) Plus(d Point) Point { return Point{p.X + d.X, p.Y + d.Y} }

// Minus is the way from q to p.
func (p Point) Minus(q Point) Point { return Point{p.X - q.X, p.Y - q.Y} }

// Times is p stretched by k.
func (p Point) Times(k float64) Point { return Point{p.X * k, p.Y * k} }

// Length is the distance of p from the origin.
func (p Point) Length() float64 { return math.Hypot(p.X, p.Y) }

// Rect is an upright rectangle; W and H are not negative.
type Rect struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
	W float64 `json:"w"`
	H float64 `json:"h"`
}

// Between is the rectangle that has a and b as opposite corners.
func Between(a, b Point) Rect {
	return Rect{math.Min(a.X, b.X), math.Min(a.Y, b.Y), math.Abs(a.X - b.X), math.Abs(a.Y - b.Y)}
}

// Empty tells whether the rectangle covers nothing.
func (r Rect) Empty() bool { return r.W <= 0 || r.H <= 0 }

// Grow is r with its sides moved outwards by d.
func (r Rect) Grow(d float64) Rect { return Rect{r.X - d, r.Y - d, r.W + 2*d, r.H + 2*d} }

// Outward is the smallest rectangle of whole units around r.
func (r Rect) Outward() Rect {
	x, y := math.Floor(r.X), math.Floor(r.Y)
	return Rect{x, y, math.Ceil(r.X+r.W) - x, math.Ceil(r.Y+r.H) - y}
}

// Center is the middle of r.
func (r Rect) Center() Point { return Point{r.X + r.W/2, r.Y + r.H/2} }

// Contains tells whether p lies in r, its edges included.
func (r Rect) Contains(p Point) bool {
	return p.X >= r.X && p.X <= r.X+r.W && p.Y >= r.Y && p.Y <= r.Y+r.H
}

// Clip is the part of the line from a to b that lies in r (the algorithm of Liang and Barsky); false where none does.
func (r Rect) Clip(a, b Point) (Point, Point, bool) {
	d := b.Minus(a)
	from, to := 0.0, 1.0
	for _, side := range [][2]float64{{-d.X, a.X - r.X}, {d.X, r.X + r.W - a.X}, {-d.Y, a.Y - r.Y}, {d.Y, r.Y + r.H - a.Y}} {
		p, q := side[0], side[1]
		switch {
		case p == 0 && q < 0:
			return a, b, false
		case p < 0:
			from = math.Max(from, q/p)
		case p > 0:
			to = math.Min(to, q/p)
		}
	}
	if from > to {
		return a, b, false
	}
	return a.Plus(d.Times(from)), a.Plus(d.Times(to)), true
}

// Intersect is what r and o share; empty where they do not touch.
func (r Rect) Intersect(o Rect) Rect {
	x0, y0 := math.Max(r.X, o.X), math.Max(r.Y, o.Y)
	x1, y1 := math.Min(r.X+r.W, o.X+o.W), math.Min(r.Y+r.H, o.Y+o.H)
	if x1 <= x0 || y1 <= y0 {
		return Rect{X: x0, Y: y0}
	}
	return Rect{x0, y0, x1 - x0, y1 - y0}
}

// Union is the smallest rectangle around r and o.
func (r Rect) Union(o Rect) Rect {
	if r.Empty() {
		return o
	}
	if o.Empty() {
		return r
	}
	x0, y0 := math.Min(r.X, o.X), math.Min(r.Y, o.Y)
	return Rect{x0, y0, math.Max(r.X+r.W, o.X+o.W) - x0, math.Max(r.Y+r.H, o.Y+o.H) - y0}
}

// DistanceToSegment is how far p is from the line from a to b.
func DistanceToSegment(p, a, b Point) float64 {
	d := b.Minus(a)
	l2 := d.X*d.X + d.Y*d.Y
	if l2 == 0 {
		return p.Minus(a).Length()
	}
	t := math.Max(0, math.Min(1, ((p.X-a.X)*d.X+(p.Y-a.Y)*d.Y)/l2))
	return p.Minus(a.Plus(d.Times(t))).Length()
}

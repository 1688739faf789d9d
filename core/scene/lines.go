package scene

import (
	"math"
	"slices"
)

// Stroke is a line of the given width through pts with round joins and ends; closed joins the last
// point to the first. Its parts overlap and all turn the same way, so that they fill as one.
func Stroke(pts []Point, width float64, closed bool) Outline {
	pts = distinct(pts)
	half := width / 2
	n := len(pts)
	if n == 0 {
		return nil
	}
	if closed && n > 1 && pts[n-1].Minus(pts[0]).Length() <= 1e-6 {
		n--
		pts = pts[:n]
	}
	closed = closed && n > 1
	var o Outline
	last := n - 1
	if closed {
		last = n
	}
	for i := range last {
		a, b := pts[i], pts[(i+1)%n]
		s := across(a, b).Times(half)
		o = append(o, Polygon(a.Minus(s), b.Minus(s), b.Plus(s), a.Plus(s))...)
	}
	for i, p := range pts {
		inner := closed || (i > 0 && i < n-1)
		if inner && straight(pts[(i+n-1)%n], p, pts[(i+1)%n]) {
			continue // the gap between two parts is too small to be seen
		}
		o = append(o, Disc(p, half)...)
	}
	return o
}

// straight tells whether a line hardly turns at b: by less than 4°.
func straight(a, b, c Point) bool {
	d, e := b.Minus(a), c.Minus(b)
	return d.X*e.X+d.Y*e.Y > 0.9976*d.Length()*e.Length()
}

// across is the unit vector at a right angle to the way from a to b.
func across(a, b Point) Point {
	d := b.Minus(a)
	l := d.Length()
	return Point{-d.Y / l, d.X / l}
}

func distinct(pts []Point) []Point {
	out := make([]Point, 0, len(pts))
	for _, p := range pts {
		if len(out) == 0 || p.Minus(out[len(out)-1]).Length() > 1e-6 {
			out = append(out, p)
		}
	}
	return out
}

// Dashed is a line in pieces: on long, off apart. Its ends are round.
func Dashed(pts []Point, width, on, off float64, closed bool) Outline {
	var o Outline
	for _, dash := range Dashes(pts, on, off, closed) {
		o = append(o, Stroke(dash, width, false)...)
	}
	return o
}

// MostDashes bounds the pieces of one line: of a very long one, they are longer.
const MostDashes = 600

// Dashes are the pieces of a line that is drawn in dashes, stretched a little so that it ends with one.
func Dashes(pts []Point, on, off float64, closed bool) [][]Point {
	if closed && len(pts) > 0 {
		pts = append(append([]Point{}, pts...), pts[0])
	}
	pts = distinct(pts)
	length := 0.0
	for i := 1; i < len(pts); i++ {
		length += pts[i].Minus(pts[i-1]).Length()
	}
	if length < on+off {
		return [][]Point{pts}
	}
	if most := length / MostDashes; on+off > 0 && on+off < most {
		k := most / (on + off)
		on, off = on*k, off*k
	}
	count := math.Max(1, math.Round(length/(on+off)))
	if closed {
		k := length / (count * (on + off))
		on, off = on*k, off*k
	} else {
		k := (length - on) / (count * (on + off))
		off = (on+off)*k - on
		if off <= 0 {
			return [][]Point{pts}
		}
	}
	var all [][]Point
	drawing, left := true, on
	dash := []Point{pts[0]}
	for i := 1; i < len(pts); i++ {
		a, b := pts[i-1], pts[i]
		for {
			l := b.Minus(a).Length()
			if l <= left {
				left -= l
				if drawing {
					dash = append(dash, b)
				}
				break
			}
			a = a.Plus(b.Minus(a).Times(left / l))
			if drawing {
				all = append(all, append(dash, a))
				dash, left = nil, off
			} else {
				dash, left = []Point{a}, on
			}
			drawing = !drawing
		}
	}
	if drawing && len(dash) > 1 {
		all = append(all, dash)
	}
	return all
}

// Curve are points along the quadratic Bézier curve from a to b with the control point c.
func Curve(a, c, b Point) []Point {
	n := int(math.Min(64, 8+(c.Minus(a).Length()+b.Minus(c).Length())/12))
	pts := make([]Point, 0, n+1)
	for i := range n + 1 {
		t := float64(i) / float64(n)
		u := 1 - t
		pts = append(pts, a.Times(u*u).Plus(c.Times(2*u*t)).Plus(b.Times(t*t)))
	}
	return pts
}

// MostSmooth bounds the points that Smooth adds between those it is given.
const MostSmooth = 4000

// Smooth are points along a curve through all pts (a Catmull-Rom spline).
func Smooth(pts []Point) []Point {
	pts = distinct(pts)
	if len(pts) < 3 {
		return pts
	}
	at := func(i int) Point { return pts[max(0, min(len(pts)-1, i))] }
	out := []Point{pts[0]}
	finest := math.Min(12, math.Max(1, MostSmooth/float64(len(pts))))
	for i := range len(pts) - 1 {
		p0, p1, p2, p3 := at(i-1), at(i), at(i+1), at(i+2)
		n := int(math.Max(1, math.Min(finest, p2.Minus(p1).Length()/4)))
		for j := 1; j <= n; j++ {
			t := float64(j) / float64(n)
			a := p1.Times(2)
			b := p2.Minus(p0).Times(t)
			c := p0.Times(2).Minus(p1.Times(5)).Plus(p2.Times(4)).Minus(p3).Times(t * t)
			d := p1.Times(3).Minus(p0).Minus(p2.Times(3)).Plus(p3).Times(t * t * t)
			out = append(out, a.Plus(b).Plus(c).Plus(d).Times(0.5))
		}
	}
	return out
}

// Thinned leaves out points that lie within tolerance of the line through the others (the algorithm
// of Ramer, Douglas and Peucker).
func Thinned(pts []Point, tolerance float64) []Point {
	if len(pts) < 3 {
		return pts
	}
	far, at := 0.0, 0
	for i := 1; i < len(pts)-1; i++ {
		if d := DistanceToSegment(pts[i], pts[0], pts[len(pts)-1]); d > far {
			far, at = d, i
		}
	}
	if far <= tolerance {
		return []Point{pts[0], pts[len(pts)-1]}
	}
	head := Thinned(pts[:at+1], tolerance)
	return append(head[:len(head)-1:len(head)-1], Thinned(pts[at:], tolerance)...)
}

// DistanceToLine is how far p is from the line through pts.
func DistanceToLine(p Point, pts []Point) float64 {
	best := math.Inf(1)
	if len(pts) == 1 {
		return p.Minus(pts[0]).Length()
	}
	for i := 1; i < len(pts); i++ {
		best = math.Min(best, DistanceToSegment(p, pts[i-1], pts[i]))
	}
	return best
}

// Ellipse is the ellipse that fills r.
func Ellipse(r Rect) Outline {
	c := r.Center()
	circle := Disc(Point{}, 1)
	return circle.Mapped(func(p Point) Point { return Point{c.X + p.X*r.W/2, c.Y + p.Y*r.H/2} })
}

// Around are points along the edge of a rounded rectangle, clockwise from its top left.
func Around(r Rect, radius float64) []Point {
	q := math.Max(0, math.Min(radius, math.Min(r.W, r.H)/2))
	corner := func(cx, cy, from float64) []Point {
		if q == 0 {
			return []Point{{cx, cy}}
		}
		var pts []Point
		for i := range 7 {
			s, c := math.Sincos((from + float64(i)*15) * math.Pi / 180)
			pts = append(pts, Point{cx + q*c, cy + q*s})
		}
		return pts
	}
	pts := corner(r.X+q, r.Y+q, 180)
	pts = append(pts, corner(r.X+r.W-q, r.Y+q, 270)...)
	pts = append(pts, corner(r.X+r.W-q, r.Y+r.H-q, 0)...)
	return append(pts, corner(r.X+q, r.Y+r.H-q, 90)...)
}

// AroundEllipse are points along the ellipse that fills r.
func AroundEllipse(r Rect) []Point {
	c := r.Center()
	n := int(math.Max(24, math.Min(120, (r.W+r.H)/8)))
	pts := make([]Point, n)
	for i := range pts {
		s, k := math.Sincos(2 * math.Pi * float64(i) / float64(n))
		pts[i] = Point{c.X + k*r.W/2, c.Y + s*r.H/2}
	}
	return pts
}

// Ring is what lies between two outlines that turn the same way, the inner being one shape.
func Ring(outer, inner Outline) Outline {
	return append(outer[:len(outer):len(outer)], reversed(inner)...)
}

// Outside are rectangles that together cover whole but for the holes.
func Outside(whole Rect, holes []Rect) []Rect {
	edges := []float64{whole.Y, whole.Y + whole.H}
	for _, h := range holes {
		edges = append(edges, h.Y, h.Y+h.H)
	}
	var rest []Rect
	slices.Sort(edges)
	edges = slices.Compact(edges)
	for i, top := range edges[:len(edges)-1] {
		bottom := edges[i+1]
		if top < whole.Y || bottom > whole.Y+whole.H {
			continue
		}
		x := whole.X
		var open []Rect
		for _, h := range holes {
			if h.Y <= top && h.Y+h.H >= bottom && h.W > 0 {
				open = append(open, h)
			}
		}
		for x < whole.X+whole.W {
			next, end := whole.X+whole.W, x
			for _, h := range open {
				switch {
				case h.X <= x && h.X+h.W > end:
					end = h.X + h.W
				case h.X > x:
					next = math.Min(next, h.X)
				}
			}
			if end > x {
				x = end
				continue
			}
			rest = append(rest, Rect{x, top, next - x, bottom - top})
			x = next
		}
	}
	return rest
}

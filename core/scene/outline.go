package scene

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"strconv"
)

// Op says how a segment goes on: 'M' to a new start, 'L' straight, 'Q' and 'C' as a quadratic or
// cubic Bézier curve, 'Z' back to the start. The letters are those of SVG path data.
type Op byte

// Seg is one segment of an outline; 'L' and 'M' use P[0], 'Q' P[0:2], 'C' P[0:3], the last being
// where the segment ends.
type Seg struct {
	Op Op
	P  [3]Point
}

// Outline is a list of closed shapes. It is written to JSON as SVG path data.
type Outline []Seg

// Polygon is the closed outline through the points.
func Polygon(pts ...Point) Outline {
	o := make(Outline, 0, len(pts)+1)
	for i, p := range pts {
		op := Op('L')
		if i == 0 {
			op = 'M'
		}
		o = append(o, Seg{op, [3]Point{p}})
	}
	return append(o, Seg{Op: 'Z'})
}

// circleHandle is the length of the handles of a cubic that comes closest to a quarter circle of
// radius 1: 4/3·(√2−1).
const circleHandle = 0.5522847498

// Rounded is the rectangle r with corners of the given radius, turning clockwise on the screen.
func Rounded(r Rect, radius float64) Outline {
	q := math.Min(radius, math.Min(r.W, r.H)/2)
	x0, y0, x1, y1 := r.X, r.Y, r.X+r.W, r.Y+r.H
	if q <= 0 {
		return Polygon(Point{x0, y0}, Point{x1, y0}, Point{x1, y1}, Point{x0, y1})
	}
	k := q * (1 - circleHandle)
	curve := func(ax, ay, bx, by, x, y float64) Seg {
		return Seg{'C', [3]Point{{ax, ay}, {bx, by}, {x, y}}}
	}
	line := func(x, y float64) Seg { return Seg{'L', [3]Point{{x, y}}} }
	return Outline{
		{'M', [3]Point{{x0 + q, y0}}},
		line(x1-q, y0), curve(x1-k, y0, x1, y0+k, x1, y0+q),
		line(x1, y1-q), curve(x1, y1-k, x1-k, y1, x1-q, y1),
		line(x0+q, y1), curve(x0+k, y1, x0, y1-k, x0, y1-q),
		line(x0, y0+q), curve(x0, y0+k, x0+k, y0, x0+q, y0),
		{Op: 'Z'},
	}
}

// Disc is a circle.
func Disc(c Point, radius float64) Outline {
	return Rounded(Rect{c.X - radius, c.Y - radius, 2 * radius, 2 * radius}, radius)
}

// Frame is a rounded rectangle drawn as a line of the given width, centred on r's edge.
func Frame(r Rect, radius, width float64) Outline {
	outer := Rounded(r.Grow(width/2), radius+width/2)
	inner := r.Grow(-width / 2)
	if inner.Empty() {
		return outer
	}
	return append(outer, reversed(Rounded(inner, math.Max(0, radius-width/2)))...)
}

// reversed is the same single shape turning the other way, for cutting holes.
func reversed(o Outline) Outline {
	var ends []Point
	for _, s := range o {
		if s.Op != 'Z' {
			ends = append(ends, s.end())
		}
	}
	out := Outline{{'M', [3]Point{ends[len(ends)-1]}}}
	for i := len(ends) - 1; i > 0; i-- {
		s, to := o[i], ends[i-1]
		switch s.Op {
		case 'C':
			out = append(out, Seg{'C', [3]Point{s.P[1], s.P[0], to}})
		case 'Q':
			out = append(out, Seg{'Q', [3]Point{s.P[0], to}})
		default:
			out = append(out, Seg{'L', [3]Point{to}})
		}
	}
	return append(out, Seg{Op: 'Z'})
}

func (s Seg) end() Point {
	switch s.Op {
	case 'C':
		return s.P[2]
	case 'Q':
		return s.P[1]
	}
	return s.P[0]
}

// Moved is the outline stretched by k about the origin, then moved by d.
func (o Outline) Moved(k float64, d Point) Outline {
	out := make(Outline, len(o))
	for i, s := range o {
		out[i].Op = s.Op
		for j, p := range s.P {
			out[i].P[j] = p.Times(k).Plus(d)
		}
	}
	return out
}

// Bounds is the smallest rectangle around all points and handles of the outline.
func (o Outline) Bounds() Rect {
	x0, y0, x1, y1 := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	for _, s := range o {
		for _, p := range s.P[:s.Op.points()] {
			x0, y0 = math.Min(x0, p.X), math.Min(y0, p.Y)
			x1, y1 = math.Max(x1, p.X), math.Max(y1, p.Y)
		}
	}
	if x1 < x0 {
		return Rect{}
	}
	return Rect{x0, y0, x1 - x0, y1 - y0}
}

func (op Op) points() int {
	switch op {
	case 'M', 'L':
		return 1
	case 'Q':
		return 2
	case 'C':
		return 3
	}
	return 0
}

// String is the outline as SVG path data, to a hundredth of a unit.
func (o Outline) String() string {
	b := make([]byte, 0, len(o)*14)
	for _, s := range o {
		b = append(b, byte(s.Op))
		for i, p := range s.P[:s.Op.points()] {
			if i > 0 {
				b = append(b, ' ')
			}
			b = appendNumber(b, p.X)
			b = append(b, ' ')
			b = appendNumber(b, p.Y)
		}
	}
	return string(b)
}

func appendNumber(b []byte, v float64) []byte {
	return strconv.AppendFloat(b, math.Round(v*100)/100, 'f', -1, 64)
}

// MarshalJSON writes the outline as SVG path data.
func (o Outline) MarshalJSON() ([]byte, error) { return json.Marshal(o.String()) }

// UnmarshalJSON reads path data as written by MarshalJSON: absolute M, L, Q, C and Z.
func (o *Outline) UnmarshalJSON(raw []byte) error {
	var d string
	if err := json.Unmarshal(raw, &d); err != nil {
		return fmt.Errorf("reading an outline: %w", err)
	}
	*o = nil
	for i := 0; i < len(d); {
		s := Seg{Op: Op(d[i])}
		end := i + 1
		for end < len(d) && (d[end] < 'A' || d[end] > 'Z') {
			end++
		}
		fields := bytes.Fields([]byte(d[i+1 : end]))
		if len(fields) != 2*s.Op.points() {
			return fmt.Errorf("reading an outline: %q has the wrong count of numbers", d[i:end])
		}
		for j, f := range fields {
			v, err := strconv.ParseFloat(string(f), 64)
			if err != nil {
				return fmt.Errorf("reading an outline: %w", err)
			}
			if j%2 == 0 {
				s.P[j/2].X = v
			} else {
				s.P[j/2].Y = v
			}
		}
		*o = append(*o, s)
		i = end
	}
	return nil
}

// Ends are the points at which the outline's segments end.
func (o Outline) Ends() []Point {
	var pts []Point
	for _, s := range o {
		if s.Op != 'Z' {
			pts = append(pts, s.end())
		}
	}
	return pts
}

// Contours are the closed shapes of the outline as points, curves in short straight pieces.
func (o Outline) Contours() [][]Point {
	var all [][]Point
	var now []Point
	for _, s := range o {
		switch s.Op {
		case 'M':
			now = []Point{s.P[0]}
		case 'L':
			now = append(now, s.P[0])
		case 'Q', 'C':
			from := now[len(now)-1]
			const n = 4
			for i := 1; i <= n; i++ {
				t := float64(i) / n
				u := 1 - t
				if s.Op == 'Q' {
					now = append(now, from.Times(u*u).Plus(s.P[0].Times(2*u*t)).Plus(s.P[1].Times(t*t)))
				} else {
					now = append(now, from.Times(u*u*u).Plus(s.P[0].Times(3*u*u*t)).Plus(s.P[1].Times(3*u*t*t)).Plus(s.P[2].Times(t*t*t)))
				}
			}
		case 'Z':
			all, now = append(all, now), nil
		}
	}
	return all
}

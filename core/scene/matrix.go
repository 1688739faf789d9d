package scene

import "math"

// Matrix maps a point (x, y) to (A·x + C·y + E, B·x + D·y + F), as the matrix of SVG and PDF does.
type Matrix struct {
	A float64 `json:"a"`
	B float64 `json:"b"`
	C float64 `json:"c"`
	D float64 `json:"d"`
	E float64 `json:"e"`
	F float64 `json:"f"`
}

// Same is the matrix that moves nothing.
var Same = Matrix{A: 1, D: 1}

// Stretch is the matrix that stretches by k about the origin, then moves by d.
func Stretch(k float64, d Point) Matrix { return Matrix{A: k, D: k, E: d.X, F: d.Y} }

// Rotation turns clockwise on the screen, in radians, about the origin.
func Rotation(angle float64) Matrix {
	s, c := math.Sincos(angle)
	return Matrix{A: c, B: s, C: -s, D: c}
}

// Then is m followed by n.
func (m Matrix) Then(n Matrix) Matrix {
	return Matrix{
		A: n.A*m.A + n.C*m.B, B: n.B*m.A + n.D*m.B,
		C: n.A*m.C + n.C*m.D, D: n.B*m.C + n.D*m.D,
		E: n.A*m.E + n.C*m.F + n.E, F: n.B*m.E + n.D*m.F + n.F,
	}
}

// Apply is where p goes.
func (m Matrix) Apply(p Point) Point { return Point{m.A*p.X + m.C*p.Y + m.E, m.B*p.X + m.D*p.Y + m.F} }

// Inverse leads back; a matrix that can't be undone gives Same.
func (m Matrix) Inverse() Matrix {
	det := m.A*m.D - m.B*m.C
	if math.Abs(det) < 1e-12 {
		return Same
	}
	n := Matrix{A: m.D / det, B: -m.B / det, C: -m.C / det, D: m.A / det}
	n.E, n.F = -(n.A*m.E + n.C*m.F), -(n.B*m.E + n.D*m.F)
	return n
}

// Upright tells whether the matrix only stretches evenly and moves.
func (m Matrix) Upright() bool { return m.B == 0 && m.C == 0 && m.A == m.D && m.A > 0 }

// Through is the outline with all its points mapped by m.
func (o Outline) Through(m Matrix) Outline { return o.Mapped(m.Apply) }

// Mapped is the outline with all its points mapped by to.
func (o Outline) Mapped(to func(Point) Point) Outline {
	out := make(Outline, len(o))
	for i, s := range o {
		out[i].Op = s.Op
		for j, p := range s.P[:s.Op.points()] {
			out[i].P[j] = to(p)
		}
	}
	return out
}

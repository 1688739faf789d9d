package scene

import (
	"errors"
	"math"
	"regexp"
)

// Recolour gives a colour of a picture another one.
type Recolour struct {
	From string `json:"from"`           // "#rrggbb"
	Near int    `json:"near,omitempty"` // how far from it still counts: the largest difference of a channel, in percent
	At   *Point `json:"at,omitempty"`   // only where it hangs together with this place, in pixels of the picture; nil: all over
	To   string `json:"to,omitempty"`   // "#rrggbb"; "" transparent
}

// MostRecolours is how many colours of one picture become others.
const MostRecolours = 12

var isColor = regexp.MustCompile(`^#[0-9a-f]{6}$`)

// Check tells what is wrong with a change of colour that came from outside; nil where nothing is.
func (r Recolour) Check() error {
	place := r.At == nil || !math.IsNaN(r.At.X+r.At.Y) && !math.IsInf(r.At.X+r.At.Y, 0)
	if !isColor.MatchString(r.From) || r.To != "" && !isColor.MatchString(r.To) || r.Near < 0 || r.Near > 100 || !place {
		return errors.New("a colour becomes another one in a way that can't be")
	}
	return nil
}

// Recolouring is a change of colour made ready for many pixels.
type Recolouring struct {
	from, to Color
	near     int
	clears   bool
}

// Ready is the change made ready for many pixels.
func (r Recolour) Ready() Recolouring {
	ready := Recolouring{from: Hex(r.From), near: r.Near * 255 / 100, clears: r.To == ""}
	if !ready.clears {
		ready.to = Hex(r.To)
	}
	return ready
}

// Counts tells whether a colour is near enough to the one that becomes another.
func (r Recolouring) Counts(c Color) bool {
	return c.A > 0 && apart(c.R, r.from.R) <= r.near && apart(c.G, r.from.G) <= r.near && apart(c.B, r.from.B) <= r.near
}

func apart(a, b uint8) int { return max(int(a)-int(b), int(b)-int(a)) }

// Apply is what a colour that counts becomes: as much lighter or darker than the new one as it was than the old one, so
// that the edges of letters stay soft.
func (r Recolouring) Apply(c Color) Color {
	if r.clears {
		return Color{}
	}
	moved := func(v, from, to uint8) uint8 { return uint8(max(0, min(int(c.A), int(v)+int(to)-int(from)))) }
	c.R, c.G, c.B = moved(c.R, r.from.R, r.to.R), moved(c.G, r.from.G, r.to.G), moved(c.B, r.from.B, r.to.B)
	return c
}

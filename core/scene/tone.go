package scene

import "math"

// Tone changes the colours of a picture: first its look, then how light it is.
type Tone struct {
	Look  string `json:"look,omitempty"`  // "": as it is; grey, mono or inverted
	Light int    `json:"light,omitempty"` // from −100, black, to 100, white
}

// The looks of a tone.
const (
	Grey     = "grey"
	Mono     = "mono" // black and white
	Inverted = "inverted"
)

// Looks are all looks that a tone can have.
var Looks = []string{"", Grey, Mono, Inverted}

// Apply is the colour in that tone. Grey is the luma of ITU-R BT.709 on sRGB values, as the filter
// primitives of SVG compute it.
func (t Tone) Apply(c Color) Color {
	switch t.Look {
	case Grey, Mono:
		y := 0.2126*float64(c.R) + 0.7152*float64(c.G) + 0.0722*float64(c.B)
		v := uint8(math.Round(y))
		if t.Look == Mono {
			v = 0
			if y >= 127.5 {
				v = 255
			}
		}
		c.R, c.G, c.B = v, v, v
	case Inverted:
		c.R, c.G, c.B = 255-c.R, 255-c.G, 255-c.B
	}
	c.R, c.G, c.B = t.lit(c.R), t.lit(c.G), t.lit(c.B)
	return c
}

func (t Tone) lit(v uint8) uint8 {
	if t.Light == 0 {
		return v
	}
	k := math.Min(1, math.Abs(float64(t.Light))/100)
	to := 0.0
	if t.Light > 0 {
		to = 255
	}
	return uint8(math.Round(float64(v)*(1-k) + to*k))
}

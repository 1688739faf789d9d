package stage

import (
	"image"
	"math"

	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/sight"
)

// Ground are the pixels of the shot, possibly smaller, as far as the stage has them: inks are chosen
// and edges found by them. Without, inks stay as they are and nothing snaps to edges of the picture.
type Ground struct {
	Image *image.RGBA
	Scale float64 // pixels of the image to one of the shot
}

// Known is what is known of the shot beside its pixels, in its places.
type Known struct {
	Elements []scene.Rect `json:"elements"` // that the capture tells of
	Words    []scene.Rect `json:"words"`    // that were read in it
}

// SetGround gives the stage the pixels under the marks, and what else is known of the shot.
func (s *Stage) SetGround(g Ground, known Known) View {
	s.ground, s.known = g, known
	for i := range s.fig.Marks {
		s.inkOf(&s.fig.Marks[i])
	}
	return s.view()
}

// at is the colour of the picture at a place of the finished picture; false outside it.
func (s *Stage) at(p scene.Point) (scene.Color, bool) {
	if s.ground.Image == nil {
		return scene.Color{}, false
	}
	q := s.geo.Keep(p).Times(s.ground.Scale)
	x, y := int(math.Floor(q.X)), int(math.Floor(q.Y))
	if !(image.Point{X: x, Y: y}).In(s.ground.Image.Rect) {
		return scene.Color{}, false
	}
	c := s.ground.Image.RGBAAt(x, y)
	return s.fig.Tone.Apply(scene.Color{R: c.R, G: c.G, B: c.B, A: 255}), true
}

// under are the colours that a mark is drawn on: along its line, or around its plate.
func (s *Stage) under(m figure.Mark) []scene.Color {
	unit := s.unit()
	way := m.Edge(unit)
	var colors []scene.Color
	for i := 1; i < len(way); i++ {
		d := way[i].Minus(way[i-1])
		n := math.Max(1, math.Min(200, d.Length()/(2*unit)))
		for j := 0.0; j < n; j++ {
			if c, ok := s.at(way[i-1].Plus(d.Times(j / n))); ok {
				colors = append(colors, c)
			}
		}
	}
	return colors
}

// inkOf chooses the ink of a mark that leaves it to contrast, and its keyline.
func (s *Stage) inkOf(m *figure.Mark) {
	if s.ground.Image == nil {
		return
	}
	if m.Kind.Tints() {
		m.Ground = ""
		if c := s.mean(m.Area(s.unit())); c.Luminance() < 0.18 {
			m.Ground = "dark"
		}
		return
	}
	if !m.Auto {
		return
	}
	colors := s.under(*m)
	if len(colors) == 0 {
		return
	}
	if shared, ok := s.shared(m.ID); ok {
		if _, contrast := sight.InkOn(colors, []scene.Color{figure.InkColor(shared)}); contrast >= failsBadly {
			m.Ink, m.Keyline = shared, keylineOn(colors, contrast)
			return
		}
	}
	inks := figure.AutoInks()
	palette := make([]scene.Color, len(inks))
	for i, ink := range inks {
		palette[i] = ink.Color
	}
	best, contrast := sight.InkOn(colors, palette)
	m.Ink, m.Keyline = inks[best].Name, keylineOn(colors, contrast)
}

// failsBadly is the contrast below which an ink that a picture's other marks have is left for a better one.
const failsBadly = 2.0

// shared is the ink that the picture's other marks have which are left to contrast too: those of the first of them.
func (s *Stage) shared(except string) (string, bool) {
	for _, m := range s.fig.Marks {
		if m.ID == except {
			return "", false // it is the first itself
		}
		if m.Auto && !m.Kind.Tints() {
			return m.Ink, true
		}
	}
	return "", false
}

// keylineOn is a dark keyline where no ink stands out on light ground; on dark ground the usual light one does.
func keylineOn(colors []scene.Color, contrast float64) string {
	if contrast < 3 && sight.MostlyLight(colors) {
		return "dark"
	}
	return ""
}

// InkSaid says which ink stands out best under the chosen mark, and how much; "" where that is not known.
func (s *Stage) InkSaid() (name string, contrast float64) {
	m := s.chosen()
	if m == nil || !m.Kind.Inked() {
		return "", 0
	}
	colors := s.under(*m)
	if len(colors) == 0 {
		return "", 0
	}
	_, contrast = sight.InkOn(colors, []scene.Color{figure.InkColor(m.Ink)})
	return m.Ink, contrast
}

// mean is the middle colour in r.
func (s *Stage) mean(r scene.Rect) scene.Color {
	var sum [3]int
	n := 0
	for i := range 20 {
		for j := range 20 {
			if c, ok := s.at(scene.Point{X: r.X + r.W*(float64(i)+0.5)/20, Y: r.Y + r.H*(float64(j)+0.5)/20}); ok {
				sum[0], sum[1], sum[2], n = sum[0]+int(c.R), sum[1]+int(c.G), sum[2]+int(c.B), n+1
			}
		}
	}
	if n == 0 {
		return scene.Hex("#ffffff")
	}
	return scene.Color{R: uint8(sum[0] / n), G: uint8(sum[1] / n), B: uint8(sum[2] / n), A: 255}
}

// around is the colour that is most frequent just outside r.
func (s *Stage) around(r scene.Rect) scene.Color {
	counts := map[scene.Color]int{}
	best, most := scene.Hex("#ffffff"), 0
	for _, edge := range []float64{2, 4} {
		way := scene.Around(r.Grow(edge), 0)
		for i := range way {
			a, b := way[i], way[(i+1)%len(way)]
			for t := range 120 {
				if c, ok := s.at(a.Plus(b.Minus(a).Times(float64(t) / 120))); ok {
					counts[c]++
					if counts[c] > most {
						best, most = c, counts[c]
					}
				}
			}
		}
	}
	return best
}

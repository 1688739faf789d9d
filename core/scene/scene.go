// Package scene is the flat list of drawing primitives that every renderer consumes. A figure, a
// printed page and a frame of the practice workstation all become a Scene; pixels, SVG and PDF are
// made from it. It knows nothing of documents, marks or files.
//
// Coordinates grow to the right and down. The unit is the scene's own: pixels of the shot for a
// figure, points (1/72 inch) for a page.
package scene

import (
	"encoding/json"
	"fmt"
	"image/color"
	"math"
)

// Scene is a drawing of W × H units. Items are painted in order, later ones on top.
type Scene struct {
	W     float64 `json:"w"`
	H     float64 `json:"h"`
	Items []Item  `json:"items"`
	// Clear says that no white lies under the items: where they are transparent, the drawing is.
	Clear bool `json:"clear,omitempty"`
}

// Item is one primitive: exactly one of its fields is set.
type Item struct {
	Path    *Path    `json:"path,omitempty"`
	Words   *Words   `json:"words,omitempty"`
	Picture *Picture `json:"picture,omitempty"`
	Link    *Link    `json:"link,omitempty"`
	Clip    *Clip    `json:"clip,omitempty"`
	Tag     *Tag     `json:"tag,omitempty"`
}

// Path is a filled outline. Strokes are expanded to outlines by the core, so that every renderer
// fills and none strokes. The rule is non-zero winding; overlapping parts turn the same way.
type Path struct {
	Outline Outline `json:"d"`
	Fill    Color   `json:"fill"`
	Blend   Blend   `json:"blend,omitempty"`
}

// Blend says how a fill meets what is under it, by the blend modes of W3C's Compositing and Blending.
type Blend string

// The blends; an empty one paints over.
const (
	Multiply Blend = "multiply" // darkens: letters stay dark on light ground
	Screen   Blend = "screen"   // lightens: letters stay light on dark ground
)

// Clip draws items only inside an outline.
type Clip struct {
	Outline Outline `json:"d"`
	Items   []Item  `json:"items"`
}

// Words is one run of text in one face, already broken and placed: no renderer measures.
type Words struct {
	Face     string  `json:"face"`
	Size     float64 `json:"size"`
	X        float64 `json:"x"`
	Baseline float64 `json:"y"`
	Width    float64 `json:"w"`
	Text     string  `json:"text"`
	RTL      bool    `json:"rtl,omitempty"` // written from right to left; X is its left end all the same
	Fill     Color   `json:"fill"`
}

// Picture places Source, a part of a picture known to the renderer by Ref, into Target.
// An empty Source means the whole picture, as does an empty Whole: else Source is a part of Whole, in the same unit.
// With a Matrix, the whole picture is placed by it, in pixels of the picture, and shows inside Target only.
type Picture struct {
	Ref    string  `json:"ref"`
	Source Rect    `json:"source"`
	Target Rect    `json:"target"`
	Whole  Rect    `json:"whole,omitzero"`
	Alt    string  `json:"alt"`
	Matrix *Matrix `json:"matrix,omitempty"`
	Tone   Tone    `json:"tone,omitzero"`
}

// Stretched is where the whole picture would lie for its Source to fill the Target.
func (p Picture) Stretched() Rect {
	if p.Whole.W <= 0 || p.Source.W <= 0 || p.Source.H <= 0 {
		return p.Target
	}
	x, y := p.Target.W/p.Source.W, p.Target.H/p.Source.H
	return Rect{p.Target.X - p.Source.X*x, p.Target.Y - p.Source.Y*y, p.Whole.W * x, p.Whole.H * y}
}

// Moved is the item stretched by k about the origin, then moved by d. Links and words stay behind: figures have none.
func (it Item) Moved(k float64, d Point) Item {
	rect := func(r Rect) Rect { return Rect{r.X*k + d.X, r.Y*k + d.Y, r.W * k, r.H * k} }
	switch {
	case it.Path != nil:
		return Item{Path: &Path{Outline: it.Path.Outline.Moved(k, d), Fill: it.Path.Fill, Blend: it.Path.Blend}}
	case it.Picture != nil:
		p := *it.Picture
		p.Target = rect(p.Target)
		if p.Matrix != nil {
			m := p.Matrix.Then(Stretch(k, d))
			p.Matrix = &m
		}
		return Item{Picture: &p}
	case it.Clip != nil:
		return Item{Clip: &Clip{Outline: it.Clip.Outline.Moved(k, d), Items: MovedAll(it.Clip.Items, k, d)}}
	}
	return it
}

// MovedAll moves each of the items.
func MovedAll(items []Item, k float64, d Point) []Item {
	out := make([]Item, len(items))
	for i, it := range items {
		out[i] = it.Moved(k, d)
	}
	return out
}

// Link makes Area lead to URL or, where URL is empty, to Page (counted from 1) at height Y.
type Link struct {
	Area Rect    `json:"area"`
	URL  string  `json:"url,omitempty"`
	Page int     `json:"page,omitempty"`
	Y    float64 `json:"y,omitempty"`
}

// Renderer draws the primitives; raster, output/pdf and the browser each have one.
type Renderer interface {
	Path(Path)
	Words(Words)
	Picture(Picture)
	Link(Link)
	Clip(Clip)
}

// Draw sends the scene's items to r in painting order.
func (s Scene) Draw(r Renderer) {
	for _, item := range s.Items {
		switch {
		case item.Path != nil:
			r.Path(*item.Path)
		case item.Words != nil:
			r.Words(*item.Words)
		case item.Picture != nil:
			r.Picture(*item.Picture)
		case item.Link != nil:
			r.Link(*item.Link)
		case item.Clip != nil:
			r.Clip(*item.Clip)
		case item.Tag != nil:
			if t, keeps := r.(Tagger); keeps {
				t.Tag(*item.Tag)
			}
		}
	}
}

// Fill appends a filled outline.
func (s *Scene) Fill(o Outline, c Color) {
	if len(o) > 0 && c.A > 0 {
		s.Items = append(s.Items, Item{Path: &Path{Outline: o, Fill: c}})
	}
}

// Say appends words.
func (s *Scene) Say(w Words) {
	if w.Text != "" {
		s.Items = append(s.Items, Item{Words: &w})
	}
}

// Color is a colour in sRGB with straight alpha.
type Color struct{ R, G, B, A uint8 }

// RGBA is the colour for the standard library's images.
func (c Color) RGBA() color.Color { return color.NRGBA(c) }

// Hex reads "#rrggbb" or "#rrggbbaa"; anything else is opaque black.
func Hex(s string) Color {
	c := Color{A: 255}
	if len(s) == 9 {
		fmt.Sscanf(s, "#%02x%02x%02x%02x", &c.R, &c.G, &c.B, &c.A)
	} else {
		fmt.Sscanf(s, "#%02x%02x%02x", &c.R, &c.G, &c.B)
	}
	return c
}

// String is the colour as "#rrggbb", or "#rrggbbaa" where it is not opaque.
func (c Color) String() string {
	if c.A == 255 {
		return fmt.Sprintf("#%02x%02x%02x", c.R, c.G, c.B)
	}
	return fmt.Sprintf("#%02x%02x%02x%02x", c.R, c.G, c.B, c.A)
}

// MarshalJSON writes the colour as its String.
func (c Color) MarshalJSON() ([]byte, error) { return json.Marshal(c.String()) }

// UnmarshalJSON reads what MarshalJSON wrote.
func (c *Color) UnmarshalJSON(b []byte) error {
	var s string
	if err := json.Unmarshal(b, &s); err != nil {
		return fmt.Errorf("reading a colour: %w", err)
	}
	*c = Hex(s)
	return nil
}

// Luminance is the relative luminance of WCAG 2.2, from 0 (black) to 1 (white); alpha is ignored.
func (c Color) Luminance() float64 {
	linear := func(v uint8) float64 {
		f := float64(v) / 255
		if f <= 0.04045 {
			return f / 12.92
		}
		return math.Pow((f+0.055)/1.055, 2.4)
	}
	return 0.2126*linear(c.R) + 0.7152*linear(c.G) + 0.0722*linear(c.B)
}

// Contrast is the contrast ratio of WCAG 2.2, from 1 to 21.
func Contrast(a, b Color) float64 {
	x, y := a.Luminance(), b.Luminance()
	if x < y {
		x, y = y, x
	}
	return (x + 0.05) / (y + 0.05)
}

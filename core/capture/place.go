package capture

import (
	"math"
	"regexp"
	"slices"
	"time"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
)

// Taken is a shot that may become a step.
type Taken struct {
	Shot  string      `json:"shot"`
	Size  figure.Size `json:"size"`
	About About       `json:"about"`
}

// Show is how much of a shot a step shows; the whole is kept underneath.
type Show string

// The ways of showing a shot of which it is known what was used.
const (
	ShowWhole Show = ""     // all of it
	ShowBand  Show = "band" // the full width around what was used
	ShowNear  Show = "near" // what was used, and what is around it
)

const (
	bandShare = 0.4 // of the height of a shot
	around    = 160 // pixels around what was used, at scale 1
)

// Wording is how steps are made: in which language, and showing how much.
type Wording struct {
	Language Language `json:"language"`
	Show     Show     `json:"show"`
}

// crop is the part of a shot that a step shows; false: all of it.
func (w Wording) crop(a About, frame scene.Rect) (scene.Rect, bool) {
	if a.Crop != nil {
		return *a.Crop, true // what was meant when it was taken
	}
	if a.Action == nil || a.Action.Element == nil || a.Action.Element.Rect.Empty() {
		return frame, false
	}
	return w.Show.around(a.Action.Element.Rect, frame, a.Scale)
}

// around is the part of a shot around what was used; false: all of it.
func (s Show) around(used, frame scene.Rect, scale float64) (scene.Rect, bool) {
	switch s {
	case ShowBand:
		share := max(bandShare, (used.H+2*figure.RoomAround)/frame.H)
		return Band(frame, used.Center().Y, share), true
	case ShowNear:
		return used.Grow(around * max(1, scale)), true
	}
	return frame, false
}

// usualWidth is how wide a shot of scale 1 is, in pixels, where its scale is not known.
const usualWidth = 1920

// Shown is a figure that shows as much of its shot as s says, around its first box; one without a box stays as it is.
func (s Show) Shown(f figure.Figure, size figure.Size) figure.Figure {
	at := slices.IndexFunc(f.Marks, func(m figure.Mark) bool { return m.Kind == figure.Box && len(m.Points) == 2 })
	if at < 0 {
		return f
	}
	a, b := f.Marks[at].Points[0], f.Marks[at].Points[1]
	used := scene.Rect{X: min(a.X, b.X), Y: min(a.Y, b.Y), W: math.Abs(a.X - b.X), H: math.Abs(a.Y - b.Y)}
	frame := scene.Rect{W: float64(size.W), H: float64(size.H)}
	f.Crop, f.Outline = nil, nil
	if part, ok := s.around(used, frame, float64(size.W)/usualWidth); ok {
		if crop := Whole(part.Intersect(frame)); crop.W >= figure.SmallestCut && crop.H >= figure.SmallestCut {
			f.Crop = &crop
		}
	}
	return f
}

// Steps makes steps of shots in their order: the words say what was done, the crop is what was meant,
// the element that was used gets a box, and a pointer that is known apart becomes a mark. Consecutive
// keys in one field are one step, with the last shot. NewID makes ids.
func Steps(shots []Taken, how Wording, newID func() string) []document.Block {
	var steps []document.Block
	for i, t := range shots {
		if i+1 < len(shots) && Joins(t.About.Action, shots[i+1].About.Action) {
			continue
		}
		f := figure.Figure{ID: newID(), Shot: t.Shot, Marks: []figure.Mark{}}
		frame := scene.Rect{W: float64(t.Size.W), H: float64(t.Size.H)}
		if part, ok := how.crop(t.About, frame); ok {
			if crop := Whole(part.Intersect(frame)); crop.W >= figure.SmallestCut && crop.H >= figure.SmallestCut {
				f.Crop, frame = &crop, crop
			}
		}
		if act := t.About.Action; act != nil && act.Element != nil {
			if b := act.Element.Rect.Grow(figure.RoomAround).Intersect(frame); !b.Empty() {
				f.Marks = append(f.Marks, figure.Mark{
					ID: newID(), Kind: figure.Box, Style: figure.Style{Ink: figure.Inks[0].Name, Weight: figure.Medium},
					Points: []scene.Point{{X: b.X, Y: b.Y}, {X: b.X + b.W, Y: b.Y + b.H}},
				})
			}
		}
		if p := t.About.Pointer; p != nil && !p.Drawn && frame.Contains(scene.Point{X: p.X, Y: p.Y}) {
			f.Marks = append(f.Marks, figure.Mark{
				ID: newID(), Kind: figure.Pointer, Style: figure.Style{Ink: figure.Inks[0].Name, Weight: figure.Medium}, Points: []scene.Point{{X: p.X, Y: p.Y}},
			})
		}
		steps = append(steps, document.Block{ID: newID(), Content: document.Content{Type: document.Step, Words: t.About.Words(how.Language), Figures: []figure.Figure{f}}})
	}
	return steps
}

// answers are buttons that say nothing of the job they are pressed for, in the languages of sentences.
var answers = regexp.MustCompile(`(?i)^(yes|no|ok|okay|cancel|close|next|back|continue|done|finish|sign in|log in|` +
	`ja|nein|abbrechen|schließen|weiter|zurück|fertig|anmelden|oui|non|annuler|fermer|suivant|retour|terminer|se connecter|` +
	`sí|cancelar|cerrar|siguiente|atrás|terminar|iniciar sesión)([\s,.!]|$)`)

// TitleOf proposes a title for what was done in shots: the last button that tells of a job, or the page it was done on;
// "" where nothing is known.
func TitleOf(shots []Taken) string {
	page := ""
	for i := len(shots) - 1; i >= 0; i-- {
		a := shots[i].About
		if act := a.Action; act != nil && act.Kind == Click && act.Element != nil && act.Element.Role == RoleButton && act.Element.Name != "" && !answers.MatchString(act.Element.Name) {
			return act.Element.Name
		}
		if page == "" && a.Window != nil {
			page = a.Window.Title
		}
	}
	return page
}

// Apart tells whether two shots are steps of their own even where they look the same: what was done in
// them differs.
func Apart(a, b About) bool {
	if b.Action == nil || Joins(a.Action, b.Action) {
		return false
	}
	return a.Action == nil || a.Action.Kind != b.Action.Kind || a.Action.Text != b.Action.Text || !sameElement(a.Action.Element, b.Action.Element)
}

// Clocks are the parts of two consecutive shots in which a clock may have moved on: those that the source
// names as clocks or, where it names nothing and the minute changed between them, the screen's corners.
func Clocks(a, b About, size figure.Size) []scene.Rect {
	var clocks []scene.Rect
	for _, e := range b.Elements {
		if e.Role == RoleClock {
			clocks = append(clocks, e.Rect)
		}
	}
	if len(b.Elements) > 0 || a.Taken.Truncate(time.Minute).Equal(b.Taken.Truncate(time.Minute)) {
		return clocks
	}
	scale := max(1, b.Scale)
	w, h := 160*scale, 48*scale
	for _, x := range []float64{0, float64(size.W) - w} {
		for _, y := range []float64{0, float64(size.H) - h} {
			clocks = append(clocks, scene.Rect{X: x, Y: y, W: w, H: h})
		}
	}
	return clocks
}

// Pointers are the places in two shots at which the mouse pointer is known to be drawn.
func Pointers(a, b About) []scene.Rect {
	var places []scene.Rect
	for _, p := range []*Pointer{a.Pointer, b.Pointer} {
		if p != nil && p.Drawn {
			// Its tip is at the place; its body lies below, and wherever a hand or a crosshair reaches.
			places = append(places, scene.Rect{X: p.X - 24, Y: p.Y - 24, W: 64, H: 64})
		}
	}
	return places
}

// uneven is the most, as a share, that sizes may differ and still be meant as the same frame (rule 7).
const uneven = 0.08

// Uneven tells whether two shots differ a little in size, so that a sequence of them jumps.
func Uneven(a, b figure.Size) bool {
	if a == b {
		return false
	}
	near := func(x, y int) bool { return float64(max(x, y)-min(x, y)) <= uneven*float64(max(x, y)) }
	return near(a.W, b.W) && near(a.H, b.H)
}

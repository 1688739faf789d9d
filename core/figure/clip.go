package figure

import (
	"cmp"
	"errors"
	"fmt"
	"math"
	"slices"

	"raconte/core/scene"
)

// Limits of a recording and of what is made of it. Times are in milliseconds.
const (
	LongestClip = 10 * 60 * 1000
	mostParts   = 100
	mostPlaces  = 4000 // of a mark that follows what it covers: some seven a second for ten minutes
	longestHold = 60_000
	slowest     = 0.25 // times as fast as it was recorded
	fastest     = 8.0
)

// Clip is how the recording behind a picture is shown. The recording itself stays as it was; all places in it are
// milliseconds from its beginning.
type Clip struct {
	Ms      int       `json:"ms"`                // how long the recording is
	Poster  int       `json:"poster,omitempty"`  // where the picture that stands for it is seen; see Stands
	Sounds  bool      `json:"sounds,omitempty"`  // whether it has sound
	Parts   []Stretch `json:"parts,omitempty"`   // what is shown of it, in the order of the recording; none is all
	Freezes []Freeze  `json:"freezes,omitempty"` // where it stands still for a while
	Mute    bool      `json:"mute,omitempty"`
	Silent  []Span    `json:"silent,omitempty"` // where its sound is silenced
	Voice   string    `json:"voice,omitempty"`  // a sound of the house instead of its own, by SHA-256
	Camera  *Corner   `json:"camera,omitempty"` // where the speaker's camera is shown; nil: nowhere
	Form    string    `json:"form,omitempty"`   // in which it is taken out and sent, one of ClipForms; "" as whoever takes it has it best
}

// ClipForms are the forms in which clips go out.
var ClipForms = []string{"mp4", "webm", "gif", "webp"}

// Span is a stretch of the recording, To excluded.
type Span struct {
	From int `json:"from"`
	To   int `json:"to"`
}

// Stretch is a stretch that is shown; Speed is how many times as fast as it was recorded, 0 being 1.
type Stretch struct {
	Span
	Speed float64 `json:"speed,omitempty"`
}

// Freeze holds the picture of a moment for so long.
type Freeze struct {
	At  int `json:"at"`
	For int `json:"for"`
}

// Corner is where the camera stands: its left top corner and its width, as shares of the picture's.
type Corner struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
	W float64 `json:"w"`
}

// Place is how far a mark has moved at a moment of the recording, from where its points are.
type Place struct {
	At     int         `json:"at"`
	By     scene.Point `json:"by"`
	Unsure bool        `json:"unsure,omitempty"` // what it covers was not found for certain
}

// Holds tells whether a moment lies in the span.
func (s Span) Holds(at int) bool { return at >= s.From && at < s.To }

func (s Span) check(ms int) bool { return s.From >= 0 && s.To > s.From && s.To <= ms }

func (c *Clip) check() error {
	if c == nil {
		return nil
	}
	bad := c.Ms < 1 || c.Ms > LongestClip || c.Poster < 0 || c.Poster > c.Ms || len(c.Parts) > mostParts || len(c.Freezes) > mostParts || len(c.Silent) > mostParts || len(c.Voice) > 64
	end := 0
	for _, p := range c.Parts {
		bad = bad || !p.check(c.Ms) || p.From < end || p.Speed != 0 && !(p.Speed >= slowest && p.Speed <= fastest)
		end = p.To
	}
	for _, f := range c.Freezes {
		bad = bad || f.At < 0 || f.At > c.Ms || f.For < 1 || f.For > longestHold
	}
	for _, s := range c.Silent {
		bad = bad || !s.check(c.Ms)
	}
	if k := c.Camera; k != nil {
		bad = bad || !finite(k.X, k.Y, k.W) || k.X < 0 || k.Y < 0 || k.W < 0.05 || k.W > 0.5 || k.X+k.W > 1
	}
	if c.Form != "" && !slices.Contains(ClipForms, c.Form) {
		return fmt.Errorf("a clip goes out in no form %.20q", c.Form)
	}
	if bad {
		return errors.New("its recording is cut, held or silenced in a way that can't be")
	}
	return nil
}

func (c *Clip) clone() *Clip {
	if c == nil {
		return nil
	}
	out := *c
	out.Parts, out.Freezes, out.Silent = slices.Clone(c.Parts), slices.Clone(c.Freezes), slices.Clone(c.Silent)
	if c.Camera != nil {
		corner := *c.Camera
		out.Camera = &corner
	}
	return &out
}

// Run is a stretch of the finished clip in which the recording runs evenly, or stands still.
type Run struct {
	Start  int `json:"start"` // in the finished clip
	Length int `json:"length"`
	From   int `json:"from"` // in the recording
	To     int `json:"to"`   // the same as From where it stands still
}

// Runs are what the finished clip is made of, one after the other.
func (c Clip) Runs() []Run {
	parts := c.Parts
	if len(parts) == 0 {
		parts = []Stretch{{Span: Span{0, c.Ms}}}
	}
	holds := slices.Clone(c.Freezes)
	slices.SortStableFunc(holds, func(a, b Freeze) int { return cmp.Compare(a.At, b.At) })
	var runs []Run
	at := 0
	add := func(from, to, length int) {
		if length > 0 {
			runs = append(runs, Run{at, length, from, to})
			at += length
		}
	}
	for i, p := range parts {
		speed := cmp.Or(p.Speed, 1)
		moving := func(from, to int) { add(from, to, int(math.Round(float64(to-from)/speed))) }
		from := p.From
		for _, h := range holds {
			last := i == len(parts)-1 && h.At == p.To
			if !p.Holds(h.At) && !last {
				continue
			}
			moving(from, h.At)
			add(h.At, h.At, h.For)
			from = h.At
		}
		moving(from, p.To)
	}
	return runs
}

// Length is how long the finished clip is, in milliseconds.
func (c Clip) Length() int {
	runs := c.Runs()
	if len(runs) == 0 {
		return 0
	}
	last := runs[len(runs)-1]
	return last.Start + last.Length
}

// At is what of the recording is seen at a moment of the finished clip, in milliseconds both.
func (c Clip) At(ms int) int { return int(math.Round(c.Exactly(float64(ms)))) }

// Exactly is At for moments between milliseconds, as most pictures are.
func (c Clip) Exactly(ms float64) float64 {
	runs := c.Runs()
	for _, r := range runs {
		if ms < float64(r.Start+r.Length) {
			return float64(r.From) + (ms-float64(r.Start))*float64(r.To-r.From)/float64(r.Length)
		}
	}
	if len(runs) == 0 {
		return 0
	}
	return float64(runs[len(runs)-1].To)
}

// Stands is where in the recording the picture is that stands for the clip: where it was chosen, unless that is cut
// out; then where the clip begins. What is cut out is not seen in any picture of it.
func (c Clip) Stands() int {
	if c.shows(c.Poster) {
		return c.Poster
	}
	return c.Parts[0].From
}

func (c Clip) shows(at int) bool {
	return len(c.Parts) == 0 || slices.ContainsFunc(c.Parts, func(p Stretch) bool { return p.Holds(at) })
}

// Silenced tells whether the clip is silent at a moment of its recording.
func (c Clip) Silenced(at int) bool {
	return c.Mute || slices.ContainsFunc(c.Silent, func(s Span) bool { return s.Holds(at) })
}

// Without is the clip with stretches taken out of what is shown.
func (c Clip) Without(out ...Span) Clip {
	parts := c.Parts
	if len(parts) == 0 {
		parts = []Stretch{{Span: Span{0, c.Ms}}}
	}
	for _, s := range out {
		var left []Stretch
		for _, p := range parts {
			if before := (Span{p.From, min(p.To, s.From)}); before.To > before.From {
				left = append(left, Stretch{before, p.Speed})
			}
			if after := (Span{max(p.From, s.To), p.To}); after.To > after.From {
				left = append(left, Stretch{after, p.Speed})
			}
		}
		parts = left
	}
	if len(parts) > 0 {
		c.Parts = parts
	}
	return c
}

// shift is how far a mark has moved at a moment of the recording: evenly between the places that are known.
func (m Mark) shift(at int) scene.Point {
	i, there := slices.BinarySearchFunc(m.Path, at, func(p Place, at int) int { return p.At - at })
	switch {
	case len(m.Path) == 0:
		return scene.Point{}
	case there:
		return m.Path[i].By
	case i == 0:
		return m.Path[0].By
	case i == len(m.Path):
		return m.Path[i-1].By
	}
	a, b := m.Path[i-1], m.Path[i]
	k := float64(at-a.At) / float64(b.At-a.At)
	return a.By.Plus(b.By.Minus(a.By).Times(k))
}

// Without is the figure without marks that are not there yet; the others keep their numbers, and what conceals stays.
func (f Figure) Without(first int, hidden []string) Figure {
	numbers := f.Numbers(first)
	f = f.Clone()
	f.Marks = slices.DeleteFunc(f.Marks, func(m Mark) bool { return slices.Contains(hidden, m.ID) && !m.Kind.Ground() })
	for i, m := range f.Marks {
		if m.Kind == Marker {
			f.Marks[i].Start = numbers[m.ID].N
		}
	}
	return f
}

// Edited is a clip's figure after what Moment gave for a moment was changed to what is now: marks of other moments
// stay, those that follow something are put right for that moment, and new ones are there for the whole clip.
func (f Figure) Edited(at int, now Figure) Figure {
	was := f.Moment(at)
	out := now.Clone()
	out.Clip = f.Clip
	kept := map[string]Mark{}
	for _, m := range f.Marks {
		kept[m.ID] = m
	}
	for i, m := range out.Marks {
		old, there := kept[m.ID]
		if !there {
			continue
		}
		m.During, m.Path = old.During, slices.Clone(old.Path)
		if len(m.Path) > 0 {
			before := was.Marks[was.Find(m.ID)]
			by := old.shift(at)
			if m.Points[0] != before.Points[0] && len(m.Points) > 1 && m.Points[1].Minus(m.Points[0]) == before.Points[1].Minus(before.Points[0]) {
				m = m.put(at, by.Plus(m.Points[0].Minus(before.Points[0])))
				by = m.shift(at)
			}
			m = m.ShiftedBy(by.Times(-1))
		}
		out.Marks[i] = m
	}
	// Marks of other moments go back to where they were in the order.
	for i, m := range f.Marks {
		if was.Find(m.ID) < 0 && out.Find(m.ID) < 0 {
			out.Marks = slices.Insert(out.Marks, min(i, len(out.Marks)), m)
		}
	}
	return out
}

// Moment is what is edited of a clip at a moment: as Shown, but markers are numbered as they stand and nothing is
// swept.
func (f Figure) Moment(at int) Figure {
	if f.Clip == nil {
		return f
	}
	out := f.Clone()
	out.Marks = out.Marks[:0:0]
	for _, m := range f.Marks {
		if m.During != nil && !m.During.Holds(at) {
			continue
		}
		m = m.ShiftedBy(m.shift(at))
		m.During, m.Path = nil, nil
		out.Marks = append(out.Marks, m)
	}
	out.Clip = nil
	return out
}

// put says where a mark is at a moment, for certain.
func (m Mark) put(at int, by scene.Point) Mark {
	i, there := slices.BinarySearchFunc(m.Path, at, func(p Place, at int) int { return p.At - at })
	if there {
		m.Path[i] = Place{At: at, By: by}
		return m
	}
	m.Path = slices.Insert(m.Path, i, Place{At: at, By: by})
	return m
}

func (m Mark) checkTimes() bool {
	ok := len(m.Path) <= mostPlaces && (m.During == nil || m.During.check(LongestClip))
	for i, p := range m.Path {
		ok = ok && finite(p.By.X, p.By.Y) && p.At >= 0 && p.At <= LongestClip && (i == 0 || p.At > m.Path[i-1].At)
	}
	return ok
}

// Moments are when what is seen of a clip changes otherwise than by its recording: where marks come and go, as
// milliseconds of the recording, in order.
func (f Figure) Moments() []int {
	var all []int
	for _, m := range f.Marks {
		if m.During != nil {
			all = append(all, m.During.From, m.During.To)
		}
	}
	slices.Sort(all)
	return slices.Compact(all)
}

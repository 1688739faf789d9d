// Package film tells a story as moving pictures: what is seen and said when. It draws nothing and speaks nothing;
// whoever does knows how long what is said takes, and tells it. Times are in milliseconds, all in whole Beats.
package film

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode/utf8"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/story"
)

// Beat is what all times are multiples of: pictures that stand still are shown five a second.
const Beat = 200

// Times of a film, in milliseconds.
const (
	leastScene = 2600 // that a picture is looked at
	leastCard  = 2000
	whole      = 1000 // that a picture is seen whole before it is gone closer to
	going      = 1000 // to where the marks are
	early      = 200  // that a mark is there before it is named
)

// LongestSaid is the most letters of one scene that are spoken: some six minutes.
const LongestSaid = 5000

// A picture is gone closer to where its marks are within this share of it, and by no more than this.
const (
	nearShare = 0.72
	nearest   = 2.2
	aroundIt  = 0.06 // of the picture, around the area
)

// Kinds of scenes.
const (
	Title   = "title"
	Section = "section"
	Step    = "step"
	Card    = "card" // a linked procedure, named
)

// Plan is a story as a film.
type Plan struct {
	W      int     `json:"w"`
	H      int     `json:"h"`
	Length int     `json:"length"`
	Scenes []Scene `json:"scenes"`
}

// Scene is a stretch of a film: what is seen and said of one block.
type Scene struct {
	ID       string          `json:"id"` // of the block; of the title's "title"
	Kind     string          `json:"kind"`
	Number   string          `json:"number"`
	Heading  string          `json:"heading"` // the section that it stands in; of a title and a section what it says
	Words    string          `json:"words"`   // as they are read
	Said     string          `json:"said"`    // as they are spoken; "" where nothing is
	Voice    *document.Voice `json:"voice,omitempty"`
	Signal   document.Signal `json:"signal,omitempty"`
	Missing  string          `json:"missing,omitempty"` // what it lacks, for whoever makes the film
	Start    int             `json:"start"`
	Length   int             `json:"length"`
	Speaks   int             `json:"speaks"`   // when speech begins, from the scene's beginning
	Spoken   int             `json:"spoken"`   // how long it takes
	Guessed  bool            `json:"guessed"`  // nobody has spoken it yet: its length is a guess
	Captions []Caption       `json:"captions"` // from the scene's beginning
	Segments []Segment       `json:"segments"`
}

// Caption is what stands below for a while.
type Caption struct {
	From int    `json:"from"`
	To   int    `json:"to"`
	Text string `json:"text"`
}

// Segment is a stretch in which one picture stands still, or is gone closer to evenly, or a clip plays.
type Segment struct {
	Start   int         `json:"start"` // from the scene's beginning
	Length  int         `json:"length"`
	Figure  string      `json:"figure,omitempty"`  // "" of a card
	Clip    bool        `json:"clip,omitempty"`    // it plays
	At      int         `json:"at,omitempty"`      // where in the finished clip it begins
	Hidden  []string    `json:"hidden,omitempty"`  // marks that are not there yet
	From    scene.Rect  `json:"from"`              // the part of the finished picture that is seen, as shares of it
	To      *scene.Rect `json:"to,omitempty"`      // the part at its end; nil where nothing moves
	Began   float64     `json:"began,omitempty"`   // how much of the way was done before, of a way that is divided
	Ended   float64     `json:"ended,omitempty"`   // and how much at its end
	Caption string      `json:"caption,omitempty"` // that is seen meanwhile
}

// Lengths tells how long something takes to be spoken, in milliseconds; false where that is not known.
type Lengths func(said string) (ms int, known bool)

// Whole is all of a picture.
var Whole = scene.Rect{W: 1, H: 1}

// Guess is how long a text takes to be spoken at a pace in percent: some 14 letters a second.
func Guess(said string, pace int) int {
	if pace == 0 {
		pace = 100
	}
	return len([]rune(said)) * 1000 / 14 * 100 / pace
}

// Of plans a film of a story. Sizes are those of its shots; clips are how long the finished clips are, by their
// figures.
func Of(s story.Story, f document.Film, sizes map[string]figure.Size, lengths Lengths) Plan {
	w, h := f.Pixels()
	p := Plan{W: w, H: h}
	d := director{film: f, sizes: sizes, lengths: lengths, plan: &p}
	d.add(Scene{ID: "title", Kind: Title, Heading: s.Title, Words: s.Title, Said: s.Title}, nil)
	shown := proposed(s)
	heading := ""
	for _, b := range s.Blocks {
		if b.Heads() {
			heading = strings.TrimSpace(b.Number + " " + b.Label)
		}
		if !shown[b.ID] {
			continue
		}
		d.block(b, heading)
	}
	return p
}

// proposed are the blocks that a film tells, by their ids: those that were chosen, steps and passages with pictures
// where nobody has, and the sections that those stand in.
func proposed(s story.Story) map[string]bool {
	shown := map[string]bool{}
	var heads []string
	var depths []int
	for _, b := range s.Blocks {
		chosen := ""
		if b.Told != nil {
			chosen = b.Told.Show
		}
		if b.Heads() {
			for len(depths) > 0 && depths[len(depths)-1] >= b.Depth {
				depths, heads = depths[:len(depths)-1], heads[:len(heads)-1]
			}
			depths, heads = append(depths, b.Depth), append(heads, b.ID)
			if chosen == "in" {
				shown[b.ID] = true
			}
			continue
		}
		if chosen == "in" || chosen == "" && (len(b.Figures) > 0 || b.Does != nil) {
			shown[b.ID] = true
			for _, head := range heads {
				shown[head] = true
			}
		}
	}
	for _, b := range s.Blocks {
		if b.Told != nil && b.Told.Show == "out" {
			shown[b.ID] = false
		}
	}
	return shown
}

// director puts scenes one after the other.
type director struct {
	film    document.Film
	sizes   map[string]figure.Size
	lengths Lengths
	plan    *Plan
}

func (d *director) block(b story.Block, heading string) {
	s := Scene{ID: b.ID, Kind: Step, Number: b.Number, Heading: heading, Words: b.Said()}
	s.Said = s.Words
	switch {
	case b.Heads():
		s.Kind, s.Number, s.Heading, s.Words, s.Said = Section, b.Number, b.Label, b.Label, b.Label
	case b.Does != nil && len(b.Figures) == 0:
		s.Kind = Card
		if s.Words == "" {
			s.Words = b.Label
		}
		s.Said = s.Words
	}
	if b.Notice != nil {
		s.Signal = b.Notice.Signal
		if warned := strings.Join(b.Notice.Lines(), " "); warned != "" {
			s.Said = strings.TrimSpace(warned + " " + s.Said)
			s.Words = strings.TrimSpace(warned + " " + s.Words)
		}
	}
	if b.Told != nil {
		if b.Told.Said != "" {
			s.Said = b.Told.Said
		}
		s.Voice = b.Told.Voice
	}
	d.add(s, &b)
}

// add gives a scene its times.
func (d *director) add(s Scene, b *story.Block) {
	if d.film.Silent && s.Voice == nil && s.Said != "" {
		if s.Kind == Step {
			s.Missing = "Nobody speaks it: record it, or let a synthetic voice."
		}
	}
	if s.Voice == nil && !d.film.Silent && utf8.RuneCountInString(s.Said) > LongestSaid {
		s.Missing = fmt.Sprintf("It is not spoken: what is said is longer than %d letters. Divide it, or record it.", LongestSaid)
		s.Said = ""
	}
	s.Speaks = up(d.film.Around())
	switch {
	case s.Voice != nil:
		s.Spoken = s.Voice.Ms
	case s.Said == "" || d.film.Silent:
		s.Spoken = Guess(s.Words, 100) // it is read
	default:
		ms, known := d.lengths(s.Said)
		if !known {
			ms, s.Guessed = Guess(s.Said, d.film.Pace), true
		}
		s.Spoken = ms
	}
	least := leastCard
	var figures []story.Figure
	if b != nil {
		if figures = b.Figures; len(figures) > 0 {
			least = leastScene * len(figures)
		}
		if len(figures) == 0 && s.Kind == Step && s.Words == "" && s.Said == "" {
			s.Missing = "There is neither a picture nor a word."
		}
	}
	s.Length = up(max(least, 2*s.Speaks+s.Spoken))
	if d.film.Captions != "none" {
		s.Captions = captions(captioned(s), s.Speaks, s.Spoken, s.Length)
	}
	if len(figures) == 0 {
		s.Segments = d.cut(s, Segment{Length: s.Length, From: Whole}, nil)
	} else {
		s = d.pictured(s, *b)
	}
	s.Start = d.plan.Length
	d.plan.Length += s.Length
	d.plan.Scenes = append(d.plan.Scenes, s)
}

// captioned is what stands below a scene: of a title or a section nothing, since it is on the picture.
func captioned(s Scene) string {
	if s.Kind == Title || s.Kind == Section {
		return ""
	}
	if s.Said != "" {
		return s.Said
	}
	return s.Words
}

// pictured divides a scene among the pictures of its step. A clip plays to its end; what is left is shared.
func (d *director) pictured(s Scene, b story.Block) Scene {
	clips := 0
	for _, f := range b.Figures {
		if f.Clip != nil {
			clips += up(f.Clip.Length())
		}
	}
	stills := 0
	for _, f := range b.Figures {
		if f.Clip == nil {
			stills++
		}
	}
	s.Length = max(s.Length, clips+stills*leastScene)
	share := 0
	if stills > 0 {
		share = up((s.Length - clips) / stills)
	}
	named := moments(b, s)
	at := 0
	for i, f := range b.Figures {
		length := share
		if f.Clip != nil {
			length = up(f.Clip.Length())
		}
		if i == len(b.Figures)-1 {
			length = max(length, s.Length-at)
		}
		s.Segments = append(s.Segments, d.shown(s, f, at, length, named)...)
		at += length
	}
	s.Length = at
	return s
}

// shown are the segments of one picture.
func (d *director) shown(s Scene, f story.Figure, at, length int, named map[string]int) []Segment {
	one := Segment{Start: at, Length: length, Figure: f.ID, From: Whole}
	if f.Clip != nil {
		one.Clip = true
		return d.cut(s, one, nil)
	}
	near, goes := d.near(f)
	var all []Segment
	if goes && length >= whole+going+whole {
		first, way, rest := one, one, one
		first.Length = whole
		way.Start, way.Length, way.To, way.Ended = at+whole, going, &near, 1
		rest.Start, rest.Length, rest.From = at+whole+going, length-whole-going, near
		all = append(d.cut(s, first, named), d.cut(s, way, named)...)
		return append(all, d.cut(s, rest, named)...)
	}
	return d.cut(s, one, named)
}

// cut divides a segment where a mark comes or a caption changes. A way that is divided is gone on with.
func (d *director) cut(s Scene, one Segment, named map[string]int) []Segment {
	at := map[int]bool{one.Start: true}
	inside := func(ms int) {
		if ms > one.Start && ms < one.Start+one.Length {
			at[ms] = true
		}
	}
	for _, ms := range named {
		inside(ms)
	}
	drawn := d.film.Captions == "picture" || d.film.Captions == "both"
	if drawn {
		for _, c := range s.Captions {
			inside(c.From)
			inside(c.To)
		}
	}
	var all []Segment
	for ms := one.Start; ms < one.Start+one.Length; ms += Beat {
		if !at[ms] {
			continue
		}
		next := ms + Beat
		for next < one.Start+one.Length && !at[next] {
			next += Beat
		}
		part := one
		part.Start, part.Length, part.Hidden = ms, next-ms, nil
		if one.Clip {
			part.At = ms - one.Start
		}
		if one.To != nil {
			part.Began, part.Ended = float64(ms-one.Start)/float64(one.Length), float64(next-one.Start)/float64(one.Length)
		}
		for id, when := range named {
			if when > ms {
				part.Hidden = append(part.Hidden, id)
			}
		}
		slices.Sort(part.Hidden)
		if drawn {
			for _, c := range s.Captions {
				if ms >= c.From && ms < c.To {
					part.Caption = c.Text
				}
			}
		}
		all = append(all, part)
	}
	return all
}

// near is the part of a picture that its marks are in, with the picture's own sides; false where going there shows
// little more.
func (d *director) near(f story.Figure) (scene.Rect, bool) {
	size, known := d.sizes[f.Shot]
	if d.film.Still || !known {
		return Whole, false
	}
	seen := f.Seen(size)
	if seen.Area == nil {
		return Whole, false
	}
	a := seen.Area.Grow(aroundIt)
	// Of a small picture less is gone closer to: it would only be blown up.
	share := math.Max(math.Max(math.Max(a.W, a.H), 1/nearest), float64(d.plan.W)/(2.5*seen.W))
	if share > nearShare {
		return Whole, false
	}
	within := func(v float64) float64 { return math.Max(0, math.Min(1-share, v)) }
	c := a.Center()
	return scene.Rect{X: within(c.X - share/2), Y: within(c.Y - share/2), W: share, H: share}, true
}

// moments are when the marks of a step are there, by their ids: those that its words name come as they are named.
func moments(b story.Block, s Scene) map[string]int {
	out := map[string]int{}
	letters, marks := b.Naming()
	if letters == 0 {
		return out
	}
	for id, at := range marks {
		if ms := s.Speaks + s.Spoken*at/letters - early; ms > Beat {
			out[id] = up(ms)
		}
	}
	return out
}

// up is a time in whole beats, no shorter.
func up(ms int) int { return (ms + Beat - 1) / Beat * Beat }

// Way is how far a way has been gone at a share of its time: gently at both ends.
func Way(t float64) float64 { return t * t * (3 - 2*t) }

// Between is the part of a picture that is seen at a share of a segment's time.
func (s Segment) Between(t float64) scene.Rect {
	if s.To == nil {
		return s.From
	}
	k := Way(s.Began + (s.Ended-s.Began)*t)
	mix := func(a, b float64) float64 { return a + (b-a)*k }
	return scene.Rect{X: mix(s.From.X, s.To.X), Y: mix(s.From.Y, s.To.Y), W: mix(s.From.W, s.To.W), H: mix(s.From.H, s.To.H)}
}

package demo

import (
	"fmt"
	"strings"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/words"
	"raconte/practice/workstation"

	"github.com/google/uuid"
)

// step is one step of a procedure: what is done on the practice workstation before its shot is taken,
// the shot's marks by the names of elements, and the words.
type step struct {
	do    []string // commands of the workstation's scripts
	words string   // see write
	alt   string
	crop  string // the elements to crop to, divided by "|"; "" is the whole shot
	marks []mark
}

// mark points at an element by its name.
type mark struct {
	kind   figure.Kind
	at     string
	text   string
	ink    string
	weight figure.Weight
	dx, dy float64 // moves a text, marker, note or lens from its usual place
	look   string
	way    string
}

// id makes ids that are the same each time, so that the demo is too.
func id(parts ...any) string {
	return uuid.NewSHA1(uuid.NameSpaceURL, []byte(fmt.Sprint(parts...))).String()
}

// build makes a procedure of a session on the workstation: a shot of the front window for each step.
func build(title, author string, ready bool, steps []step) Procedure {
	p := Procedure{Author: author, Ready: ready, Session: Session{Name: title, id: id("session", title)}}
	p.Document = document.Document{ID: id(title), Kind: document.Procedure, Facts: document.Facts{Title: title}}
	player := workstation.NewPlayer()
	for i, s := range steps {
		shot := p.Session.take(player, append(s.do, "take window")...)
		out := document.Block{ID: id(title, i), Content: document.Content{Type: document.Step}}
		var markers []string
		f := figure.Figure{ID: id(title, i, "figure"), Shot: shot.ID, Alt: s.alt, Marks: []figure.Mark{}}
		if s.crop != "" {
			f.Crop, f.Edge.Open = cropTo(shot, s.crop), "auto"
		}
		for j, m := range s.marks {
			made := m.place(shot)
			frame := f.Frame(shot.Size)
			made = made.KeptIn(frame, figure.Unit(frame))
			made.ID, made.Turn = id(title, i, "mark", j), j
			if made.Kind == figure.Marker {
				markers = append(markers, made.ID)
			}
			f.Marks = append(f.Marks, made)
		}
		out.Figures = []figure.Figure{f}
		out.Words = write(s.words, markers)
		p.Document.Blocks = append(p.Document.Blocks, out)
	}
	return p
}

// find is where an element lies in a shot.
func find(s Shot, name string) scene.Rect {
	for i := len(s.About.Elements) - 1; i >= 0; i-- {
		if e := s.About.Elements[i]; e.Name == name {
			return e.Rect
		}
	}
	panic(fmt.Sprintf("demo: %s has no element %q", s.Name, name)) // the scripts are ours
}

// cropTo frames elements with room around them, in the proportions of a screen where that fits.
func cropTo(s Shot, names string) *scene.Rect {
	var r scene.Rect
	for _, name := range strings.Split(names, "|") {
		r = r.Union(find(s, name))
	}
	r = r.Grow(60)
	if h := r.W * 9 / 16; h > r.H {
		r.Y, r.H = r.Y-(h-r.H)/2, h
	} else {
		w := r.H * 16 / 9
		r.X, r.W = r.X-(w-r.W)/2, w
	}
	r.X = max(0, min(r.X, float64(s.Size.W)-r.W))
	r.Y = max(0, min(r.Y, float64(s.Size.H)-r.H))
	r = figure.Figure{Crop: &r}.Frame(s.Size)
	return &r
}

func (m mark) place(s Shot) figure.Mark {
	r := find(s, m.at)
	out := figure.Mark{Kind: m.kind, Style: figure.Style{Ink: "red", Weight: figure.Medium}, Text: m.text}
	if m.ink != "" {
		out.Ink = m.ink
	}
	if m.weight != "" {
		out.Weight = m.weight
	}
	out.Look, out.Way = m.look, m.way
	d := scene.Point{X: m.dx, Y: m.dy}
	middle := r.Center()
	switch m.kind {
	case figure.Concealment:
		if out.Ink = "dark"; m.ink != "" {
			out.Ink = m.ink
		}
		b := r.Grow(-3)
		out.Points = []scene.Point{{X: b.X, Y: b.Y}, {X: b.X + b.W, Y: b.Y + b.H}}
	case figure.Highlight:
		out.Ink = "amber"
		out.Points = []scene.Point{{X: r.X, Y: r.Y}, {X: r.X + r.W, Y: r.Y + r.H}}
	case figure.Note:
		at := scene.Point{X: r.X + r.W + 90, Y: r.Y - 70}.Plus(d)
		out.Points = []scene.Point{at, {X: at.X + 60 + 16*float64(len([]rune(m.text))), Y: at.Y}, {X: r.X + r.W + 4, Y: middle.Y}}
	case figure.Detail:
		b := r.Grow(4)
		out.Points, out.Zoom = []scene.Point{{X: b.X, Y: b.Y}, {X: b.X + b.W, Y: b.Y + b.H}, middle.Plus(d)}, 160
	case figure.Box, figure.Ellipse, figure.Light:
		b := r.Grow(7)
		out.Points = []scene.Point{{X: b.X, Y: b.Y}, {X: b.X + b.W, Y: b.Y + b.H}}
	case figure.Marker:
		out.Points = []scene.Point{scene.Point{X: r.X + r.W + 26, Y: middle.Y}.Plus(d)}
	case figure.Arrow:
		tip := scene.Point{X: r.X + r.W + 12, Y: middle.Y}
		out.Points = []scene.Point{tip.Plus(scene.Point{X: 150, Y: 0}).Plus(d), tip}
	case figure.Text:
		at := scene.Point{X: r.X + r.W + 172, Y: middle.Y - 26}.Plus(d)
		out.Points = []scene.Point{at, {X: at.X + 290, Y: at.Y}}
	}
	return out
}

// write reads the script's shorthand into the text model: *control*, [key], {n} for the n-th marker,
// _italic_, <address|words>; a line that starts with "- " is an item of a list.
func write(s string, markers []string) words.Node {
	doc := words.Node{Type: "doc"}
	for _, line := range strings.Split(s, "\n") {
		item, isItem := strings.CutPrefix(line, "- ")
		p := words.Node{Type: "paragraph", Content: inline(item, markers)}
		if !isItem {
			doc.Content = append(doc.Content, p)
			continue
		}
		if n := len(doc.Content); n == 0 || doc.Content[n-1].Type != "bulletList" {
			doc.Content = append(doc.Content, words.Node{Type: "bulletList"})
		}
		list := &doc.Content[len(doc.Content)-1]
		list.Content = append(list.Content, words.Node{Type: "listItem", Content: []words.Node{p}})
	}
	return doc
}

var shorthand = map[byte]struct {
	end   byte
	style string
}{'*': {'*', "control"}, '[': {']', "keycap"}, '_': {'_', "italic"}, '<': {'>', "link"}, '{': {'}', ""}}

func inline(s string, markers []string) []words.Node {
	var out []words.Node
	for s != "" {
		i := strings.IndexAny(s, "*[_<{")
		if i < 0 {
			return append(out, words.Node{Type: "text", Text: s})
		}
		if i > 0 {
			out = append(out, words.Node{Type: "text", Text: s[:i]})
		}
		how := shorthand[s[i]]
		end := strings.IndexByte(s[i+1:], how.end)
		inner := s[i+1 : i+1+end]
		s = s[i+1+end+1:]
		switch how.style {
		case "":
			out = append(out, words.Node{Type: "markerRef", Attrs: &words.Attrs{Mark: markers[inner[0]-'1']}})
		case "link":
			href, text, _ := strings.Cut(inner, "|")
			out = append(out, words.Node{Type: "text", Text: text, Marks: []words.Style{{Type: "link", Attrs: &words.Attrs{Href: href}}}})
		default:
			out = append(out, words.Node{Type: "text", Text: inner, Marks: []words.Style{{Type: how.style}}})
		}
	}
	return out
}

package demo

import (
	"fmt"
	"image"
	"strings"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/words"
	"raconte/workstation"

	"github.com/google/uuid"
)

type imageOf interface{ Image() *image.RGBA }

// step is one step of a script: a screen, its marks by the names of elements, and the words.
type step struct {
	screen *workstation.Screen
	words  string // see write
	alt    string
	crop   string // the elements to crop to, divided by "|"; "" is the whole shot
	marks  []mark
}

// mark points at an element by its name.
type mark struct {
	kind   figure.Kind
	at     string
	text   string
	ink    string
	weight figure.Weight
	dx, dy float64 // moves a text or marker from its usual place
}

// id makes ids that are the same each time, so that the demo is too.
func id(parts ...any) string {
	return uuid.NewSHA1(uuid.NameSpaceURL, []byte(fmt.Sprint(parts...))).String()
}

// build makes a procedure of a script.
func build(title, author string, ready bool, steps []step) Procedure {
	p := Procedure{Author: author, Ready: ready, shots: map[string][]byte{}}
	p.Document = document.Document{ID: id(title), Kind: document.Procedure, Title: title}
	for i, s := range steps {
		out := document.Step{ID: id(title, i), Figures: []figure.Figure{}}
		var markers []string
		if s.screen != nil {
			shot, err := p.add(s.screen)
			if err != nil {
				panic(fmt.Sprintf("demo: %v", err)) // the screens are ours
			}
			f := figure.Figure{ID: id(title, i, "figure"), Shot: shot, Alt: s.alt, Marks: []figure.Mark{}}
			if s.crop != "" {
				f.Crop = cropTo(s.screen, s.crop)
			}
			for j, m := range s.marks {
				made := m.place(s.screen)
				made.ID, made.Turn = id(title, i, "mark", j), j
				if made.Kind == figure.Marker {
					markers = append(markers, made.ID)
				}
				f.Marks = append(f.Marks, made)
			}
			out.Figures = append(out.Figures, f)
		}
		out.Words = write(s.words, markers)
		p.Document.Steps = append(p.Document.Steps, out)
	}
	return p
}

func find(s *workstation.Screen, name string) scene.Rect {
	r := s.Find(name)
	if r.Empty() {
		panic(fmt.Sprintf("demo: %s has no element %q", s.Title, name))
	}
	return r
}

// cropTo frames elements with room around them, in the proportions of the screen where that fits.
func cropTo(s *workstation.Screen, names string) *scene.Rect {
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
	whole := scene.Rect{W: workstation.Width, H: workstation.Height}
	r.X = max(0, min(r.X, whole.W-r.W))
	r.Y = max(0, min(r.Y, whole.H-r.H))
	r = figure.Figure{Crop: &r}.Frame(figure.Size{W: workstation.Width, H: workstation.Height})
	return &r
}

func (m mark) place(s *workstation.Screen) figure.Mark {
	r := find(s, m.at)
	out := figure.Mark{Kind: m.kind, Ink: "red", Weight: figure.Medium, Text: m.text}
	if m.ink != "" {
		out.Ink = m.ink
	}
	if m.weight != "" {
		out.Weight = m.weight
	}
	d := scene.Point{X: m.dx, Y: m.dy}
	middle := r.Center()
	switch m.kind {
	case figure.Box:
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

package pdf

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"raconte/core/scene"
	"raconte/core/text"
)

// drawing draws sheets into a file: their content, and which of it belongs to which part of the structure.
type drawing struct {
	*file
	*structure
	sides    []*side
	folded   folded
	pictures map[string]int // their objects, by reference
	fonts    map[string]*font
	states   map[string]int // graphics states, by their names
	failed   error

	// Of the sheet that is drawn.
	*side
	number int // of the side
	height float64
	left   float64  // where it stands on its side
	open   *element // whose marked content is open; nil, with inside, of an artifact
	inside bool

	// What the content says now.
	face   *font
	size   float64
	fill   scene.Color
	endX   float64 // of the last words of the open content
	endY   float64
	ending string
}

// sheet draws one of the pages on its side.
func (d *drawing) sheet(n int, s scene.Scene) {
	place := d.folded.places[n]
	d.number, d.height, d.left = place.side, s.H, 0
	if d.side = d.sides[place.side]; d.used == nil {
		d.used = map[string]int{}
	}
	d.w, d.h = s.W, s.H
	if d.folded.booklet {
		d.w *= 2
		if place.right {
			d.left = s.W
		}
		d.b = append(num(append(d.b, "q 1 0 0 1 "...), d.left), " 0 cm\n"...)
	}
	d.face, d.size, d.fill = nil, 0, scene.Color{A: 255}
	for len(d.marks) <= place.side {
		d.marks = append(d.marks, nil)
	}
	s.Draw(d)
	d.leave()
	if d.folded.booklet {
		d.b = append(d.b, "Q\n"...)
	}
}

// page writes a side, which nothing more is drawn on.
func (d *drawing) page(s *side, n, parent int) {
	kinds := map[byte]string{}
	for _, name := range slices.Sorted(maps.Keys(s.used)) {
		kinds[name[0]] += fmt.Sprintf("/%s %d 0 R", name, s.used[name])
	}
	content := d.packed(0, "", s.b)
	annotations := ""
	for _, id := range s.notes {
		annotations += fmt.Sprintf("%d 0 R ", id)
	}
	d.object(s.id, fmt.Sprintf("<</Type/Page/Parent %d 0 R/MediaBox[0 0 %.2f %.2f]/Resources<</Font<<%s>>/XObject<<%s>>/ExtGState<<%s>>>>/Contents %d 0 R/StructParents %d/Tabs/S/Annots[%s]>>",
		parent, s.w, s.h, kinds['F'], kinds['I'], kinds['G'], content, n, annotations))
	s.b, s.used = nil, nil
}

// Tag begins or ends a part of the structure.
func (d *drawing) Tag(t scene.Tag) {
	if t.Role == "Artifact" || t.Role == "" && d.part() == nil {
		d.leave()
	}
	d.tag(t)
}

// enter opens the marked content that what is drawn now belongs to.
func (d *drawing) enter() {
	e := d.part()
	if e == nil || !e.holds() {
		if d.inside && d.open == nil {
			return
		}
		d.leave()
		kind := d.artifact
		if kind == "" {
			kind = "/Type/Layout"
		}
		d.b = append(append(append(d.b, "/Artifact<<"...), kind...), ">>BDC\n"...)
		d.inside = true
		return
	}
	if d.inside && d.open == e {
		return
	}
	d.leave()
	mark := len(d.marks[d.number])
	d.marks[d.number] = append(d.marks[d.number], e)
	page := d.side.id
	if e.page == 0 {
		e.page = page
	}
	e.kids = append(e.kids, kid{mark: mark, page: page})
	d.b = fmt.Appendf(d.b, "/%s<</MCID %d>>BDC\n", e.role, mark)
	d.open, d.inside = e, true
}

// leave closes the marked content that is open.
func (d *drawing) leave() {
	if d.inside {
		d.b = append(d.b, "EMC\n"...)
	}
	d.open, d.inside, d.ending = nil, false, ""
}

func (d *drawing) color(c scene.Color) {
	if c.R != d.fill.R || c.G != d.fill.G || c.B != d.fill.B {
		for _, v := range []uint8{c.R, c.G, c.B} {
			d.b = append(num(d.b, float64(v)/255), ' ')
		}
		d.b = append(d.b, "rg\n"...)
	}
	if c.A != d.fill.A {
		name := fmt.Sprint("G", c.A)
		if d.states[name] == 0 {
			d.states[name] = d.object(0, fmt.Sprintf("<</Type/ExtGState/ca %.3f>>", float64(c.A)/255))
		}
		d.used[name] = d.states[name]
		d.b = fmt.Appendf(d.b, "/%s gs\n", name)
	}
	d.fill = c
}

// point appends a place of the sheet as one of the page, which counts from the bottom up.
func (d *drawing) point(p scene.Point) {
	d.b = append(num(d.b, p.X), ' ')
	d.b = append(num(d.b, d.height-p.Y), ' ')
}

// boxed makes the box of the Figure that is open hold a rectangle.
func (d *drawing) boxed(r scene.Rect) {
	e := d.part()
	if e == nil || e.role != "Figure" {
		return
	}
	r.X, r.Y = r.X+d.left, d.height-r.Y-r.H
	if e.box != nil {
		r = r.Union(*e.box)
	}
	e.box = &r
}

// Path fills an outline.
func (d *drawing) Path(p scene.Path) {
	d.enter()
	d.boxed(p.Outline.Bounds())
	d.color(p.Fill)
	var last scene.Point
	for _, s := range p.Outline {
		switch s.Op {
		case 'M':
			d.point(s.P[0])
			d.b = append(d.b, "m\n"...)
			last = s.P[0]
		case 'L':
			d.point(s.P[0])
			d.b = append(d.b, "l\n"...)
			last = s.P[0]
		case 'Q': // as a cubic
			c, end := s.P[0], s.P[1]
			d.point(last.Plus(c.Minus(last).Times(2.0 / 3)))
			d.point(end.Plus(c.Minus(end).Times(2.0 / 3)))
			d.point(end)
			d.b = append(d.b, "c\n"...)
			last = end
		case 'C':
			for _, p := range s.P {
				d.point(p)
			}
			d.b = append(d.b, "c\n"...)
			last = s.P[2]
		case 'Z':
			d.b = append(d.b, "h\n"...)
		}
	}
	d.b = append(d.b, "f\n"...)
}

// use is a face, embedded on its first use: a document without Chinese does not carry it.
func (d *drawing) use(name string) *font {
	f := d.fonts[name]
	if f == nil {
		var err error
		if f, err = newFont(name, fmt.Sprint("F", len(d.fonts)), text.TTF(name)); err != nil {
			d.failed = fmt.Errorf("embedding the face %s: %w", name, err)
			return nil
		}
		f.id = d.reserve()
		d.fonts[name] = f
	}
	d.used[f.res] = f.id
	return f
}

// Words sets text that can be searched, copied and read out, glyph by glyph as it was measured.
func (d *drawing) Words(w scene.Words) {
	glyphs := text.Glyphs(w)
	if len(glyphs) == 0 {
		return
	}
	d.enter()
	apart := math.Abs(w.Baseline-d.endY) > 0.1 || w.X-d.endX > 0.12*w.Size
	if d.open != nil && d.ending != "" && apart && !strings.HasSuffix(d.ending, " ") && !strings.HasPrefix(w.Text, " ") {
		// Between words that stand apart whoever reads them out needs a space.
		space := scene.Words{Face: w.Face, Size: w.Size, X: d.endX, Baseline: d.endY, Text: " "}
		d.show(space, text.Glyphs(space))
	}
	d.color(w.Fill)
	d.show(w, glyphs)
	d.endX, d.endY, d.ending = w.X+w.Width, w.Baseline, w.Text
}

func (d *drawing) show(w scene.Words, glyphs []text.Glyph) {
	f := d.use(w.Face)
	if f == nil {
		return
	}
	d.b = append(d.b, "BT "...)
	if d.face != f || d.size != w.Size {
		d.b = fmt.Appendf(d.b, "/%s ", f.res)
		d.b = append(num(d.b, w.Size), " Tf "...)
		d.face, d.size = f, w.Size
	}
	d.point(scene.Point{X: w.X, Y: w.Baseline})
	d.b = append(d.b, "Td [<"...)
	at, rise := 0.0, 0.0
	for i := 0; i < len(glyphs); {
		end := i + 1
		for end < len(glyphs) && glyphs[end].Text == "" {
			end++ // several that stand together for some letters
		}
		g := f.bearer(glyphs[i:end])
		if up := g.Y * w.Size; up != rise {
			d.b = append(d.b, ">]TJ "...)
			d.b = append(num(d.b, up), " Ts [<"...)
			rise = up
		}
		if off := g.X*1000 - at; math.Abs(off) > 0.5 {
			d.b = append(num(append(d.b, '>'), -math.Round(off)), '<')
			at += math.Round(off)
		}
		c := f.code(glyphs[i:end])
		d.b = fmt.Appendf(d.b, "%04X", c)
		at += f.width(f.list[c])
		i = end
	}
	d.b = append(d.b, ">]TJ "...)
	if rise != 0 {
		d.b = append(d.b, "0 Ts "...)
	}
	d.b = append(d.b, "ET\n"...)
}

// Picture places a finished picture, or the part of it that is shown.
func (d *drawing) Picture(p scene.Picture) {
	id := d.pictures[p.Ref]
	if id == 0 {
		return
	}
	d.enter()
	d.boxed(p.Target)
	d.color(scene.Color{R: d.fill.R, G: d.fill.G, B: d.fill.B, A: 255})
	name := fmt.Sprint("I", id)
	d.used[name] = id
	d.b = append(d.b, "q "...)
	at := p.Stretched()
	if at != p.Target {
		t := p.Target
		for _, v := range []float64{t.X, d.height - t.Y - t.H, t.W, t.H} {
			d.b = append(num(d.b, v), ' ')
		}
		d.b = append(d.b, "re W n "...)
	}
	for _, v := range []float64{at.W, 0, 0, at.H, at.X, d.height - at.Y - at.H} {
		d.b = append(num(d.b, v), ' ')
	}
	d.b = fmt.Appendf(d.b, "cm /%s Do Q\n", name)
}

// Clip draws the items whole: pages clip nothing, and pictures come finished.
func (d *drawing) Clip(c scene.Clip) { scene.Scene{Items: c.Items}.Draw(d) }

// Link makes an area lead to an address or a page; it belongs to the innermost Link that is open.
func (d *drawing) Link(l scene.Link) {
	to := fmt.Sprintf("/A<</S/URI/URI%s>>", d.str(l.URL))
	if l.URL == "" {
		to = fmt.Sprintf("/Dest[%d 0 R/XYZ null %.2f null]", d.sideOf(l.Page-1).id, d.height-l.Y)
	}
	id := d.reserve()
	part, says := "", l.URL
	if e := d.link(); e != nil {
		part = fmt.Sprintf("/StructParent %d", len(d.sides)+len(d.structure.notes))
		d.structure.notes = append(d.structure.notes, e)
		e.kids = append(e.kids, kid{note: id, page: d.side.id})
		says = e.alt
	}
	d.object(id, fmt.Sprintf("<</Type/Annot/Subtype/Link/Rect[%.2f %.2f %.2f %.2f]/Border[0 0 0]/F 4%s%s/Contents%s>>",
		d.left+l.Area.X, d.height-l.Area.Y-l.Area.H, d.left+l.Area.X+l.Area.W, d.height-l.Area.Y, to, part, d.str(says)))
	d.side.notes = append(d.side.notes, id)
}

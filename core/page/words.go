package page

import (
	"math"
	"strings"
	"unicode/utf8"

	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/story"
	"raconte/core/text"
	"raconte/core/words"
)

const (
	leading = 1.36 // line height as a share of the size
	apart   = 0.45 // space between paragraphs as a share of the size
	indent  = 1.6  // of a list as a share of the size
)

// setting is words set to a width: items relative to their top left.
type setting struct {
	drawn  scene.Scene
	height float64
	pages  map[int]string // items that end with the page of a block, by their index
}

func (s setting) items(x, y float64) []scene.Item {
	d := scene.Point{X: x, Y: y}
	out := make([]scene.Item, 0, len(s.drawn.Items))
	for _, item := range s.drawn.Items {
		switch {
		case item.Path != nil:
			p := *item.Path
			p.Outline = p.Outline.Moved(1, d)
			item.Path = &p
		case item.Words != nil:
			w := *item.Words
			w.X, w.Baseline = w.X+x, w.Baseline+y
			item.Words = &w
		case item.Link != nil:
			l := *item.Link
			l.Area.X, l.Area.Y = l.Area.X+x, l.Area.Y+y
			item.Link = &l
		}
		out = append(out, item)
	}
	return out
}

// piece is what can't be broken: a word with the spaces after it, a key cap, a marker.
type piece struct {
	span  words.Span
	text  string
	width float64 // with padding
	size  float64 // of its letters; 0 where it can't be cut
	glue  bool    // no line may end before it
}

// flow sets the words of a block below each other.
type flow struct {
	*look
	set         setting
	block       story.Block
	width, size float64
	lists       lister
	begun       bool
}

// setWords sets a step's words to a width; scale is 1, or less for a step too tall for a page.
func (l *look) setWords(step story.Block, width, scale float64) setting {
	if step.Words.Empty() {
		return setting{}
	}
	f := flow{look: l, block: step, width: width, size: l.body * scale}
	f.lists.scene = &f.set.drawn
	l.reader.Walk(step, &f)
	f.lists.leave(0)
	return f.set
}

// space leaves room above what is not the first.
func (f *flow) space() {
	if f.begun {
		f.set.height += f.size * apart
	}
	f.begun = true
}

func (f *flow) Open(words.List)  {}
func (f *flow) Close(words.List) {}

func (f *flow) Paragraph(p words.Paragraph) {
	f.space()
	f.lists.enter(p)
	f.set.height = f.setParagraph(&f.set.drawn, p, f.block.Tags, 0, f.set.height, f.width, f.size)
}

func (f *flow) Table(t words.Table) {
	f.space()
	f.lists.leave(0)
	table := f.setTable(t, f.block.Tags, f.width, f.size)
	f.set.drawn.Items = append(f.set.drawn.Items, table.items(0, f.set.height)...)
	f.set.height += table.height
}

// setParagraph sets a paragraph to a width from a place on, and answers how far down it came.
func (l *look) setParagraph(drawn *scene.Scene, p words.Paragraph, tags map[string]figure.Tag, x, y, width, size float64) float64 {
	in := float64(p.Depth) * size * indent
	rtl := text.RightToLeft(p.Reading())
	if bullet := p.Bullet; bullet != "" {
		at := x + in - size*0.45 - l.measure(text.Regular, size, bullet)
		if rtl {
			at = x + width - in + size*0.45
		}
		drawn.Open("Lbl")
		l.set(drawn, text.Regular, size, at, y+baseline(size), bullet, l.ink)
		drawn.Close(1)
		drawn.Open("LBody")
	}
	if !rtl {
		x += in
	}
	drawn.Open("P")
	for _, row := range l.breakLines(l.pieces(p, size), width-in) {
		l.drawLine(drawn, l.ordered(row, x, width-in, rtl), y, size, tags)
		y += size * leading
	}
	drawn.Close(1)
	return y
}

func baseline(size float64) float64 { return size * (leading + text.CapTop) / 2 }

// stand stands for a marker or key cap when looking for places to break: UAX #14 lets lines break
// around it but keeps it with the full stop that follows.
const stand = "\uFFFC"

// pieces cuts a paragraph where lines may break, and each cut where the style changes.
func (l *look) pieces(p words.Paragraph, size float64) []piece {
	var all strings.Builder
	for i, s := range p.Spans {
		s.Text = text.Shown(s.Text)
		p.Spans[i] = s
		if s.Marker != "" || s.Keycap {
			all.WriteString(stand)
		} else {
			all.WriteString(s.Text)
		}
	}
	ends := map[int]bool{}
	at := 0
	for _, b := range text.Breaks(all.String()) {
		at += len(b)
		ends[at] = true
	}
	var out []piece
	at = 0
	glue := false
	add := func(p piece, length int) {
		p.glue = glue
		out = append(out, p)
		at += length
		glue = !ends[at]
	}
	for _, s := range p.Spans {
		switch {
		case s.Marker != "":
			w := max(l.measure(text.Bold, size*0.86, s.Text)+size*0.62, size*1.2)
			add(piece{span: s, text: s.Text, width: w + size*0.16}, len(stand))
		case s.Keycap:
			add(piece{span: s, text: s.Text, width: l.measure(text.Mono, size*0.88, s.Text) + size*0.86}, len(stand))
		default:
			rest := s.Text
			for rest != "" {
				n := 1
				for n < len(rest) && !ends[at+n] {
					n++
				}
				add(piece{span: s, text: rest[:n], width: l.measure(faceOf(s), sizeOf(s, size), rest[:n]), size: sizeOf(s, size)}, n)
				rest = rest[n:]
			}
		}
	}
	return out
}

func faceOf(s words.Span) string {
	switch {
	case s.Code:
		return text.Mono
	case (s.Bold || s.Control) && s.Italic:
		return text.BoldItalic
	case s.Bold || s.Control:
		return text.Bold
	case s.Italic:
		return text.Italic
	}
	return text.Regular
}

func sizeOf(s words.Span, size float64) float64 {
	if s.Code {
		return size * 0.94
	}
	return size
}

// breakLines fills lines with pieces; pieces glued together move to the next line together, and a
// word wider than the line is cut.
func (l *look) breakLines(all []piece, width float64) [][]piece {
	lines := [][]piece{{}}
	used := 0.0
	newLine := func() { lines, used = append(lines, []piece{}), 0 }
	put := func(p piece) {
		lines[len(lines)-1] = append(lines[len(lines)-1], p)
		used += p.width
	}
	for i := 0; i < len(all); {
		j, group, last := i, 0.0, 0.0
		for j == i || (j < len(all) && all[j].glue) {
			group += all[j].width
			last = all[j].width - l.visible(all[j])
			j++
		}
		if used > 0 && used+group-last > width {
			newLine()
		}
		for ; i < j; i++ {
			p := all[i]
			for p.size > 0 && utf8.RuneCountInString(p.text) > 1 && used+l.visible(p) > width {
				head, tail := text.Cut(l.face(faceOf(p.span)), p.size, width-used, p.text)
				headWidth := l.measure(faceOf(p.span), p.size, head)
				if used > 0 && headWidth > width-used {
					newLine()
					continue
				}
				if tail == "" {
					break
				}
				cut := p
				cut.text, cut.width = head, headWidth
				put(cut)
				newLine()
				p.text, p.width = tail, p.width-headWidth
				if len(tail) < shortWord {
					p.width = l.measure(faceOf(p.span), p.size, tail)
				}
			}
			if strings.HasSuffix(p.text, "\n") {
				p.text = strings.TrimSuffix(p.text, "\n")
				p.width = 0
				put(p)
				newLine()
				continue
			}
			put(p)
		}
	}
	return lines
}

// shortWord is up to how many bytes what is left of a cut word is measured anew; of a longer one, the width of what
// was cut off is taken away, so that cutting takes time in proportion to the word.
const shortWord = 200

// visible is the width without the spaces at the end.
func (l *look) visible(p piece) float64 {
	trimmed := strings.TrimRight(p.text, " ")
	if len(trimmed) == len(p.text) || trimmed == "" || p.size == 0 {
		return p.width
	}
	return p.width - float64(len(p.text)-len(trimmed))*l.measure(faceOf(p.span), p.size, " ")
}

func (l *look) drawLine(s *scene.Scene, row []placed, y, size float64, tags map[string]figure.Tag) {
	base := y + baseline(size)
	for i, p := range row {
		to := leads(p.piece)
		if begins := to != "" && (i == 0 || leads(row[i-1].piece) != to); begins {
			s.Begin(scene.Tag{Role: "Link", Alt: readOut(row[i:], to)})
		}
		switch {
		case p.span.Marker != "":
			s.Open("Span")
			l.drawMarker(s, p.piece, p.x+size*0.08, base, size, tags)
			s.Close(1)
		case p.span.Keycap:
			s.Open("Span")
			l.drawKeycap(s, p.piece, p.x, base, size)
			s.Close(1)
		default:
			color := l.ink
			if p.span.Code {
				s.Fill(scene.Rounded(scene.Rect{X: p.x, Y: base - size*0.86, W: l.visible(p.piece), H: size * 1.16}, 2), l.shade)
			}
			if to != "" {
				color = l.action
			}
			if to != "" && p.span.To == "" && l.Links.Underlined {
				s.Fill(scene.Rounded(scene.Rect{X: p.x, Y: base + size*0.12, W: p.width, H: 0.6}, 0), l.action)
			}
			for _, w := range text.Stretch(l.face(faceOf(p.span)), sizeOf(p.span, size), p.x, base, p.text, p.level%2 == 1, color) {
				s.Say(w)
			}
		}
		if ends := to != "" && (i == len(row)-1 || leads(row[i+1].piece) != to); ends {
			for _, area := range areas(row[:i+1], to) {
				area.Y, area.H = y, size*leading
				s.Items = append(s.Items, scene.Item{Link: &scene.Link{Area: area, URL: to}})
			}
			s.Close(1)
		}
	}
}

// areas are where the last link of a row stands: in one piece, or in several where directions change in it.
func areas(row []placed, to string) []scene.Rect {
	var all []scene.Rect
	for i := len(row) - 1; i >= 0 && leads(row[i].piece) == to; i-- {
		p := row[i]
		if n := len(all); n > 0 && math.Abs(all[n-1].X-p.x-p.width) < 0.01 {
			all[n-1].X, all[n-1].W = p.x, all[n-1].W+p.width
		} else if n > 0 && math.Abs(all[n-1].X+all[n-1].W-p.x) < 0.01 {
			all[n-1].W += p.width
		} else {
			all = append(all, scene.Rect{X: p.x, W: p.width})
		}
	}
	return all
}

// leads is where a piece leads: an address, or a block of the story; "" where it leads nowhere.
func leads(p piece) string {
	if p.span.Inside != "" {
		return toBlock + p.span.Inside
	}
	return p.span.Link
}

// readOut is what stands for a link where it is read out: where it leads, or for a place in the document what it is
// called.
func readOut(row []placed, to string) string {
	if row[0].span.To == "" {
		return to
	}
	var all strings.Builder
	for _, p := range row {
		if leads(p.piece) != to {
			break
		}
		all.WriteString(p.text)
	}
	return strings.TrimSpace(all.String())
}

func (l *look) drawMarker(s *scene.Scene, p piece, x, base, size float64, tags map[string]figure.Tag) {
	w, h := p.width-size*0.16, size*1.2
	fill := mustFx
	if tag, there := tags[p.span.Marker]; there {
		fill = tag.Ink
	}
	middle := base - size*text.CapTop/2
	s.Fill(scene.Rounded(scene.Rect{X: x, Y: middle - h/2, W: w, H: h}, size*0.26), fill)
	label := size * 0.86
	l.set(s, text.Bold, label, x+(w-l.measure(text.Bold, label, p.text))/2, middle+label*text.CapTop/2, p.text, figure.OnInk(fill))
}

func (l *look) drawKeycap(s *scene.Scene, p piece, x, base, size float64) {
	cap := scene.Rect{X: x + size*0.1, Y: base - size*0.9, W: p.width - size*0.2, H: size * 1.2}
	s.Fill(scene.Rounded(cap, 2.2), paper)
	s.Fill(scene.Frame(cap, 2.2, 0.7), l.soft)
	l.set(s, text.Mono, size*0.88, x+size*0.43, base, p.text, l.ink)
}

package page

import (
	"math"
	"strconv"
	"strings"

	"raconte/core/document"
	"raconte/core/scene"
	"raconte/core/style"
	"raconte/core/text"
)

const codeSide = 60.0

// header sets the logo, the title, the meta line and the QR code.
func (s *setter) header() {
	if s.Title == style.AllTitled || s.req.Story.Kind == document.Manual && s.Title == style.ManualsTitled {
		s.titlePage()
		return
	}
	sheet := s.sheet()
	room := s.inner
	below := s.y
	if s.Links.Codes && len(s.req.Code) > 0 {
		room -= codeSide + 18
		defer s.code(sheet, scene.Point{X: s.width - s.right - codeSide, Y: s.top}) // read out after the title
		below += codeSide + 8
	}
	y := s.logo(s.left, s.top) + 10
	kind := s.Said(string(s.req.Story.Kind))
	sheet.Open("P")
	s.set(sheet, text.Bold, 9, s.left, y, kind, s.action)
	sheet.Close(1)
	if signal := s.req.Story.Signal; signal != "" {
		s.worst(s.left+s.measure(text.Bold, 9, kind)+12, y-13.5, signal)
	}
	sheet.Open("H1")
	for _, l := range s.wrap(text.Bold, 20, room, s.req.Story.Title) {
		y += 24
		s.setIn(sheet, text.Bold, 20, s.left, room, y, l, s.ink)
	}
	sheet.Close(1)
	sheet.Open("P")
	for _, l := range s.wrap(text.Regular, 9, room, s.req.Meta) {
		y += 14
		s.set(sheet, text.Regular, 9, s.left, y+3, l, s.soft)
	}
	sheet.Close(1)
	y = math.Max(y+14, below)
	s.rule(sheet, y, 1.2, s.ink)
	s.y = y + 12
	s.warn()
}

// code draws the code of where the document is read.
func (s *setter) code(sheet *scene.Scene, at scene.Point) {
	area := scene.Rect{X: at.X, Y: at.Y, W: codeSide, H: codeSide}
	sheet.Begin(scene.Tag{Role: "Link", Alt: s.req.Address})
	sheet.Begin(scene.Tag{Role: "Figure", Alt: s.Said("link") + ": " + s.req.Address})
	s.drawCode(sheet, s.req.Code, area)
	sheet.Close(1)
	sheet.Items = append(sheet.Items, scene.Item{Link: &scene.Link{Area: area, URL: s.req.Address}})
	sheet.Close(1)
}

// logo draws the house's logo from a place on, and answers the height below it.
func (s *setter) logo(x, y float64) float64 {
	l := s.Logo
	if l == nil {
		return y
	}
	size := scene.Rect{X: x, Y: y, W: l.Height * float64(l.Width) / float64(l.Pixels), H: l.Height}
	if most := s.inner * 0.6; size.W > most {
		size.W, size.H = most, size.H*most/size.W
	}
	s.sheet().Begin(scene.Tag{Role: "Figure", Alt: l.Alt})
	defer s.sheet().Close(1)
	s.sheet().Items = append(s.sheet().Items, scene.Item{Picture: &scene.Picture{
		Ref: LogoRef(l.SHA256), Source: scene.Rect{W: float64(l.Width), H: float64(l.Pixels)}, Target: size, Alt: l.Alt,
	}})
	return y + size.H + 8
}

// LogoRef is how a logo is named to renderers of pages.
func LogoRef(sha string) string { return "logo:" + sha }

// worst sets the most severe signal word of the document on its panel.
func (s *setter) worst(x, y float64, signal document.Signal) {
	var word scene.Scene
	w := s.drawSignal(&word, signal, x+5, y)
	s.sheet().Fill(scene.Rounded(scene.Rect{X: x, Y: y, W: w + 10, H: signalBand}, 0), SignalColors[signal][0])
	s.sheet().Items = append(s.sheet().Items, word.Items...)
}

// warn sets the notice of the whole document.
func (s *setter) warn() {
	if n := s.setNotice(s.req.Story.Notice, s.inner); n.height > 0 {
		s.sheet().Items = append(s.sheet().Items, n.items(s.left, s.y)...)
		s.y += n.height + 12
	}
}

func (l *look) drawCode(sheet *scene.Scene, code [][]bool, in scene.Rect) {
	module := in.W / float64(len(code))
	var o scene.Outline
	for row, cells := range code {
		for col := 0; col < len(cells); col++ {
			start := col
			for col < len(cells) && cells[col] {
				col++
			}
			if col > start {
				o = append(o, scene.Rounded(scene.Rect{
					X: in.X + float64(start)*module, Y: in.Y + float64(row)*module, W: float64(col-start) * module, H: module,
				}, 0)...)
			}
		}
	}
	sheet.Fill(o, l.ink)
}

// tablePart is the share of the table of steps that goes on one sheet.
type tablePart struct {
	sheet       int
	y           float64
	from, count int
	columns     int
}

const tableLine = 15.0

// contentsTag is the part of the structure that the contents are, on however many sheets.
var contentsTag = scene.Tag{Role: "TOC", Key: "contents"}

// listed tells whether a block stands in the table of contents.
func (s *setter) listed(t document.Type, number string) bool {
	switch {
	case number == "" || s.Contents == style.ListNothing:
		return false
	case s.Contents == style.ListSections:
		return t == document.Section || t == document.Chapter
	}
	return true
}

// reserveTable leaves room for the table of contents; its page numbers are known only after the steps.
func (s *setter) reserveTable() []tablePart {
	n, title := 0, s.Said("steps")
	for _, b := range s.req.Story.Blocks {
		if s.listed(b.Type, b.Number) {
			n++
		}
		if b.Heads() {
			title = s.Said("contents")
		}
	}
	if n == 0 {
		return nil
	}
	s.sheet().Open("H2")
	s.set(s.sheet(), text.Bold, 10.5, s.left, s.y+8, title, s.action)
	s.sheet().Close(1)
	s.sheet().Begin(contentsTag) // filled when the pages are known; it stands here
	s.sheet().Close(1)
	s.y += 18
	columns := 1
	if n > 7 && s.inner > 380 {
		columns = 2
	}
	var parts []tablePart
	for from := 0; from < n; {
		rows := int(s.room() / tableLine)
		need := (n - from + columns - 1) / columns
		rows = min(rows, need)
		count := min(n-from, rows*columns)
		parts = append(parts, tablePart{len(s.pages.Sheets) - 1, s.y, from, count, columns})
		from += count
		s.y += float64(rows)*tableLine + 6
		if from < n {
			s.newSheet()
		}
	}
	return parts
}

func (s *setter) fillTable(parts []tablePart) {
	var places []Place
	for _, p := range s.pages.Places {
		if s.listed(p.Type, p.Number) {
			places = append(places, p)
		}
	}
	for _, p := range parts {
		sheet := &s.pages.Sheets[p.sheet]
		gap := 24.0
		width := (s.inner - gap*float64(p.columns-1)) / float64(p.columns)
		rows := (p.count + p.columns - 1) / p.columns
		for i := range p.count {
			place := places[p.from+i]
			sheet.Begin(contentsTag)
			sheet.Open("TOCI")
			sheet.Begin(scene.Tag{Role: "Link", Alt: strings.TrimSpace(place.Number + " " + place.Label)})
			heads := place.Type == document.Section || place.Type == document.Chapter
			x := s.left + float64(i/rows)*(width+gap)
			y := p.y + float64(i%rows)*tableLine
			number, page := place.Number, strconv.Itoa(place.Page)
			if heads || place.Depth == 0 {
				s.set(sheet, text.Bold, 9.5, x, y+10, number, s.ink)
			}
			face, in := text.Regular, 26.0
			if heads {
				face = text.Bold
			} else if place.Depth > 0 {
				in += 12
				s.set(sheet, text.Regular, 9.5, x+26-s.measure(text.Regular, 9.5, number)/2, y+10, number, s.soft)
			}
			label := text.Shorten(s.face(face), 9.5, width-in-24, place.Label)
			s.set(sheet, face, 9.5, x+in, y+10, label, s.ink)
			s.set(sheet, text.Regular, 9.5, x+width-s.measure(text.Regular, 9.5, page), y+10, page, s.soft)
			sheet.Items = append(sheet.Items, scene.Item{Link: &scene.Link{
				Area: scene.Rect{X: x, Y: y, W: width, H: tableLine}, Page: place.Page, Y: place.Y,
			}})
			sheet.Close(3)
		}
	}
}

// bands sets the header and the footer of a sheet, and its stamp.
func (s *setter) bands(i int) {
	sheet := &s.pages.Sheets[i]
	value := func(name string) (string, bool) {
		switch name {
		case "page":
			return strconv.Itoa(i + 1), true
		case "pages":
			return strconv.Itoa(len(s.pages.Sheets)), true
		case "page of pages":
			return s.Said("pages", "page", strconv.Itoa(i+1), "pages", strconv.Itoa(len(s.pages.Sheets))), true
		case "section":
			return s.section(i + 1), true
		}
		v, known := s.req.Values[name]
		return v, known
	}
	if !s.Header.Empty() {
		y := s.top * 0.62
		sheet.Begin(scene.Tag{Role: "Artifact", Kind: "Header"})
		s.band(sheet, s.Header, y, value)
		if s.Header.Rule {
			s.rule(sheet, y+6, 0.6, s.line)
		}
		sheet.Close(1)
	}
	if !s.Footer.Empty() {
		y := s.height - s.bottom + math.Min(20, s.bottom*0.35)
		sheet.Begin(scene.Tag{Role: "Artifact", Kind: "Footer"})
		if s.Footer.Rule {
			s.rule(sheet, y, 0.6, s.line)
		}
		s.band(sheet, s.Footer, y+13, value)
		sheet.Close(1)
	}
	if s.req.Stamp.Words != "" {
		sheet.Begin(scene.Tag{Role: "Artifact", Kind: "Watermark"})
		s.stamp(sheet)
		sheet.Close(1)
	}
}

const bandSize = 8.5

// band sets the three parts of a header or footer. What is in the middle and at the right is set first; what is at the
// left takes the room that is left.
func (s *setter) band(sheet *scene.Scene, b style.Band, baseline float64, value func(string) (string, bool)) {
	fill := func(part string, most float64) (string, float64) {
		said := text.Shorten(s.face(text.Regular), bandSize, most, text.Shown(style.Fill(part, value)))
		return said, s.measure(text.Regular, bandSize, said)
	}
	right, rightWidth := fill(b.Right, s.inner*0.45)
	s.set(sheet, text.Regular, bandSize, s.left+s.inner-rightWidth, baseline, right, s.soft)
	most := s.inner - rightWidth - 20
	if b.Middle != "" {
		side := s.inner * 0.3
		middle, width := fill(b.Middle, s.inner-2*math.Max(side, rightWidth)-20)
		s.set(sheet, text.Regular, bandSize, s.left+(s.inner-width)/2, baseline, middle, s.soft)
		most = (s.inner-width)/2 - 10
	}
	left, _ := fill(b.Left, most)
	s.set(sheet, text.Regular, bandSize, s.left, baseline, left, s.soft)
}

// section is the heading that holds on a page: the first that begins there, or the last before it.
func (s *setter) section(page int) string {
	holds := ""
	for _, p := range s.pages.Places {
		if p.Type != document.Section && p.Type != document.Chapter {
			continue
		}
		if p.Page > page || p.Page == page && holds != "" && p.Y > s.top+60 {
			break
		}
		holds = p.Label
		if p.Page == page {
			break
		}
	}
	return holds
}

// stamp marks a sheet that must not be used: in words at the top, and across the page so that a copy of a part still
// shows it.
func (s *setter) stamp(sheet *scene.Scene) {
	const size = 10.0
	label := s.req.Stamp.Words
	w := text.Width(text.Bold, size, label)
	box := scene.Rect{X: (s.width - w) / 2, Y: 8, W: w, H: 12}.Grow(4)
	sheet.Fill(scene.Rounded(box, 3), paper)
	sheet.Fill(scene.Frame(box, 3, 1.2), mustFx)
	text.Set(sheet, text.Bold, size, (s.width-w)/2, 17.5, label, mustFx)

	large := math.Min(150, 0.8*math.Hypot(s.width, s.height)/text.Width(text.Bold, 1, s.req.Stamp.Large))
	veil := mustFx
	veil.A = 14
	for _, word := range text.Line(text.Bold, large, -text.Width(text.Bold, large, s.req.Stamp.Large)/2, large/3, s.req.Stamp.Large, mustFx) {
		sheet.Fill(turned(text.Outline(word), -math.Atan2(s.height, s.width)*0.85, scene.Point{X: s.width / 2, Y: s.height / 2}), veil)
	}
}

func turned(o scene.Outline, angle float64, center scene.Point) scene.Outline {
	sin, cos := math.Sincos(angle)
	out := make(scene.Outline, len(o))
	for i, seg := range o {
		out[i].Op = seg.Op
		for j, p := range seg.P {
			out[i].P[j] = scene.Point{X: center.X + p.X*cos - p.Y*sin, Y: center.Y + p.X*sin + p.Y*cos}
		}
	}
	return out
}

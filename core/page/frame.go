package page

import (
	"fmt"
	"math"
	"strconv"

	"raconte/core/document"
	"raconte/core/scene"
	"raconte/core/text"
)

const codeSide = 60.0

// header sets the title, the meta line and the QR code.
func (s *setter) header() {
	if s.req.Story.Manual {
		s.titlePage()
		return
	}
	sheet := s.sheet()
	room := inner
	if len(s.req.Code) > 0 {
		room -= codeSide + 18
		drawCode(sheet, s.req.Code, scene.Rect{X: Width - side - codeSide, Y: top, W: codeSide, H: codeSide})
		sheet.Items = append(sheet.Items, scene.Item{Link: &scene.Link{
			Area: scene.Rect{X: Width - side - codeSide, Y: top, W: codeSide, H: codeSide}, URL: s.req.Address,
		}})
	}
	y := top + 10
	text.Set(sheet, text.Bold, 9, side, y, s.req.Story.Kind, action)
	if signal := s.req.Story.Signal; signal != "" {
		at := side + text.Width(text.Bold, 9, s.req.Story.Kind) + 12
		var word scene.Scene
		w := drawSignal(&word, signal, at+5, y-13.5)
		sheet.Fill(scene.Rounded(scene.Rect{X: at, Y: y - 13.5, W: w + 10, H: signalBand}, 0), signalColors[signal][0])
		sheet.Items = append(sheet.Items, word.Items...)
	}
	for _, l := range text.Wrap(text.Bold, 20, room, text.Shown(s.req.Story.Title)) {
		y += 24
		text.Set(sheet, text.Bold, 20, side, y, l, ink)
	}
	for _, l := range text.Wrap(text.Regular, 9, room, s.req.Meta) {
		y += 14
		text.Set(sheet, text.Regular, 9, side, y+3, l, soft)
	}
	y = math.Max(y+14, top+codeSide+8)
	rule(sheet, y, 1.2, ink)
	s.y = y + 12
	if n := setNotice(s.req.Story.Notice, inner); n.height > 0 {
		sheet.Items = append(sheet.Items, n.items(side, s.y)...)
		s.y += n.height + 12
	}
}

func drawCode(sheet *scene.Scene, code [][]bool, in scene.Rect) {
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
	sheet.Fill(o, ink)
}

// tablePart is the share of the table of steps that goes on one sheet.
type tablePart struct {
	sheet       int
	y           float64
	from, count int
	columns     int
}

const tableLine = 15.0

// reserveTable leaves room for the table of steps; its page numbers are known only after the steps.
func (s *setter) reserveTable() []tablePart {
	n, title := 0, "Steps"
	for _, b := range s.req.Story.Blocks {
		if b.Number != "" {
			n++
		}
		if b.Heads() {
			title = "Contents"
		}
	}
	if n == 0 {
		return nil
	}
	text.Set(s.sheet(), text.Bold, 10.5, side, s.y+8, title, action)
	s.y += 18
	columns := 1
	if n > 7 {
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
		if p.Listed() {
			places = append(places, p)
		}
	}
	for _, p := range parts {
		sheet := &s.pages.Sheets[p.sheet]
		gap := 24.0
		width := (inner - gap*float64(p.columns-1)) / float64(p.columns)
		rows := (p.count + p.columns - 1) / p.columns
		for i := range p.count {
			place := places[p.from+i]
			heads := place.Type == document.Section || place.Type == document.Chapter
			x := side + float64(i/rows)*(width+gap)
			y := p.y + float64(i%rows)*tableLine
			number, page := place.Number, strconv.Itoa(place.Page)
			if heads || place.Depth == 0 {
				text.Set(sheet, text.Bold, 9.5, x, y+10, number, ink)
			}
			face, in := text.Regular, 26.0
			if heads {
				face = text.Bold
			} else if place.Depth > 0 {
				in += 12
				text.Set(sheet, text.Regular, 9.5, x+26-text.Width(text.Regular, 9.5, number)/2, y+10, number, soft)
			}
			label := text.Shorten(face, 9.5, width-in-24, place.Label)
			text.Set(sheet, face, 9.5, x+in, y+10, label, ink)
			text.Set(sheet, text.Regular, 9.5, x+width-text.Width(text.Regular, 9.5, page), y+10, page, soft)
			sheet.Items = append(sheet.Items, scene.Item{Link: &scene.Link{
				Area: scene.Rect{X: x, Y: y, W: width, H: tableLine}, Page: place.Page, Y: place.Y,
			}})
		}
	}
}

func (s *setter) footer(i int) {
	sheet := &s.pages.Sheets[i]
	y := Height - bottom + 20
	rule(sheet, y, 0.6, line)
	page := fmt.Sprintf("Page %d of %d", i+1, len(s.pages.Sheets))
	pageWidth := text.Width(text.Regular, 8.5, page)
	text.Set(sheet, text.Regular, 8.5, Width-side-pageWidth, y+13, page, soft)
	text.Set(sheet, text.Regular, 8.5, side, y+13, text.Shorten(text.Regular, 8.5, inner-pageWidth-20, text.Shown(s.req.Footer)), soft)
	if s.req.Draft {
		stamp(sheet)
	}
}

// stamp marks a sheet as a draft: in words at the top, and across the page so that a copy of a part
// still shows it.
func stamp(sheet *scene.Scene) {
	const label, size = "DRAFT: not ready for use", 10.0
	w := text.Width(text.Bold, size, label)
	box := scene.Rect{X: (Width - w) / 2, Y: 13, W: w, H: 12}.Grow(4)
	sheet.Fill(scene.Rounded(box, 3), paper)
	sheet.Fill(scene.Frame(box, 3, 1.2), mustFx)
	text.Set(sheet, text.Bold, size, (Width-w)/2, 22.5, label, mustFx)

	big := text.Line(text.Bold, 150, -text.Width(text.Bold, 150, "DRAFT")/2, 50, "DRAFT", mustFx)
	veil := mustFx
	veil.A = 14
	for _, word := range big {
		sheet.Fill(turned(text.Outline(word), -math.Pi/4, scene.Point{X: Width / 2, Y: Height / 2}), veil)
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

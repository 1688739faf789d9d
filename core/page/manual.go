package page

import (
	"strconv"
	"strings"

	"raconte/core/scene"
	"raconte/core/text"
)

// titlePage sets the title page of a manual: what it is, its title, and what controls it.
func (s *setter) titlePage() {
	sheet := s.sheet()
	y := Height * 0.28
	text.Set(sheet, text.Bold, 12, side, y, s.req.Story.Kind, action)
	y += 14
	for _, l := range text.Wrap(text.Bold, 32, inner, text.Shown(s.req.Story.Title)) {
		y += 36
		text.Set(sheet, text.Bold, 32, side, y, l, ink)
	}
	y += 18
	rule(sheet, y, 1.2, ink)
	y += 10
	c := s.req.Story.Control
	for _, f := range []struct{ name, value string }{
		{"Number", c.Number}, {"Holds from", c.Effective}, {"Next review", c.Review}, {"Owner", c.Owner}, {"Author", c.Author},
		{"Approver", c.Approver}, {"Classification", c.Classification}, {"State", s.req.Meta},
	} {
		if f.value == "" {
			continue
		}
		text.Set(sheet, text.Bold, 10, side, y+14, f.name, soft)
		for _, l := range text.Wrap(text.Regular, 10, inner-110, text.Shown(f.value)) {
			y += 15
			text.Set(sheet, text.Regular, 10, side+110, y-1, l, ink)
		}
		y += 3
	}
	if len(s.req.Code) > 0 {
		at := scene.Rect{X: side, Y: Height - bottom - codeSide, W: codeSide, H: codeSide}
		drawCode(sheet, s.req.Code, at)
		sheet.Items = append(sheet.Items, scene.Item{Link: &scene.Link{Area: at, URL: s.req.Address}})
	}
	if signal := s.req.Story.Signal; signal != "" {
		var word scene.Scene
		w := drawSignal(&word, signal, side+5, top)
		sheet.Fill(scene.Rounded(scene.Rect{X: side, Y: top, W: w + 10, H: signalBand}, 0), signalColors[signal][0])
		sheet.Items = append(sheet.Items, word.Items...)
	}
	s.newSheet()
	if n := setNotice(s.req.Story.Notice, inner); n.height > 0 {
		s.sheet().Items = append(s.sheet().Items, n.items(side, s.y)...)
		s.y += n.height + 12
	}
}

const (
	indexSize    = 9.0
	indexLine    = 13.0
	indexColumns = 3
	indexGap     = 18.0
)

// index sets a manual's index on sheets of its own.
func (s *setter) index() {
	if !s.req.Story.Manual {
		return
	}
	entries := s.req.Story.Index()
	if len(entries) == 0 {
		return
	}
	places := s.places()
	width := (inner - indexGap*(indexColumns-1)) / indexColumns
	var lines []string
	for _, e := range entries {
		var pages []string
		for _, b := range e.Blocks {
			if n := strconv.Itoa(places[b].Page); len(pages) == 0 || pages[len(pages)-1] != n {
				pages = append(pages, n)
			}
		}
		lines = append(lines, text.Wrap(text.Regular, indexSize, width, text.Shown(e.Term)+"  "+strings.Join(pages, ", "))...)
	}
	for from := 0; from < len(lines); {
		s.newSheet()
		if from == 0 {
			text.Set(s.sheet(), text.Bold, 18, side, s.y+18, "Index", ink)
			s.y += 34
		}
		rows := int(s.room() / indexLine)
		if left := (len(lines) - from + indexColumns - 1) / indexColumns; left < rows {
			rows = left
		}
		for column := range indexColumns {
			for row := 0; row < rows && from < len(lines); row++ {
				text.Set(s.sheet(), text.Regular, indexSize, side+float64(column)*(width+indexGap), s.y+float64(row)*indexLine+10, lines[from], ink)
				from++
			}
		}
	}
}

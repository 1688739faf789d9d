package page

import (
	"math"
	"strconv"
	"strings"

	"raconte/core/document"
	"raconte/core/scene"
	"raconte/core/text"
)

// titlePage sets a title page: what it is, its title, and what controls it.
func (s *setter) titlePage() {
	sheet := s.sheet()
	s.logo(s.left, s.top)
	size := math.Min(32, s.inner/14)
	y := s.height * 0.28
	sheet.Open("P")
	s.set(sheet, text.Bold, 12, s.left, y, s.Said(string(s.req.Story.Kind)), s.action)
	sheet.Close(1)
	y += 14
	sheet.Open("H1")
	for _, l := range s.wrap(text.Bold, size, s.inner, s.req.Story.Title) {
		y += size * 1.13
		s.setIn(sheet, text.Bold, size, s.left, s.inner, y, l, s.ink)
	}
	sheet.Close(1)
	y += 18
	s.rule(sheet, y, 1.2, s.ink)
	y += 10
	c := s.req.Story.Control
	for _, f := range []struct{ name, value string }{
		{"number", c.Number}, {"effective", c.Effective}, {"review", c.Review}, {"owner", c.Owner}, {"author", c.Author},
		{"approver", c.Approver}, {"classification", c.Classification}, {"state", s.req.Meta},
	} {
		if f.value == "" {
			continue
		}
		sheet.Open("P")
		s.set(sheet, text.Bold, 10, s.left, y+14, s.Said(f.name), s.soft)
		for _, l := range s.wrap(text.Regular, 10, s.inner-110, f.value) {
			y += 15
			s.set(sheet, text.Regular, 10, s.left+110, y-1, l, s.ink)
		}
		sheet.Close(1)
		y += 3
	}
	if s.Links.Codes && len(s.req.Code) > 0 {
		s.code(sheet, scene.Point{X: s.left, Y: s.height - s.bottom - codeSide})
	}
	if signal := s.req.Story.Signal; signal != "" {
		s.worst(s.width-s.right-120, s.top, signal)
	}
	s.newSheet()
	s.warn()
}

const (
	indexSize    = 9.0
	indexLine    = 13.0
	indexColumns = 3
	indexGap     = 18.0
)

// index sets a manual's index on sheets of its own.
func (s *setter) index() {
	if s.req.Story.Kind != document.Manual {
		return
	}
	entries := s.req.Story.Index()
	if len(entries) == 0 {
		return
	}
	places := s.places()
	width := (s.inner - indexGap*(indexColumns-1)) / indexColumns
	var lines []string
	for _, e := range entries {
		var pages []string
		for _, b := range e.Blocks {
			if n := strconv.Itoa(places[b].Page); len(pages) == 0 || pages[len(pages)-1] != n {
				pages = append(pages, n)
			}
		}
		lines = append(lines, s.wrap(text.Regular, indexSize, width, e.Term+"  "+strings.Join(pages, ", "))...)
	}
	for from := 0; from < len(lines); {
		s.newSheet()
		if from == 0 {
			s.sheet().Open("H2")
			s.set(s.sheet(), text.Bold, 18, s.left, s.y+18, s.Said("index"), s.ink)
			s.sheet().Close(1)
			s.y += 34
		}
		rows := int(s.room() / indexLine)
		if left := (len(lines) - from + indexColumns - 1) / indexColumns; left < rows {
			rows = left
		}
		for column := range indexColumns {
			for row := 0; row < rows && from < len(lines); row++ {
				s.sheet().Open("P")
				s.set(s.sheet(), text.Regular, indexSize, s.left+float64(column)*(width+indexGap), s.y+float64(row)*indexLine+10, lines[from], s.ink)
				s.sheet().Close(1)
				from++
			}
		}
	}
}

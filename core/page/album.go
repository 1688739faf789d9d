package page

import (
	"fmt"
	"math"

	"raconte/core/scene"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/text"
)

const (
	leastPicture = 90.0 // height that each of several pictures of a step gets while there is room
	mostPictures = 0.7  // share of a page's height for one step's pictures
	leastShare   = 0.45 // of a step's room that is kept for pictures above or below many words
	caption      = 12.0 // height of the line below a picture that bears a number
)

// FigureRef is how a figure is named to renderers of pages.
func FigureRef(id string) string { return "figure:" + id }

// PictureWidth is the most that a picture with words beside it is wide in print.
func PictureWidth(s style.Style) float64 { return lookOf(s, style.Running).pictureWidth() }

// album is where the pictures of one step go, from their top left.
type album struct {
	wholes  []scene.Rect // the finished pictures, in pixels of their shots
	sources []scene.Rect // the parts of them that are shown
	cells   []scene.Rect
	height  float64
}

// pictures fits a block's pictures into a width, one below the other; room is the height that pictures with words
// beside them have, left is what other words leave.
func (l *look) pictures(b story.Block, width, room, left float64, beside bool) album {
	var a album
	if len(b.Figures) == 0 {
		return a
	}
	n := float64(len(b.Figures))
	height := room
	if !beside {
		height = math.Max(left, leastShare*room)
	}
	if l.Numbers.Pictures {
		height -= n * caption
	}
	height = math.Max(height, math.Min(n*leastPicture, mostPictures*l.content))
	each := (height - between*(n-1)) / n
	y := 0.0
	for _, f := range b.Figures {
		source, largest := scene.Rect{W: 16, H: 9}, width/16
		size, known := l.sizes[f.Shot]
		if known {
			source, largest = f.Frame(size), l.Steps.Largest
			source.X, source.Y = 0, 0
		}
		whole := source
		k := math.Min(math.Min(width/source.W, each/source.H), largest)
		if l.layout == style.Bands && known {
			k = math.Min(width/source.W, largest)
			source = banded(source, f.Seen(size).Area, math.Min(l.Steps.Band, each)/k)
		}
		cell := scene.Rect{Y: y, W: source.W * k, H: source.H * k}
		a.wholes, a.sources, a.cells = append(a.wholes, whole), append(a.sources, source), append(a.cells, cell)
		y += cell.H + between
		if l.Numbers.Pictures {
			y += caption
		}
	}
	a.height = y - between
	return a
}

// banded is the band of a picture, as high as is given, that its marks point at: an area in shares of the picture, or
// nil.
func banded(whole scene.Rect, area *scene.Rect, height float64) scene.Rect {
	if whole.H <= height {
		return whole
	}
	middle := whole.H / 2
	if area != nil {
		middle = (area.Y + area.H/2) * whole.H
	}
	whole.Y = math.Min(math.Max(middle-height/2, 0), whole.H-height)
	whole.H = height
	return whole
}

// draw draws one picture of an album, with its frame and its number.
func (s *setter) draw(a album, i int, f story.Figure, x, y float64) {
	sheet, cell := s.sheet(), a.cells[i]
	cell.X, cell.Y = cell.X+x, cell.Y+y
	p := scene.Picture{Ref: FigureRef(f.ID), Source: a.sources[i], Target: cell, Alt: f.Alt}
	if a.wholes[i] != a.sources[i] {
		p.Whole = a.wholes[i]
	}
	sheet.Begin(scene.Tag{Role: "Figure", Alt: f.Alt})
	sheet.Items = append(sheet.Items, scene.Item{Picture: &p})
	sheet.Close(1)
	if thick := map[style.Frame]float64{style.Hairline: 0.5, style.Line: 1.2}[s.Steps.Frame]; thick > 0 && f.Plain() {
		c := s.line
		if s.Steps.Frame == style.Line {
			c = s.ink
		}
		sheet.Fill(scene.Frame(cell, 0, thick), c)
	}
	if s.Numbers.Pictures {
		said := fmt.Sprintf("%s %d", s.Said("picture"), f.Number)
		sheet.Open("P")
		s.set(sheet, text.Regular, 8, cell.X, cell.Y+cell.H+10, said, s.soft)
		sheet.Close(1)
	}
}

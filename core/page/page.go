// Package page lays a document out on sheets of paper: where every word, picture and link goes.
// The preview and every printed output draw the sheets that it computes and measure nothing again.
//
// Lengths are in points, 1/72 inch.
package page

import (
	"context"
	"fmt"

	"raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/story"
)

// Layout says how steps are set.
type Layout int

// The layouts, by how many steps fit a page.
const (
	TwoSteps  Layout = 2 // pictures wide, words below
	FourSteps Layout = 4 // pictures at the left, words beside them
)

// Request is what to lay out.
type Request struct {
	Story   story.Story
	Layout  Layout
	Sizes   map[string]figure.Size // of the shots; a missing shot leaves an empty frame
	Address string                 // where the document is read; "" leaves the code out
	Code    [][]bool               // the QR code of Address, rows of dark or light modules
	Codes   map[string][][]bool    // of what the story leads to, by its address; what has none stands without
	Meta    string                 // the line under the title
	Footer  string                 // at the foot of each page, at the left
	Draft   bool                   // stamp every page as a draft
}

// Pages is the laid out document.
type Pages struct {
	Sheets []scene.Scene `json:"sheets"`
	Places []Place       `json:"places"`
	Notes  []Note        `json:"notes"`
}

// Place is where a block begins: the page counted from 1, the height on it, and its line in the
// table of contents, which is also its bookmark.
type Place struct {
	Block  string        `json:"block"`
	Type   document.Type `json:"type"`
	Depth  int           `json:"depth"` // 0, or by how many sections it lies in
	Number string        `json:"number"`
	Label  string        `json:"label"`
	Page   int           `json:"page"`
	Y      float64       `json:"y"`
}

// Note says what the layout had to do to a block.
type Note struct {
	Block string `json:"block"`
	Text  string `json:"text"`
}

// A4 in points, and the parts of a page.
const (
	Width   = 595.28
	Height  = 841.89
	side    = 43.0 // margins left and right
	top     = 40.0
	bottom  = 52.0 // holds the footer
	gutter  = 40.0 // for the step's number
	inner   = Width - 2*side
	content = Height - top - bottom
)

var (
	ink    = scene.Hex("#16272d")
	soft   = scene.Hex("#596a70")
	line   = scene.Hex("#d0d8da")
	action = scene.Hex("#0b5f66")
	mustFx = scene.Hex("#b3261e")
	paper  = scene.Hex("#ffffff")
	shade  = scene.Hex("#eef2f3")
)

// setter fills sheets from top to bottom.
type setter struct {
	req   Request
	pages Pages
	y     float64 // the next free height on the last sheet
	depth int     // how many sections the next step lies in
	waits []wait  // for the pages of blocks that were not set yet
}

// Lay lays a document out; it stops, with ctx's error, soon after ctx is done.
func Lay(ctx context.Context, req Request) (Pages, error) {
	s := &setter{req: req}
	s.pages.Notes = []Note{}
	s.pages.Places = []Place{}
	s.newSheet()
	s.header()
	table := s.reserveTable()
	for i, b := range req.Story.Blocks {
		if err := ctx.Err(); err != nil {
			return Pages{}, fmt.Errorf("laying out %s %s: %w", b.Type, b.Number, err)
		}
		if b.Heads() {
			s.heading(req.Story.Blocks[i:])
		} else {
			s.row(b)
		}
	}
	s.index()
	s.fillTable(table)
	s.settle()
	for i := range s.pages.Sheets {
		s.footer(i)
	}
	return s.pages, nil
}

func (s *setter) sheet() *scene.Scene { return &s.pages.Sheets[len(s.pages.Sheets)-1] }

func (s *setter) newSheet() {
	s.pages.Sheets = append(s.pages.Sheets, scene.Scene{W: Width, H: Height})
	s.y = top
}

// Listed tells whether the block stands in the table of contents and among the bookmarks.
func (p Place) Listed() bool { return p.Number != "" }

// begins records that a block begins here.
func (s *setter) begins(b story.Block, depth int) {
	s.pages.Places = append(s.pages.Places, Place{b.ID, b.Type, depth, b.Number, b.Label, len(s.pages.Sheets), s.y})
}

// room is what is left of the last sheet.
func (s *setter) room() float64 { return Height - bottom - s.y }

func rule(sheet *scene.Scene, y, thick float64, c scene.Color) {
	sheet.Fill(scene.Polygon(scene.Point{X: side, Y: y}, scene.Point{X: Width - side, Y: y},
		scene.Point{X: Width - side, Y: y + thick}, scene.Point{X: side, Y: y + thick}), c)
}

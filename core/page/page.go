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
	"raconte/core/style"
)

// Request is what to lay out.
type Request struct {
	Story   story.Story
	Style   style.Style
	Layout  style.Layout           // instead of the style's own
	Sizes   map[string]figure.Size // of the shots; a missing shot leaves an empty frame
	Address string                 // where the document is read; "" leaves the code out
	Code    [][]bool               // the QR code of Address, rows of dark or light modules
	Codes   map[string][][]bool    // of what the story leads to, by its address; what has none stands without
	Meta    string                 // the line under the title
	Values  map[string]string      // what placeholders of header and footer stand for, but pages and sections
	Stamp   Stamp
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

// Stamp marks every page of a copy that must not be used: in words at the top, and large across.
type Stamp struct{ Words, Large string }

// setter fills sheets from top to bottom.
type setter struct {
	*look
	req     Request
	pages   Pages
	y       float64       // the next free height on the last sheet
	depth   int           // how many sections the next step lies in
	waits   []wait        // for the pages of blocks that were not set yet
	cells   []story.Block // of the row that is being filled
	lists   int           // of steps: each heading and passage begins another
	waiting []row         // that are not drawn yet
	steps   int           // rows of steps on the last sheet
}

// Lay lays a document out; it stops, with ctx's error, soon after ctx is done.
func Lay(ctx context.Context, req Request) (Pages, error) {
	s := newSetter(req)
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
			s.flush()
			s.settleRows()
			s.heading(req.Story.Blocks[i:])
		} else {
			s.step(b)
		}
	}
	s.flush()
	s.settleRows()
	s.index()
	s.fillTable(table)
	s.settle()
	for i := range s.pages.Sheets {
		s.bands(i)
	}
	return s.pages, nil
}

func newSetter(req Request) *setter {
	if req.Layout == style.Own {
		req.Layout = req.Style.Layout
	}
	s := &setter{look: lookOf(req.Style, req.Layout), req: req}
	s.reader = req.Story.Reader()
	s.sizes = req.Sizes
	return s
}

func (s *setter) sheet() *scene.Scene { return &s.pages.Sheets[len(s.pages.Sheets)-1] }

func (s *setter) newSheet() {
	if len(s.pages.Sheets) > 0 {
		s.settleRows()
	}
	s.pages.Sheets = append(s.pages.Sheets, scene.Scene{W: s.width, H: s.height})
	s.y, s.steps = s.top, 0
}

// Listed tells whether the block stands in the table of contents and among the bookmarks.
func (p Place) Listed() bool { return p.Number != "" }

// begins records that a block begins here.
func (s *setter) begins(b story.Block, depth int) {
	s.pages.Places = append(s.pages.Places, Place{b.ID, b.Type, depth, b.Number, b.Label, len(s.pages.Sheets), s.y})
}

// room is what is left of the last sheet.
func (s *setter) room() float64 { return s.height - s.bottom - s.y }

func (l *look) rule(sheet *scene.Scene, y, thick float64, c scene.Color) {
	sheet.Fill(scene.Rounded(scene.Rect{X: l.left, Y: y, W: l.inner, H: thick}, 0), c)
}

package page

import (
	"fmt"
	"math"
	"sort"

	"raconte/core/document"
	"raconte/core/scene"
	"raconte/core/story"
	"raconte/core/text"
)

const (
	rowPad  = 11.0 // above and below a step's content
	between = 8.0  // between pictures of one step, and between picture and words
	wordGap = 14.0 // between the picture and the words beside it
)

// fitted is a block as it will be set in its cell, from the cell's top left.
type fitted struct {
	block    story.Block
	width    float64 // of the cell
	gutter   float64 // for its number
	tight    float64 // the height it can't do without
	scale    float64 // of its words
	notice   setting // before all else
	words    setting
	wordsAt  scene.Point
	pictures album
	picture  scene.Point // where the pictures begin
}

// fit finds how a block is set in a share of the page's height. It grows with its words up to a whole page; words that
// would need more are set smaller.
func (s *setter) fit(b story.Block, share float64) fitted {
	f := fitted{block: b, width: s.cellWidth, gutter: s.gutter, scale: 1}
	if b.Type == document.Passage {
		f.width = s.inner
	}
	width := f.width - f.gutter
	beside := s.layout.Beside() && b.Type == document.Step && len(b.Figures) > 0
	wordsWidth, picturesWidth := width, width
	if s.columns > 1 { // pictures take the whole of a narrow cell; the number stands with the words
		picturesWidth = f.width
	}
	picturesRoom := picturesWidth
	if beside {
		picturesWidth, picturesRoom = s.pictureWidth(), width
		wordsWidth -= picturesWidth + wordGap
	}
	f.notice = stacked(s.setCritical(b), s.setNotice(b.Notice, picturesRoom))
	if f.notice.height > 0 {
		f.notice.height += between
	}
	leads := s.setBeside(b, wordsWidth)
	set := func() { f.words = stacked(s.setWords(b, wordsWidth, f.scale), leads) }
	fill := func(left float64) {
		f.pictures = s.pictures(b, picturesWidth, share-2*rowPad-f.notice.height, left, beside)
	}
	need := func() float64 {
		switch {
		case beside:
			return math.Max(f.words.height, f.pictures.height)
		case f.pictures.height > 0 && f.words.height > 0:
			return f.pictures.height + between + f.words.height
		}
		return f.pictures.height + f.words.height
	}
	set()
	fill(share - 2*rowPad - f.notice.height - f.words.height - between)
	most := s.content - 2*rowPad - f.notice.height
	if need() > most+0.005 {
		// The first of ever smaller scales at which the step fits: smaller words never need more room, so halving the
		// choice finds it.
		smaller := 1 + sort.Search(smallestScale-1, func(n int) bool {
			f.scale = math.Pow(0.95, float64(n+1))
			set()
			return need() <= most-noteRoom(f.scale)
		})
		f.scale = math.Pow(0.95, float64(smaller))
		set()
	}
	f.tight = need() + 2*rowPad + noteRoom(f.scale) + f.notice.height
	f.wordsAt, f.picture = scene.Point{X: f.gutter}, scene.Point{X: f.width - picturesRoom}
	switch below := f.words.height + between; {
	case beside:
		f.wordsAt.X += picturesWidth + wordGap
	case f.words.height == 0:
	case b.Type == document.Passage || s.layout.Runs():
		f.picture.Y = below
	case f.pictures.height > 0:
		f.wordsAt.Y = f.pictures.height + between
	}
	return f
}

// step sets a step or a passage, or keeps it until the row is full that it is part of.
func (s *setter) step(b story.Block) {
	if b.Type != document.Step {
		s.flush()
		s.row([]story.Block{b})
		return
	}
	if s.cells = append(s.cells, b); len(s.cells) == s.columns {
		s.flush()
	}
}

// flush sets the row that is being filled.
func (s *setter) flush() {
	if len(s.cells) > 0 {
		s.row(s.cells)
		s.cells = nil
	}
}

// leastLeft is the share of its usual room in which a step is still set, its pictures smaller, before a sheet is begun.
const leastLeft = 0.75

// fitRow finds how blocks are set side by side.
func (s *setter) fitRow(blocks []story.Block, share float64) (cells []fitted, tight float64) {
	for _, b := range blocks {
		f := s.fit(b, share)
		cells, tight = append(cells, f), math.Max(tight, f.tight)
	}
	return cells, tight
}

// row sets blocks side by side. They take the height that they need; a page has as many rows as its layout gives it at
// the most, and no block is ever torn.
func (s *setter) row(blocks []story.Block) {
	share := s.share()
	cells, tight := s.fitRow(blocks, share)
	if room := s.room(); tight > room && room >= leastLeft*math.Max(share, tight) {
		if smaller, less := s.fitRow(blocks, room); less <= room {
			cells, tight = smaller, less
		}
	}
	grid := blocks[0].Type == document.Step && !s.layout.Runs()
	if full := grid && s.steps == s.rows; full || tight > s.room()+0.01 {
		s.newSheet()
	}
	if grid {
		s.steps++
	} else {
		s.settleRows()
	}
	s.waiting = append(s.waiting, row{cells, tight, s.depth})
	s.y += tight
	if !grid {
		s.settleRows()
	}
}

// row is a row of blocks that is not drawn yet.
type row struct {
	cells  []fitted
	height float64
	depth  int
}

// settleRows draws the rows that wait. Where a page has as many as its layout gives it, what is left of the page is
// divided among them.
func (s *setter) settleRows() {
	more := 0.0
	if len(s.waiting) == s.rows && !s.layout.Runs() && len(s.waiting) > 1 {
		more = s.room() / float64(len(s.waiting))
	}
	bottom := s.y
	for _, r := range s.waiting {
		bottom -= r.height
	}
	s.y = bottom
	for _, r := range s.waiting {
		for i, f := range r.cells {
			s.begins(f.block, r.depth)
			s.cell(f, s.left+float64(i)*(s.cellWidth+columnGap), r.height)
		}
		s.y += r.height + more
	}
	s.waiting = nil
}

// cell sets a block in its cell, which begins at x and is as high as its row.
func (s *setter) cell(f fitted, x, height float64) {
	sheet, b := s.sheet(), f.block
	if b.Type == document.Step && s.Steps.Rules {
		sheet.Fill(scene.Rounded(scene.Rect{X: x, Y: s.y, W: f.width, H: 0.6}, 0), s.line)
	}
	y := s.y + rowPad
	if step := b.Type == document.Step; step {
		sheet.Begin(scene.Tag{Role: "L", Key: fmt.Sprint("steps ", s.lists)})
		sheet.Open("LI")
		defer sheet.Close(3)
	} else {
		s.lists++
		sheet.Open("Sect")
		defer sheet.Close(1)
	}
	if s.Numbers.Steps && b.Number != "" {
		size := math.Min(20, f.gutter*0.5)
		if over := s.measure(text.Bold, size, b.Number) / (f.gutter - 6); over > 1 {
			size /= over
		}
		at := y
		if s.columns > 1 && b.Type == document.Step {
			at += f.notice.height + f.wordsAt.Y
		}
		sheet.Open("Lbl")
		s.set(sheet, text.Bold, size, x, at+math.Max(size*0.8, baseline(s.body)), b.Number, s.ink)
		sheet.Close(1)
	}
	if b.Type == document.Step {
		sheet.Open("LBody")
	}
	sheet.Items = append(sheet.Items, f.notice.items(x+f.picture.X, y)...)
	y += f.notice.height
	s.place(f.words, x+f.wordsAt.X, y+f.wordsAt.Y)
	for i, figure := range b.Figures {
		s.draw(f.pictures, i, figure, x+f.picture.X, y+f.picture.Y)
	}
	if f.scale < 1 {
		note := fmt.Sprintf("Words set at %d %% so that this step stays on one page.", int(math.Round(f.scale*100)))
		s.pages.Notes = append(s.pages.Notes, Note{b.ID, fmt.Sprintf("%s: %s", called(b), note)})
		sheet.Open("P")
		s.set(sheet, text.Italic, 7.5, x+f.gutter, s.y+height-5, note, s.soft)
		sheet.Close(1)
	}
}

// called is what a block is called in a note.
func called(b story.Block) string {
	if b.Type == document.Passage {
		return "A passage"
	}
	return "Step " + b.Number
}

// smallestScale is how many times words are made a twentieth smaller, at the most: to a twentieth of their size.
const smallestScale = 59

func noteRoom(scale float64) float64 {
	if scale < 1 {
		return 10
	}
	return 0
}

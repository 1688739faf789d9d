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
	rowPad       = 11.0 // above and below a step's content
	between      = 8.0  // between pictures of one step, and between picture and words
	wordGap      = 14.0 // between the picture and the words beside it
	largest      = 0.75 // points to a pixel: pictures are not blown up beyond their size on a screen
	leastPicture = 90.0 // height that each of several pictures of a step gets while there is room
	mostPictures = 0.7  // share of a page's height for one step's pictures
	sideCell     = 0.56 // share of the width for the picture with words beside it
)

// PictureWidth is the most that a picture with words beside it is wide in print, in points.
const PictureWidth = (inner - gutter) * sideCell

// FigureRef is how a figure is named to renderers of pages.
func FigureRef(id string) string { return "figure:" + id }

// fitted is a step as it will be set.
type fitted struct {
	wide     bool    // with its words below its pictures, or alone
	cell     float64 // its share of a page; 0 of a passage, which takes what it needs
	tight    float64 // the height it can't do without
	scale    float64 // of its words
	wordsX   float64
	notice   setting // before all else
	words    setting
	pictures album
}

// fit finds how a step is set. It grows with its words up to a whole page; words that would need more are set smaller.
func (s *setter) fit(step story.Block) fitted {
	cell := content / float64(s.req.Layout)
	wide := s.req.Layout == TwoSteps || len(step.Figures) == 0
	beside := s.setBeside(step, wide)
	wordsX, wordsWidth := side+gutter, inner-gutter
	if !wide {
		wordsX, wordsWidth = side+gutter+PictureWidth+wordGap, inner-gutter-PictureWidth-wordGap
	}
	notice := stacked(setCritical(step), setNotice(step.Notice, inner-gutter))
	if notice.height > 0 {
		notice.height += between
	}
	most := content - 2*rowPad - notice.height
	scale := 1.0
	var set setting
	pictures := s.pictures(step, cell-2*rowPad, wide, wordsX-wordGap-side-gutter)
	need := func() float64 {
		switch {
		case !wide:
			return math.Max(set.height, pictures.height)
		case pictures.height > 0 && set.height > 0:
			return pictures.height + between + set.height
		}
		return pictures.height + set.height
	}
	// The first of ever smaller scales at which the step fits: smaller words never need more room, so halving the
	// choice finds it.
	smaller := sort.Search(smallestScale, func(n int) bool {
		scale = math.Pow(0.95, float64(n))
		set = stacked(setWords(step, wordsWidth, scale), beside)
		return need() <= most-noteRoom(scale)
	})
	scale = math.Pow(0.95, float64(smaller))
	set = stacked(setWords(step, wordsWidth, scale), beside)
	if step.Type == document.Passage {
		cell = 0
	}
	return fitted{wide, cell, need() + 2*rowPad + noteRoom(scale) + notice.height, scale, wordsX, notice, set, pictures}
}

// row sets one step. A step is at least its share of a page high, or what is left of one where it fits there, and is
// never torn.
func (s *setter) row(step story.Block) {
	f := s.fit(step)
	note := ""
	if f.scale < 1 {
		note = fmt.Sprintf("Words set at %d %% so that this step stays on one page.", int(math.Round(f.scale*100)))
		s.pages.Notes = append(s.pages.Notes, Note{step.ID, fmt.Sprintf("%s: %s", called(step), note)})
	}
	height := math.Min(content, math.Max(f.cell, f.tight))
	if height > s.room() && f.tight <= s.room() {
		height = s.room() // it fits where less than its share is left
	}
	if height > s.room()+0.01 {
		s.newSheet()
	}
	sheet := s.sheet()
	s.begins(step, s.depth)
	if step.Type == document.Step {
		rule(sheet, s.y, 0.6, line)
	}
	y := s.y + rowPad
	size := 20.0
	if over := text.Width(text.Bold, size, step.Number) / (gutter - 6); over > 1 {
		size /= over
	}
	text.Set(sheet, text.Bold, size, side, y+16, step.Number, ink)
	sheet.Items = append(sheet.Items, f.notice.items(side+gutter, y)...)
	y += f.notice.height
	for i, figure := range step.Figures {
		f.pictures.draw(sheet, i, figure, side+gutter, y)
	}
	if f.wide && f.pictures.height > 0 {
		y += f.pictures.height + between
	}
	s.place(f.words, f.wordsX, y)
	if note != "" {
		text.Set(sheet, text.Italic, 7.5, side+gutter, s.y+height-5, note, soft)
	}
	s.y += height
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

// album is where the pictures of one step go, from the step's top left.
type album struct {
	frames []scene.Rect // of the shots, in pixels
	cells  []scene.Rect
	height float64
}

// pictures fits the step's pictures into its share of the page, one below the other. With words
// below, they leave room for a few lines.
func (s *setter) pictures(step story.Block, height float64, wide bool, width float64) album {
	var a album
	if len(step.Figures) == 0 {
		return a
	}
	if wide {
		width = inner - gutter
		height -= 5*bodySize*leading + between
	}
	n := float64(len(step.Figures))
	height = math.Max(height, math.Min(n*leastPicture, mostPictures*content))
	each := (height - between*(n-1)) / n
	y := 0.0
	for _, f := range step.Figures {
		frame := scene.Rect{W: 16, H: 9}
		largestHere := width / 16
		if size, ok := s.req.Sizes[f.Shot]; ok {
			frame, largestHere = f.Frame(size), largest
		}
		k := math.Min(math.Min(width/frame.W, each/frame.H), largestHere)
		cell := scene.Rect{Y: y, W: frame.W * k, H: frame.H * k}
		a.frames, a.cells = append(a.frames, frame), append(a.cells, cell)
		y += cell.H + between
	}
	a.height = y - between
	return a
}

func (a album) draw(sheet *scene.Scene, i int, f story.Figure, x, y float64) {
	cell := a.cells[i]
	cell.X, cell.Y = cell.X+x, cell.Y+y
	sheet.Items = append(sheet.Items, scene.Item{Picture: &scene.Picture{
		Ref: FigureRef(f.ID), Source: scene.Rect{W: a.frames[i].W, H: a.frames[i].H}, Target: cell, Alt: f.Alt,
	}})
	if f.Plain() {
		sheet.Fill(scene.Frame(cell, 0, 0.5), line)
	}
}

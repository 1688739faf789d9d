package page

import (
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/text"
)

// look is a house style made ready to set with: colours read, the sheet measured, the layout's columns divided.
type look struct {
	style.Style
	layout                   style.Layout
	width, height            float64 // of the sheet
	left, right, top, bottom float64 // margins
	inner, content           float64 // what is between the margins, across and down
	columns, rows            int
	cellWidth                float64
	gutter                   float64 // for the number of a step
	ink, soft, line          scene.Color
	action, shade            scene.Color
	body                     float64                // size of the words
	sizes                    map[string]figure.Size // of the shots
	reader                   story.Reader
}

var (
	mustFx = scene.Hex("#b3261e")
	paper  = scene.Hex("#ffffff")
)

const columnGap = 18.0

func lookOf(s style.Style, layout style.Layout) *look {
	l := &look{
		Style: s, layout: layout, left: s.Margins.Left, right: s.Margins.Right, top: s.Margins.Top, bottom: s.Margins.Bottom,
		ink: scene.Hex(s.Colors.Text), soft: scene.Hex(s.Colors.Soft), line: scene.Hex(s.Colors.Line),
		action: scene.Hex(s.Colors.Accent), shade: scene.Hex(s.Colors.Shade), body: s.Size, gutter: 40,
	}
	l.width, l.height = s.Paper.Size()
	l.inner, l.content = l.width-l.left-l.right, l.height-l.top-l.bottom
	l.columns, l.rows = layout.Grid()
	if s.Paper.Across && l.columns > 1 && l.rows > l.columns {
		l.columns, l.rows = l.rows, l.columns
	}
	l.cellWidth = (l.inner - columnGap*float64(l.columns-1)) / float64(l.columns)
	switch {
	case !s.Numbers.Steps:
		l.gutter = 0
	case l.columns > 1:
		l.gutter = 24
	case l.cellWidth < 400:
		l.gutter = 30
	}
	return l
}

// pictureWidth is the most that a picture with words beside it is wide.
func (l *look) pictureWidth() float64 { return (l.cellWidth - l.gutter) * l.Steps.Share }

// share is the height of a page that a step has.
func (l *look) share() float64 { return l.content / float64(l.rows) }

// face is the style's own face for one that ships, where it has one.
func (l *look) face(name string) string {
	if l.Faces == (style.Faces{}) {
		return name
	}
	own := map[string]string{
		text.Regular: l.Faces.Regular, text.Bold: l.Faces.Bold, text.Italic: l.Faces.Italic, text.BoldItalic: l.Faces.BoldItalic, text.Mono: l.Faces.Mono,
	}[name]
	if own == "" {
		return name
	}
	return text.House(name, own)
}

// set sets one line of text from a place on, and answers how wide it is.
func (l *look) set(sheet *scene.Scene, face string, size, x, baseline float64, s string, c scene.Color) {
	text.Set(sheet, l.face(face), size, x, baseline, s, c)
}

// setIn sets one line of text between a place and the width after it: at its right where it reads from right to left.
func (l *look) setIn(sheet *scene.Scene, face string, size, x, width, baseline float64, s string, c scene.Color) {
	if text.RightToLeft(s) {
		x += width - l.measure(face, size, s)
	}
	l.set(sheet, face, size, x, baseline, s, c)
}

func (l *look) measure(face string, size float64, s string) float64 {
	return text.Width(l.face(face), size, s)
}

func (l *look) wrap(face string, size, width float64, s string) []string {
	return text.Wrap(l.face(face), size, width, text.Shown(s))
}

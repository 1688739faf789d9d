package page

import (
	"raconte/core/document"
	"raconte/core/scene"
	"raconte/core/text"
)

// signalColors are those of ANSI Z535.1: the panel's, and of the letters on it.
var signalColors = map[document.Signal][2]scene.Color{
	document.Danger:  {scene.Hex("#c8102e"), scene.Hex("#ffffff")},
	document.Warning: {scene.Hex("#ff8200"), scene.Hex("#000000")},
	document.Caution: {scene.Hex("#ffd100"), scene.Hex("#000000")},
	document.Damage:  {scene.Hex("#0067b1"), scene.Hex("#ffffff")},
}

const (
	signalSize = 11.0
	signalBand = 19.0 // height of the panel that holds the signal word
	noticePad  = 8.0
)

// setNotice sets a notice to a width: the signal word on its panel, and what is said below it. Nothing for none.
func setNotice(n *document.Notice, width float64) setting {
	var s setting
	if n == nil {
		return s
	}
	var lines []string
	for _, l := range n.Lines() {
		lines = append(lines, text.Wrap(text.Regular, bodySize, width-2*noticePad, text.Shown(l))...)
	}
	y := signalBand + 6
	s.height = y + float64(len(lines))*bodySize*leading + 5
	panel := signalColors[n.Signal][0]
	s.drawn.Fill(scene.Frame(scene.Rect{W: width, H: s.height}, 0, 1.4), panel)
	s.drawn.Fill(scene.Rounded(scene.Rect{W: width, H: signalBand}, 0), panel)
	drawSignal(&s.drawn, n.Signal, noticePad, 0)
	for _, line := range lines {
		text.Set(&s.drawn, text.Regular, bodySize, noticePad, y+baseline(bodySize), line, ink)
		y += bodySize * leading
	}
	return s
}

// drawSignal sets a signal word on its panel, with the safety alert symbol where people may be hurt; the answer is how
// wide it is.
func drawSignal(sheet *scene.Scene, signal document.Signal, x, y float64) float64 {
	letters, face := signalColors[signal][1], text.Bold
	at := x
	if signal == document.Damage {
		face = text.BoldItalic
	} else {
		p := func(dx, dy float64) scene.Point { return scene.Point{X: at + dx, Y: y + dy} }
		sheet.Fill(scene.Polygon(p(0, 15), p(7, 3), p(14, 15)), letters)
		text.Set(sheet, text.Bold, 9, at+7-text.Width(text.Bold, 9, "!")/2, y+14, "!", signalColors[signal][0])
		at += 19
	}
	text.Set(sheet, face, signalSize, at, y+13.5, signal.Word(), letters)
	return at + text.Width(face, signalSize, signal.Word()) - x
}

package page

import (
	"math"

	"raconte/core/document"
	"raconte/core/scene"
	"raconte/core/style"
	"raconte/core/text"
)

// SignalColors are those of ANSI Z535.1: the panel's, and of the letters on it.
var SignalColors = map[document.Signal][2]scene.Color{
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
func (l *look) setNotice(n *document.Notice, width float64) setting {
	var s setting
	if n == nil {
		return s
	}
	if l.Notices == style.Beside {
		return l.besidePanel(n, width)
	}
	var lines []string
	for _, said := range n.Lines() {
		lines = append(lines, l.wrap(text.Regular, l.body, width-2*noticePad, said)...)
	}
	y := signalBand + 6
	s.height = y + float64(len(lines))*l.body*leading + 5
	panel := SignalColors[n.Signal][0]
	s.drawn.Fill(scene.Frame(scene.Rect{W: width, H: s.height}, 0, 1.4), panel)
	s.drawn.Fill(scene.Rounded(scene.Rect{W: width, H: signalBand}, 0), panel)
	l.drawSignal(&s.drawn, n.Signal, noticePad, 0)
	s.drawn.Open("P")
	for _, line := range lines {
		l.setIn(&s.drawn, text.Regular, l.body, noticePad, width-2*noticePad, y+baseline(l.body), line, l.ink)
		y += l.body * leading
	}
	s.drawn.Close(1)
	return s
}

// besidePanel sets a notice with its signal word beside what is said.
func (l *look) besidePanel(n *document.Notice, width float64) setting {
	var s setting
	panel := l.drawSignal(&scene.Scene{}, n.Signal, 0, 0) + 2*noticePad
	y := 5.0
	var lines []string
	for _, said := range n.Lines() {
		lines = append(lines, l.wrap(text.Regular, l.body, width-panel-2*noticePad, said)...)
	}
	s.height = math.Max(y+float64(len(lines))*l.body*leading+5, signalBand+4)
	s.drawn.Fill(scene.Frame(scene.Rect{W: width, H: s.height}, 0, 1.4), SignalColors[n.Signal][0])
	s.drawn.Fill(scene.Rounded(scene.Rect{W: panel, H: s.height}, 0), SignalColors[n.Signal][0])
	l.drawSignal(&s.drawn, n.Signal, noticePad, 2)
	s.drawn.Open("P")
	for _, line := range lines {
		l.setIn(&s.drawn, text.Regular, l.body, panel+noticePad, width-panel-2*noticePad, y+baseline(l.body), line, l.ink)
		y += l.body * leading
	}
	s.drawn.Close(1)
	return s
}

// drawSignal sets a signal word on its panel, with the safety alert symbol where people may be hurt; the answer is how
// wide it is.
func (l *look) drawSignal(sheet *scene.Scene, signal document.Signal, x, y float64) float64 {
	letters, face := SignalColors[signal][1], text.Bold
	at := x
	if signal == document.Damage {
		face = text.BoldItalic
	} else {
		p := func(dx, dy float64) scene.Point { return scene.Point{X: at + dx, Y: y + dy} }
		sheet.Begin(scene.Tag{Role: "Artifact"}) // the word says it
		sheet.Fill(scene.Polygon(p(0, 15), p(7, 3), p(14, 15)), letters)
		l.set(sheet, text.Bold, 9, at+7-l.measure(text.Bold, 9, "!")/2, y+14, "!", SignalColors[signal][0])
		sheet.Close(1)
		at += 19
	}
	sheet.Open("P")
	defer sheet.Close(1)
	l.set(sheet, face, signalSize, at, y+13.5, l.Said(string(signal)), letters)
	return at + l.measure(face, signalSize, l.Said(string(signal))) - x
}

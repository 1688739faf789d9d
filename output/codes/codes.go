// Package codes makes QR codes (ISO/IEC 18004) of addresses: as a picture, as drawing, and as paper to cut and hang up.
package codes

import (
	"bytes"
	"context"
	"fmt"
	"strings"
	"time"

	"raconte/core/refusal"
	"raconte/core/scene"
	"raconte/core/text"
	"raconte/output/pdf"

	"github.com/skip2/go-qrcode"
)

// quiet is how many modules stay white around a code.
const quiet = 4

// Named is an address with what stands under its code.
type Named struct{ Name, Address string }

// Most is the most codes on a sheet's pages.
const Most = 200

func bitmap(address string) ([][]bool, error) {
	code, err := qrcode.New(address, qrcode.Medium)
	if err != nil {
		return nil, refusal.New("The address is too long for a code.")
	}
	code.DisableBorder = true
	return code.Bitmap(), nil
}

// PNG is a code as a picture, some 800 pixels wide.
func PNG(address string) ([]byte, error) {
	png, err := qrcode.Encode(address, qrcode.Medium, 800)
	if err != nil {
		return nil, refusal.New("The address is too long for a code.")
	}
	return png, nil
}

// SVG is a code as a drawing (SVG 1.1), one unit for each module.
func SVG(address string) ([]byte, error) {
	rows, err := bitmap(address)
	if err != nil {
		return nil, err
	}
	side := len(rows) + 2*quiet
	var out strings.Builder
	fmt.Fprintf(&out, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d %d" shape-rendering="crispEdges"><rect width="%d" height="%d" fill="#fff"/><path d="`, side, side, side, side)
	runs(rows, func(x, y, w int) { fmt.Fprintf(&out, "M%d %dh%dv1h-%dz", x+quiet, y+quiet, w, w) })
	out.WriteString(`" fill="#000"/></svg>`)
	return []byte(out.String()), nil
}

// runs tells of each run of black modules.
func runs(rows [][]bool, tell func(x, y, w int)) {
	for y, row := range rows {
		for x := 0; x < len(row); x++ {
			from := x
			for x < len(row) && row[x] {
				x++
			}
			if x > from {
				tell(from, y, x-from)
			}
		}
	}
}

// Points of an A4 page, and of the sheet: three codes beside each other, four below.
const (
	paperW, paperH = 595.28, 841.89
	margin         = 36.0
	columns, lines = 3, 4
	cellW          = (paperW - 2*margin) / columns
	cellH          = (paperH - 2*margin) / lines
	side           = 118.0
)

// PDF is one code in the middle of an A4 page, with its name.
func PDF(ctx context.Context, n Named) ([]byte, error) {
	return paper(ctx, 1, []Named{n}, func(s *scene.Scene, n Named, _ int) error {
		return draw(s, n, margin, 200, paperW-2*margin, 300, 20)
	})
}

// Sheet is a page of codes with their names and lines to cut along, twelve to a page, as a PDF.
func Sheet(ctx context.Context, all []Named) ([]byte, error) {
	if len(all) == 0 || len(all) > Most {
		return nil, refusal.New("A sheet has between 1 and %d codes.", Most)
	}
	return paper(ctx, columns*lines, all, func(s *scene.Scene, n Named, at int) error {
		cell := scene.Rect{X: margin + float64(at%columns)*cellW, Y: margin + float64(at/columns)*cellH, W: cellW, H: cellH}
		s.Begin(scene.Tag{Role: "Artifact"})
		s.Fill(scene.Frame(cell, 0, 0.5), scene.Color{R: 208, G: 216, B: 218, A: 255})
		s.Close(1)
		return draw(s, n, cell.X, cell.Y+14, cellW, side, 10)
	})
}

func paper(ctx context.Context, perPage int, all []Named, set func(s *scene.Scene, n Named, at int) error) ([]byte, error) {
	var sheets []scene.Scene
	for i, n := range all {
		if i%perPage == 0 {
			sheets = append(sheets, scene.Scene{W: paperW, H: paperH})
		}
		if err := set(&sheets[len(sheets)-1], n, i%perPage); err != nil {
			return nil, err
		}
	}
	var out bytes.Buffer
	if err := pdf.Scenes(ctx, &out, "Codes", time.Time{}, sheets, nil); err != nil {
		return nil, fmt.Errorf("writing a sheet of codes: %w", err)
	}
	return out.Bytes(), nil
}

var ink = scene.Color{R: 22, G: 39, B: 45, A: 255}

// draw sets a code in the middle of a width, and its name below in at most three lines.
func draw(s *scene.Scene, n Named, x, y, w, side, size float64) error {
	rows, err := bitmap(n.Address)
	if err != nil {
		return err
	}
	module := side / float64(len(rows))
	left := x + (w-side)/2
	var modules scene.Outline
	runs(rows, func(cx, cy, cw int) {
		r := scene.Rect{X: left + float64(cx)*module, Y: y + float64(cy)*module, W: float64(cw) * module, H: module}
		modules = append(modules, scene.Rounded(r, 0)...)
	})
	s.Begin(scene.Tag{Role: "Figure", Alt: n.Address})
	s.Fill(modules, scene.Color{A: 255})
	s.Close(1)
	s.Open("P")
	for i, line := range text.Wrap(text.Bold, size, w-16, text.Shown(n.Name)) {
		if i == 3 {
			break
		}
		text.Set(s, text.Bold, size, x+(w-text.Width(text.Bold, size, line))/2, y+side+8+(float64(i)+0.85)*size*1.25, line, ink)
	}
	s.Close(1)
	return nil
}

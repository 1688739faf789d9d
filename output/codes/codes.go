// Package codes makes QR codes (ISO/IEC 18004) of addresses: as a picture, as drawing, and as paper to cut and hang up.
package codes

import (
	"bytes"
	"fmt"
	"strings"

	"raconte/core/refusal"
	"raconte/core/text"

	"codeberg.org/go-pdf/fpdf"
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
func PDF(n Named) ([]byte, error) {
	return paper(1, []Named{n}, func(p *fpdf.Fpdf, n Named, _ int) error {
		return draw(p, n, margin, 200, paperW-2*margin, 300, 20)
	})
}

// Sheet is a page of codes with their names and lines to cut along, twelve to a page, as a PDF.
func Sheet(all []Named) ([]byte, error) {
	if len(all) == 0 || len(all) > Most {
		return nil, refusal.New("A sheet has between 1 and %d codes.", Most)
	}
	return paper(columns*lines, all, func(p *fpdf.Fpdf, n Named, at int) error {
		x, y := margin+float64(at%columns)*cellW, margin+float64(at/columns)*cellH
		p.SetDrawColor(208, 216, 218)
		p.SetLineWidth(0.5)
		p.Rect(x, y, cellW, cellH, "D")
		return draw(p, n, x, y+14, cellW, side, 10)
	})
}

func paper(perPage int, all []Named, set func(p *fpdf.Fpdf, n Named, at int) error) ([]byte, error) {
	p := fpdf.New("P", "pt", "A4", "")
	p.SetAutoPageBreak(false, 0)
	p.SetTitle("Codes", true)
	p.AddUTF8FontFromBytes("bold", "", text.TTF(text.Bold))
	for i, n := range all {
		if i%perPage == 0 {
			p.AddPage()
		}
		if err := set(p, n, i%perPage); err != nil {
			return nil, err
		}
	}
	var out bytes.Buffer
	if err := p.Output(&out); err != nil {
		return nil, fmt.Errorf("writing a sheet of codes: %w", err)
	}
	return out.Bytes(), nil
}

// draw sets a code in the middle of a width, and its name below in at most three lines.
func draw(p *fpdf.Fpdf, n Named, x, y, w, side, size float64) error {
	rows, err := bitmap(n.Address)
	if err != nil {
		return err
	}
	module := side / float64(len(rows))
	left := x + (w-side)/2
	p.SetFillColor(0, 0, 0)
	runs(rows, func(cx, cy, cw int) {
		p.Rect(left+float64(cx)*module, y+float64(cy)*module, float64(cw)*module, module, "F")
	})
	p.SetFont("bold", "", size)
	p.SetTextColor(22, 39, 45)
	for i, line := range p.SplitText(text.Shown(n.Name), w-16) {
		if i == 3 {
			break
		}
		p.SetXY(x, y+side+8+float64(i)*size*1.25)
		p.CellFormat(w, size*1.25, line, "", 0, "C", false, 0, "")
	}
	return nil
}

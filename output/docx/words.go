package docx

import (
	"fmt"
	"strings"

	"raconte/core/text"
	"raconte/core/words"
	"raconte/output/flow"
)

// indentOf is how far in the words of steps stand, in points: their numbers stand before them.
const indentOf = 28.0

// writer writes the words of a step or a passage: the first paragraph of a step bears its number.
type writer struct {
	*body
	words.Flat
	block flow.Block
	begun bool
}

func (b *body) words(block flow.Block) {
	w := writer{body: b, block: block}
	b.reader.Walk(block.Source, &w)
	switch {
	case w.begun:
	case block.Step():
		b.lead(block, "")
	default:
		b.paragraph("BodyText", "", b.bookmark(block.ID, ""))
	}
}

func (w *writer) Paragraph(p words.Paragraph) {
	runs, first := w.spans(p), !w.begun
	w.begun = true
	switch {
	case first && w.block.Step() && p.Bullet != "":
		w.lead(w.block, "")
		w.listed(p, runs)
	case first && w.block.Step():
		w.lead(w.block, runs)
	case first:
		w.flowing(w.block, p, w.bookmark(w.block.ID, runs))
	default:
		w.flowing(w.block, p, runs)
	}
}

// Table writes a table, behind what stands before its first words.
func (w *writer) Table(t words.Table) {
	before := ""
	switch {
	case w.begun:
	case w.block.Step():
		w.lead(w.block, "")
	default:
		before = w.bookmark(w.block.ID, "")
	}
	w.begun = true
	room := w.room.wide - w.room.indent
	fmt.Fprintf(w, `<w:tbl><w:tblPr><w:tblStyle w:val="%s"/><w:tblW w:w="%d" w:type="dxa"/><w:tblInd w:w="%d" w:type="dxa"/></w:tblPr><w:tblGrid>`, w.styled("Grid"), twips(room), twips(w.room.indent))
	width := twips(room / float64(t.Columns))
	for range t.Columns {
		fmt.Fprintf(w, `<w:gridCol w:w="%d"/>`, width)
	}
	w.WriteString(`</w:tblGrid>`)
	for _, row := range t.Rows {
		w.WriteString(`<w:tr>`)
		for i := range t.Columns {
			shade, style, said := "", "TableText", []words.Paragraph{{}}
			if i < len(row) {
				said = row[i].Paragraphs()
				if row[i].Head {
					shade, style = `<w:shd w:val="clear" w:color="auto" w:fill="`+w.style.Colors.Shade[1:]+`"/>`, "TableHead"
				}
			}
			fmt.Fprintf(w, `<w:tc><w:tcPr><w:tcW w:w="%d" w:type="dxa"/>%s</w:tcPr>`, width, shade)
			for _, p := range said {
				w.paragraph(style, "", before+w.spans(p))
				before = ""
			}
			w.WriteString(`</w:tc>`)
		}
		w.WriteString(`</w:tr>`)
	}
	w.WriteString(`</w:tbl>`)
	w.paragraph("AfterNotice", "", "")
}

// lead writes the paragraph of a step that bears its number.
func (b *body) lead(block flow.Block, runs string) {
	number := ""
	if b.style.Numbers.Steps {
		number = b.numbers.step(block.Number)
		if number == "" && block.Number != "" {
			runs = run("<w:b/>", block.Number+"  ") + runs
		}
	}
	b.paragraph("Step", number+rtl(block.Text), b.bookmark(block.ID, runs))
}

func (b *body) flowing(block flow.Block, p words.Paragraph, runs string) {
	if p.Bullet != "" || p.Depth > 0 {
		b.listed(p, runs)
		return
	}
	style := "StepMore"
	if !block.Step() {
		style = "BodyText"
	}
	b.paragraph(style, rtl(p.Reading()), runs)
}

func (b *body) listed(p words.Paragraph, runs string) {
	number, in := "", ""
	switch {
	case p.Bullet == "":
		in = fmt.Sprintf(`<w:ind w:left="%d"/>`, twips(b.room.indent+18*float64(p.Depth)))
	case strings.HasSuffix(p.Bullet, "."):
		number = b.numbers.ordered(p.Bullet, p.Depth-1)
	default:
		number = b.numbers.bullet(p.Depth - 1)
	}
	b.paragraph("ListParagraph", number+rtl(p.Reading())+in, runs)
}

// spans are the runs of a paragraph.
func (w *writer) spans(p words.Paragraph) string {
	var out strings.Builder
	for _, s := range p.Spans {
		said := flow.Clean(s.Text)
		if s.Marker != "" {
			fill, on := "B3261E", "FFFFFF"
			if tag, there := w.block.Source.Tags[s.Marker]; there {
				fill, on = tag.Ink.String()[1:7], tag.On.String()[1:7]
			}
			out.WriteString(run(`<w:b/><w:color w:val="`+on+`"/><w:shd w:val="clear" w:color="auto" w:fill="`+fill+`"/>`, "\u00a0"+said+"\u00a0"))
			continue
		}
		properties := ""
		switch {
		case s.Keycap:
			properties += w.letters("Key")
		case s.Code:
			properties += w.letters("Code")
		case s.Control:
			properties += w.letters("Control")
		case s.Link != "" || s.To != "":
			properties += w.letters("Hyperlink")
		}
		if s.Bold {
			properties += "<w:b/>"
		}
		if s.Italic {
			properties += "<w:i/>"
		}
		if text.RightToLeft(said) {
			properties += "<w:rtl/>"
		}
		runs := run(properties, said)
		switch {
		case s.Link != "":
			runs = `<w:hyperlink r:id="` + w.relate("hyperlink", s.Link, true) + `" w:history="1">` + runs + `</w:hyperlink>`
		case s.Inside != "":
			runs = `<w:hyperlink w:anchor="` + bookmarked(flow.Anchor(s.Inside)) + `" w:history="1">` + runs + `</w:hyperlink>`
		}
		out.WriteString(runs)
	}
	return out.String()
}

// letters is the property of a run in a style of letters.
func (b *body) letters(style string) string { return `<w:rStyle w:val="` + b.styled(style) + `"/>` }

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

// words writes the words of a step or a passage: the first paragraph of a step bears its number.
func (b *body) words(block flow.Block) {
	all := block.Source.Words.Paragraphs()
	first := true
	for i := 0; i < len(all); i++ {
		p := all[i]
		if p.Cell != nil {
			cells := words.TableAt(all[i:])
			if first && block.Step() {
				b.lead(block, "")
			}
			begins := ""
			if first && !block.Step() {
				begins = b.bookmark(block.ID, "")
			}
			first = false
			b.table(block, cells, begins)
			i += len(cells) - 1
			continue
		}
		runs := b.spans(block, p)
		switch {
		case first && block.Step() && p.Bullet != "":
			b.lead(block, "")
			b.listed(p, runs)
		case first && block.Step():
			b.lead(block, runs)
		case first:
			b.flowing(block, p, b.bookmark(block.ID, runs))
		default:
			b.flowing(block, p, runs)
		}
		first = false
	}
	switch {
	case first && block.Step():
		b.lead(block, "")
	case first:
		b.paragraph("BodyText", "", b.bookmark(block.ID, ""))
	}
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
	b.paragraph(style, rtl(plain(p)), runs)
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
	b.paragraph("ListParagraph", number+rtl(plain(p))+in, runs)
}

func plain(p words.Paragraph) string {
	var out strings.Builder
	for _, s := range p.Spans {
		out.WriteString(s.Text)
	}
	return out.String()
}

// spans are the runs of a paragraph.
func (b *body) spans(block flow.Block, p words.Paragraph) string {
	var out strings.Builder
	for _, s := range p.Spans {
		if s.Marker != "" {
			fill, on := "B3261E", "FFFFFF"
			if tag, there := block.Source.Tags[s.Marker]; there {
				fill, on = tag.Ink.String()[1:7], tag.On.String()[1:7]
			}
			out.WriteString(run(`<w:b/><w:color w:val="`+on+`"/><w:shd w:val="clear" w:color="auto" w:fill="`+fill+`"/>`, "\u00a0"+flow.Marker(block.Source, s.Marker)+"\u00a0"))
			continue
		}
		said := flow.Clean(s.Text)
		properties := ""
		switch {
		case s.Keycap:
			properties += b.letters("Key")
		case s.Code:
			properties += b.letters("Code")
		case s.Control:
			properties += b.letters("Control")
		case s.Link != "" || s.To != "":
			properties += b.letters("Hyperlink")
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
		inside, there := b.where[s.To]
		switch {
		case s.Link != "":
			runs = `<w:hyperlink r:id="` + b.relate("hyperlink", s.Link, true) + `" w:history="1">` + runs + `</w:hyperlink>`
		case s.To != "" && there:
			runs = `<w:hyperlink w:anchor="` + bookmarked(flow.Anchor(inside)) + `" w:history="1">` + runs + `</w:hyperlink>`
		case s.To != "" && b.doc.Story().Others[s.To].Address != "":
			runs = `<w:hyperlink r:id="` + b.relate("hyperlink", b.doc.Story().Others[s.To].Address, true) + `" w:history="1">` + runs + `</w:hyperlink>`
		}
		out.WriteString(runs)
	}
	return out.String()
}

// letters is the property of a run in a style of letters.
func (b *body) letters(style string) string { return `<w:rStyle w:val="` + b.styled(style) + `"/>` }

// table writes a table of the words, behind what stands before its first.
func (b *body) table(block flow.Block, cells []words.Paragraph, before string) {
	columns := cells[0].Cell.Columns
	room := b.room.wide - b.room.indent
	fmt.Fprintf(b, `<w:tbl><w:tblPr><w:tblStyle w:val="%s"/><w:tblW w:w="%d" w:type="dxa"/><w:tblInd w:w="%d" w:type="dxa"/></w:tblPr><w:tblGrid>`, b.styled("Grid"), twips(room), twips(b.room.indent))
	for range columns {
		fmt.Fprintf(b, `<w:gridCol w:w="%d"/>`, twips(room/float64(columns)))
	}
	b.WriteString(`</w:tblGrid>`)
	for i := 0; i < len(cells); {
		row := cells[i].Cell.Row
		b.WriteString(`<w:tr>`)
		for c := range columns {
			shade := ""
			var said []string
			for ; i < len(cells) && cells[i].Cell.Row == row && cells[i].Cell.Column == c; i++ {
				if cells[i].Cell.Head {
					shade = `<w:shd w:val="clear" w:color="auto" w:fill="` + b.style.Colors.Shade[1:] + `"/>`
				}
				said = append(said, b.spans(block, cells[i]))
			}
			fmt.Fprintf(b, `<w:tc><w:tcPr><w:tcW w:w="%d" w:type="dxa"/>%s</w:tcPr>`, twips(room/float64(columns)), shade)
			style := "TableText"
			if shade != "" {
				style = "TableHead"
			}
			for _, runs := range said {
				b.paragraph(style, "", before+runs)
				before = ""
			}
			if len(said) == 0 {
				b.paragraph("TableText", "", "")
			}
			b.WriteString(`</w:tc>`)
		}
		b.WriteString(`</w:tr>`)
	}
	b.WriteString(`</w:tbl>`)
	b.paragraph("AfterNotice", "", "")
}

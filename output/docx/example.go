package docx

import (
	"bytes"
	"context"
	"fmt"
	"time"

	"raconte/core/style"
	"raconte/output"
	"raconte/output/flow"
)

// Example is a template to begin one of the house's own from: it has most of the placeholders that there are.
func (Format) Example() ([]byte, error) {
	st := style.Default()
	in := flow.Sample()
	var buf bytes.Buffer
	b := &body{doc: flow.Read(context.Background(), in, output.Options{}), style: st, folder: flow.NewFolder(&buf, time.Unix(1_700_000_000, 0)), room: sheet(st)}
	b.doc.Fields = nil // placeholders stay as they are
	line := func(style, text string) { b.paragraph(style, "", run("", text)) }
	line("Kind", "{kind}  {signal}")
	line("Title", "{title}")
	line("Meta", "{meta}")
	line("BodyText", "{notice}")
	line("BodyText", "{contents}")
	line("BodyText", "{each section}")
	line("Heading1", "{section number} {section title}")
	number, words := twips(40), twips(b.room.wide-40)
	cell := func(width int, styles, texts []string) {
		fmt.Fprintf(b, `<w:tc><w:tcPr><w:tcW w:w="%d" w:type="dxa"/></w:tcPr>`, width)
		for i, t := range texts {
			line(styles[i], t)
		}
		b.WriteString(`</w:tc>`)
	}
	fmt.Fprintf(b, `<w:tbl><w:tblPr><w:tblStyle w:val="Grid"/><w:tblW w:w="%d" w:type="dxa"/><w:tblLayout w:type="fixed"/></w:tblPr><w:tblGrid><w:gridCol w:w="%d"/><w:gridCol w:w="%d"/></w:tblGrid><w:tr><w:trPr><w:cantSplit/></w:trPr>`, number+words, number, words)
	cell(number, []string{"TableHead"}, []string{"{step number}"})
	cell(words, []string{"BodyText", "BodyText", "BodyText", "BodyText", "Meta"}, []string{"{step notice}", "{step words}", "{step links}", "{step pictures}", "{step time}"})
	b.WriteString(`</w:tr></w:tbl>`)
	line("BodyText", "{end}")
	header := b.band(style.Band{Left: "{number}", Middle: "{title}", Right: "{state}"}, "hdr")
	footer := b.band(style.Band{Left: "{house}", Middle: "{classification}", Right: "{page of pages}"}, "ftr")
	if err := b.parts(b.String()+b.section(), header, footer, core(b.doc, in)); err != nil {
		return nil, err
	}
	err := b.folder.Close()
	return buf.Bytes(), err
}

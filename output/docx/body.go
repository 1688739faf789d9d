package docx

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"raconte/core/story"
	"raconte/core/style"
	"raconte/core/text"
	"raconte/output/flow"
	"raconte/output/office"
)

// body writes the paragraphs of a document.
type body struct {
	strings.Builder
	doc     *flow.Document
	style   style.Style
	folder  *flow.Folder
	reader  story.Reader
	numbers numbering
	related []office.Relation
	drawn   int // pictures
	marked  int // bookmarks

	room   room
	ids    map[string]string // of styles in the house's own template, by ours; nil in the built-in one
	look   string            // the properties of a paragraph of the template, which plain words have
	prefix string            // of names of parts and relations, so that they are none of the template's
}

// room is what there is for words and pictures, in points.
type room struct{ wide, tall, indent float64 }

// twips are twentieths of a point, emus 12,700ths: the units of the standard.
func twips(points float64) int { return int(points*20 + 0.5) }
func emus(points float64) int  { return int(points*12700 + 0.5) }

// sheet is the room on a page of a style.
func sheet(s style.Style) room {
	w, h := s.Paper.Size()
	return room{w - s.Margins.Left - s.Margins.Right, h - s.Margins.Top - s.Margins.Bottom, indentOf}
}

// document writes all of it.
func (b *body) document(ctx context.Context) error {
	d := b.doc
	if d.Draft != "" {
		b.paragraph("Draft", "", run("", d.Draft))
	}
	kind := run("", d.Kind)
	if d.Signal != "" {
		kind += run("<w:b/>", "  "+d.Signal)
	}
	b.paragraph("Kind", "", kind)
	b.paragraph("Title", rtl(d.Title), run("", d.Title))
	b.paragraph("Meta", "", run("", d.Meta))
	b.warn(d.Notice, `<w:bookmarkStart w:id="0" w:name="whole_document"/><w:bookmarkEnd w:id="0"/>`)
	b.contents()
	for _, block := range d.Blocks {
		if err := ctx.Err(); err != nil {
			return err
		}
		if err := b.block(block); err != nil {
			return err
		}
	}
	return nil
}

// paragraph writes a paragraph of a style, with more of its properties and its runs.
func (b *body) paragraph(style, more, runs string) {
	if b.look != "" && style == "BodyText" {
		fmt.Fprintf(b, `<w:p>%s%s</w:p>`, b.look, runs)
		return
	}
	fmt.Fprintf(b, `<w:p><w:pPr><w:pStyle w:val="%s"/>%s</w:pPr>%s</w:p>`, b.styled(style), more, runs)
}

// styled is the id of a style of ours.
func (b *body) styled(id string) string {
	if own, there := b.ids[id]; there {
		return own
	}
	return id
}

// run is a piece of text with its properties; line feeds are breaks.
func run(properties, said string) string {
	if properties != "" {
		properties = "<w:rPr>" + properties + "</w:rPr>"
	}
	lines := strings.Split(said, "\n")
	var out strings.Builder
	for i, l := range lines {
		if i > 0 {
			out.WriteString("<w:r><w:br/></w:r>")
		}
		if l != "" {
			out.WriteString("<w:r>" + properties + `<w:t xml:space="preserve">` + strings.ReplaceAll(office.Esc(l), "\t", `</w:t><w:tab/><w:t xml:space="preserve">`) + "</w:t></w:r>")
		}
	}
	return out.String()
}

// rtl is the property of a paragraph that reads from right to left.
func rtl(said string) string {
	if text.RightToLeft(said) {
		return "<w:bidi/>"
	}
	return ""
}

// bookmark puts a place around runs that links lead to.
func (b *body) bookmark(id, runs string) string {
	b.marked++
	return fmt.Sprintf(`<w:bookmarkStart w:id="%d" w:name="%s"/>%s<w:bookmarkEnd w:id="%d"/>`, b.marked, bookmarked(id), runs, b.marked)
}

// bookmarked is an id as a name of a bookmark: letters, digits and underscores, at most 40.
func bookmarked(id string) string {
	name := strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || r >= '0' && r <= '9' {
			return r
		}
		return '_'
	}, id)
	return name[:min(40, len(name))]
}

// contents writes the field of the contents with its entries, as it would be filled: headings, without pages, since
// these are known to the word processor alone.
func (b *body) contents() {
	var heads []flow.Entry
	for _, e := range b.doc.Contents {
		if e.Heads {
			heads = append(heads, e)
		}
	}
	if len(heads) == 0 {
		return
	}
	b.paragraph("ContentsHeading", "", run("", b.doc.Words["contents"]))
	for i, e := range heads {
		runs := ""
		if i == 0 {
			runs = `<w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText xml:space="preserve"> TOC \o "1-2" \n \h </w:instrText></w:r><w:r><w:fldChar w:fldCharType="separate"/></w:r>`
		}
		runs += `<w:hyperlink w:anchor="` + bookmarked(e.ID) + `" w:history="1">` + run("", strings.TrimSpace(e.Number+" "+e.Title)) + `</w:hyperlink>`
		if i == len(heads)-1 {
			runs += `<w:r><w:fldChar w:fldCharType="end"/></w:r>`
		}
		b.paragraph("TOC"+strconv.Itoa(min(e.Depth, 2)), "", runs)
	}
}

func (b *body) block(block flow.Block) error {
	if block.Heading() {
		number := ""
		if b.style.Numbers.Sections {
			number = b.numbers.heading(block.Number)
		}
		b.paragraph("Heading"+strconv.Itoa(min(block.Depth, 2)), number+rtl(block.Title), b.bookmark(block.ID, run("", block.Title)))
		return nil
	}
	if block.Critical != "" {
		b.paragraph("Critical", "", run("", block.Critical))
	}
	b.warn(block.Notice, "")
	b.words(block)
	if block.Time != "" {
		b.paragraph("Meta", "", run("", block.Time))
	}
	for _, l := range block.Links {
		b.paragraph("Leads", "", b.link(l))
	}
	for _, p := range block.Pictures {
		if err := b.picture(p); err != nil {
			return err
		}
	}
	return nil
}

// link are the runs of what a step leads to.
func (b *body) link(l flow.Link) string {
	said := run(`<w:rStyle w:val="`+b.styled("Hyperlink")+`"/>`, l.Said)
	switch {
	case l.Inside != "":
		return `<w:hyperlink w:anchor="` + bookmarked(l.Inside) + `" w:history="1">` + said + `</w:hyperlink>`
	case l.Address != "":
		return `<w:hyperlink r:id="` + b.relate("hyperlink", l.Address, true) + `" w:history="1">` + said + `</w:hyperlink>`
	}
	return run("<w:b/>", l.Said)
}

// warn writes a notice as a table of one cell, its word on its panel, behind what marks whose it is.
func (b *body) warn(n *flow.Notice, whose string) {
	if n == nil {
		return
	}
	fill, ink := office.Panel(n.Signal)
	edge := ""
	for _, side := range []string{"top", "left", "bottom", "right"} {
		edge += fmt.Sprintf(`<w:%s w:val="single" w:sz="12" w:space="0" w:color="%s"/>`, side, fill)
	}
	italic := ""
	if n.Signal == "notice" {
		italic = "<w:i/>"
	}
	fmt.Fprintf(b, `<w:tbl><w:tblPr><w:tblW w:w="5000" w:type="pct"/><w:tblBorders>%s</w:tblBorders></w:tblPr><w:tblGrid><w:gridCol w:w="%d"/></w:tblGrid>`, edge, twips(b.room.wide))
	fmt.Fprintf(b, `<w:tr><w:trPr><w:cantSplit/></w:trPr><w:tc><w:tcPr><w:tcW w:w="5000" w:type="pct"/><w:shd w:val="clear" w:color="auto" w:fill="%s"/></w:tcPr>`, fill)
	b.paragraph("NoticeWord", "", whose+run(italic+`<w:color w:val="`+ink+`"/>`, n.Word))
	b.WriteString(`</w:tc></w:tr><w:tr><w:trPr><w:cantSplit/></w:trPr><w:tc><w:tcPr><w:tcW w:w="5000" w:type="pct"/></w:tcPr>`)
	for _, l := range n.Lines {
		b.paragraph("NoticeText", rtl(l), run("", l))
	}
	if len(n.Lines) == 0 {
		b.paragraph("NoticeText", "", "")
	}
	b.WriteString(`</w:tc></w:tr></w:tbl>`)
	b.paragraph("AfterNotice", "", "")
}

// picture writes a picture in its own paragraph and its caption.
func (b *body) picture(p *flow.Picture) error {
	drawing, err := b.drawing(p, 60) // a line of words stays with it
	if err != nil {
		return err
	}
	keep := ""
	if p.Caption != "" {
		keep = "<w:keepNext/>"
	}
	b.paragraph("Picture", keep, b.bookmark(p.ID, drawing))
	b.caption(p)
	return nil
}

func (b *body) caption(p *flow.Picture) {
	if p.Caption != "" {
		word, _, _ := strings.Cut(p.Caption, " ")
		b.paragraph("Caption", "", run("", word+" ")+field("SEQ Picture", strconv.Itoa(p.Number)))
	}
}

// drawing is the run of a picture, as large as it is on a screen and no wider than there is room; beside is what stays
// free of a page's height, in points.
func (b *body) drawing(p *flow.Picture, beside float64) (string, error) {
	file, w, h, err := p.Measured()
	if err != nil {
		return "", err
	}
	b.drawn++
	name := fmt.Sprintf("media/%spicture%03d.%s", b.prefix, b.drawn, flow.Extension(file))
	if err := b.folder.Put("word/"+name, file.Data, true); err != nil {
		return "", err
	}
	wide := max(1, min(b.room.wide-b.room.indent, float64(w)*b.style.Steps.Largest, max(20, b.room.tall-beside)*float64(w)/float64(h)))
	high := wide * float64(h) / float64(w)
	id := b.drawn
	if b.prefix != "" {
		id += 10000 // those of the template are smaller
	}
	return fmt.Sprintf(`<w:r><w:drawing><wp:inline distT="0" distB="0" distL="0" distR="0"><wp:extent cx="%d" cy="%d"/><wp:docPr id="%d" name="%s" descr="%s"/>`+
		`<wp:cNvGraphicFramePr><a:graphicFrameLocks noChangeAspect="1"/></wp:cNvGraphicFramePr><a:graphic><a:graphicData uri="http://schemas.openxmlformats.org/drawingml/2006/picture">`+
		`<pic:pic><pic:nvPicPr><pic:cNvPr id="%d" name="%s"/><pic:cNvPicPr/></pic:nvPicPr><pic:blipFill><a:blip r:embed="%s"/><a:stretch><a:fillRect/></a:stretch></pic:blipFill>`+
		`<pic:spPr><a:xfrm><a:off x="0" y="0"/><a:ext cx="%d" cy="%d"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></pic:spPr></pic:pic></a:graphicData></a:graphic></wp:inline></w:drawing></w:r>`,
		emus(wide), emus(high), id, name[6:], office.Esc(p.Alt), id, name[6:], b.relate("image", name, false), emus(wide), emus(high)), nil
}

// field is a field that the word processor fills, with what it reads now.
func field(instruction, now string) string {
	return `<w:r><w:fldChar w:fldCharType="begin"/></w:r><w:r><w:instrText xml:space="preserve"> ` + instruction + ` </w:instrText></w:r><w:r><w:fldChar w:fldCharType="separate"/></w:r>` +
		run("", now) + `<w:r><w:fldChar w:fldCharType="end"/></w:r>`
}

// section is the page: its size, margins, header and footer.
func (b *body) section() string {
	w, h := b.style.Paper.Size()
	m := b.style.Margins
	turned := ""
	if b.style.Paper.Across {
		turned = ` w:orient="landscape"`
	}
	return fmt.Sprintf(`<w:sectPr><w:headerReference w:type="default" r:id="head"/><w:footerReference w:type="default" r:id="foot"/><w:pgSz w:w="%d" w:h="%d"%s/>`+
		`<w:pgMar w:top="%d" w:right="%d" w:bottom="%d" w:left="%d" w:header="%d" w:footer="%d" w:gutter="0"/></w:sectPr>`,
		twips(w), twips(h), turned, twips(m.Top), twips(m.Right), twips(m.Bottom), twips(m.Left), twips(m.Top*0.45), twips(m.Bottom*0.4))
}

// band is a header or footer: its parts at the left, in the middle and at the right, pages as fields.
func (b *body) band(s style.Band, kind string) string {
	var out strings.Builder
	middle, right := twips(b.room.wide/2), twips(b.room.wide)
	border := ""
	if s.Rule {
		border = fmt.Sprintf(`<w:pBdr><w:%s w:val="single" w:sz="4" w:space="4" w:color="%s"/></w:pBdr>`, map[string]string{"hdr": "bottom", "ftr": "top"}[kind], b.style.Colors.Line[1:])
	}
	if s.Empty() {
		border = ""
	}
	fmt.Fprintf(&out, `<w:%s %s><w:p><w:pPr><w:pStyle w:val="Band"/>%s<w:tabs><w:tab w:val="center" w:pos="%d"/><w:tab w:val="right" w:pos="%d"/></w:tabs></w:pPr>`, kind, spaces, border, middle, right)
	for i, part := range []string{s.Left, s.Middle, s.Right} {
		if i > 0 {
			out.WriteString(`<w:r><w:tab/></w:r>`)
		}
		b.filled(&out, part)
	}
	fmt.Fprintf(&out, `</w:p></w:%s>`, kind)
	return out.String()
}

// Signs that stand for fields while the text around them is filled in.
const pageSign, pagesSign, sectionSign = "\ue000", "\ue001", "\ue002"

// filled writes a part of a header or footer.
func (b *body) filled(out *strings.Builder, part string) {
	said := style.Fill(part, func(name string) (string, bool) {
		switch name {
		case "page":
			return pageSign, true
		case "pages":
			return pagesSign, true
		case "section":
			return sectionSign, true
		case "page of pages":
			return b.style.Said("pages", "page", pageSign, "pages", pagesSign), true
		}
		v, known := b.doc.Fields[name]
		return v, known
	})
	for said != "" {
		at := strings.IndexAny(said, pageSign+pagesSign+sectionSign)
		if at < 0 {
			out.WriteString(run("", said))
			return
		}
		out.WriteString(run("", said[:at]))
		out.WriteString(field(map[string]string{pageSign: "PAGE", pagesSign: "NUMPAGES", sectionSign: `STYLEREF "Heading 1"`}[said[at:at+3]], "1"))
		said = said[at+3:]
	}
}

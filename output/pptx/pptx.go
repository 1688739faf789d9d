// Package pptx writes a document as a presentation (ECMA-376, PresentationML): a slide for each step with its picture as
// large as it goes, the full words as notes, and a slide for each section.
package pptx

import (
	"context"
	"fmt"
	"html"
	"io"
	"strings"

	"raconte/core/style"
	"raconte/output"
	"raconte/output/flow"
)

// Format is PPTX.
type Format struct{}

// About names it.
func (Format) About() output.About {
	return output.About{
		Name: "pptx", Title: "Presentation (PPTX)", Extension: "pptx",
		MediaType: "application/vnd.openxmlformats-officedocument.presentationml.presentation",
	}
}

// The sheet of a slide in points: 16 to 9.
const (
	width  = 960.0
	height = 540.0
	margin = 36.0
)

func emu(points float64) int { return int(points*12700 + 0.5) }

// deck is a presentation that is being written.
type deck struct {
	folder *flow.Folder
	doc    *flow.Document
	style  style.Style
	slides int
	drawn  int
}

// Write makes the presentation.
func (Format) Write(ctx context.Context, w io.Writer, in output.Input, o output.Options) error {
	st := in.Edition.Style
	if st.Language == "" {
		st = style.Default()
	}
	d := flow.Read(ctx, in, o)
	k := &deck{folder: flow.NewFolder(w, in.Made), doc: d, style: st}
	lead := d.Kind
	if d.Draft != "" {
		lead = d.Draft
	}
	if err := k.slide(2, words(4, "title", "Title", d.Title)+words(5, "body", "About", lead+"\n"+d.Meta)+k.notice(d.Notice, 380), nil, d.Title+"\n"+d.Meta); err != nil {
		return err
	}
	for _, b := range d.Blocks {
		if err := ctx.Err(); err != nil {
			return err
		}
		if err := k.block(b); err != nil {
			return err
		}
	}
	if err := k.frame(in); err != nil {
		return err
	}
	if err := ctx.Err(); err != nil {
		return err
	}
	return k.folder.Close()
}

// block writes the slides of a block: one for each picture of it, or one of words.
func (k *deck) block(b flow.Block) error {
	if b.Heading() {
		return k.slide(2, words(4, "title", "Title", strings.TrimSpace(b.Number+" "+b.Title)), nil, b.Title)
	}
	title := b.Title
	if b.Number != "" {
		title = b.Number + "  " + title
	}
	notes := b.Text
	for _, l := range b.Links {
		notes += "\n" + strings.TrimSpace(l.Said+" "+l.Address)
	}
	if b.Notice != nil {
		notes = b.Notice.Word + ": " + strings.Join(b.Notice.Lines, " ") + "\n" + notes
	}
	said := b.Text
	for _, extra := range []string{b.Critical, b.Time} {
		if extra != "" {
			said = extra + "\n" + said
		}
	}
	for _, l := range b.Links {
		said += "\n" + l.Said
	}
	top := margin + 54.0
	shapes := words(4, "title", "Title", title)
	if b.Notice != nil {
		shapes += k.notice(b.Notice, top)
		top += 24 + 20*float64(len(b.Notice.Lines))
	}
	if len(b.Pictures) == 0 {
		return k.slide(1, shapes+box(5, "Words", margin, top, width-2*margin, height-top-margin, 20, said), nil, notes)
	}
	for i, p := range b.Pictures {
		// The words stand in one line or two below the picture; all of them are in the notes.
		foot := 56.0
		one := shapes + box(5, "Words", margin, height-foot-14, width-2*margin, foot, 16, shortened(said, 220))
		if i > 0 {
			one = words(4, "title", "Title", title)
		}
		if err := k.slide(1, one, &placed{p, margin, top, width - 2*margin, height - top - foot - 18}, notes); err != nil {
			return err
		}
	}
	return nil
}

// shortened are the first letters of a text, up to a word's end.
func shortened(s string, most int) string {
	letters := []rune(s)
	if len(letters) <= most {
		return s
	}
	cut := string(letters[:most])
	if at := strings.LastIndexByte(cut, ' '); at > 0 {
		cut = cut[:at]
	}
	return cut + "…"
}

// placed is a picture and the room that it has.
type placed struct {
	picture    *flow.Picture
	x, y, w, h float64
}

var panels = map[string][2]string{"danger": {"C8102E", "FFFFFF"}, "warning": {"FF8200", "000000"}, "caution": {"FFD100", "000000"}, "notice": {"0067B1", "FFFFFF"}}

// notice is a panel with the signal word and what is said, from a height on.
func (k *deck) notice(n *flow.Notice, y float64) string {
	if n == nil {
		return ""
	}
	panel := panels[n.Signal]
	fill := `<a:solidFill><a:srgbClr val="` + panel[0] + `"/></a:solidFill>`
	line := `<a:ln w="19050">` + fill + `</a:ln>`
	tall := 4 + 20*float64(max(1, len(n.Lines)))
	return shape(8, "Signal word", margin, y, 120, tall, fill+line, paragraphs(n.Word, 16, `b="1"`, panel[1])) +
		shape(9, "Notice", margin+120, y, width-2*margin-120, tall, `<a:noFill/>`+line, paragraphs(strings.Join(n.Lines, "\n"), 14, "", ""))
}

// words fill a place of the layout.
func words(id int, kind, name, text string) string {
	index := ""
	if kind == "body" {
		index = ` idx="1"`
	}
	return fmt.Sprintf(`<p:sp><p:nvSpPr><p:cNvPr id="%d" name="%s"/><p:cNvSpPr/><p:nvPr><p:ph type="%s"%s/></p:nvPr></p:nvSpPr><p:spPr/><p:txBody><a:bodyPr><a:normAutofit/></a:bodyPr><a:lstStyle/>%s</p:txBody></p:sp>`,
		id, name, kind, index, paragraphs(text, 0, "", ""))
}

func box(id int, name string, x, y, w, h, size float64, text string) string {
	return shape(id, name, x, y, w, h, `<a:noFill/>`, paragraphs(text, size, "", ""))
}

func shape(id int, name string, x, y, w, h float64, look, text string) string {
	return fmt.Sprintf(`<p:sp><p:nvSpPr><p:cNvPr id="%d" name="%s"/><p:cNvSpPr txBox="1"/><p:nvPr/></p:nvSpPr><p:spPr><a:xfrm><a:off x="%d" y="%d"/><a:ext cx="%d" cy="%d"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom>%s</p:spPr>`+
		`<p:txBody><a:bodyPr wrap="square" lIns="91440" tIns="36000" rIns="91440" bIns="36000"><a:normAutofit/></a:bodyPr><a:lstStyle/>%s</p:txBody></p:sp>`,
		id, name, emu(x), emu(y), emu(w), emu(h), look, text)
}

// paragraphs are a text by its lines.
func paragraphs(text string, size float64, more, color string) string {
	var out strings.Builder
	if size > 0 {
		more = fmt.Sprintf(`sz="%d" %s`, int(size*100), more)
	}
	fill := ""
	if color != "" {
		fill = `<a:solidFill><a:srgbClr val="` + color + `"/></a:solidFill>`
	}
	for _, line := range strings.Split(text, "\n") {
		direction := ""
		if flow.RightToLeft(line) {
			direction = `<a:pPr rtl="1" algn="r"/>`
		}
		if line == "" {
			out.WriteString(`<a:p/>`)
			continue
		}
		fmt.Fprintf(&out, `<a:p>%s<a:r><a:rPr %s dirty="0">%s</a:rPr><a:t>%s</a:t></a:r></a:p>`, direction, more, fill, esc(strings.ReplaceAll(line, "\t", "   ")))
	}
	return out.String()
}

func esc(s string) string { return html.EscapeString(s) }

// slide writes one slide in a layout, with its picture and its notes.
func (k *deck) slide(layout int, shapes string, p *placed, notes string) error {
	k.slides++
	n := k.slides
	related := fmt.Sprintf(`<Relationship Id="l" Type="%sslideLayout" Target="../slideLayouts/slideLayout%d.xml"/><Relationship Id="n" Type="%snotesSlide" Target="../notesSlides/notesSlide%d.xml"/>`, kindOf, layout, kindOf, n)
	if p != nil {
		file, w, h, err := p.picture.Measured()
		if err != nil {
			return err
		}
		k.drawn++
		name := fmt.Sprintf("picture%03d.%s", k.drawn, flow.Extension(file))
		if err := k.folder.Put("ppt/media/"+name, file.Data, true); err != nil {
			return err
		}
		related += fmt.Sprintf(`<Relationship Id="p" Type="%simage" Target="../media/%s"/>`, kindOf, name)
		by := min(p.w/float64(w), p.h/float64(h), 2*k.style.Steps.Largest)
		wide, high := float64(w)*by, float64(h)*by
		shapes += fmt.Sprintf(`<p:pic><p:nvPicPr><p:cNvPr id="7" name="%s" descr="%s"/><p:cNvPicPr><a:picLocks noChangeAspect="1"/></p:cNvPicPr><p:nvPr/></p:nvPicPr><p:blipFill><a:blip r:embed="p"/><a:stretch><a:fillRect/></a:stretch></p:blipFill>`+
			`<p:spPr><a:xfrm><a:off x="%d" y="%d"/><a:ext cx="%d" cy="%d"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></p:spPr></p:pic>`,
			name, esc(p.picture.Alt), emu(p.x+(p.w-wide)/2), emu(p.y+(p.h-high)/2), emu(wide), emu(high))
	}
	put := func(name, data string) error { return k.folder.Put(name, []byte(declaration+data), false) }
	if err := put(fmt.Sprintf("ppt/slides/slide%d.xml", n), `<p:sld `+spaces+`><p:cSld><p:spTree>`+group+shapes+`</p:spTree></p:cSld><p:clrMapOvr><a:masterClrMapping/></p:clrMapOvr></p:sld>`); err != nil {
		return err
	}
	if err := put(fmt.Sprintf("ppt/slides/_rels/slide%d.xml.rels", n), relations(related)); err != nil {
		return err
	}
	body := `<p:sp><p:nvSpPr><p:cNvPr id="2" name="Slide"/><p:cNvSpPr><a:spLocks noGrp="1" noRot="1" noChangeAspect="1"/></p:cNvSpPr><p:nvPr><p:ph type="sldImg"/></p:nvPr></p:nvSpPr><p:spPr/></p:sp>` + words(3, "body", "Notes", notes)
	if err := put(fmt.Sprintf("ppt/notesSlides/notesSlide%d.xml", n), `<p:notes `+spaces+`><p:cSld><p:spTree>`+group+body+`</p:spTree></p:cSld><p:clrMapOvr><a:masterClrMapping/></p:clrMapOvr></p:notes>`); err != nil {
		return err
	}
	return put(fmt.Sprintf("ppt/notesSlides/_rels/notesSlide%d.xml.rels", n), relations(fmt.Sprintf(
		`<Relationship Id="m" Type="%snotesMaster" Target="../notesMasters/notesMaster1.xml"/><Relationship Id="s" Type="%sslide" Target="../slides/slide%d.xml"/>`, kindOf, kindOf, n)))
}

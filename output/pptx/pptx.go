// Package pptx writes a document as a presentation (ECMA-376, PresentationML): a slide for each step with its picture
// as large as it goes, the full words as notes, and a slide for each section.
package pptx

import (
	"context"
	"fmt"
	"io"
	"strings"

	"raconte/core/style"
	"raconte/core/text"
	"raconte/output"
	"raconte/output/flow"
	"raconte/output/office"
)

// Format is PPTX.
type Format struct{}

// About names it.
func (Format) About() output.About {
	return output.About{
		Plays: true,
		Own:   "pptx", Name: "pptx", Title: "Presentation (PPTX)", Extension: "pptx",
		MediaType: "application/vnd.openxmlformats-officedocument.presentationml.presentation",
	}
}

// The sheet of a built-in slide in points: 16 to 9.
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

	width, height float64 // of a slide, in points
	notes         string  // the master of notes
	name          string  // what the names of slides begin with

	// The layouts of the first slide, of sections, of steps with a picture and of those without.
	cover, section, pictured, worded master
}

// Write makes the presentation.
func (Format) Write(ctx context.Context, w io.Writer, in output.Input, o output.Options) error {
	if o.Own != nil {
		_, err := writeOwn(ctx, w, in, o)
		return err
	}
	st := in.Edition.Style
	if st.Language == "" {
		st = style.Default()
	}
	k := &deck{
		folder: flow.NewFolder(w, in.Made), doc: flow.Read(ctx, in, o), style: st, width: width, height: height, notes: "ppt/notesMasters/notesMaster1.xml", name: "slide",
		cover: heads, section: heads, pictured: plain, worded: plain,
	}
	if err := k.all(ctx); err != nil {
		return err
	}
	if err := k.frame(in); err != nil {
		return err
	}
	return k.folder.Close()
}

// all writes the slides.
func (k *deck) all(ctx context.Context) error {
	d := k.doc
	lead := d.Kind
	if d.Draft != "" {
		lead = d.Draft
	}
	l := k.cover
	shapes := k.in(l.place("ctrTitle", "title"), frame{x: margin, y: 100, w: k.width - 2*margin, h: 80}, 4, "Title", d.Title) +
		k.in(l.place("subTitle", "body", "obj"), frame{x: margin, y: 200, w: k.width - 2*margin, h: 80}, 5, "About", lead+"\n"+d.Meta) + k.notice(d.Notice, k.height-160)
	if err := k.slide(l, shapes, nil, d.Title+"\n"+d.Meta); err != nil {
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
	return ctx.Err()
}

// block writes the slides of a block: one for each picture of it, or one of words.
func (k *deck) block(b flow.Block) error {
	if b.Heading() {
		return k.slide(k.section, k.titled(k.section, strings.TrimSpace(b.Number+" "+b.Title)), nil, b.Title)
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
	if len(b.Pictures) == 0 {
		l := k.worded
		shapes, room := k.warned(l, title, b.Notice)
		if at := l.place("body", "obj"); at != nil && b.Notice == nil {
			shapes += k.in(at, room, 5, "Words", said)
		} else {
			shapes += box(5, "Words", room, 20, said)
		}
		return k.slide(l, shapes, nil, notes)
	}
	l := k.pictured
	for i, p := range b.Pictures {
		n := b.Notice
		if i > 0 {
			n = nil
		}
		shapes, room := k.warned(l, title, n)
		// The words stand in one line or two below the picture, or where the layout has a place for them; all of them are
		// in the notes.
		const foot = 56.0
		short := shortened(said, 220)
		if at, words := l.place("pic"), l.place("body"); at != nil && n == nil {
			room = *at
			if words != nil && i == 0 {
				shapes += k.in(words, *words, 5, "Words", short)
			}
		} else {
			if i == 0 {
				shapes += box(5, "Words", frame{x: room.x, y: room.y + room.h - foot, w: room.w, h: foot}, 16, short)
			}
			room.h -= foot + 4
		}
		if err := k.slide(l, shapes, &placed{p, room}, notes); err != nil {
			return err
		}
	}
	return nil
}

// titled is the title of a slide.
func (k *deck) titled(l master, title string) string {
	return k.in(l.place("title", "ctrTitle"), frame{x: margin, y: 18, w: k.width - 2*margin, h: 56}, 4, "Title", title)
}

// warned are the title of a slide and its notice, and the room that is left.
func (k *deck) warned(l master, title string, n *flow.Notice) (string, frame) {
	room := k.room(l)
	shapes := k.titled(l, title)
	if n != nil {
		shapes += k.notice(n, room.y)
		tall := 12 + 20*float64(max(1, len(n.Lines)))
		room.y, room.h = room.y+tall, room.h-tall
	}
	return shapes, room
}

// room is what a layout leaves for words and pictures.
func (k *deck) room(l master) frame {
	if at := l.place("obj", "body", "pic"); at != nil && at.w > 0 {
		return *at
	}
	top := margin + 54
	if t := l.place("title", "ctrTitle"); t != nil && t.h > 0 {
		top = min(t.y+t.h+16, k.height/2)
	}
	return frame{x: margin, y: top, w: k.width - 2*margin, h: k.height - top - margin/2}
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
	picture *flow.Picture
	frame
}

// notice is a panel with the signal word and what is said, from a height on.
func (k *deck) notice(n *flow.Notice, y float64) string {
	if n == nil {
		return ""
	}
	color, ink := office.Panel(n.Signal)
	fill := `<a:solidFill><a:srgbClr val="` + color + `"/></a:solidFill>`
	line := `<a:ln w="19050">` + fill + `</a:ln>`
	tall := 4 + 20*float64(max(1, len(n.Lines)))
	return shape(8, "Signal word", margin, y, 120, tall, fill+line, paragraphs(n.Word, 16, `b="1"`, ink)) +
		shape(9, "Notice", margin+120, y, k.width-2*margin-120, tall, `<a:noFill/>`+line, paragraphs(strings.Join(n.Lines, "\n"), 14, "", ""))
}

// in fills a place of a layout with words; where it has no such place, they stand in a frame.
func (k *deck) in(at *frame, otherwise frame, id int, name, text string) string {
	if at == nil {
		return box(id, name, otherwise, 24, text)
	}
	return place(*at, id, name, text)
}

// place fills a place of a layout.
func place(at frame, id int, name, text string) string {
	named := ""
	if at.kind != "obj" {
		named = ` type="` + at.kind + `"`
	}
	if at.index != "" {
		named += ` idx="` + office.Esc(at.index) + `"`
	}
	return fmt.Sprintf(`<p:sp><p:nvSpPr><p:cNvPr id="%d" name="%s"/><p:cNvSpPr/><p:nvPr><p:ph%s/></p:nvPr></p:nvSpPr><p:spPr/><p:txBody><a:bodyPr><a:normAutofit/></a:bodyPr><a:lstStyle/>%s</p:txBody></p:sp>`,
		id, name, named, paragraphs(text, 0, "", ""))
}

func box(id int, name string, at frame, size float64, text string) string {
	return shape(id, name, at.x, at.y, at.w, at.h, `<a:noFill/>`, paragraphs(text, size, "", ""))
}

func shape(id int, name string, x, y, w, h float64, look, text string) string {
	return fmt.Sprintf(`<p:sp><p:nvSpPr><p:cNvPr id="%d" name="%s"/><p:cNvSpPr txBox="1"/><p:nvPr/></p:nvSpPr><p:spPr><a:xfrm><a:off x="%d" y="%d"/><a:ext cx="%d" cy="%d"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom>%s</p:spPr>`+
		`<p:txBody><a:bodyPr wrap="square" lIns="91440" tIns="36000" rIns="91440" bIns="36000"><a:normAutofit/></a:bodyPr><a:lstStyle/>%s</p:txBody></p:sp>`,
		id, name, emu(x), emu(y), emu(w), emu(h), look, text)
}

// paragraphs are a text by its lines.
func paragraphs(said string, size float64, more, color string) string {
	var out strings.Builder
	if size > 0 {
		more = fmt.Sprintf(`sz="%d" %s`, int(size*100), more)
	}
	fill := ""
	if color != "" {
		fill = `<a:solidFill><a:srgbClr val="` + color + `"/></a:solidFill>`
	}
	for _, line := range strings.Split(said, "\n") {
		direction := ""
		if text.RightToLeft(line) {
			direction = `<a:pPr rtl="1" algn="r"/>`
		}
		if line == "" {
			out.WriteString(`<a:p/>`)
			continue
		}
		fmt.Fprintf(&out, `<a:p>%s<a:r><a:rPr %s dirty="0">%s</a:rPr><a:t>%s</a:t></a:r></a:p>`, direction, more, fill, office.Esc(strings.ReplaceAll(line, "\t", "   ")))
	}
	return out.String()
}

// clip puts a clip into the file.
func (k *deck) clip(name string, p *flow.Picture) error {
	c, err := p.Clip()
	if err != nil {
		return err
	}
	defer c.Data.Close()
	to, err := k.folder.Create("ppt/media/"+name, true)
	if err == nil {
		_, err = io.Copy(to, c.Data)
	}
	if err != nil {
		return fmt.Errorf("writing %s: %w", name, err)
	}
	return nil
}

// slide writes one slide in a layout, with its picture and its notes.
func (k *deck) slide(l master, shapes string, p *placed, notes string) error {
	k.slides++
	own := fmt.Sprint(k.name, k.slides)
	related := []office.Relation{{ID: "l", Kind: "slideLayout", Target: "/" + l.part}, {ID: "n", Kind: "notesSlide", Target: "../notesSlides/" + own + ".xml"}}
	if p != nil {
		file, w, h, err := p.picture.Measured()
		if err != nil {
			return err
		}
		k.drawn++
		name := fmt.Sprintf("%spicture%03d.%s", k.name, k.drawn, flow.Extension(file))
		if err := k.folder.Put("ppt/media/"+name, file.Data, true); err != nil {
			return err
		}
		related = append(related, office.Relation{ID: "p", Kind: "image", Target: "../media/" + name})
		click, movie := "", "<p:nvPr/>"
		if p.picture.Moves() {
			clip := fmt.Sprintf("%sclip%03d.mp4", k.name, k.drawn)
			if err := k.clip(clip, p.picture); err != nil {
				return err
			}
			// The film of ECMA-376 leads to the file; that of 2010, which programs play today, has it embedded.
			related = append(related, office.Relation{ID: "v", Kind: "video", Target: "../media/" + clip}, office.Relation{ID: "m", Kind: "http://schemas.microsoft.com/office/2007/relationships/media", Target: "../media/" + clip})
			click = `<a:hlinkClick r:id="" action="ppaction://media"/>`
			movie = `<p:nvPr><a:videoFile r:link="v"/><p:extLst><p:ext uri="{DAA4B4D4-6D71-4841-9C94-3DE7FCFB9230}"><p14:media xmlns:p14="http://schemas.microsoft.com/office/powerpoint/2010/main" r:embed="m"/></p:ext></p:extLst></p:nvPr>`
		}
		by := min(p.w/float64(w), p.h/float64(h), 2*k.style.Steps.Largest)
		wide, high := float64(w)*by, float64(h)*by
		shapes += fmt.Sprintf(`<p:pic><p:nvPicPr><p:cNvPr id="7" name="%s" descr="%s">%s</p:cNvPr><p:cNvPicPr><a:picLocks noChangeAspect="1"/></p:cNvPicPr>%s</p:nvPicPr><p:blipFill><a:blip r:embed="p"/><a:stretch><a:fillRect/></a:stretch></p:blipFill>`+
			`<p:spPr><a:xfrm><a:off x="%d" y="%d"/><a:ext cx="%d" cy="%d"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></p:spPr></p:pic>`,
			name, office.Esc(p.picture.Alt), click, movie, emu(p.x+(p.w-wide)/2), emu(p.y+(p.h-high)/2), emu(wide), emu(high))
	}
	put := func(name, data string) error { return k.folder.Put(name, []byte(office.Declaration+data), false) }
	if err := put("ppt/slides/"+own+".xml", `<p:sld `+spaces+`><p:cSld><p:spTree>`+group+shapes+`</p:spTree></p:cSld><p:clrMapOvr><a:masterClrMapping/></p:clrMapOvr></p:sld>`); err != nil {
		return err
	}
	if err := put("ppt/slides/_rels/"+own+".xml.rels", office.RelationList(related...)); err != nil {
		return err
	}
	body := `<p:sp><p:nvSpPr><p:cNvPr id="2" name="Slide"/><p:cNvSpPr><a:spLocks noGrp="1" noRot="1" noChangeAspect="1"/></p:cNvSpPr><p:nvPr><p:ph type="sldImg"/></p:nvPr></p:nvSpPr><p:spPr/></p:sp>` + place(frame{kind: "body", index: "1"}, 3, "Notes", notes)
	if err := put("ppt/notesSlides/"+own+".xml", `<p:notes `+spaces+`><p:cSld><p:spTree>`+group+body+`</p:spTree></p:cSld><p:clrMapOvr><a:masterClrMapping/></p:clrMapOvr></p:notes>`); err != nil {
		return err
	}
	return put("ppt/notesSlides/_rels/"+own+".xml.rels", office.RelationList(
		office.Relation{ID: "m", Kind: "notesMaster", Target: "/" + k.notes}, office.Relation{ID: "s", Kind: "slide", Target: "../slides/" + own + ".xml"}))
}

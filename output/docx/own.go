package docx

import (
	"context"
	"fmt"
	"io"
	"maps"
	"path"
	"slices"
	"strconv"
	"strings"

	"raconte/core/refusal"
	"raconte/core/style"
	"raconte/output"
	"raconte/output/flow"
	"raconte/output/office"

	"github.com/beevik/etree"
)

// The parts of a template that are looked for.
const (
	mainPart  = "word/document.xml"
	stylePart = "word/styles.xml"
	listPart  = "word/numbering.xml"
	kindPart  = "application/vnd.openxmlformats-officedocument.wordprocessingml."
)

const spaceOfWord = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"

// Check says what is to be said of a template of the house: it is filled in with a document of everything.
func (Format) Check(ctx context.Context, own output.Own) ([]output.Note, error) {
	return writeOwn(ctx, io.Discard, flow.Sample(), output.Options{Own: &own})
}

// writeOwn fills in a template of the house (.docx or .dotx), and says what was to be said of it.
func writeOwn(ctx context.Context, w io.Writer, in output.Input, o output.Options) ([]output.Note, error) {
	pkg, err := office.Open(o.Own.Data, mainPart)
	if err != nil {
		return nil, err
	}
	main, err := pkg.XML(mainPart)
	if err != nil {
		return nil, err
	}
	text := main.FindElement("/document/body")
	if text == nil || main.Root().NamespaceURI() != spaceOfWord || main.Root().Space != string(office.Word) {
		return nil, refusal.New("The template is not in the usual form of DOCX (ECMA-376, transitional). Save it as an ordinary Word document and add it again.")
	}
	declare(main.Root())
	st := in.Edition.Style
	if st.Language == "" {
		st = style.Default()
	}
	d := flow.Read(ctx, in, o)
	b := &body{doc: d, style: st, folder: flow.NewFolder(w, in.Made), reader: d.Story().Reader(), room: roomOf(text, st), prefix: "raconte", marked: 10000}
	if err := b.adopt(pkg); err != nil {
		return nil, err
	}
	f := &filler{body: b, ctx: ctx, left: mostElements}
	for _, said := range pkg.Notes {
		f.notes = append(f.notes, output.Note{Text: said})
	}
	bands := map[string]*etree.Document{}
	for _, part := range append(pkg.Related(mainPart, "header"), pkg.Related(mainPart, "footer")...) {
		if bands[part], err = pkg.XML(part); err != nil {
			return nil, err
		}
		declare(bands[part].Root())
		f.controls(bands[part].Root())
		f.scan(bands[part].Root())
	}
	f.controls(text)
	f.scan(text)
	for _, part := range slices.Sorted(maps.Keys(bands)) {
		f.where = "in the " + strings.TrimRight(strings.TrimSuffix(path.Base(part), ".xml"), "0123456789")
		if err := f.fill(bands[part].Root(), scope{band: true, room: b.room}); err != nil {
			return nil, err
		}
		if err := pkg.SetXML(part, bands[part]); err != nil {
			return nil, err
		}
	}
	f.where = "in the text"
	if err := f.text(text); err != nil {
		return nil, err
	}
	if err := pkg.SetXML(mainPart, main); err != nil {
		return nil, err
	}
	if err := b.settle(pkg, in); err != nil {
		return nil, err
	}
	if err := pkg.Each(ctx, b.folder.Put); err != nil {
		return nil, err
	}
	return f.notes, b.folder.Close()
}

// declare makes the names known that what is put in is written with.
func declare(root *etree.Element) {
	for _, one := range strings.Fields(spaces) {
		name, value, _ := strings.Cut(one, "=")
		if root.SelectAttr(name) == nil {
			root.CreateAttr(name, strings.Trim(value, `"`))
		}
	}
}

// roomOf is the room on the pages of a template: that of its last section.
func roomOf(text *etree.Element, st style.Style) room {
	last := text.SelectElement("sectPr")
	if last == nil {
		return sheet(st)
	}
	points := func(path, name string) float64 {
		e := last.FindElement(path)
		if e == nil {
			return 0
		}
		v, _ := strconv.ParseFloat(e.SelectAttrValue("w:"+name, ""), 64)
		return v / 20
	}
	r := room{wide: points("pgSz", "w") - points("pgMar", "left") - points("pgMar", "right"), tall: points("pgSz", "h") - max(0, points("pgMar", "top")) - max(0, points("pgMar", "bottom"))}
	if r.wide < 40 || r.tall < 40 {
		return sheet(st)
	}
	return r
}

// adopt takes over the styles and lists of a template: what it has of ours by its name is used as it is, and what it
// lacks is added.
func (b *body) adopt(pkg *office.Package) error {
	ours := etree.NewDocument()
	if err := ours.ReadFromString(styles(b.style, b.doc.Language)); err != nil {
		return fmt.Errorf("reading our styles: %w", err)
	}
	b.ids = map[string]string{}
	if pkg.Parts[stylePart] == nil {
		return pkg.SetXML(stylePart, ours)
	}
	theirs, err := pkg.XML(stylePart)
	if err != nil {
		return err
	}
	named, taken := map[string]*etree.Element{}, map[string]bool{}
	for _, s := range theirs.Root().SelectElements("style") {
		taken[s.SelectAttrValue("w:styleId", "")] = true
		if name := s.SelectElement("name"); name != nil {
			named[s.SelectAttrValue("w:type", "")+" "+strings.ToLower(name.SelectAttrValue("w:val", ""))] = s
		}
	}
	var added []*etree.Element
	for _, s := range ours.Root().SelectElements("style") {
		id := s.SelectAttrValue("w:styleId", "")
		name := strings.ToLower(s.SelectElement("name").SelectAttrValue("w:val", ""))
		if own := named[s.SelectAttrValue("w:type", "")+" "+name]; own != nil {
			b.ids[id] = own.SelectAttrValue("w:styleId", "")
			if strings.HasPrefix(id, "Heading") && own.FindElement("pPr/numPr") != nil {
				b.numbers.styled = true
			}
			continue
		}
		b.ids[id] = id
		for taken[b.ids[id]] {
			b.ids[id] = "Raconte" + b.ids[id]
		}
		added = append(added, s)
	}
	for _, s := range added {
		s.CreateAttr("w:styleId", b.ids[s.SelectAttrValue("w:styleId", "")])
		s.RemoveAttr("w:default")
		for _, leads := range []string{"basedOn", "next"} {
			if e := s.SelectElement(leads); e != nil {
				e.CreateAttr("w:val", b.styled(e.SelectAttrValue("w:val", "")))
			}
		}
		theirs.Root().AddChild(s)
	}
	if pkg.Parts[listPart] != nil {
		lists, err := pkg.XML(listPart)
		if err != nil {
			return err
		}
		for _, e := range lists.Root().ChildElements() {
			b.numbers.abstractFrom = max(b.numbers.abstractFrom, 1+number(e, "w:abstractNumId"))
			b.numbers.listFrom = max(b.numbers.listFrom, number(e, "w:numId"))
		}
	}
	return pkg.SetXML(stylePart, theirs)
}

func number(e *etree.Element, attribute string) int {
	n, _ := strconv.Atoi(e.SelectAttrValue(attribute, "0"))
	return max(0, min(n, 1<<30))
}

// settle puts what the text leads to into the template: its lists, its pictures, its links, what is known of it.
func (b *body) settle(pkg *office.Package, in output.Input) error {
	ours := etree.NewDocument()
	if err := ours.ReadFromString(b.numbers.xml()); err != nil {
		return fmt.Errorf("reading our lists: %w", err)
	}
	relations, err := pkg.Relations(mainPart)
	if err != nil {
		return err
	}
	types := map[string]string{mainPart: kindPart + "document.main+xml"}
	if pkg.Parts[listPart] == nil {
		office.Relate(relations, "raconteLists", "numbering", "numbering.xml", false)
		types[listPart] = kindPart + "numbering+xml"
		err = pkg.SetXML(listPart, ours)
	} else {
		err = b.mergeLists(pkg, ours)
	}
	if err != nil {
		return err
	}
	if len(pkg.Related(mainPart, "styles")) == 0 {
		office.Relate(relations, "raconteStyles", "styles", "styles.xml", false)
		types[stylePart] = kindPart + "styles+xml"
	}
	for _, r := range b.related {
		office.Relate(relations, r.ID, r.Kind, r.Target, r.Outside)
	}
	if err := pkg.SetXML(office.RelationsOf(mainPart), relations); err != nil {
		return err
	}
	if pkg.Parts[office.CorePart] != nil {
		pkg.Set(office.CorePart, []byte(office.Declaration+core(b.doc, in)))
	}
	return pkg.Types(types, map[string]string{"png": "image/png", "jpg": "image/jpeg"})
}

// mergeLists puts our lists among those of a template: all abstract lists come before all others.
func (b *body) mergeLists(pkg *office.Package, ours *etree.Document) error {
	theirs, err := pkg.XML(listPart)
	if err != nil {
		return err
	}
	root := theirs.Root()
	before := func(tags ...string) int {
		for _, c := range root.ChildElements() {
			if slices.Contains(tags, c.Tag) {
				return c.Index()
			}
		}
		return len(root.Child)
	}
	for _, e := range ours.Root().ChildElements() {
		at := before("numIdMacAtCleanup")
		if e.Tag == "abstractNum" {
			at = before("num", "numIdMacAtCleanup")
		}
		root.InsertChildAt(at, e)
	}
	return pkg.SetXML(listPart, theirs)
}

package pptx

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"maps"
	"path"
	"slices"
	"strconv"
	"strings"
	"time"

	"raconte/core/refusal"
	"raconte/core/style"
	"raconte/output"
	"raconte/output/flow"
	"raconte/output/office"

	"github.com/beevik/etree"
)

const (
	mainPart = "ppt/presentation.xml"
	kindPart = "application/vnd.openxmlformats-officedocument.presentationml."
)

// Check says what is to be said of a presentation of the house.
func (Format) Check(ctx context.Context, own output.Own) ([]output.Note, error) {
	return writeOwn(ctx, io.Discard, flow.Sample(), output.Options{Own: &own})
}

// Example is a presentation to begin one of the house's own from.
func (f Format) Example() ([]byte, error) {
	in := flow.Sample()
	in.Edition.Draft, in.Made = false, time.Unix(1_700_000_000, 0)
	var buf bytes.Buffer
	err := f.Write(context.Background(), &buf, in, output.Options{})
	return buf.Bytes(), err
}

// house is a presentation of the house: its slides are made anew by its layouts.
type house struct {
	pkg       *office.Package
	main      *etree.Document
	relations *etree.Document
	notes     []output.Note
	layouts   []master
}

// master is a layout of slides: its name, its kind, and where its places are.
type master struct {
	part, name, kind string
	places           []frame
}

// frame is a place on a slide, in points.
type frame struct {
	kind, index string // "title", "body", "pic" ...; its index, as slides name it
	x, y, w, h  float64
}

// writeOwn makes a presentation by the layouts of one of the house's, and says what was to be said of it.
func writeOwn(ctx context.Context, w io.Writer, in output.Input, o output.Options) ([]output.Note, error) {
	pkg, err := office.Open(o.Own.Data, mainPart)
	if err != nil {
		return nil, err
	}
	st := in.Edition.Style
	if st.Language == "" {
		st = style.Default()
	}
	k := &deck{folder: flow.NewFolder(w, in.Made), doc: flow.Read(ctx, in, o), style: st, name: "raconte"}
	h := &house{pkg: pkg}
	for _, said := range pkg.Notes {
		h.notes = append(h.notes, output.Note{Text: said})
	}
	if err := h.open(k); err != nil {
		return nil, err
	}
	if err := k.all(ctx); err != nil {
		return nil, err
	}
	if err := h.close(k, in); err != nil {
		return nil, err
	}
	if err := pkg.Each(ctx, k.folder.Put); err != nil {
		return nil, err
	}
	return h.notes, k.folder.Close()
}

// open takes the slides out of a presentation and chooses its layouts.
func (h *house) open(k *deck) error {
	var err error
	if h.main, err = h.pkg.XML(mainPart); err != nil {
		return err
	}
	root := h.main.Root()
	if root.Tag != "presentation" || root.Space != "p" || root.NamespaceURI() != "http://schemas.openxmlformats.org/presentationml/2006/main" {
		return refusal.New("The template is not in the usual form of PPTX (ECMA-376, transitional). Save it as an ordinary presentation and add it again.")
	}
	if h.relations, err = h.pkg.Relations(mainPart); err != nil {
		return err
	}
	k.width, k.height = 720, 540 // where it is not said
	if size := root.SelectElement("sldSz"); size != nil {
		k.width, k.height = points(size, "cx"), points(size, "cy")
	}
	if k.width < 200 || k.height < 150 || k.width > 8000 || k.height > 8000 {
		return refusal.New("The slides of the template have a size that can't be used.")
	}
	h.takeOut()
	for _, m := range h.pkg.Related(mainPart, "slideMaster") {
		under, err := h.places(m)
		if err != nil {
			return err
		}
		if err := h.fill(m, k); err != nil {
			return err
		}
		for _, part := range h.pkg.Related(m, "slideLayout") {
			one, err := h.places(part)
			if err != nil {
				return err
			}
			for i, f := range one.places {
				if f.w > 0 {
					continue
				}
				for _, u := range under.places { // what a layout does not say, its master does
					if u.kind == f.kind || u.kind == "body" && f.kind != "title" && f.kind != "ctrTitle" || u.kind == "title" && f.kind == "ctrTitle" {
						one.places[i].x, one.places[i].y, one.places[i].w, one.places[i].h = u.x, u.y, u.w, u.h
						break
					}
				}
			}
			if err := h.fill(part, k); err != nil {
				return err
			}
			h.layouts = append(h.layouts, one)
		}
	}
	if len(h.layouts) == 0 {
		return refusal.New("The presentation has no layouts of slides.")
	}
	k.cover = h.choose("title", "secHead", "titleOnly")
	k.section = h.choose("secHead", "title", "titleOnly")
	k.pictured = h.choose("step", "picTx", "titleOnly", "obj")
	k.worded = h.choose("words", "obj", "tx", "titleOnly")
	for what, l := range map[string]master{"steps": k.pictured, "the first slide": k.cover} {
		if l.place("title", "ctrTitle") == nil {
			h.notes = append(h.notes, output.Note{Text: fmt.Sprintf("The layout “%s”, which %s have, has no place for a title.", l.name, what)})
		}
	}
	return nil
}

// choose is the layout that is named, or of a kind that goes best; the first where none is.
func (h *house) choose(wanted ...string) master {
	for _, want := range wanted {
		for _, l := range h.layouts {
			if strings.EqualFold(l.name, want) || l.kind == want {
				return l
			}
		}
	}
	return h.layouts[0]
}

// takeOut takes the slides out, with their notes.
func (h *house) takeOut() {
	for _, part := range h.pkg.Related(mainPart, "slide") {
		for _, notes := range h.pkg.Related(part, "notesSlide") {
			h.pkg.Remove(notes)
			h.pkg.Remove(office.RelationsOf(notes))
		}
		h.pkg.Remove(part)
		h.pkg.Remove(office.RelationsOf(part))
	}
	for _, r := range h.relations.Root().ChildElements() {
		if path.Base(r.SelectAttrValue("Type", "")) == "slide" {
			h.relations.Root().RemoveChild(r)
		}
	}
	h.pkg.DropMedia("ppt/media/")
	root := h.main.Root()
	for _, tag := range []string{"sldIdLst", "custShowLst", "extLst"} { // the extensions name sections of slides
		if e := root.SelectElement(tag); e != nil {
			root.RemoveChild(e)
		}
	}
}

func points(e *etree.Element, attribute string) float64 {
	v, _ := strconv.ParseFloat(e.SelectAttrValue(attribute, ""), 64)
	return v / 12700
}

// places are where things stand on a layout, or a master.
func (h *house) places(part string) (master, error) {
	doc, err := h.pkg.XML(part)
	if err != nil {
		return master{}, err
	}
	l := master{part: part, kind: doc.Root().SelectAttrValue("type", "")}
	if c := doc.Root().SelectElement("cSld"); c != nil {
		l.name = c.SelectAttrValue("name", "")
	}
	for _, ph := range doc.FindElements("//nvPr/ph") {
		f := frame{kind: ph.SelectAttrValue("type", "obj"), index: ph.SelectAttrValue("idx", "")}
		if at := ph.Parent().Parent().Parent().FindElement("spPr/xfrm"); at != nil {
			if off, ext := at.SelectElement("off"), at.SelectElement("ext"); off != nil && ext != nil {
				f.x, f.y, f.w, f.h = points(off, "x"), points(off, "y"), points(ext, "cx"), points(ext, "cy")
			}
		}
		l.places = append(l.places, f)
	}
	return l, nil
}

// place is the first place of the kinds; nil where there is none.
func (l master) place(kinds ...string) *frame {
	for _, k := range kinds {
		for i, f := range l.places {
			if f.kind == k {
				return &l.places[i]
			}
		}
	}
	return nil
}

// fill fills the placeholders in the words that a layout or a master bears itself.
func (h *house) fill(part string, k *deck) error {
	doc, err := h.pkg.XML(part)
	if err != nil {
		return err
	}
	for _, p := range doc.FindElements("//p") {
		if p.Space != string(office.Drawing) {
			continue
		}
		office.Drawing.Fill(p, func(name string, properties *etree.Element) ([]*etree.Element, bool) {
			said, known := k.doc.Fields[name]
			if !known {
				h.notes = append(h.notes, output.Note{Where: "on the layout “" + path.Base(part) + "”", Text: fmt.Sprintf("{%s} stands for nothing. It is left as it is.", name)})
				return nil, false
			}
			return []*etree.Element{office.Drawing.Run(properties, said)}, true
		})
	}
	return h.pkg.SetXML(part, doc)
}

// close puts the new slides into the presentation.
func (h *house) close(k *deck, in output.Input) error {
	types := map[string]string{mainPart: kindPart + "presentation.main+xml"}
	list := etree.NewElement("p:sldIdLst")
	for n := 1; n <= k.slides; n++ {
		office.Relate(h.relations, fmt.Sprint("raconteS", n), "slide", fmt.Sprintf("slides/raconte%d.xml", n), false)
		one := list.CreateElement("p:sldId")
		one.CreateAttr("id", strconv.Itoa(255+n))
		one.CreateAttr("r:id", fmt.Sprint("raconteS", n))
		types[fmt.Sprintf("ppt/slides/raconte%d.xml", n)] = kindPart + "slide+xml"
		types[fmt.Sprintf("ppt/notesSlides/raconte%d.xml", n)] = kindPart + "notesSlide+xml"
	}
	root := h.main.Root()
	if root.SelectAttr("xmlns:r") == nil {
		root.CreateAttr("xmlns:r", strings.TrimSuffix(office.Kinds, "/"))
	}
	if err := h.notesMaster(k, types); err != nil {
		return err
	}
	at := len(root.Child)
	if size := root.SelectElement("sldSz"); size != nil {
		at = size.Index()
	}
	root.InsertChildAt(at, list)
	if err := h.pkg.SetXML(office.RelationsOf(mainPart), h.relations); err != nil {
		return err
	}
	if err := h.pkg.SetXML(mainPart, h.main); err != nil {
		return err
	}
	if h.pkg.Parts[office.CorePart] != nil {
		h.pkg.Set(office.CorePart, []byte(office.Declaration+k.core(in)))
	}
	if err := h.forget(); err != nil {
		return err
	}
	return h.pkg.Types(types, map[string]string{"png": "image/png", "jpg": "image/jpeg"})
}

// forget takes out of the list of parts what is not there any more.
func (h *house) forget() error {
	doc, err := h.pkg.XML("[Content_Types].xml")
	if err != nil {
		return err
	}
	for _, e := range doc.Root().ChildElements() {
		if part := e.SelectAttrValue("PartName", ""); part != "" && h.pkg.Parts[strings.TrimPrefix(part, "/")] == nil {
			doc.Root().RemoveChild(e)
		}
	}
	return h.pkg.SetXML("[Content_Types].xml", doc)
}

// notesMaster gives a presentation a master of notes where it has none.
func (h *house) notesMaster(k *deck, types map[string]string) error {
	if all := h.pkg.Related(mainPart, "notesMaster"); len(all) > 0 {
		k.notes = all[0]
		return nil
	}
	parts := k.notesParts("raconteTheme")
	for _, name := range slices.Sorted(maps.Keys(parts)) {
		h.pkg.Set(name, []byte(office.Declaration+parts[name]))
	}
	types["ppt/notesMasters/notesMaster1.xml"] = kindPart + "notesMaster+xml"
	types["ppt/theme/raconteTheme.xml"] = "application/vnd.openxmlformats-officedocument.theme+xml"
	office.Relate(h.relations, "raconteNotes", "notesMaster", "notesMasters/notesMaster1.xml", false)
	list := etree.NewElement("p:notesMasterIdLst")
	list.CreateElement("p:notesMasterId").CreateAttr("r:id", "raconteNotes")
	root := h.main.Root()
	at := 0
	if e := root.SelectElement("sldMasterIdLst"); e != nil {
		at = e.Index() + 1
	}
	root.InsertChildAt(at, list)
	return nil
}

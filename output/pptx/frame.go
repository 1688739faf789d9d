package pptx

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"raconte/output"
	"raconte/output/office"
)

const (
	spaces = `xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships" xmlns:p="http://schemas.openxmlformats.org/presentationml/2006/main"`
	group  = `<p:nvGrpSpPr><p:cNvPr id="1" name=""/><p:cNvGrpSpPr/><p:nvPr/></p:nvGrpSpPr><p:grpSpPr/>`
	colors = `<p:clrMap bg1="lt1" tx1="dk1" bg2="lt2" tx2="dk2" accent1="accent1" accent2="accent2" accent3="accent3" accent4="accent4" accent5="accent5" accent6="accent6" hlink="hlink" folHlink="folHlink"/>`
)

// frame writes what holds the slides: the presentation, its master, its layouts and its theme, after the house style.
func (k *deck) frame(in output.Input) error {
	var list strings.Builder
	var slides []office.Relation
	types := contentTypes()
	for n := 1; n <= k.slides; n++ {
		fmt.Fprintf(&list, `<p:sldId id="%d" r:id="s%d"/>`, 255+n, n)
		slides = append(slides, office.Relation{ID: fmt.Sprint("s", n), Kind: "slide", Target: fmt.Sprintf("slides/slide%d.xml", n)})
		for _, kind := range []string{"slide", "notesSlide"} {
			types = append(types, office.Part{Name: fmt.Sprintf("ppt/%ss/slide%d.xml", kind, n), Type: kindPart + kind + "+xml"})
		}
	}
	size := fmt.Sprintf(`cx="%d" cy="%d"`, emu(width), emu(height))
	master := office.Relation{ID: "m", Kind: "slideMaster", Target: "../slideMasters/slideMaster1.xml"}
	parts := k.notesParts("theme2")
	for _, name := range slices.Sorted(maps.Keys(parts)) {
		if err := k.folder.Put(name, []byte(office.Declaration+parts[name]), false); err != nil {
			return err
		}
	}
	for _, part := range []struct{ name, data string }{
		{"ppt/presentation.xml", `<p:presentation ` + spaces + `><p:sldMasterIdLst><p:sldMasterId id="2147483648" r:id="m"/></p:sldMasterIdLst><p:notesMasterIdLst><p:notesMasterId r:id="n"/></p:notesMasterIdLst><p:sldIdLst>` + list.String() + `</p:sldIdLst><p:sldSz ` + size + `/><p:notesSz cx="6858000" cy="9144000"/></p:presentation>`},
		{"ppt/_rels/presentation.xml.rels", office.RelationList(append([]office.Relation{
			{ID: "m", Kind: "slideMaster", Target: "slideMasters/slideMaster1.xml"}, {ID: "n", Kind: "notesMaster", Target: "notesMasters/notesMaster1.xml"}, {ID: "t", Kind: "theme", Target: "theme/theme1.xml"},
		}, slides...)...)},
		{"ppt/slideMasters/slideMaster1.xml", `<p:sldMaster ` + spaces + `><p:cSld><p:bg><p:bgPr><a:solidFill><a:schemeClr val="bg1"/></a:solidFill><a:effectLst/></p:bgPr></p:bg><p:spTree>` + group +
			model(title, "ctr") + model(frame{"body", "1", margin, 90, width - 2*margin, height - 130}, "t") + `</p:spTree></p:cSld>` + colors +
			`<p:sldLayoutIdLst><p:sldLayoutId id="2147483649" r:id="l1"/><p:sldLayoutId id="2147483650" r:id="l2"/></p:sldLayoutIdLst><p:txStyles><p:titleStyle><a:lvl1pPr algn="l"><a:defRPr sz="2600" b="1"><a:solidFill><a:schemeClr val="tx1"/></a:solidFill><a:latin typeface="+mj-lt"/></a:defRPr></a:lvl1pPr></p:titleStyle>` +
			`<p:bodyStyle><a:lvl1pPr marL="0" indent="0" algn="l"><a:buNone/><a:defRPr sz="1800"><a:solidFill><a:schemeClr val="tx1"/></a:solidFill><a:latin typeface="+mn-lt"/></a:defRPr></a:lvl1pPr></p:bodyStyle><p:otherStyle/></p:txStyles></p:sldMaster>`},
		{"ppt/slideMasters/_rels/slideMaster1.xml.rels", office.RelationList(office.Relation{ID: "l1", Kind: "slideLayout", Target: "../slideLayouts/slideLayout1.xml"},
			office.Relation{ID: "l2", Kind: "slideLayout", Target: "../slideLayouts/slideLayout2.xml"}, office.Relation{ID: "t", Kind: "theme", Target: "../theme/theme1.xml"})},
		{"ppt/slideLayouts/slideLayout1.xml", layout("Step", "titleOnly", model(title, "ctr"))},
		{"ppt/slideLayouts/slideLayout2.xml", layout("Title", "secHead", model(heads.places[0], "b")+model(heads.places[1], "t"))},
		{"ppt/slideLayouts/_rels/slideLayout1.xml.rels", office.RelationList(master)},
		{"ppt/slideLayouts/_rels/slideLayout2.xml.rels", office.RelationList(master)},
		{"ppt/theme/theme1.xml", k.theme()},
		{office.CorePart, k.core(in)},
		{"_rels/.rels", office.FirstRelations(mainPart)},
		{"[Content_Types].xml", office.ContentTypes([]office.Part{{Name: "mp4", Type: "video/mp4"}}, types)},
	} {
		if err := k.folder.Put(part.name, []byte(office.Declaration+part.data), false); err != nil {
			return err
		}
	}
	return nil
}

func contentTypes() []office.Part {
	var all []office.Part
	for _, p := range []struct{ part, kind string }{
		{"presentation", "presentation.main"}, {"slideMasters/slideMaster1", "slideMaster"}, {"slideLayouts/slideLayout1", "slideLayout"},
		{"slideLayouts/slideLayout2", "slideLayout"}, {"notesMasters/notesMaster1", "notesMaster"},
	} {
		all = append(all, office.Part{Name: "ppt/" + p.part + ".xml", Type: kindPart + p.kind + "+xml"})
	}
	for _, n := range []int{1, 2} {
		all = append(all, office.Part{Name: fmt.Sprintf("ppt/theme/theme%d.xml", n), Type: "application/vnd.openxmlformats-officedocument.theme+xml"})
	}
	return all
}

func layout(name, kind, shapes string) string {
	return `<p:sldLayout ` + spaces + ` type="` + kind + `"><p:cSld name="` + name + `"><p:spTree>` + group + shapes + `</p:spTree></p:cSld><p:clrMapOvr><a:masterClrMapping/></p:clrMapOvr></p:sldLayout>`
}

// The built-in layouts.
var (
	title = frame{"title", "", margin, 18, width - 2*margin, 56}
	plain = master{part: "ppt/slideLayouts/slideLayout1.xml", places: []frame{title}}
	heads = master{part: "ppt/slideLayouts/slideLayout2.xml", places: []frame{
		{"title", "", margin * 2, 150, width - 4*margin, 110}, {"body", "1", margin * 2, 268, width - 4*margin, 90},
	}}
)

// model is a place for words on a master or a layout.
func model(f frame, anchor string) string {
	index, id := "", 2
	if f.index != "" {
		index, id = ` idx="`+f.index+`"`, 3
	}
	return fmt.Sprintf(`<p:sp><p:nvSpPr><p:cNvPr id="%d" name="%s"/><p:cNvSpPr><a:spLocks noGrp="1"/></p:cNvSpPr><p:nvPr><p:ph type="%s"%s/></p:nvPr></p:nvSpPr><p:spPr><a:xfrm><a:off x="%d" y="%d"/><a:ext cx="%d" cy="%d"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></p:spPr>`+
		`<p:txBody><a:bodyPr anchor="%s"><a:normAutofit/></a:bodyPr><a:lstStyle/><a:p><a:r><a:rPr/><a:t>%s</a:t></a:r></a:p></p:txBody></p:sp>`, id, f.kind, f.kind, index, emu(f.x), emu(f.y), emu(f.w), emu(f.h), anchor, f.kind)
}

// notesParts are the master of notes and what it needs, by their names.
func (k *deck) notesParts(theme string) map[string]string {
	return map[string]string{
		"ppt/notesMasters/notesMaster1.xml": `<p:notesMaster ` + spaces + `><p:cSld><p:spTree>` + group + `<p:sp><p:nvSpPr><p:cNvPr id="2" name="Slide"/><p:cNvSpPr><a:spLocks noGrp="1" noRot="1" noChangeAspect="1"/></p:cNvSpPr><p:nvPr><p:ph type="sldImg"/></p:nvPr></p:nvSpPr><p:spPr><a:xfrm><a:off x="685800" y="685800"/><a:ext cx="5486400" cy="3086100"/></a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></p:spPr></p:sp>` +
			model(frame{"body", "1", 54, 320, 432, 340}, "t") + `</p:spTree></p:cSld>` + colors + `</p:notesMaster>`,
		"ppt/notesMasters/_rels/notesMaster1.xml.rels": office.RelationList(office.Relation{ID: "t", Kind: "theme", Target: "../theme/" + theme + ".xml"}),
		"ppt/theme/" + theme + ".xml":                  k.theme(),
	}
}

// core is what is known of the presentation.
func (k *deck) core(in output.Input) string {
	return office.Properties{Title: k.doc.Title, Author: k.doc.Fields["author"], Language: k.doc.Language, Made: in.Made}.XML()
}

// theme are colours and faces, after the house style.
func (k *deck) theme() string {
	c := k.style.Colors
	family := k.style.Faces.Family
	if family == "" {
		family = "Atkinson Hyperlegible Next"
	}
	var scheme strings.Builder
	for _, s := range [][2]string{
		{"dk1", c.Text}, {"lt1", "#ffffff"}, {"dk2", c.Soft}, {"lt2", c.Shade}, {"accent1", c.Accent}, {"accent2", "#c8102e"}, {"accent3", "#ff8200"},
		{"accent4", "#ffd100"}, {"accent5", "#0067b1"}, {"accent6", c.Line}, {"hlink", c.Accent}, {"folHlink", c.Accent},
	} {
		fmt.Fprintf(&scheme, `<a:%s><a:srgbClr val="%s"/></a:%s>`, s[0], strings.ToUpper(s[1][1:7]), s[0])
	}
	face := `<a:latin typeface="` + office.Esc(family) + `"/><a:ea typeface=""/><a:cs typeface=""/>`
	solid := strings.Repeat(`<a:solidFill><a:schemeClr val="phClr"/></a:solidFill>`, 3)
	return `<a:theme xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" name="` + office.Esc(k.style.Name) + `"><a:themeElements><a:clrScheme name="House">` + scheme.String() + `</a:clrScheme>` +
		`<a:fontScheme name="House"><a:majorFont>` + face + `</a:majorFont><a:minorFont>` + face + `</a:minorFont></a:fontScheme><a:fmtScheme name="House"><a:fillStyleLst>` + solid + `</a:fillStyleLst><a:lnStyleLst>` +
		strings.Repeat(`<a:ln w="9525"><a:solidFill><a:schemeClr val="phClr"/></a:solidFill></a:ln>`, 3) + `</a:lnStyleLst><a:effectStyleLst>` + strings.Repeat(`<a:effectStyle><a:effectLst/></a:effectStyle>`, 3) +
		`</a:effectStyleLst><a:bgFillStyleLst>` + solid + `</a:bgFillStyleLst></a:fmtScheme></a:themeElements></a:theme>`
}

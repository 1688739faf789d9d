package prose

import (
	"archive/zip"
	"bytes"
	"context"
	"io/fs"
	"path"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"raconte/core/words"
	"raconte/intake"

	"github.com/beevik/etree"
)

const mostXML = 12 << 20 // bytes of one part of a DOCX file

// readDOCX reads a file of Office Open XML (ECMA-376, WordprocessingML).
func readDOCX(_ context.Context, files fs.FS, name string) (*source, func(string) ([]byte, error), error) {
	raw, err := readFile(files, name, MostBytes)
	if err != nil {
		return nil, nil, err
	}
	z, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	if err != nil || len(z.File) > mostFiles {
		return nil, nil, refuse("%s is no DOCX file, or it is damaged.", path.Base(name))
	}
	var total uint64
	for _, f := range z.File {
		if total += f.UncompressedSize64; total > mostUnpacked {
			return nil, nil, refuse("%s unpacks to more than is allowed.", path.Base(name))
		}
	}
	r := &docxReader{source: &source{}, zip: z, count: &listCount{last: map[string]string{}}, notes: &notes{of: map[string][]words.Node{}}}
	main, err := r.part("word/document.xml")
	if err != nil {
		return nil, nil, refuse("%s is no DOCX file, or it is damaged.", path.Base(name))
	}
	r.readTitle()
	r.readStyles()
	r.readNumbering()
	r.readTargets()
	r.notes.read(r)
	if body := main.FindElement("//body"); body != nil {
		r.flow(body)
	}
	r.after = r.notes.said
	if p, err := r.part("word/comments.xml"); err == nil && strings.TrimSpace(text(p)) != "" {
		r.leave("Comments.")
	}
	for _, f := range z.File {
		if r.own {
			break // what they say is the house's
		}
		if headOrFoot.MatchString(f.Name) {
			if p, err := r.part(f.Name); err == nil && strings.TrimSpace(text(p)) != "" {
				r.leave("Headers and footers.")
			}
		}
	}
	return r.source, r.picture, nil
}

var headOrFoot = regexp.MustCompile(`^word/(header|footer)\d*\.xml$`)

type docxReader struct {
	*source
	zip     *zip.Reader
	styles  map[string]docxStyle
	lists   map[string]docxList // by their ids
	targets map[string]string   // of relationships, by their ids
	count   *listCount
	notes   *notes
}

type docxList struct {
	abstract string
	numbered map[string]bool // by the level
	anew     bool            // it begins at 1 though another counts like it
	first    bool            // what it begins with is 1
}

type docxStyle struct {
	name    string // in small letters
	heading int
	title   bool
	caption bool
	list    string // its list's id
	based   string
	hidden  bool // its text is not shown
}

func (r *docxReader) part(name string) (*etree.Element, error) {
	raw, err := readFile(r.zip, name, mostXML)
	if err != nil {
		return nil, err
	}
	if err := boundXML(name, raw); err != nil {
		return nil, err
	}
	doc := etree.NewDocument()
	if err := doc.ReadFromBytes(raw); err != nil || doc.Root() == nil {
		return nil, refuse("%s is damaged.", name)
	}
	return doc.Root(), nil
}

func value(e *etree.Element, child string) string {
	if c := e.SelectElement(child); c != nil {
		return c.SelectAttrValue("val", "")
	}
	return ""
}

func (r *docxReader) readStyles() {
	r.styles = map[string]docxStyle{}
	root, err := r.part("word/styles.xml")
	if err != nil {
		return
	}
	for _, e := range root.SelectElements("style") {
		name := strings.ToLower(value(e, "name"))
		s := docxStyle{name: name, based: value(e, "basedOn")}
		if n, is := strings.CutPrefix(name, "heading "); is {
			s.heading, _ = strconv.Atoi(n) // 0 for one that only sounds like a heading
		}
		s.title, s.caption = name == "title", name == "caption"
		if p := e.SelectElement("rPr"); p != nil {
			s.hidden = on(p, "vanish")
		}
		if p := e.SelectElement("pPr"); p != nil {
			if level, err := strconv.Atoi(value(p, "outlineLvl")); err == nil && level < 9 && s.heading == 0 {
				s.heading = level + 1
			}
			if n := p.SelectElement("numPr"); n != nil {
				s.list = value(n, "numId")
			}
		}
		r.styles[e.SelectAttrValue("styleId", "")] = s
	}
	there := map[string]bool{}
	for _, s := range r.styles {
		there[s.name] = true
	}
	r.own = there[ownKind] && there[ownMore]
}

// readTitle reads what the file says that it is called (Dublin Core, in the core properties).
func (r *docxReader) readTitle() {
	if core, err := r.part("docProps/core.xml"); err == nil {
		if t := core.SelectElement("title"); t != nil {
			r.title = strings.Join(strings.Fields(t.Text()), " ")
			r.named = r.title != ""
		}
	}
}

// style is a paragraph style with what it takes from those that it is based on.
func (r *docxReader) style(id string) docxStyle {
	s := r.styles[id]
	for based, n := s.based, 0; based != "" && n < 10; n++ {
		b := r.styles[based]
		if s.heading == 0 {
			s.heading = b.heading
		}
		if s.list == "" {
			s.list = b.list
		}
		s.caption = s.caption || b.caption
		based = b.based
	}
	return s
}

func (r *docxReader) readNumbering() {
	r.lists = map[string]docxList{}
	root, err := r.part("word/numbering.xml")
	if err != nil {
		return
	}
	type kind struct {
		numbered map[string]bool
		start    string
	}
	abstract := map[string]kind{}
	for _, a := range root.SelectElements("abstractNum") {
		k := kind{map[string]bool{}, "1"}
		for _, l := range a.SelectElements("lvl") {
			format, level := value(l, "numFmt"), l.SelectAttrValue("ilvl", "0")
			k.numbered[level] = format != "bullet" && format != "none" && format != ""
			if start := value(l, "start"); level == "0" && start != "" {
				k.start = start
			}
		}
		abstract[a.SelectAttrValue("abstractNumId", "")] = k
	}
	for _, n := range root.SelectElements("num") {
		a := value(n, "abstractNumId")
		list := docxList{abstract: a, numbered: abstract[a].numbered}
		start := abstract[a].start
		for _, o := range n.SelectElements("lvlOverride") {
			if at := value(o, "startOverride"); at != "" && o.SelectAttrValue("ilvl", "0") == "0" {
				list.anew, start = true, at
			}
		}
		list.first = start == "1"
		r.lists[n.SelectAttrValue("numId", "")] = list
	}
}

// listCount knows which lists have begun.
type listCount struct {
	last map[string]string // the list that counted last, by the abstract one that it counts like
}

// begins tells whether a list begins at 1 with the paragraph at hand. Lists of one abstract one count on from each
// other, but where one says that it begins anew.
func (c *listCount) begins(id string, l docxList) bool {
	before, counted := c.last[l.abstract]
	c.last[l.abstract] = id
	return l.first && (!counted || l.anew && before != id)
}

func (r *docxReader) readTargets() {
	r.targets = map[string]string{}
	root, err := r.part("word/_rels/document.xml.rels")
	if err != nil {
		return
	}
	for _, e := range root.ChildElements() {
		r.targets[e.SelectAttrValue("Id", "")] = e.SelectAttrValue("Target", "")
	}
}

// picture is a file of the package by its relationship's id.
func (r *docxReader) picture(id string) ([]byte, error) {
	target := r.targets[id]
	at := path.Join("word", target)
	if strings.HasPrefix(target, "/") {
		at = target[1:]
	}
	if target == "" || !fs.ValidPath(at) {
		return nil, refuse("It is not in the file.")
	}
	return readFile(r.zip, at, intake.MostBytes)
}

func (r *docxReader) flow(parent *etree.Element) {
	for _, e := range parent.ChildElements() {
		if len(r.pieces) > mostPieces {
			r.leave("What lies further down than can be read.")
			return
		}
		switch e.Tag {
		case "p":
			r.paragraph(e)
		case "tbl":
			r.pieces = append(r.pieces, piece{table: r.rows(e), ours: r.oursOf(e)})
		case "sdt":
			if g := e.FindElement("sdtPr/docPartObj/docPartGallery"); g != nil && g.SelectAttrValue("val", "") == "Table of Contents" {
				continue // it is made anew
			}
			if c := e.SelectElement("sdtContent"); c != nil {
				r.flow(c)
			}
		}
	}
}

// place is what a paragraph is in its list: whether it is in one, which, how deep, and whether that is numbered.
func (r *docxReader) place(p *etree.Element, s docxStyle) (in bool, list string, level int, numbered bool) {
	at := "0"
	list = s.list
	if pr := p.FindElement("pPr/numPr"); pr != nil {
		list = value(pr, "numId")
		if l := value(pr, "ilvl"); l != "" {
			at = l
		}
	}
	if list == "" || list == "0" {
		return false, "", 0, false
	}
	level, _ = strconv.Atoi(at) // the outermost, where it is none
	return true, list, level, r.lists[list].numbered[at]
}

// styleID is the id of a paragraph's style; "" where it has none, or is none.
func styleID(p *etree.Element) string {
	if p == nil {
		return ""
	}
	if pr := p.SelectElement("pPr"); pr != nil {
		return value(pr, "pStyle")
	}
	return ""
}

func (r *docxReader) paragraph(p *etree.Element) {
	id := styleID(p)
	if r.hiddenStyle(id) {
		r.leave("What was hidden or deleted.")
		return
	}
	style := r.style(id)
	if strings.HasPrefix(style.name, "toc ") || style.name == "toc heading" {
		return // contents are made anew
	}
	inline, shows := r.runs(p, words.Style{}, 0)
	inline = tidied(inline)
	if r.own && r.ourParagraph(p, style.name, inline, shows) {
		return
	}
	said := r.oursOf(p)
	switch in, list, level, numbered := r.place(p, style); {
	case style.title && len(r.pieces) == 0 && (r.title == "" || r.title == plain(inline)):
		r.title = plain(inline)
	case style.heading > 0:
		r.pieces = append(r.pieces, piece{heading: style.heading, inline: inline, ours: said})
		if len(shows) > 0 {
			r.pieces = append(r.pieces, piece{shows: shows})
		}
	case style.caption && len(shows) == 0 && len(inline) > 0:
		r.pieces = append(r.pieces, piece{inline: inline, caption: true})
	case in && level == 0 && numbered:
		r.pieces = append(r.pieces, piece{item: true, begins: r.count.begins(list, r.lists[list]), blocks: paragraphs(inline), shows: shows, ours: said})
	case in:
		r.item(inline, shows, numbered, level, said)
	case len(inline) > 0 || len(shows) > 0 || said.apart:
		r.pieces = append(r.pieces, piece{inline: inline, shows: shows, ours: said})
	}
}

func paragraphs(inline []words.Node) []words.Node {
	if len(inline) == 0 {
		return nil
	}
	return []words.Node{{Type: "paragraph", Content: inline}}
}

// item adds to the list that is going on: in the step before it where it lies deeper, else to a list of its own.
func (r *docxReader) item(inline []words.Node, shows []shown, numbered bool, level int, said ours) {
	kind := "bulletList"
	if numbered {
		kind = "orderedList"
	}
	item := words.Node{Type: "listItem", Content: []words.Node{{Type: "paragraph", Content: inline}}}
	n := len(r.pieces)
	goesOn := n > 0 && !said.apart && (level > 0 && r.pieces[n-1].item || r.pieces[n-1].blocks != nil && !r.pieces[n-1].item)
	if !goesOn {
		r.pieces = append(r.pieces, piece{blocks: []words.Node{{Type: kind, Content: []words.Node{item}}}, shows: shows, ours: said})
		return
	}
	p := &r.pieces[n-1]
	p.shows = append(p.shows, shows...)
	if last := len(p.blocks) - 1; last >= 0 && p.blocks[last].Type == kind {
		p.blocks[last].Content = append(p.blocks[last].Content, item)
		return
	}
	p.blocks = append(p.blocks, words.Node{Type: kind, Content: []words.Node{item}})
}

func (r *docxReader) rows(table *etree.Element) []row {
	rows := []row{}
	for _, tr := range table.SelectElements("tr") {
		if pr := tr.SelectElement("trPr"); pr != nil && (pr.SelectElement("del") != nil || on(pr, "hidden")) {
			r.leave("What was hidden or deleted.")
			continue
		}
		var out row
		head := tr.FindElement("trPr/tblHeader") != nil
		for _, tc := range tr.SelectElements("tc") {
			c := cell{head: head || r.own && r.style(styleID(tc.SelectElement("p"))).name == ownHead}
			span, _ := strconv.Atoi(spanOf(tc))
			if m := tc.FindElement("tcPr/vMerge"); span > 1 || m != nil {
				r.leave(mergedCells)
			}
			inner := *r
			inner.source = &source{left: r.left, own: r.own}
			inner.flow(tc)
			r.left = inner.left
			for _, p := range inner.pieces {
				c.shows = append(c.shows, p.shows...)
				c.blocks = append(append(c.blocks, paragraphs(p.inline)...), p.blocks...)
				for _, deep := range p.table {
					for _, d := range deep {
						c.blocks, c.shows = append(c.blocks, d.blocks...), append(c.shows, d.shows...)
					}
				}
			}
			out = append(out, c)
			for range min(span, mostSpan) - 1 {
				out = append(out, cell{head: head})
			}
		}
		if len(out) > 0 {
			rows = append(rows, out)
		}
	}
	return rows
}

// mergedCells is said of tables whose cells span several: columns stay where they are, words stand in the first.
const mergedCells = "That cells of a table were merged: their words stand in the first, and the others are empty."

const mostSpan = 60 // columns or rows of one cell

func spanOf(tc *etree.Element) string {
	if s := tc.FindElement("tcPr/gridSpan"); s != nil {
		return s.SelectAttrValue("val", "")
	}
	return ""
}

// runs reads the words and pictures in a paragraph, or in a part of one.
func (r *docxReader) runs(parent *etree.Element, link words.Style, depth int) (out []words.Node, shows []shown) {
	if depth > deepest {
		return nil, nil
	}
	for _, e := range parent.ChildElements() {
		var text []words.Node
		var pictures []shown
		switch e.Tag {
		case "r":
			text, pictures = r.run(e, link)
		case "hyperlink":
			l := link
			if href := r.targets[e.SelectAttrValue("id", "")]; words.SafeLink(href) {
				l = words.Style{Type: "link", Attrs: &words.Attrs{Href: href}}
			}
			text, pictures = r.runs(e, l, depth+1)
			if to := e.SelectAttrValue("anchor", ""); r.own && to != "" && len(text) > 0 {
				text = []words.Node{{Type: "reference", Text: plain(text), Attrs: &words.Attrs{To: to, Kind: words.ToStep}}}
			}
		case "del", "moveFrom":
			r.leave("What was hidden or deleted.")
		case "ins", "moveTo", "smartTag", "fldSimple", "sdt", "sdtContent":
			text, pictures = r.runs(e, link, depth+1)
		case "oMath", "oMathPara":
			r.leave("A drawing or a formula.")
		}
		out, shows = append(out, text...), append(shows, pictures...)
	}
	return out, shows
}

func (r *docxReader) run(e *etree.Element, link words.Style) (out []words.Node, shows []shown) {
	var styles []words.Style
	if r.vanishes(e.SelectElement("rPr"), "rStyle") {
		r.leave("What was hidden or deleted.")
		return nil, nil
	}
	if pr := e.SelectElement("rPr"); pr != nil {
		for tag, style := range map[string]string{"b": "bold", "i": "italic"} {
			if on(pr, tag) {
				styles = append(styles, words.Style{Type: style})
			}
		}
		if len(styles) == 2 && styles[0].Type == "italic" {
			styles[0], styles[1] = styles[1], styles[0]
		}
	}
	if kind := letters[r.letterStyle(e)]; r.own && kind != "" {
		styles = append(styles, words.Style{Type: kind})
	}
	if link.Type != "" {
		styles = append(styles, link)
	}
	for _, c := range e.ChildElements() {
		switch c.Tag {
		case "t":
			if s := spaced(c.Text()); s != "" {
				out = append(out, words.Node{Type: "text", Text: s, Marks: styles})
			}
		case "tab":
			out = append(out, words.Node{Type: "text", Text: " ", Marks: styles})
		case "br", "cr":
			if c.SelectAttrValue("type", "") == "" {
				out = append(out, words.Node{Type: "hardBreak"})
			}
		case "footnoteReference", "endnoteReference":
			out = append(out, r.notes.refer(c)...)
		case "noBreakHyphen":
			out = append(out, words.Node{Type: "text", Text: "\u2011", Marks: styles})
		case "drawing", "pict", "object", "AlternateContent":
			shows = append(shows, r.drawn(c)...)
		}
	}
	return out, shows
}

// letterStyle is the name of the style of letters that a run has; "" for none.
func (r *docxReader) letterStyle(run *etree.Element) string {
	if pr := run.SelectElement("rPr"); pr != nil {
		return r.styles[value(pr, "rStyle")].name
	}
	return ""
}

// on tells whether a property is set that is either on or off (ST_OnOff).
func on(pr *etree.Element, tag string) bool {
	e := pr.SelectElement(tag)
	return e != nil && !slices.Contains([]string{"0", "false", "off"}, e.SelectAttrValue("val", "1"))
}

// vanishes tells whether properties hide the text that they are of, by themselves or by the style that they name.
func (r *docxReader) vanishes(pr *etree.Element, style string) bool {
	if pr == nil {
		return false
	}
	if v := pr.SelectElement("vanish"); v != nil {
		return on(pr, "vanish")
	}
	return r.hiddenStyle(value(pr, style))
}

// hiddenStyle tells whether a style, or one that it is based on, hides its text.
func (r *docxReader) hiddenStyle(id string) bool {
	for n := 0; id != "" && n < 10; n++ {
		s := r.styles[id]
		if s.hidden {
			return true
		}
		id = s.based
	}
	return false
}

func hiddenDrawing(e *etree.Element) bool {
	p := e.SelectElement("docPr")
	return p != nil && (p.SelectAttrValue("hidden", "0") == "1" || p.SelectAttrValue("hidden", "") == "true")
}

// drawn are the pictures of a drawing; of two ways to draw it, the first.
func (r *docxReader) drawn(e *etree.Element) []shown {
	var all []shown
	var look func(e *etree.Element, alt string)
	boxed, hidden := false, false
	look = func(e *etree.Element, alt string) {
		for _, c := range e.ChildElements() {
			switch {
			case c.Tag == "Fallback" && len(all) > 0:
			case (c.Tag == "inline" || c.Tag == "anchor") && hiddenDrawing(c):
				hidden = true
			case c.Tag == "blip" && c.SelectAttrValue("embed", "") != "":
				all = append(all, shown{c.SelectAttrValue("embed", ""), cropOf(c), alt})
			case c.Tag == "imagedata" && c.SelectAttrValue("id", "") != "":
				all = append(all, shown{c.SelectAttrValue("id", ""), cropOf(c), alt})
			case c.Tag == "txbxContent":
				boxed = true
			case c.Tag == "inline" || c.Tag == "anchor":
				if p := c.SelectElement("docPr"); p != nil {
					alt = p.SelectAttrValue("descr", "")
				}
				look(c, alt)
			case c.Tag == "shape":
				look(c, c.SelectAttrValue("alt", ""))
			default:
				look(c, alt)
			}
		}
	}
	look(e, "")
	switch {
	case boxed:
		r.leave("A text box.")
	case hidden:
		r.leave("What was hidden or deleted.")
	case len(all) == 0:
		r.leave("A drawing or a formula.")
	}
	return all
}

func text(e *etree.Element) string {
	s := ""
	for _, t := range e.FindElements(".//t") {
		s += t.Text()
	}
	return s
}

package docx

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"raconte/core/refusal"
	"raconte/output"
	"raconte/output/flow"
	"raconte/output/office"

	"github.com/beevik/etree"
)

// mostElements bounds what a template may grow to.
const mostElements = 400_000

// filler fills in the text of a template.
type filler struct {
	*body
	ctx   context.Context
	where string // "in the text"
	notes []output.Note
	seen  map[string]bool // placeholders that stand anywhere in it
	left  int             // elements that may still be made
}

// scope is what a piece of a template is filled in from.
type scope struct {
	band bool // in a header or a footer
	part *flow.Part
	step *flow.Block
	room room
}

// Placeholders that hold their places with words of their own paragraphs, by what they belong to.
var (
	ofDocument = []string{"document", "contents", "notice", "meta", "address", "draft", "signal", "steps", "page", "pages"}
	ofSection  = []string{"section number", "section title"}
	ofStep     = []string{"step number", "step title", "step words", "step pictures", "step notice", "step critical", "step time", "step links"}
	marks      = []string{"each section", "each step", "end"}
)

// known tells whether a placeholder stands for something anywhere.
func (f *filler) known(name string) bool {
	_, field := f.doc.Fields[name]
	return field || slices.Contains(ofDocument, name) || slices.Contains(ofSection, name) || slices.Contains(ofStep, name) || slices.Contains(marks, name)
}

// note says something once of each place.
func (f *filler) note(format string, a ...any) {
	n := output.Note{Where: f.where, Text: fmt.Sprintf(format, a...)}
	if !slices.Contains(f.notes, n) && len(f.notes) < 100 {
		f.notes = append(f.notes, n)
	}
}

// scan sees which placeholders there are.
func (f *filler) scan(root *etree.Element) {
	if f.seen == nil {
		f.seen = map[string]bool{}
	}
	for _, p := range root.FindElements(".//p") {
		if p.Space == string(office.Word) {
			for _, name := range office.Names(office.Word.Text(p)) {
				f.seen[name] = true
			}
		}
	}
}

// text fills in the text. What has to be said wherever a document goes stands at its head where the template has no
// place for it, and the document at its end.
func (f *filler) text(text *etree.Element) error {
	kept := f.seen
	f.seen = nil
	f.scan(text)
	titled := f.seen["title"] // one in a header alone is none of the text
	f.seen = kept
	placed := slices.ContainsFunc(append([]string{"document", "each step", "each section"}, ofStep...), func(n string) bool { return f.seen[n] })
	if err := f.fill(text, scope{room: f.room}); err != nil {
		return err
	}
	at := len(text.Child)
	if last := text.ChildElements(); len(last) > 0 && last[len(last)-1].Tag == "sectPr" {
		at = last[len(last)-1].Index()
	}
	f.room.indent = indentOf
	switch {
	case placed:
	case titled:
		if err := f.whole(); err != nil {
			return err
		}
	default:
		if err := f.document(f.ctx); err != nil {
			return err
		}
	}
	f.put(text, at)
	if placed || titled {
		if f.doc.Draft != "" && !f.seen["draft"] {
			f.paragraph("Draft", "", run("", f.doc.Draft))
		}
		if placed && !f.seen["document"] && !f.seen["notice"] {
			f.warn(f.doc.Notice, "")
		}
		f.put(text, 0)
	}
	return nil
}

// whole writes what a document holds, without its head.
func (f *filler) whole() error {
	if !f.seen["notice"] {
		f.warn(f.doc.Notice, "")
	}
	for _, b := range f.doc.Blocks {
		if err := f.ctx.Err(); err != nil {
			return err
		}
		if err := f.block(b); err != nil {
			return err
		}
	}
	return nil
}

// take is what was written since, as elements.
func (f *filler) take() []*etree.Element {
	written := f.String()
	f.Reset()
	if written == "" {
		return nil
	}
	doc := etree.NewDocument()
	if err := doc.ReadFromString("<x " + spaces + ">" + written + "</x>"); err != nil {
		panic(fmt.Sprintf("what we write is no XML: %v", err))
	}
	return doc.Root().ChildElements()
}

// put puts what was written since into an element.
func (f *filler) put(in *etree.Element, at int) {
	for i, e := range f.take() {
		in.InsertChildAt(at+i, e)
	}
}

// fill fills in what an element holds.
func (f *filler) fill(in *etree.Element, s scope) error {
	kids := in.ChildElements()
	for i := 0; i < len(kids); i++ {
		kid := kids[i]
		if kid.Space != string(office.Word) {
			continue
		}
		switch mark := markOf(kid); mark {
		case "each step", "each section":
			end := ending(kids, i)
			if end < 0 {
				f.note("{%s} has no {end}. It is left out.", mark)
				in.RemoveChild(kid)
				continue
			}
			if err := f.repeat(in, kids[i+1:end], kid.Index(), mark, s); err != nil {
				return err
			}
			in.RemoveChild(kid)
			in.RemoveChild(kids[end])
			i = end
			continue
		case "end":
			f.note("{end} ends nothing. It is left out.")
			in.RemoveChild(kid)
			continue
		}
		var err error
		switch kid.Tag {
		case "p":
			err = f.paragraphOf(kid, s)
		case "tr":
			if each := rowOf(kid, s); each != "" {
				if err = f.repeat(in, kids[i:i+1], kid.Index(), each, s); err == nil {
					in.RemoveChild(kid)
				}
				break
			}
			err = f.fill(kid, s)
		case "tc":
			s := s
			s.room = cellOf(kid, s.room)
			if err = f.fill(kid, s); err == nil {
				if all := kid.ChildElements(); len(all) == 0 || all[len(all)-1].Tag != "p" {
					kid.AddChild(etree.NewElement("w:p")) // a cell ends with a paragraph
				}
			}
		case "tbl", "sdt", "sdtContent":
			err = f.fill(kid, s)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

// markOf is the mark that a paragraph, or a row of a table, is.
func markOf(e *etree.Element) string {
	name := ""
	switch e.Tag {
	case "p":
		name = office.Word.Alone(e)
	case "tr":
		for _, p := range e.FindElements("tc/p") {
			if one := office.Word.Alone(p); one != "" && name == "" {
				name = one
			} else if strings.TrimSpace(office.Word.Text(p)) != "" {
				return ""
			}
		}
	}
	if slices.Contains(marks, name) {
		return name
	}
	return ""
}

// ending is where the mark is that ends another; -1 where none does.
func ending(kids []*etree.Element, from int) int {
	open := 0
	for i := from; i < len(kids); i++ {
		switch markOf(kids[i]) {
		case "each step", "each section":
			open++
		case "end":
			if open--; open == 0 {
				return i
			}
		}
	}
	return -1
}

// rowOf says what a row of a table repeats for, by the placeholders in it.
func rowOf(row *etree.Element, s scope) string {
	if s.step != nil || s.band {
		return ""
	}
	section := false
	for _, p := range row.FindElements("tc/p") {
		for _, name := range office.Names(office.Word.Text(p)) {
			if slices.Contains(ofStep, name) {
				return "each step"
			}
			section = section || slices.Contains(ofSection, name)
		}
	}
	if section && s.part == nil {
		return "each section"
	}
	return ""
}

// repeat fills in a piece of a template once for each step or section.
func (f *filler) repeat(in *etree.Element, piece []*etree.Element, at int, each string, s scope) error {
	var scopes []scope
	switch {
	case s.band, s.step != nil, each == "each section" && s.part != nil:
		f.note("{%s} can't stand here. What is in it is left out.", each)
	case each == "each section":
		for _, p := range f.doc.Parts() {
			scopes = append(scopes, scope{part: &p, room: s.room})
		}
	case s.part != nil:
		for _, b := range s.part.Under {
			scopes = append(scopes, scope{part: s.part, step: &b, room: s.room})
		}
	default:
		for _, p := range f.doc.Parts() {
			for _, b := range p.Under {
				scopes = append(scopes, scope{part: &p, step: &b, room: s.room})
			}
		}
	}
	size := 0
	for _, e := range piece {
		size += count(e)
	}
	for _, one := range scopes {
		if err := f.ctx.Err(); err != nil {
			return err
		}
		if f.left -= size; f.left < 0 {
			return refusal.New("The document becomes too large with this template: it repeats too much for each step.")
		}
		holder := etree.NewElement("w:" + in.Tag)
		for _, e := range piece {
			holder.AddChild(e.Copy())
		}
		if err := f.fill(holder, one); err != nil {
			return err
		}
		for _, e := range holder.ChildElements() {
			in.InsertChildAt(at, e)
			at = e.Index() + 1
		}
	}
	for _, e := range piece {
		in.RemoveChild(e)
	}
	return nil
}

func count(e *etree.Element) int {
	n := 1
	for _, c := range e.ChildElements() {
		n += count(c)
	}
	return n
}

// cellOf is the room in a cell of a table.
func cellOf(cell *etree.Element, r room) room {
	if w := cell.FindElement("tcPr/tcW"); w != nil && w.SelectAttrValue("w:type", "dxa") == "dxa" {
		if v, err := strconv.ParseFloat(w.SelectAttrValue("w:w", ""), 64); err == nil && v > 400 {
			r.wide = min(r.wide, v/20-11)
		}
	} else if row := cell.Parent(); row != nil {
		r.wide = r.wide/float64(max(1, len(row.SelectElements("tc")))) - 11
	}
	return r
}

// paragraphOf fills in a paragraph, or puts several in its place.
func (f *filler) paragraphOf(p *etree.Element, s scope) error {
	for _, box := range p.FindElements(".//txbxContent") {
		if err := f.fill(box, s); err != nil {
			return err
		}
	}
	if name := office.Word.Alone(p); name != "" && !s.band {
		done, err := f.alone(name, p, s)
		if err != nil {
			return err
		}
		if done {
			at := p.Index()
			f.put(p.Parent(), at)
			if p.FindElement("pPr/sectPr") == nil {
				p.Parent().RemoveChild(p)
				return nil
			}
			for _, r := range p.SelectElements("r") {
				p.RemoveChild(r)
			}
			return nil
		}
	}
	var failed error
	filled := false
	office.Word.Fill(p, func(name string, properties *etree.Element) ([]*etree.Element, bool) {
		if failed != nil {
			return nil, false
		}
		runs, known, err := f.inline(name, properties, s)
		failed, filled = err, filled || known
		return runs, known
	})
	if filled && !s.band && strings.TrimSpace(office.Word.Text(p)) == "" && p.FindElement(".//drawing") == nil && p.FindElement(".//fldChar") == nil && p.FindElement("pPr/sectPr") == nil {
		p.Parent().RemoveChild(p) // what says nothing leaves no line empty
	}
	return failed
}

// alone writes what stands for a placeholder that has a paragraph to itself, where that is more than a few words.
func (f *filler) alone(name string, p *etree.Element, s scope) (bool, error) {
	kept := f.room
	f.room = s.room
	defer func() { f.room, f.body.look = kept, "" }()
	switch name {
	case "document":
		f.room.indent = indentOf
		return true, f.whole()
	case "contents":
		f.contents()
		return true, nil
	case "notice":
		f.warn(f.doc.Notice, "")
		return true, nil
	}
	if s.step == nil || !slices.Contains(ofStep, name) {
		return false, nil
	}
	if properties := p.SelectElement("pPr"); properties != nil {
		doc := etree.NewDocumentWithRoot(properties.Copy())
		f.body.look, _ = doc.WriteToString()
	} else {
		f.body.look = "<w:pPr/>"
	}
	switch name {
	case "step words":
		plain := *s.step
		plain.Type = "passage" // its number has a place of its own
		f.words(plain)
	case "step notice":
		f.warn(s.step.Notice, "")
	case "step links":
		for _, l := range s.step.Links {
			f.paragraph("BodyText", "", f.link(l))
		}
	case "step pictures":
		for _, one := range s.step.Pictures {
			drawing, err := f.drawing(one, 60)
			if err != nil {
				return true, err
			}
			f.paragraph("BodyText", "", f.bookmark(one.ID, drawing))
			f.caption(one)
		}
	default:
		return false, nil
	}
	return true, nil
}

// inline are the runs that stand for a placeholder among other words.
func (f *filler) inline(name string, properties *etree.Element, s scope) ([]*etree.Element, bool, error) {
	switch name {
	case "page", "pages":
		f.WriteString(field(map[string]string{"page": "PAGE", "pages": "NUMPAGES"}[name], "1"))
		runs := f.take()
		for _, r := range runs {
			if properties != nil {
				r.InsertChildAt(0, properties.Copy())
			}
		}
		return runs, true, nil
	case "step pictures":
		if s.step == nil || s.band {
			break
		}
		kept := f.room
		f.room = s.room
		defer func() { f.room = kept }()
		for _, p := range s.step.Pictures {
			drawing, err := f.drawing(p, 60)
			if err != nil {
				return nil, true, err
			}
			f.WriteString(drawing)
		}
		return f.take(), true, nil
	}
	said, known := f.said(name, s)
	if !known {
		if f.known(name) {
			f.note("{%s} has nothing to stand for here: it belongs to %s.", name, belongs(name))
		} else {
			f.note("{%s} stands for nothing. It is left as it is.", name)
		}
		return nil, false, nil
	}
	return []*etree.Element{office.Word.Run(properties, said)}, true, nil
}

func belongs(name string) string {
	switch {
	case slices.Contains(ofStep, name):
		return "what stands between {each step} and {end}, or to a row of a table"
	case slices.Contains(ofSection, name):
		return "what stands between {each section} and {end}, or to a row of a table"
	}
	return "a paragraph of its own in the text"
}

// said is the text that stands for a placeholder.
func (f *filler) said(name string, s scope) (string, bool) {
	d := f.doc
	switch name {
	case "meta":
		return d.Meta, true
	case "address":
		return d.Address, true
	case "draft":
		return d.Draft, true
	case "signal":
		return d.Signal, true
	case "steps":
		return strconv.Itoa(d.Story().Steps), true
	case "notice":
		return warning(d.Notice), true
	case "section number", "section title":
		if s.part == nil {
			return "", false
		}
		return map[string]string{"section number": s.part.Head.Number, "section title": s.part.Head.Title}[name], true
	}
	if slices.Contains(ofStep, name) {
		if s.step == nil {
			return "", false
		}
		var links []string
		for _, l := range s.step.Links {
			links = append(links, strings.TrimSpace(l.Said+" "+l.Address))
		}
		return map[string]string{
			"step number": s.step.Number, "step title": s.step.Title, "step words": s.step.Text, "step critical": s.step.Critical, "step time": s.step.Time,
			"step notice": warning(s.step.Notice), "step links": strings.Join(links, "\n"),
		}[name], true
	}
	v, known := d.Fields[name]
	return v, known
}

// warning is a notice as text.
func warning(n *flow.Notice) string {
	if n == nil {
		return ""
	}
	return n.Word + ": " + strings.Join(n.Lines, " ")
}

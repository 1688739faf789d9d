// Package office opens documents of Office Open XML (ECMA-376) that the house has made to be filled in, and refuses
// what could do harm; it finds and fills the placeholders in their paragraphs. What a part means, docx and pptx know.
package office

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"io"
	"path"
	"regexp"
	"slices"
	"strings"

	"raconte/core/refusal"

	"github.com/beevik/etree"
)

// The bounds of a template: its file, its parts unpacked, one part of XML, and how many parts there are.
const (
	MostBytes    = 20 << 20
	mostUnpacked = 100 << 20
	mostXML      = 16 << 20
	mostParts    = 3000
	mostDepth    = 200     // elements in each other
	mostElements = 700_000 // of all parts: a part of 16 MB may be four million of the smallest
)

// Package is an opened document: its parts by their names.
type Package struct {
	Parts map[string][]byte
	Names []string // in the order of the file
	Notes []string // what was left out of it

	elements int // of the parts that were read
}

// outside are the relations that may lead out of the document: links that a reader follows.
var outside = regexp.MustCompile(`(?i)^(https?://|mailto:|#)`)

// fields of a word processor that fetch something when the document is opened.
var fetching = regexp.MustCompile(`(?im)(^|[\s{"\\])(DDE|DDEAUTO|INCLUDE|INCLUDETEXT|INCLUDEPICTURE|IMPORT|LINK|RD|DATABASE|EMBED|CONTROL|ADDIN|MACROBUTTON|PRINT|MERGEREC|DATA)([\s}"\\]|$)`)

// elsewhere are targets that lead out of a document whatever their mode says.
var elsewhere = regexp.MustCompile(`(?i)^([a-z][a-z0-9+.-]*:|//|\\\\)`)

// Open reads a document and refuses, with the reason, one that is broken, too large, holds macros or programs, or would
// fetch something from elsewhere. main is the part that it must have.
func Open(data []byte, main string) (*Package, error) {
	if len(data) > MostBytes {
		return nil, refusal.New("The template has %d MB; at most %d MB are taken.", len(data)>>20, MostBytes>>20)
	}
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return nil, refusal.New("The file is damaged, or no document of this kind: it can't be unpacked.")
	}
	if len(z.File) > mostParts {
		return nil, refusal.New("The file has more than %d parts.", mostParts)
	}
	p := &Package{Parts: map[string][]byte{}}
	left := int64(mostUnpacked)
	for _, f := range z.File {
		name := strings.TrimPrefix(f.Name, "/")
		if strings.HasSuffix(name, "/") {
			continue
		}
		if path.Clean(name) != name || strings.HasPrefix(name, "..") || p.Parts[name] != nil {
			return nil, refusal.New("The file is damaged: it has a part %q that can't be.", f.Name)
		}
		r, err := f.Open()
		if err != nil {
			return nil, refusal.New("The file is damaged: %s can't be unpacked.", name)
		}
		part, err := io.ReadAll(io.LimitReader(r, left+1))
		r.Close()
		if err != nil {
			return nil, refusal.New("The file is damaged: %s can't be unpacked.", name)
		}
		if left -= int64(len(part)); left < 0 {
			return nil, refusal.New("The file unpacks to more than %d MB.", mostUnpacked>>20)
		}
		p.Set(name, part)
	}
	if p.Parts[main] == nil || p.Parts["[Content_Types].xml"] == nil {
		return nil, refusal.New("The file is no document of this kind: it has no part %s.", main)
	}
	return p, p.check()
}

// Set puts a part into the document, or another in its place.
func (p *Package) Set(name string, data []byte) {
	if p.Parts[name] == nil {
		p.Names = append(p.Names, name)
	}
	if data == nil {
		data = []byte{}
	}
	p.Parts[name] = data
}

// Remove takes a part out.
func (p *Package) Remove(name string) {
	delete(p.Parts, name)
	p.Names = slices.DeleteFunc(p.Names, func(n string) bool { return n == name })
}

// Each hands out the parts in the order of the file, as long as someone waits for them; packed tells which can't be
// made smaller.
func (p *Package) Each(ctx context.Context, do func(name string, data []byte, packed bool) error) error {
	for _, name := range p.Names {
		if err := ctx.Err(); err != nil {
			return err
		}
		if err := do(name, p.Parts[name], strings.Contains(name, "/media/")); err != nil {
			return err
		}
	}
	return nil
}

// check refuses what could do harm.
func (p *Package) check() error {
	for _, name := range slices.Clone(p.Names) {
		lower := strings.ToLower(name)
		switch {
		case strings.Contains(lower, "vbaproject"), strings.Contains(lower, "vbadata"):
			return refusal.New("The template holds a macro (%s). Save it without macros and add it again.", name)
		case bytes.HasPrefix(p.Parts[name], []byte("PK")) && bytes.Contains(bytes.ToLower(p.Parts[name]), []byte("vbaproject")):
			return refusal.New("The template holds a document with a macro (%s). Take it out and add the template again.", name)
		case strings.Contains(lower, "activex"), strings.HasSuffix(lower, ".bin"), strings.HasSuffix(lower, ".exe"), strings.HasSuffix(lower, ".ole"):
			return refusal.New("The template holds an object with a program (%s). Take it out and add the template again.", name)
		}
		if !strings.HasSuffix(lower, ".xml") && !strings.HasSuffix(lower, ".rels") {
			continue
		}
		doc, err := p.XML(name)
		if err != nil {
			return err
		}
		switch {
		case name == "[Content_Types].xml":
			if types := bytes.ToLower(p.Parts[name]); bytes.Contains(types, []byte("macroenabled")) || bytes.Contains(types, []byte("vbaproject")) || bytes.Contains(types, []byte("vbadata")) || bytes.Contains(types, []byte("activex")) || bytes.Contains(types, []byte("oleobject")) {
				return refusal.New("The template may hold macros. Save it as one without macros and add it again.")
			}
		case strings.HasSuffix(lower, ".rels"):
			if err := p.links(name, doc); err != nil {
				return err
			}
		default:
			if err := fetches(name, doc.Root()); err != nil {
				return err
			}
		}
	}
	return nil
}

// fetches refuses fields that fetch something. An instruction may be split over runs.
func fetches(name string, root *etree.Element) error {
	var said strings.Builder
	depth := 0
	var walk func(e *etree.Element) error
	walk = func(e *etree.Element) error {
		if depth++; depth > mostDepth {
			return refusal.New("The file is damaged: %s has too many elements in each other.", name)
		}
		defer func() { depth-- }()
		switch e.Tag {
		case "instrText":
			said.WriteString(e.Text())
		case "delInstrText":
			said.WriteString(e.Text())
		case "altChunk", "object", "OLEObject", "control":
			return refusal.New("The template holds something of another program (<%s> in %s). Take it out and add the template again.", e.Tag, name)
		case "fldSimple":
			for _, a := range e.Attr { // whatever its prefix
				if a.Key == "instr" {
					said.WriteString("\n" + a.Value + "\n")
				}
			}
		case "fldChar":
			said.WriteString("\n")
		}
		for _, c := range e.ChildElements() {
			if err := walk(c); err != nil {
				return err
			}
		}
		return nil
	}
	if err := walk(root); err != nil {
		return err
	}
	if found := fetching.FindString(said.String()); found != "" {
		return refusal.New("The template has a field that fetches something from elsewhere (%s in %s). Take it out and add the template again.", strings.Trim(found, " \t\r\n{}\"\\"), name)
	}
	return nil
}

// links refuses relations that lead out of the document, but links that a reader follows. The template that a document
// was made from is no longer needed and left out.
func (p *Package) links(name string, doc *etree.Document) error {
	changed := false
	for _, r := range doc.Root().ChildElements() {
		said := map[string]string{} // attributes whatever their prefix and case
		for _, a := range r.Attr {
			said[strings.ToLower(a.Key)] = strings.TrimSpace(a.Value)
		}
		kind, target, mode := path.Base(said["type"]), said["target"], said["targetmode"]
		switch strings.ToLower(kind) {
		case "afchunk", "oleobject", "control", "activexcontrolbinary", "keymapcustomizations", "attachedtoolbars", "recipientdata", "mailmergesource", "mailmergeheadersource":
			return refusal.New("The template holds something of another program, or leads to one (%s). Take it out and add the template again.", kind)
		}
		if strings.EqualFold(kind, "vbaProject") {
			return refusal.New("The template holds a macro. Save it without macros and add it again.")
		}
		if (mode == "" || strings.EqualFold(mode, "Internal")) && !elsewhere.MatchString(target) {
			continue
		}
		switch {
		case kind == "attachedTemplate":
			doc.Root().RemoveChild(r)
			p.dropTemplate()
			p.Notes = append(p.Notes, "The link to the template that this file was made from was left out.")
			changed = true
		case kind != "hyperlink" || !outside.MatchString(target):
			return refusal.New("The template would fetch something from elsewhere (%s: %s). Put it into the file itself, or take it out, and add the template again.", kind, target)
		}
	}
	if changed {
		return p.SetXML(name, doc)
	}
	return nil
}

// dropTemplate takes the mention of the template that a document was made from out of its settings.
func (p *Package) dropTemplate() {
	doc, err := p.XML("word/settings.xml")
	if err != nil {
		return
	}
	for _, e := range doc.FindElements("//attachedTemplate") {
		e.Parent().RemoveChild(e)
	}
	_ = p.SetXML("word/settings.xml", doc) // what was read as XML is written as XML
}

// XML reads a part. One that declares entities, or a kind of document, is refused.
func (p *Package) XML(name string) (*etree.Document, error) {
	raw, there := p.Parts[name]
	if !there {
		return nil, refusal.New("The file is damaged: it has no part %s.", name)
	}
	if len(raw) > mostXML {
		return nil, refusal.New("The part %s has more than %d MB.", name, mostXML>>20)
	}
	head := raw
	if bytes.Contains(head, []byte("<!DOCTYPE")) || bytes.Contains(head, []byte("<!ENTITY")) {
		return nil, refusal.New("The part %s declares entities, which documents of this kind never do. The template is refused.", name)
	}
	if p.elements += bytes.Count(raw, []byte("<")) / 2; p.elements > mostElements {
		return nil, refusal.New("The file has more than %d elements.", mostElements)
	}
	doc := etree.NewDocument()
	if err := doc.ReadFromBytes(raw); err != nil || doc.Root() == nil {
		return nil, refusal.New("The file is damaged: %s is no XML.", name)
	}
	return doc, nil
}

// SetXML puts a part of XML into the document.
func (p *Package) SetXML(name string, doc *etree.Document) error {
	raw, err := doc.WriteToBytes()
	if err != nil {
		return fmt.Errorf("writing %s: %w", name, err)
	}
	p.Set(name, raw)
	return nil
}

package office

import (
	"maps"
	"path"
	"slices"
	"strings"

	"github.com/beevik/etree"
)

// Kinds is what the types of relations begin with.
const Kinds = "http://schemas.openxmlformats.org/officeDocument/2006/relationships/"

// RelationsOf is the name of the part that holds the relations of a part.
func RelationsOf(part string) string {
	return path.Join(path.Dir(part), "_rels", path.Base(part)+".rels")
}

// Relations are the relations of a part; an empty list where it has none.
func (p *Package) Relations(part string) (*etree.Document, error) {
	name := RelationsOf(part)
	if p.Parts[name] == nil {
		doc := etree.NewDocument()
		doc.CreateElement("Relationships").CreateAttr("xmlns", "http://schemas.openxmlformats.org/package/2006/relationships")
		return doc, nil
	}
	return p.XML(name)
}

// Related are the parts that a part leads to by relations of a kind, in their order.
func (p *Package) Related(part, kind string) []string {
	doc, err := p.Relations(part)
	if err != nil {
		return nil
	}
	var all []string
	for _, r := range doc.Root().ChildElements() {
		if path.Base(r.SelectAttrValue("Type", "")) == kind && r.SelectAttrValue("TargetMode", "") == "" {
			all = append(all, Target(part, r.SelectAttrValue("Target", "")))
		}
	}
	return all
}

// Target is the name of the part that a relation of a part leads to.
func Target(part, target string) string {
	if strings.HasPrefix(target, "/") {
		return target[1:]
	}
	return path.Join(path.Dir(part), target)
}

// Relate adds a relation to a list of them.
func Relate(relations *etree.Document, id, kind, target string, out bool) {
	r := relations.Root().CreateElement("Relationship")
	r.CreateAttr("Id", id)
	r.CreateAttr("Type", Kinds+kind)
	r.CreateAttr("Target", target)
	if out {
		r.CreateAttr("TargetMode", "External")
	}
}

// Types says what is in parts: of names, and of endings that are not known yet.
func (p *Package) Types(parts, endings map[string]string) error {
	doc, err := p.XML("[Content_Types].xml")
	if err != nil {
		return err
	}
	known := map[string]*etree.Element{}
	for _, e := range doc.Root().ChildElements() {
		known[strings.ToLower(e.SelectAttrValue("Extension", "")+e.SelectAttrValue("PartName", ""))] = e
	}
	for _, ending := range slices.Sorted(maps.Keys(endings)) {
		if known[ending] == nil {
			e := etree.NewElement("Default")
			e.CreateAttr("Extension", ending)
			e.CreateAttr("ContentType", endings[ending])
			doc.Root().InsertChildAt(0, e)
		}
	}
	for _, part := range slices.Sorted(maps.Keys(parts)) {
		e := known[strings.ToLower("/"+part)]
		if e == nil {
			e = doc.Root().CreateElement("Override")
			e.CreateAttr("PartName", "/"+part)
		}
		e.CreateAttr("ContentType", parts[part])
	}
	return p.SetXML("[Content_Types].xml", doc)
}

// DropMedia takes out the pictures in a folder that no part leads to any more.
func (p *Package) DropMedia(folder string) {
	used := map[string]bool{}
	for _, name := range p.Names {
		dir, file := path.Split(name)
		if path.Base(dir) != "_rels" {
			continue
		}
		part := path.Join(path.Dir(path.Clean(dir)), strings.TrimSuffix(file, ".rels"))
		for _, kind := range []string{"image", "video", "audio", "media", "hdphoto"} {
			for _, target := range p.Related(part, kind) {
				used[target] = true
			}
		}
	}
	for _, name := range slices.Clone(p.Names) {
		if strings.HasPrefix(name, folder) && !used[name] {
			p.Remove(name)
		}
	}
}

package office

import (
	"fmt"
	"html"
	"strings"
	"time"

	"raconte/core/document"
	"raconte/core/page"
	"raconte/core/scene"
)

// Declaration begins every part.
const Declaration = `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>` + "\n"

// CorePart is the part of what is known of a document.
const CorePart = "docProps/core.xml"

const (
	coreType = "application/vnd.openxmlformats-package.core-properties+xml"
	coreKind = "http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties"
)

// Esc is text for XML; line feeds are breaks by then.
func Esc(s string) string { return html.EscapeString(s) }

// Relation leads from a part to another, or out of the package. Its kind is what follows Kinds, or a whole address.
type Relation struct {
	ID, Kind, Target string
	Outside          bool
}

// RelationList is the part that holds relations.
func RelationList(all ...Relation) string {
	var out strings.Builder
	out.WriteString(`<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">`)
	for _, r := range all {
		kind, mode := r.Kind, ""
		if !strings.Contains(kind, ":") {
			kind = Kinds + kind
		}
		if r.Outside {
			mode = ` TargetMode="External"`
		}
		fmt.Fprintf(&out, `<Relationship Id="%s" Type="%s" Target="%s"%s/>`, r.ID, kind, Esc(r.Target), mode)
	}
	out.WriteString(`</Relationships>`)
	return out.String()
}

// FirstRelations are those of a package: to its main part, and to what is known of it.
func FirstRelations(main string) string {
	return RelationList(Relation{ID: "r1", Kind: "officeDocument", Target: main}, Relation{ID: "r2", Kind: coreKind, Target: CorePart})
}

// Part is a part by its name, or all of an ending, and the type of what is in it.
type Part struct{ Name, Type string }

// usualEndings are those that every package of ours has.
var usualEndings = []Part{
	{"rels", "application/vnd.openxmlformats-package.relationships+xml"}, {"xml", "application/xml"}, {"png", "image/png"}, {"jpg", "image/jpeg"},
}

// ContentTypes is the part that tells what is in the others: the usual endings, further ones, and parts by name.
func ContentTypes(endings, parts []Part) string {
	var out strings.Builder
	out.WriteString(`<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">`)
	for _, e := range append(usualEndings[:len(usualEndings):len(usualEndings)], endings...) {
		fmt.Fprintf(&out, `<Default Extension="%s" ContentType="%s"/>`, e.Name, e.Type)
	}
	for _, p := range append(parts[:len(parts):len(parts)], Part{CorePart, coreType}) {
		fmt.Fprintf(&out, `<Override PartName="/%s" ContentType="%s"/>`, p.Name, p.Type)
	}
	out.WriteString(`</Types>`)
	return out.String()
}

// Properties are what is known of a document (ECMA-376, part 2, core properties).
type Properties struct {
	Title, Author, Language string
	Made                    time.Time
}

// XML is the part that says it.
func (p Properties) XML() string {
	author := ""
	if p.Author != "" {
		author = "<dc:creator>" + Esc(p.Author) + "</dc:creator>"
	}
	at := p.Made.UTC().Format("2006-01-02T15:04:05Z")
	return `<cp:coreProperties xmlns:cp="http://schemas.openxmlformats.org/package/2006/metadata/core-properties" xmlns:dc="http://purl.org/dc/elements/1.1/" ` +
		`xmlns:dcterms="http://purl.org/dc/terms/" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance"><dc:title>` + Esc(p.Title) + `</dc:title>` + author +
		`<dc:language>` + p.Language + `</dc:language><dcterms:created xsi:type="dcterms:W3CDTF">` + at + `</dcterms:created><dcterms:modified xsi:type="dcterms:W3CDTF">` + at + `</dcterms:modified></cp:coreProperties>`
}

// Panel are the colours of a signal word: of its panel, and of the letters on it, as "C8102E".
func Panel(signal string) (fill, ink string) {
	colors := page.SignalColors[document.Signal(signal)]
	hex := func(c scene.Color) string { return strings.ToUpper(strings.TrimPrefix(c.String(), "#")) }
	return hex(colors[0]), hex(colors[1])
}

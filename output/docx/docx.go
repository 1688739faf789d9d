// Package docx writes a document as Office Open XML (ECMA-376, WordprocessingML) that can be edited afterwards:
// headings and steps are paragraphs of styles with automatic numbers, pictures have their alternative texts.
package docx

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

// Format is DOCX.
type Format struct{}

const mediaType = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"

// About names it.
func (Format) About() output.About {
	return output.About{
		Name: "docx", Title: "Word processor (DOCX)", Extension: "docx",
		MediaType: mediaType, Own: "docx",
	}
}

const declaration = `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>` + "\n"

const spaces = `xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main" ` +
	`xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships" ` +
	`xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing" ` +
	`xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main" ` +
	`xmlns:pic="http://schemas.openxmlformats.org/drawingml/2006/picture"`

// Write makes the file.
func (Format) Write(ctx context.Context, w io.Writer, in output.Input, o output.Options) error {
	if o.Own != nil {
		_, err := writeOwn(ctx, w, in, o)
		return err
	}
	st := in.Edition.Style
	if st.Language == "" {
		st = style.Default()
	}
	d := flow.Read(ctx, in, o)
	f := flow.NewFolder(w, in.Made)
	b := &body{doc: d, style: st, folder: f, where: d.Story().Where(), room: sheet(st)}
	if err := b.document(ctx); err != nil {
		return err
	}
	if err := b.parts(b.String()+b.section(), b.band(st.Header, "hdr"), b.band(st.Footer, "ftr"), core(d, in)); err != nil {
		return err
	}
	if err := ctx.Err(); err != nil {
		return err
	}
	return f.Close()
}

// parts writes all parts of a file but its pictures.
func (b *body) parts(text, header, footer, core string) error {
	for _, part := range []struct{ name, data string }{
		{mainPart, `<w:document ` + spaces + `><w:body>` + text + `</w:body></w:document>`},
		{stylePart, styles(b.style, b.doc.Language)},
		{listPart, b.numbers.xml()},
		{"word/settings.xml", `<w:settings ` + spaces + `><w:defaultTabStop w:val="709"/><w:compat><w:compatSetting w:name="compatibilityMode" w:uri="http://schemas.microsoft.com/office/word" w:val="15"/></w:compat></w:settings>`},
		{"word/header1.xml", header},
		{"word/footer1.xml", footer},
		{"word/_rels/document.xml.rels", b.relations()},
		{"_rels/.rels", `<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">` +
			`<Relationship Id="r1" Type="http://schemas.openxmlformats.org/officeDocument/2006/relationships/officeDocument" Target="word/document.xml"/>` +
			`<Relationship Id="r2" Type="http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties" Target="docProps/core.xml"/></Relationships>`},
		{"docProps/core.xml", core},
		{"[Content_Types].xml", b.contentTypes()},
	} {
		if err := b.folder.Put(part.name, []byte(declaration+part.data), false); err != nil {
			return err
		}
	}
	return nil
}

func core(d *flow.Document, in output.Input) string {
	author := ""
	if a := d.Fields["author"]; a != "" {
		author = "<dc:creator>" + esc(a) + "</dc:creator>"
	}
	at := in.Made.UTC().Format("2006-01-02T15:04:05Z")
	return `<cp:coreProperties xmlns:cp="http://schemas.openxmlformats.org/package/2006/metadata/core-properties" xmlns:dc="http://purl.org/dc/elements/1.1/" ` +
		`xmlns:dcterms="http://purl.org/dc/terms/" xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance"><dc:title>` + esc(d.Title) + `</dc:title>` + author +
		`<dc:language>` + d.Language + `</dc:language><dcterms:created xsi:type="dcterms:W3CDTF">` + at + `</dcterms:created><dcterms:modified xsi:type="dcterms:W3CDTF">` + at + `</dcterms:modified></cp:coreProperties>`
}

func (b *body) contentTypes() string {
	const kind = "application/vnd.openxmlformats-officedocument.wordprocessingml."
	var out strings.Builder
	out.WriteString(`<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>` +
		`<Default Extension="xml" ContentType="application/xml"/><Default Extension="png" ContentType="image/png"/><Default Extension="jpg" ContentType="image/jpeg"/>`)
	for _, p := range []struct{ part, kind string }{
		{"document", "document.main"}, {"styles", "styles"}, {"numbering", "numbering"}, {"settings", "settings"}, {"header1", "header"}, {"footer1", "footer"},
	} {
		fmt.Fprintf(&out, `<Override PartName="/word/%s.xml" ContentType="%s%s+xml"/>`, p.part, kind, p.kind)
	}
	out.WriteString(`<Override PartName="/docProps/core.xml" ContentType="application/vnd.openxmlformats-package.core-properties+xml"/></Types>`)
	return out.String()
}

// relation leads from the document to another part, or outside.
type relation struct {
	kind, target string
	outside      bool
}

const kindOf = "http://schemas.openxmlformats.org/officeDocument/2006/relationships/"

func (b *body) relations() string {
	var out strings.Builder
	out.WriteString(`<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">`)
	for i, name := range []string{"styles", "numbering", "settings"} {
		fmt.Fprintf(&out, `<Relationship Id="s%d" Type="%s%s" Target="%s.xml"/>`, i, kindOf, name, name)
	}
	fmt.Fprintf(&out, `<Relationship Id="head" Type="%sheader" Target="header1.xml"/><Relationship Id="foot" Type="%sfooter" Target="footer1.xml"/>`, kindOf, kindOf)
	for i, r := range b.related {
		mode := ""
		if r.outside {
			mode = ` TargetMode="External"`
		}
		fmt.Fprintf(&out, `<Relationship Id="d%d" Type="%s%s" Target="%s"%s/>`, i, kindOf, r.kind, esc(r.target), mode)
	}
	out.WriteString(`</Relationships>`)
	return out.String()
}

// relate is the id of a relation to another part.
func (b *body) relate(r relation) string {
	for i, known := range b.related {
		if known == r {
			return fmt.Sprint(b.prefix, "d", i)
		}
	}
	b.related = append(b.related, r)
	return fmt.Sprint(b.prefix, "d", len(b.related)-1)
}

// esc is text for XML; line feeds are breaks by then.
func esc(s string) string { return html.EscapeString(s) }

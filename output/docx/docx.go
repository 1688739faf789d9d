// Package docx writes a document as Office Open XML (ECMA-376, WordprocessingML) that can be edited afterwards:
// headings and steps are paragraphs of styles with automatic numbers, pictures have their alternative texts.
package docx

import (
	"context"
	"fmt"
	"io"

	"raconte/core/style"
	"raconte/output"
	"raconte/output/flow"
	"raconte/output/office"
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
	b := &body{doc: d, style: st, folder: f, reader: d.Story().Reader(), room: sheet(st)}
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
		{"_rels/.rels", office.FirstRelations(mainPart)},
		{office.CorePart, core},
		{"[Content_Types].xml", contentTypes()},
	} {
		if err := b.folder.Put(part.name, []byte(office.Declaration+part.data), false); err != nil {
			return err
		}
	}
	return nil
}

func core(d *flow.Document, in output.Input) string {
	return office.Properties{Title: d.Title, Author: d.Fields["author"], Language: d.Language, Made: in.Made}.XML()
}

func contentTypes() string {
	var parts []office.Part
	for _, p := range []struct{ part, kind string }{
		{"document", "document.main"}, {"styles", "styles"}, {"numbering", "numbering"}, {"settings", "settings"}, {"header1", "header"}, {"footer1", "footer"},
	} {
		parts = append(parts, office.Part{Name: "word/" + p.part + ".xml", Type: kindPart + p.kind + "+xml"})
	}
	return office.ContentTypes(nil, parts)
}

func (b *body) relations() string {
	var all []office.Relation
	for i, name := range []string{"styles", "numbering", "settings"} {
		all = append(all, office.Relation{ID: fmt.Sprint("s", i), Kind: name, Target: name + ".xml"})
	}
	all = append(all, office.Relation{ID: "head", Kind: "header", Target: "header1.xml"}, office.Relation{ID: "foot", Kind: "footer", Target: "footer1.xml"})
	return office.RelationList(append(all, b.related...)...)
}

// relate is the id of a relation to another part, or outside.
func (b *body) relate(kind, target string, outside bool) string {
	r := office.Relation{ID: fmt.Sprint(b.prefix, "d", len(b.related)), Kind: kind, Target: target, Outside: outside}
	for _, known := range b.related {
		if known.Kind == kind && known.Target == target && known.Outside == outside {
			return known.ID
		}
	}
	b.related = append(b.related, r)
	return r.ID
}

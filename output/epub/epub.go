// Package epub writes a document as EPUB 3 (W3C EPUB 3.3): a part for what stands under each heading, a navigation
// document, and the pictures.
package epub

import (
	"context"
	"crypto/sha256"
	_ "embed"
	"fmt"
	"html"
	"io"
	"regexp"
	"strings"
	"time"

	"raconte/output"
	"raconte/output/flow"
)

//go:embed style.css
var sheet string

// Format is EPUB 3.
type Format struct{}

// About names it.
func (Format) About() output.About {
	return output.About{Name: "epub", Plays: true, Title: "EPUB, for readers and phones", Extension: "epub", MediaType: "application/epub+zip"}
}

// part is a file of the book: what stands under one heading.
type part struct {
	name   string
	blocks []flow.Block
}

// Write makes the book.
func (Format) Write(ctx context.Context, w io.Writer, in output.Input, o output.Options) error {
	d := flow.Read(ctx, in, o)
	f := flow.NewFolder(w, time.Time{}) // a time would need a field that OCF forbids for the media type
	put := func(name, data string) error { return f.Put(name, []byte(data), false) }
	// The media type comes first and as it is, so that the file is known by its first bytes (OCF 3.3, 4.3).
	if err := f.Put("mimetype", []byte("application/epub+zip"), true); err != nil {
		return err
	}
	if err := put("META-INF/container.xml", container); err != nil {
		return err
	}
	if err := f.Pictures(ctx, d, "EPUB/pictures/", "pictures/"); err != nil {
		return err
	}
	parts := divided(d)
	files := map[string]string{}
	for _, p := range parts {
		for _, b := range p.blocks {
			files[b.ID] = p.name
		}
	}
	if err := put("EPUB/style.css", fmt.Sprintf("body { color: %s; }\na, .kind { color: %s; }\n%s", d.Colors.Text, d.Colors.Accent, sheet)); err != nil {
		return err
	}
	for i, p := range parts {
		var body strings.Builder
		if i == 0 {
			cover(&body, d)
		}
		for _, b := range p.blocks {
			block(&body, b)
		}
		if err := put("EPUB/"+p.name, page(d, "", led(body.String(), files))); err != nil {
			return err
		}
	}
	if err := put("EPUB/nav.xhtml", page(d, ` xmlns:epub="http://www.idpf.org/2007/ops"`, navigation(d, parts, files))); err != nil {
		return err
	}
	if err := put("EPUB/package.opf", opf(d, in, parts)); err != nil {
		return err
	}
	if err := ctx.Err(); err != nil {
		return err
	}
	return f.Close()
}

// divided are the parts of the book: each heading of the first level begins one.
func divided(d *flow.Document) []part {
	parts := []part{{name: "part001.xhtml"}}
	for _, b := range d.Blocks {
		if last := &parts[len(parts)-1]; b.Heading() && b.Depth == 1 && len(last.blocks) > 0 {
			parts = append(parts, part{name: fmt.Sprintf("part%03d.xhtml", len(parts)+1)})
		}
		last := &parts[len(parts)-1]
		last.blocks = append(last.blocks, b)
	}
	return parts
}

var inside = regexp.MustCompile(`href="#([^"]+)"`)

// led makes links to blocks lead to the files where those stand.
func led(body string, files map[string]string) string {
	return inside.ReplaceAllStringFunc(body, func(s string) string {
		id := inside.FindStringSubmatch(s)[1]
		return `href="` + files[id] + "#" + id + `"`
	})
}

func page(d *flow.Document, more, body string) string {
	return `<?xml version="1.0" encoding="UTF-8"?>
<!DOCTYPE html>
<html xmlns="http://www.w3.org/1999/xhtml"` + more + ` lang="` + d.Language + `" xml:lang="` + d.Language + `">
<head><title>` + esc(d.Title) + `</title><link rel="stylesheet" type="text/css" href="style.css"/></head>
<body>
` + body + `</body>
</html>
`
}

func cover(out *strings.Builder, d *flow.Document) {
	if d.Draft != "" {
		fmt.Fprintf(out, "<p class=\"draft\">%s</p>\n", esc(d.Draft))
	}
	kind := esc(d.Kind)
	if d.Signal != "" {
		kind += ` <span class="signal">` + esc(d.Signal) + "</span>"
	}
	fmt.Fprintf(out, "<p class=\"kind\">%s</p>\n<h1 dir=\"auto\">%s</h1>\n<p class=\"meta\">%s</p>\n", kind, esc(d.Title), esc(d.Meta))
	warn(out, d.Notice)
}

func block(out *strings.Builder, b flow.Block) {
	if b.Heading() {
		fmt.Fprintf(out, "<h%d id=\"%s\" dir=\"auto\">%s</h%d>\n", b.Depth+1, b.ID, esc(strings.TrimSpace(b.Number+" "+b.Title)), b.Depth+1)
		return
	}
	fmt.Fprintf(out, "<section id=\"%s\" class=\"%s\">\n", b.ID, b.Type)
	if b.Step() {
		fmt.Fprintf(out, "<p class=\"number\">%s</p>\n", esc(b.Number))
	}
	if b.Critical != "" {
		fmt.Fprintf(out, "<p class=\"critical\">%s</p>\n", esc(b.Critical))
	}
	warn(out, b.Notice)
	out.WriteString(string(b.HTML))
	if b.Time != "" {
		fmt.Fprintf(out, "<p class=\"meta\">%s</p>\n", esc(b.Time))
	}
	for _, l := range b.Links {
		said := esc(l.Said)
		switch {
		case l.Inside != "":
			said = `<a href="#` + l.Inside + `">` + said + "</a>"
		case l.Address != "":
			said = `<a href="` + esc(l.Address) + `">` + said + "</a>"
		}
		fmt.Fprintf(out, "<p><strong>%s</strong></p>\n", said)
	}
	for _, p := range b.Pictures {
		picture := fmt.Sprintf("<img src=\"%s\" alt=\"%s\"/>", p.Name, esc(p.Alt))
		if p.Film != "" { // what can't play it shows its picture
			picture = fmt.Sprintf("<video controls=\"controls\" poster=\"%s\" src=\"%s\" aria-label=\"%s\">%s</video>", p.Name, p.Film, esc(p.Alt), picture)
		}
		fmt.Fprintf(out, "<figure id=\"%s\">%s", p.ID, picture)
		if p.Caption != "" {
			fmt.Fprintf(out, "<figcaption>%s</figcaption>", esc(p.Caption))
		}
		out.WriteString("</figure>\n")
	}
	out.WriteString("</section>\n")
}

func warn(out *strings.Builder, n *flow.Notice) {
	if n == nil {
		return
	}
	fmt.Fprintf(out, "<div class=\"notice %s\"><p class=\"word\">%s</p>", n.Signal+"-word", esc(n.Word))
	for _, l := range n.Lines {
		fmt.Fprintf(out, "<p dir=\"auto\">%s</p>", esc(l))
	}
	out.WriteString("</div>\n")
}

// navigation lists what the contents list, what stands in a section below it.
func navigation(d *flow.Document, parts []part, files map[string]string) string {
	var out strings.Builder
	out.WriteString("<nav epub:type=\"toc\" id=\"toc\">\n<h1>" + esc(d.Words["contents"]) + "</h1>\n<ol>\n")
	if len(d.Contents) == 0 {
		fmt.Fprintf(&out, "<li><a href=\"%s\">%s</a></li>\n", parts[0].name, esc(d.Title))
	}
	depth := 0
	for _, e := range d.Contents {
		level := min(e.Depth, depth+1) // no level is left out
		switch {
		case level > depth && depth > 0:
			out.WriteString("\n<ol>\n")
		case depth > 0:
			out.WriteString("</li>\n" + strings.Repeat("</ol></li>\n", depth-level))
		}
		depth = level
		fmt.Fprintf(&out, "<li><a href=\"%s#%s\">%s</a>", files[e.ID], e.ID, esc(strings.TrimSpace(e.Number+" "+e.Title)))
	}
	if depth > 0 {
		out.WriteString("</li>\n" + strings.Repeat("</ol></li>\n", depth-1))
	}
	out.WriteString("</ol>\n</nav>\n")
	return out.String()
}

func opf(d *flow.Document, in output.Input, parts []part) string {
	sum := sha256.Sum256([]byte(d.Address + "\n" + d.Title))
	var items, spine strings.Builder
	for i, p := range parts {
		fmt.Fprintf(&items, "<item id=\"p%d\" href=\"%s\" media-type=\"application/xhtml+xml\"/>\n", i, p.name)
		fmt.Fprintf(&spine, "<itemref idref=\"p%d\"/>\n", i)
	}
	for i, p := range d.All() {
		kind := "image/png"
		if strings.HasSuffix(p.Name, ".jpg") {
			kind = "image/jpeg"
		}
		fmt.Fprintf(&items, "<item id=\"i%d\" href=\"%s\" media-type=\"%s\"/>\n", i, p.Name, kind)
		if p.Film != "" {
			fmt.Fprintf(&items, "<item id=\"v%d\" href=\"%s\" media-type=\"video/mp4\"/>\n", i, p.Film)
		}
	}
	author := d.Fields["author"]
	if author != "" {
		author = "<dc:creator>" + esc(author) + "</dc:creator>\n"
	}
	return fmt.Sprintf(`<?xml version="1.0" encoding="UTF-8"?>
<package xmlns="http://www.idpf.org/2007/opf" version="3.0" unique-identifier="id" xml:lang="%s">
<metadata xmlns:dc="http://purl.org/dc/elements/1.1/">
<dc:identifier id="id">urn:raconte:%x</dc:identifier>
<dc:title>%s</dc:title>
<dc:language>%s</dc:language>
%s<meta property="dcterms:modified">%s</meta>
<meta property="schema:accessMode">textual</meta>
<meta property="schema:accessMode">visual</meta>
<meta property="schema:accessibilityFeature">alternativeText</meta>
<meta property="schema:accessibilityFeature">structuralNavigation</meta>
<meta property="schema:accessibilityHazard">none</meta>
</metadata>
<manifest>
<item id="nav" href="nav.xhtml" media-type="application/xhtml+xml" properties="nav"/>
<item id="css" href="style.css" media-type="text/css"/>
%s</manifest>
<spine>
%s</spine>
</package>
`, d.Language, sum[:16], esc(d.Title), d.Language, author, in.Made.UTC().Format("2006-01-02T15:04:05Z"), items.String(), spine.String())
}

const container = `<?xml version="1.0" encoding="UTF-8"?>
<container version="1.0" xmlns="urn:oasis:names:tc:opendocument:xmlns:container">
<rootfiles><rootfile full-path="EPUB/package.opf" media-type="application/oebps-package+xml"/></rootfiles>
</container>
`

func esc(s string) string { return html.EscapeString(s) }

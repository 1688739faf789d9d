package pdf

import (
	"crypto/sha256"
	"fmt"
	"html"
	"time"

	"raconte/core/page"
	"raconte/core/scene"
)

// about is what a file says of itself.
type about struct {
	title, author, language string
	keywords                string
	attached                string // entries of the catalog that name the files in it
	made                    time.Time
}

// bookmark is a line of the outline, and where it leads.
type bookmark struct {
	title      string
	depth      int
	page       int // its object
	y          float64
	id         int
	parent     int // objects
	prev, next int
	first      int
	last       int
	count      int
}

// outline writes the bookmarks (12.3.3): of what is listed, each below what it lies in. The answer is its object, 0 of
// none.
func (d *drawing) outline(places []page.Place, sheets []scene.Scene) int {
	top := bookmark{id: d.reserve()}
	var all []*bookmark
	open := []*bookmark{&top}
	for _, p := range places {
		if !p.Listed() {
			continue
		}
		b := &bookmark{title: p.Number + "  " + p.Label, depth: p.Depth, page: d.sideOf(p.Page - 1).id, y: sheets[p.Page-1].H - p.Y, id: d.reserve()}
		for len(open) > 1 && open[len(open)-1].depth >= b.depth {
			open = open[:len(open)-1]
		}
		parent := open[len(open)-1]
		b.parent = parent.id
		if parent.first == 0 {
			parent.first = b.id
		} else {
			for i := len(all) - 1; i >= 0; i-- { // the one before it in the same part
				if all[i].parent == b.parent {
					all[i].next, b.prev = b.id, all[i].id
					break
				}
			}
		}
		parent.last = b.id
		for _, over := range open {
			over.count++
		}
		all, open = append(all, b), append(open, b)
	}
	if len(all) == 0 {
		d.object(top.id, "<<>>")
		return 0
	}
	for _, b := range all {
		s := fmt.Sprintf("<</Title%s/Parent %d 0 R/Dest[%d 0 R/XYZ null %.2f null]", d.str(b.title), b.parent, b.page, b.y)
		if b.prev != 0 {
			s += fmt.Sprintf("/Prev %d 0 R", b.prev)
		}
		if b.next != 0 {
			s += fmt.Sprintf("/Next %d 0 R", b.next)
		}
		if b.first != 0 {
			s += fmt.Sprintf("/First %d 0 R/Last %d 0 R/Count %d", b.first, b.last, b.count)
		}
		d.object(b.id, s+">>")
	}
	return d.object(top.id, fmt.Sprintf("<</Type/Outlines/First %d 0 R/Last %d 0 R/Count %d>>", top.first, top.last, top.count))
}

// catalog writes what holds all of it together, and ends the file.
func (d *drawing) catalog(pages, outline int, a about) error {
	at := a.made.UTC().Format("D:20060102150405Z")
	info := d.object(0, fmt.Sprintf("<</Title%s/Author%s/Keywords%s/Creator%s/Producer%s/CreationDate%s/ModDate%s>>", d.str(a.title), d.str(a.author), d.str(a.keywords), d.str("Raconte"), d.str("Raconte"), d.str(at), d.str(at)))
	metadata := d.stream(0, "/Type/Metadata/Subtype/XML", []byte(a.xmp()))
	marks := ""
	if outline != 0 {
		marks = fmt.Sprintf("/Outlines %d 0 R", outline)
	}
	if d.sealed != nil {
		a.attached += "/Extensions<</ADBE<</BaseVersion/1.7/ExtensionLevel 8>>>>"
	}
	root := d.object(0, fmt.Sprintf("<</Type/Catalog/Pages %d 0 R/Lang%s/ViewerPreferences<</DisplayDocTitle true>>/MarkInfo<</Marked true>>/Metadata %d 0 R/StructTreeRoot %d 0 R%s%s>>",
		pages, d.str(a.language), metadata, d.structure.write(d.file), marks, a.attached))
	sum := sha256.Sum256([]byte(a.title + at))
	return d.finish(root, info, fmt.Sprintf("%x", sum[:16]))
}

// xmp is the metadata as XMP (ISO 16684-1).
func (a about) xmp() string {
	at := a.made.UTC().Format("2006-01-02T15:04:05Z")
	return `<?xpacket begin="` + "\ufeff" + `" id="W5M0MpCehiHzreSzNTczkc9d"?>
<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/" xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmlns:pdf="http://ns.adobe.com/pdf/1.3/">` +
		`<dc:title><rdf:Alt><rdf:li xml:lang="x-default">` + html.EscapeString(a.title) + `</rdf:li></rdf:Alt></dc:title><dc:creator><rdf:Seq><rdf:li>` + html.EscapeString(a.author) + `</rdf:li></rdf:Seq></dc:creator>` +
		`<dc:language><rdf:Bag><rdf:li>` + a.language + `</rdf:li></rdf:Bag></dc:language><xmp:CreatorTool>Raconte</xmp:CreatorTool><xmp:CreateDate>` + at + `</xmp:CreateDate><xmp:ModifyDate>` + at + `</xmp:ModifyDate><pdf:Producer>Raconte</pdf:Producer>` +
		`</rdf:Description></rdf:RDF></x:xmpmeta>
<?xpacket end="r"?>`
}

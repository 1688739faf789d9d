package pdf

import (
	"cmp"
	"encoding/binary"
	"errors"
	"fmt"
	"hash/fnv"
	"math"
	"slices"
	"strings"
	"unicode/utf16"

	"raconte/core/scene"
	"raconte/core/text"
)

// font is a TrueType face, or one with PostScript outlines, of which only what is used goes into the file. A code of
// the file stands for a letter form and what it means, so that copying gives the text even where one form stands for
// several letters.
type font struct {
	name, res string
	id        int // its object
	tables    map[string][]byte
	upem      float64
	codes     map[code]uint16
	list      []code
}

// code is a glyph, or several that stand together, and the letters that it stands for.
type code struct {
	glyph uint16
	text  string
	more  string // the others: of each its number and where it stands from the first, in units of the face
}

// part is a glyph that stands with another.
type part struct {
	glyph uint16
	x, y  int16
}

func (c code) parts() []part {
	var all []part
	for b := []byte(c.more); len(b) > 0; b = b[6:] {
		at := func(i int) uint16 { return binary.BigEndian.Uint16(b[i:]) }
		all = append(all, part{at(0), int16(at(2)), int16(at(4))})
	}
	return all
}

var errFace = errors.New("a face is of no known kind, or is damaged")

// newFont reads the tables of a face; name is the one that it is asked for by, res what pages call it.
func newFont(name, res string, ttf []byte) (f *font, err error) {
	defer func() {
		if recover() != nil {
			f, err = nil, errFace
		}
	}()
	f = &font{name: name, res: res, tables: map[string][]byte{}, codes: map[code]uint16{}}
	for i := range int(binary.BigEndian.Uint16(ttf[4:])) {
		entry := ttf[12+16*i:]
		at, n := binary.BigEndian.Uint32(entry[8:]), binary.BigEndian.Uint32(entry[12:])
		f.tables[string(entry[:4])] = ttf[at : at+n]
	}
	if f.tables["glyf"] == nil && !f.postScript() {
		return nil, errFace
	}
	f.upem = float64(binary.BigEndian.Uint16(f.tables["head"][18:]))
	if n := f.measures(); n < 1 || len(f.tables["hmtx"]) < 4*n || f.upem == 0 {
		return nil, errFace
	}
	f.code([]text.Glyph{{Text: "\ufffd"}}) // what stands for a letter that no face has
	return f, nil
}

// postScript tells whether the outlines are those of PostScript, in a table of their own.
func (f *font) postScript() bool { return f.tables["CFF "] != nil }

// measures is how many glyphs have an advance of their own.
func (f *font) measures() int { return int(binary.BigEndian.Uint16(f.tables["hhea"][34:])) }

// advance is how wide a glyph is, in thousandths of an em.
func (f *font) advance(glyph uint16) float64 {
	return float64(binary.BigEndian.Uint16(f.tables["hmtx"][4*min(int(glyph), f.measures()-1):])) * 1000 / f.upem
}

// width is how wide a code is, in thousandths of an em.
func (f *font) width(c code) float64 {
	w := f.advance(c.glyph)
	for _, p := range c.parts() {
		w += f.advance(p.glyph)
	}
	return w
}

// bearer is the widest of some glyphs that stand together: a letter among its marks.
func (f *font) bearer(glyphs []text.Glyph) text.Glyph {
	return slices.MaxFunc(glyphs, func(a, b text.Glyph) int { return cmp.Compare(f.advance(a.ID), f.advance(b.ID)) })
}

// code is the code of some glyphs that stand together. As one, they are found and copied as the letters that they are
// in every reader.
func (f *font) code(glyphs []text.Glyph) uint16 {
	first := f.bearer(glyphs)
	k := code{glyph: first.ID, text: glyphs[0].Text}
	var more []byte
	for _, g := range glyphs {
		if g == first {
			continue
		}
		x, y := math.Round((g.X-first.X)*f.upem), math.Round((g.Y-first.Y)*f.upem)
		for _, v := range []uint16{g.ID, uint16(int16(x)), uint16(int16(y))} {
			more = binary.BigEndian.AppendUint16(more, v)
		}
	}
	k.more = string(more)
	c, known := f.codes[k]
	if !known {
		c = uint16(len(f.list))
		f.codes[k], f.list = c, append(f.list, k)
	}
	return c
}

// write writes the face with all that belongs to it: the subset, its widths, and what its codes mean (9.7).
func (f *font) write(out *file) (err error) {
	defer func() {
		if recover() != nil {
			err = errFace
		}
	}()
	tag := make([]byte, 6) // tells subsets of a face apart (9.6.4)
	for i, h := 0, f.sum(); i < len(tag); i, h = i+1, h/26 {
		tag[i] = byte('A' + h%26)
	}
	family := strings.Map(func(r rune) rune {
		if r == ':' {
			return '-'
		}
		return r
	}, f.name)
	name := string(tag) + "+Raconte-" + family[:min(len(family), 40)]
	head, hhea := f.tables["head"], f.tables["hhea"]
	em := func(table []byte, at int) int {
		return int(float64(int16(binary.BigEndian.Uint16(table[at:]))) * 1000 / f.upem)
	}
	const symbolic, slanted = 4, 64 // the codes are our own
	italic, flags, stem := 0.0, symbolic, 80
	if post := f.tables["post"]; len(post) >= 8 {
		italic = float64(int32(binary.BigEndian.Uint32(post[4:]))) / 65536
	}
	if italic != 0 {
		flags |= slanted
	}
	capital := em(hhea, 4)
	if os2 := f.tables["OS/2"]; len(os2) >= 90 {
		capital = em(os2, 88)
	}
	if strings.Contains(f.name, "bold") {
		stem = 140
	}
	box := [4]int{em(head, 36), em(head, 38), em(head, 40), em(head, 42)}
	// Of PostScript outlines, codes are the places of glyphs; of others, a table leads from the one to the other.
	var kind, program, order string
	if f.postScript() {
		kind = "CIDFontType0"
		program = fmt.Sprintf("/FontFile3 %d 0 R", out.packed(0, "/Subtype/CIDFontType0C", compact(name, box, f.forms())))
	} else {
		ttf, place := f.subset()
		var glyphs []byte
		for _, c := range f.list {
			glyphs = binary.BigEndian.AppendUint16(glyphs, place[c])
		}
		kind = "CIDFontType2"
		program = fmt.Sprintf("/FontFile2 %d 0 R", out.packed(0, fmt.Sprintf("/Length1 %d", len(ttf)), ttf))
		order = fmt.Sprintf("/CIDToGIDMap %d 0 R", out.packed(0, "", glyphs))
	}
	descriptor := out.object(0, fmt.Sprintf("<</Type/FontDescriptor/FontName/%s/Flags %d/FontBBox[%d %d %d %d]/ItalicAngle %g/Ascent %d/Descent %d/CapHeight %d/StemV %d%s>>",
		name, flags, box[0], box[1], box[2], box[3], italic, em(hhea, 4), em(hhea, 6), capital, stem, program))
	widths := []byte("[0[")
	for _, c := range f.list {
		widths = append(num(widths, f.width(c)), ' ')
	}
	widths = append(widths, "]]"...)
	unicode := out.packed(0, "", f.meanings())
	cid := out.object(0, fmt.Sprintf("<</Type/Font/Subtype/%s/BaseFont/%s/CIDSystemInfo<</Registry(Adobe)/Ordering(Identity)/Supplement 0>>/FontDescriptor %d 0 R/DW 1000/W%s%s>>", kind, name, descriptor, widths, order))
	out.object(f.id, fmt.Sprintf("<</Type/Font/Subtype/Type0/BaseFont/%s/Encoding/Identity-H/DescendantFonts[%d 0 R]/ToUnicode %d 0 R>>", name, cid, unicode))
	return nil
}

// sum is a number for what of the face is used.
func (f *font) sum() int {
	h := fnv.New32a()
	for _, c := range f.list {
		fmt.Fprintf(h, "%d %s %s|", c.glyph, c.text, c.more)
	}
	return int(h.Sum32())
}

// forms are the outlines of the codes, of a face with PostScript outlines.
func (f *font) forms() []form {
	var all []form
	for _, c := range f.list {
		one := form{f.width(c), text.Form(f.name, c.glyph, scene.Point{}, 1000)}
		for _, p := range c.parts() {
			at := scene.Point{X: float64(p.x) * 1000 / f.upem, Y: -float64(p.y) * 1000 / f.upem}
			one.outline = append(one.outline, text.Form(f.name, p.glyph, at, 1000)...)
		}
		for i := range one.outline { // upwards
			for n := range one.outline[i].P {
				one.outline[i].P[n].Y *= -1
			}
		}
		all = append(all, one)
	}
	return all
}

// meanings is the CMap that leads from codes to text (9.10.3).
func (f *font) meanings() []byte {
	out := []byte("/CIDInit /ProcSet findresource begin\n12 dict begin\nbegincmap\n/CIDSystemInfo<</Registry(Adobe)/Ordering(UCS)/Supplement 0>>def\n/CMapName/Adobe-Identity-UCS def\n/CMapType 2 def\n1 begincodespacerange\n<0000><FFFF>\nendcodespacerange\n")
	const most = 100 // of one section
	for from := 0; from < len(f.list); from += most {
		part := f.list[from:min(from+most, len(f.list))]
		out = fmt.Appendf(out, "%d beginbfchar\n", len(part))
		for i, c := range part {
			out = fmt.Appendf(out, "<%04X><", from+i)
			for _, u := range utf16.Encode([]rune(c.text)) {
				out = fmt.Appendf(out, "%04X", u)
			}
			out = append(out, ">\n"...)
		}
		out = append(out, "endbfchar\n"...)
	}
	return append(out, "endcmap\nCMapName currentdict/CMap defineresource pop\nend\nend\n"...)
}

// subset is a font file of the glyphs that are used, and which number each has in it.
func (f *font) subset() (ttf []byte, codes map[code]uint16) {
	place := map[uint16]uint16{}
	var order []uint16
	var add func(glyph uint16)
	add = func(glyph uint16) {
		if _, there := place[glyph]; there {
			return
		}
		place[glyph] = uint16(len(order))
		order = append(order, glyph)
		data := f.glyph(glyph)
		parts(data, func(at int) { add(binary.BigEndian.Uint16(data[at:])) })
	}
	for _, c := range f.list {
		add(c.glyph)
		for _, p := range c.parts() {
			add(p.glyph)
		}
	}
	var glyf, loca, hmtx []byte
	old, many := f.tables["hmtx"], f.measures()
	for _, glyph := range order {
		loca = binary.BigEndian.AppendUint32(loca, uint32(len(glyf)))
		data := slices.Clone(f.glyph(glyph))
		parts(data, func(at int) { binary.BigEndian.PutUint16(data[at:], place[binary.BigEndian.Uint16(data[at:])]) })
		glyf = padded(append(glyf, data...))
		bearing := 4*int(glyph) + 2
		if int(glyph) >= many {
			bearing = 4*many + 2*(int(glyph)-many)
		}
		hmtx = append(hmtx, old[4*min(int(glyph), many-1):][:2]...)
		hmtx = append(hmtx, old[bearing:][:2]...)
	}
	codes = map[code]uint16{}
	for _, c := range f.list {
		codes[c] = place[c.glyph]
		if c.more == "" {
			continue
		}
		codes[c] = uint16(len(loca) / 4)
		loca = binary.BigEndian.AppendUint32(loca, uint32(len(glyf)))
		glyf = padded(append(glyf, f.together(c, place)...))
		hmtx = binary.BigEndian.AppendUint16(hmtx, uint16(math.Round(f.width(c)*f.upem/1000)))
		hmtx = append(hmtx, f.tables["head"][36:38]...) // where its box begins, so that it stays where it is
	}
	many = len(loca) / 4
	loca = binary.BigEndian.AppendUint32(loca, uint32(len(glyf)))
	head, hhea, maxp := slices.Clone(f.tables["head"]), slices.Clone(f.tables["hhea"]), slices.Clone(f.tables["maxp"])
	binary.BigEndian.PutUint32(head[8:], 0)
	binary.BigEndian.PutUint16(head[50:], 1) // places of four bytes
	binary.BigEndian.PutUint16(hhea[34:], uint16(many))
	binary.BigEndian.PutUint16(maxp[4:], uint16(many))
	out := map[string][]byte{"glyf": glyf, "head": head, "hhea": hhea, "hmtx": hmtx, "loca": loca, "maxp": maxp}
	for _, hints := range []string{"cvt ", "fpgm", "prep"} {
		if b := f.tables[hints]; b != nil {
			out[hints] = b
		}
	}
	return assembled(out), codes
}

// together is a glyph made of several (OpenType, glyf, composite glyph description).
func (f *font) together(c code, place map[uint16]uint16) []byte {
	const words, places, more = 0x1, 0x2, 0x20
	all := append([]part{{glyph: c.glyph}}, c.parts()...)
	out := binary.BigEndian.AppendUint16(nil, 0xffff)
	out = append(out, f.tables["head"][36:44]...) // the box of the face holds it
	for i, p := range all {
		flags := uint16(words | places)
		if i < len(all)-1 {
			flags |= more
		}
		for _, v := range []uint16{flags, place[p.glyph], uint16(p.x), uint16(p.y)} {
			out = binary.BigEndian.AppendUint16(out, v)
		}
	}
	return out
}

// glyph is the outline of a glyph as it is kept.
func (f *font) glyph(id uint16) []byte {
	loca := f.tables["loca"]
	if short := binary.BigEndian.Uint16(f.tables["head"][50:]) == 0; short {
		at := 2 * int(id)
		return f.tables["glyf"][2*int(binary.BigEndian.Uint16(loca[at:])) : 2*int(binary.BigEndian.Uint16(loca[at+2:]))]
	}
	at := 4 * int(id)
	return f.tables["glyf"][binary.BigEndian.Uint32(loca[at:]):binary.BigEndian.Uint32(loca[at+4:])]
}

// parts calls do with the places in a glyph's data that name other glyphs: an accented letter is made of two (OpenType,
// glyf, composite glyph description).
func parts(data []byte, do func(at int)) {
	if len(data) < 10 || int16(binary.BigEndian.Uint16(data)) >= 0 {
		return
	}
	const words, scaled, more, scaledTwice, turned = 0x1, 0x8, 0x20, 0x40, 0x80
	for at := 10; at+4 <= len(data); {
		flags := binary.BigEndian.Uint16(data[at:])
		do(at + 2)
		at += 6
		if flags&words != 0 {
			at += 2
		}
		switch {
		case flags&scaled != 0:
			at += 2
		case flags&scaledTwice != 0:
			at += 4
		case flags&turned != 0:
			at += 8
		}
		if flags&more == 0 {
			return
		}
	}
}

// assembled is a font file of some tables.
func assembled(tables map[string][]byte) []byte {
	names := make([]string, 0, len(tables))
	for n := range tables {
		names = append(names, n)
	}
	slices.Sort(names)
	n, log := len(names), 0
	for 2<<log <= n {
		log++
	}
	out := binary.BigEndian.AppendUint32(nil, 0x10000)
	for _, v := range []int{n, 16 << log, log, 16*n - 16<<log} {
		out = binary.BigEndian.AppendUint16(out, uint16(v))
	}
	at := 12 + 16*n
	var body []byte
	for _, name := range names {
		table := tables[name]
		sum := uint32(0)
		for i := 0; i < len(table); i += 4 {
			var word [4]byte
			copy(word[:], table[i:])
			sum += binary.BigEndian.Uint32(word[:])
		}
		out = append(out, name...)
		for _, v := range []uint32{sum, uint32(at + len(body)), uint32(len(table))} {
			out = binary.BigEndian.AppendUint32(out, v)
		}
		body = padded(append(body, table...))
	}
	return append(out, body...)
}

// padded ends on four bytes.
func padded(b []byte) []byte {
	for len(b)%4 != 0 {
		b = append(b, 0)
	}
	return b
}

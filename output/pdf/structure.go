package pdf

import (
	"fmt"
	"strings"

	"raconte/core/scene"
)

// element is a part of the document's structure (14.7.2).
type element struct {
	role, alt string
	box       *scene.Rect // of a Figure, on its page, from the bottom up
	id, page  int         // page is the object of the page of its first content
	kids      []kid
}

// kid is one of a part, marked content, or an annotation.
type kid struct {
	part *element
	mark int // of marked content on page
	page int // its object
	note int // the object of an annotation
}

// holds tells whether content stands in the part itself. What is drawn in another is no content: a line, a ground.
func (e *element) holds() bool {
	switch e.role {
	case "P", "H1", "H2", "H3", "H4", "H5", "H6", "Lbl", "Link", "Span", "Figure":
		return true
	}
	return false
}

func (e *element) begin(role, alt string) *element {
	k := &element{role: role, alt: alt}
	e.kids = append(e.kids, kid{part: k})
	return k
}

// pruned leaves out parts with nothing in them, and tells whether anything is left. A Link without a place to lead to
// is a Span.
func (e *element) pruned() bool {
	kept := e.kids[:0]
	leads := false
	for _, k := range e.kids {
		if k.part == nil || k.part.pruned() {
			kept = append(kept, k)
			leads = leads || k.note != 0
		}
	}
	e.kids = kept
	if e.role == "Link" && !leads {
		e.role = "Span"
	}
	return len(kept) > 0
}

func (e *element) number(f *file) {
	e.id = f.reserve()
	for _, k := range e.kids {
		if k.part != nil {
			k.part.number(f)
		}
	}
}

func (e *element) write(f *file, parent int) {
	var b strings.Builder
	fmt.Fprintf(&b, "<</S/%s/P %d 0 R", e.role, parent)
	if e.page != 0 {
		fmt.Fprintf(&b, "/Pg %d 0 R", e.page)
	}
	if e.role == "Figure" { // on a Link it would be read instead of the words: there the annotation has it
		fmt.Fprintf(&b, "/Alt%s", f.str(e.alt))
	}
	switch {
	case e.box != nil:
		fmt.Fprintf(&b, "/A<</O/Layout/Placement/Block/BBox[%.2f %.2f %.2f %.2f]>>", e.box.X, e.box.Y, e.box.X+e.box.W, e.box.Y+e.box.H)
	case e.role == "L":
		b.WriteString("/A<</O/List/ListNumbering/Decimal>>")
	case e.role == "TH":
		b.WriteString("/A<</O/Table/Scope/Column>>")
	}
	b.WriteString("/K[")
	for _, k := range e.kids {
		switch {
		case k.part != nil:
			fmt.Fprintf(&b, "%d 0 R ", k.part.id)
		case k.note != 0:
			fmt.Fprintf(&b, "<</Type/OBJR/Obj %d 0 R/Pg %d 0 R>>", k.note, k.page)
		case k.page == e.page:
			fmt.Fprintf(&b, "%d ", k.mark)
		default:
			fmt.Fprintf(&b, "<</Type/MCR/Pg %d 0 R/MCID %d>>", k.page, k.mark)
		}
	}
	b.WriteString("]>>")
	f.object(e.id, b.String())
	for _, k := range e.kids {
		if k.part != nil {
			k.part.write(f, e.id)
		}
	}
}

// structure is the tree of parts that is being made, and what of the pages belongs to which.
type structure struct {
	root     *element
	open     []*element // nil is an artifact
	artifact string     // what kind of one is open
	keyed    map[string]*element
	marks    [][]*element // by side, the part of each marked content
	notes    []*element   // the part of each annotation
}

func newStructure() *structure {
	root := &element{role: "Document"}
	return &structure{root: root, open: []*element{root}, keyed: map[string]*element{}}
}

// part is the part that is open; nil in an artifact.
func (s *structure) part() *element { return s.open[len(s.open)-1] }

// tag begins or ends a part.
func (s *structure) tag(t scene.Tag) {
	switch {
	case t.Role == "":
		if s.part() == nil {
			s.artifact = ""
		}
		s.open = s.open[:len(s.open)-1]
	case t.Role == "Artifact" || s.part() == nil:
		if s.part() != nil {
			s.artifact = "/Type/Layout"
			if t.Kind != "" {
				s.artifact = "/Type/Pagination/Subtype/" + t.Kind
			}
		}
		s.open = append(s.open, nil)
	default:
		e := s.keyed[t.Key]
		if t.Key == "" || e == nil {
			e = s.part().begin(t.Role, t.Alt)
			if t.Key != "" {
				s.keyed[t.Key] = e
			}
		}
		s.open = append(s.open, e)
	}
}

// link is the innermost Link that is open, or nil.
func (s *structure) link() *element {
	for i := len(s.open) - 1; i >= 0; i-- {
		if e := s.open[i]; e != nil && e.role == "Link" {
			return e
		}
	}
	return nil
}

// write writes the tree, and answers with the object of its root.
func (s *structure) write(f *file) int {
	s.root.pruned()
	root := f.reserve()
	s.root.number(f)
	s.root.write(f, root)
	var nums strings.Builder
	for i, page := range s.marks {
		fmt.Fprintf(&nums, "%d[", i)
		for _, e := range page {
			fmt.Fprintf(&nums, "%d 0 R ", e.id)
		}
		nums.WriteString("]")
	}
	for i, e := range s.notes {
		fmt.Fprintf(&nums, "%d %d 0 R ", len(s.marks)+i, e.id)
	}
	parents := f.object(0, "<</Nums["+nums.String()+"]>>")
	return f.object(root, fmt.Sprintf("<</Type/StructTreeRoot/K %d 0 R/ParentTree %d 0 R/ParentTreeNextKey %d>>", s.root.id, parents, len(s.marks)+len(s.notes)))
}

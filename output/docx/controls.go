package docx

import (
	"strings"

	"raconte/output/office"

	"github.com/beevik/etree"
)

// controls puts placeholders in the place of content controls whose tag names one, so that both are filled in alike. A
// control tagged "each step" or "each section" repeats what is in it.
func (f *filler) controls(root *etree.Element) {
	for _, c := range root.FindElements(".//sdt") {
		tag := c.FindElement("sdtPr/tag")
		inside := c.SelectElement("sdtContent")
		if tag == nil || inside == nil || c.Space != string(office.Word) {
			continue
		}
		name := office.Name(strings.NewReplacer("_", " ", "-", " ").Replace(tag.SelectAttrValue("w:val", "")))
		if !f.known(name) {
			if name != "" {
				f.where = "in a content control"
				f.note("The tag %q stands for nothing. The control is left as it is.", tag.SelectAttrValue("w:val", ""))
			}
			continue
		}
		f.control(c, inside, name)
	}
}

// control puts a placeholder in the place of one content control.
func (f *filler) control(c, inside *etree.Element, name string) {
	kids := inside.ChildElements()
	if len(kids) == 0 {
		return
	}
	var now []*etree.Element
	switch repeats := strings.HasPrefix(name, "each "); {
	case repeats && kids[0].Tag == "tr":
		now = append(append([]*etree.Element{rowSaying("{" + name + "}")}, kids...), rowSaying("{end}"))
	case repeats:
		now = append(append([]*etree.Element{saying("{"+name+"}", nil)}, kids...), saying("{end}", nil))
	case kids[0].Tag == "r":
		now = []*etree.Element{office.Word.Run(kids[0].SelectElement("rPr"), "{"+name+"}")}
	case kids[0].Tag == "tc":
		first := kids[0].SelectElement("p")
		for _, e := range kids[0].ChildElements() {
			if e.Tag != "tcPr" {
				kids[0].RemoveChild(e)
			}
		}
		kids[0].AddChild(saying("{"+name+"}", first))
		now = kids
	default:
		now = []*etree.Element{saying("{"+name+"}", inside.FindElement(".//p"))}
	}
	in, at := c.Parent(), c.Index()
	in.RemoveChildAt(at)
	for i, e := range now {
		in.InsertChildAt(at+i, e)
	}
}

// saying is a paragraph with a text, that looks like another.
func saying(text string, like *etree.Element) *etree.Element {
	p := etree.NewElement("w:p")
	var letters *etree.Element
	if like != nil {
		if look := like.SelectElement("pPr"); look != nil {
			p.AddChild(look.Copy())
		}
		if r := like.FindElement(".//r/rPr"); r != nil {
			letters = r
		}
	}
	p.AddChild(office.Word.Run(letters, text))
	return p
}

func rowSaying(text string) *etree.Element {
	row := etree.NewElement("w:tr")
	row.CreateElement("w:tc").AddChild(saying(text, nil))
	return row
}

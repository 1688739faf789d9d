package docx

import (
	"fmt"
	"strings"

	"raconte/core/style"
	"raconte/output/office"
)

// styles are the styles of paragraphs, letters and tables, after the house style.
func styles(st style.Style, language string) string {
	family := st.Faces.Family
	if family == "" {
		family = "Atkinson Hyperlegible Next"
	}
	hex := func(c string) string { return strings.ToUpper(c[1:7]) }
	ink, soft, accent, line := hex(st.Colors.Text), hex(st.Colors.Soft), hex(st.Colors.Accent), hex(st.Colors.Line)
	var out strings.Builder
	half := func(points float64) int { return int(points*2 + 0.5) }
	fmt.Fprintf(&out, `<w:styles %s><w:docDefaults><w:rPrDefault><w:rPr><w:rFonts w:ascii="%s" w:hAnsi="%s" w:cs="%s" w:eastAsia="%s"/><w:color w:val="%s"/><w:sz w:val="%d"/><w:szCs w:val="%d"/><w:lang w:val="%s"/></w:rPr></w:rPrDefault>`+
		`<w:pPrDefault><w:pPr><w:spacing w:after="80" w:line="276" w:lineRule="auto"/></w:pPr></w:pPrDefault></w:docDefaults>`,
		spaces, office.Esc(family), office.Esc(family), office.Esc(family), office.Esc(family), ink, half(st.Size), half(st.Size), language)
	paragraph := func(id, name, based, next, properties, letters string) {
		if based != "" {
			based = `<w:basedOn w:val="` + based + `"/>`
		}
		if next != "" {
			next = `<w:next w:val="` + next + `"/>`
		}
		usual := ""
		if id == "Normal" {
			usual = ` w:default="1"`
		}
		fmt.Fprintf(&out, `<w:style w:type="paragraph"%s w:styleId="%s"><w:name w:val="%s"/>%s%s<w:qFormat/><w:pPr>%s</w:pPr><w:rPr>%s</w:rPr></w:style>`, usual, id, name, based, next, properties, letters)
	}
	size := func(points float64) string {
		return fmt.Sprintf(`<w:sz w:val="%d"/><w:szCs w:val="%d"/>`, half(points), half(points))
	}
	in := twips(indentOf)
	paragraph("Normal", "Normal", "", "", "", "")
	paragraph("BodyText", "Body Text", "Normal", "", "", "")
	paragraph("Title", "Title", "Normal", "Meta", `<w:keepNext/><w:spacing w:before="0" w:after="60" w:line="240" w:lineRule="auto"/>`, `<w:b/>`+size(20))
	paragraph("Kind", "Kind of document", "Normal", "Title", `<w:spacing w:after="0"/>`, `<w:b/><w:color w:val="`+accent+`"/>`+size(9))
	paragraph("Meta", "About the document", "Normal", "", "", `<w:color w:val="`+soft+`"/>`+size(9))
	paragraph("Draft", "Draft stamp", "Normal", "", `<w:jc w:val="center"/>`, `<w:b/><w:color w:val="B3261E"/>`)
	for i, s := range []float64{15, 12.5} {
		paragraph(fmt.Sprint("Heading", i+1), fmt.Sprint("heading ", i+1), "Normal", "Step", fmt.Sprintf(`<w:keepNext/><w:keepLines/><w:spacing w:before="%d" w:after="120"/><w:outlineLvl w:val="%d"/>`, 360-100*i, i), `<w:b/>`+size(s))
		paragraph(fmt.Sprint("TOC", i+1), fmt.Sprint("toc ", i+1), "Normal", "", fmt.Sprintf(`<w:spacing w:after="20"/><w:ind w:left="%d"/>`, i*in), "")
	}
	paragraph("ContentsHeading", "Contents heading", "Normal", "", `<w:keepNext/><w:spacing w:before="200"/>`, `<w:b/><w:color w:val="`+accent+`"/>`)
	rule := ""
	if st.Steps.Rules {
		rule = `<w:pBdr><w:top w:val="single" w:sz="4" w:space="6" w:color="` + line + `"/></w:pBdr>`
	}
	paragraph("Step", "Step", "Normal", "", `<w:keepNext/><w:keepLines/>`+rule+fmt.Sprintf(`<w:spacing w:before="200"/><w:ind w:left="%d"/>`, in), "")
	paragraph("StepMore", "Step continued", "Normal", "", fmt.Sprintf(`<w:ind w:left="%d"/>`, in), "")
	paragraph("ListParagraph", "List Paragraph", "Normal", "", `<w:contextualSpacing/>`, "")
	paragraph("Leads", "Leads to", "StepMore", "", "", `<w:b/>`)
	paragraph("Picture", "Picture", "StepMore", "", `<w:spacing w:before="60" w:after="120" w:line="240" w:lineRule="auto"/>`, "")
	paragraph("Caption", "caption", "StepMore", "", "", `<w:color w:val="`+soft+`"/>`+size(8))
	paragraph("Critical", "Critical step", "Normal", "Step", `<w:keepNext/><w:shd w:val="clear" w:color="auto" w:fill="`+ink+`"/>`, `<w:b/><w:color w:val="FFFFFF"/>`)
	paragraph("NoticeWord", "Signal word", "Normal", "NoticeText", `<w:keepNext/><w:spacing w:before="20" w:after="20"/>`, `<w:b/>`)
	paragraph("NoticeText", "Notice", "Normal", "", `<w:keepNext/><w:spacing w:after="20"/>`, "")
	paragraph("AfterNotice", "After a notice", "Normal", "", `<w:keepNext/><w:spacing w:after="0" w:line="120" w:lineRule="exact"/>`, size(4))
	paragraph("TableText", "Table text", "Normal", "", `<w:spacing w:before="20" w:after="20"/>`, "")
	paragraph("TableHead", "Table head", "TableText", "", "", `<w:b/>`)
	paragraph("Band", "Header and footer", "Normal", "", `<w:spacing w:after="0"/>`, `<w:color w:val="`+soft+`"/>`+size(8.5))
	letters := func(id, name, properties string) {
		fmt.Fprintf(&out, `<w:style w:type="character" w:styleId="%s"><w:name w:val="%s"/><w:rPr>%s</w:rPr></w:style>`, id, name, properties)
	}
	underlined := ""
	if st.Links.Underlined {
		underlined = `<w:u w:val="single"/>`
	}
	letters("Hyperlink", "Hyperlink", `<w:color w:val="`+accent+`"/>`+underlined)
	letters("Control", "Name of a control", `<w:b/>`)
	letters("Key", "Key", `<w:bdr w:val="single" w:sz="4" w:space="0" w:color="`+soft+`"/>`)
	letters("Code", "Code", `<w:rFonts w:ascii="Liberation Mono" w:hAnsi="Liberation Mono" w:cs="Liberation Mono"/><w:shd w:val="clear" w:color="auto" w:fill="`+hex(st.Colors.Shade)+`"/>`)
	edge := ""
	for _, side := range []string{"top", "left", "bottom", "right", "insideH", "insideV"} {
		edge += fmt.Sprintf(`<w:%s w:val="single" w:sz="4" w:space="0" w:color="%s"/>`, side, soft)
	}
	fmt.Fprintf(&out, `<w:style w:type="table" w:styleId="Grid"><w:name w:val="Table Grid"/><w:tblPr><w:tblBorders>%s</w:tblBorders><w:tblCellMar><w:left w:w="100" w:type="dxa"/><w:right w:w="100" w:type="dxa"/></w:tblCellMar></w:tblPr></w:style></w:styles>`, edge)
	return out.String()
}

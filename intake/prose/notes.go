package prose

import (
	"fmt"

	"raconte/core/words"

	"github.com/beevik/etree"
)

// notes are the footnotes and endnotes of a text: where one is referred to stands its number in brackets, and they
// stand at the text's end.
type notes struct {
	of   map[string][]words.Node // by their kind and id
	said []piece
}

// read reads what the notes say.
func (n *notes) read(r *docxReader) {
	for _, kind := range []string{"footnote", "endnote"} {
		root, err := r.part("word/" + kind + "s.xml")
		if err != nil {
			continue // there are none
		}
		for _, e := range root.SelectElements(kind) {
			var said []words.Node
			for _, p := range e.SelectElements("p") {
				inline, shows := r.runs(p, words.Style{}, 0)
				if len(shows) > 0 {
					r.leave("A picture in a footnote.")
				}
				if len(said) > 0 && len(inline) > 0 {
					said = append(said, words.Node{Type: "text", Text: " "})
				}
				said = append(said, inline...)
			}
			n.of[kind+e.SelectAttrValue("id", "")] = tidied(said)
		}
	}
}

// refer is what stands where a note is referred to.
func (n *notes) refer(reference *etree.Element) []words.Node {
	kind := map[string]string{"footnoteReference": "footnote", "endnoteReference": "endnote"}[reference.Tag]
	return n.add(n.of[kind+reference.SelectAttrValue("id", "")])
}

// add numbers a note.
func (n *notes) add(said []words.Node) []words.Node {
	if len(said) == 0 {
		return nil
	}
	number := fmt.Sprintf("[%d]", len(n.said)+1)
	n.said = append(n.said, piece{inline: append([]words.Node{{Type: "text", Text: number + " "}}, said...)})
	return []words.Node{{Type: "text", Text: " " + number}}
}

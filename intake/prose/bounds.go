package prose

import (
	"bytes"
	"path"
	"regexp"
)

// What is counted before a text is read: readers of Markdown take time by the square of these, and readers of XML
// memory by them.
const (
	deepestBlock  = 60 // quotations and lists within each other
	mostLinks     = 60_000
	mostLinksOf   = 4_000 // one paragraph
	mostStyled    = 200_000
	mostStyledOf  = 8_000 // one paragraph
	mostElements  = 600_000
	deepestMarkup = 400
)

// within is what a line of Markdown begins with that opens blocks within each other.
var within = regexp.MustCompile(`^(?:[ \t]*(?:>|[-*+](?:[ \t]|$)|\d{1,9}[.)](?:[ \t]|$)))+`)
var opener = regexp.MustCompile(`>|[-*+](?:[ \t]|$)|\d{1,9}[.)]`)

// boundMarkdown refuses a text that would take too long to be read.
func boundMarkdown(name string, raw []byte) error {
	links, here, styled, styledHere := 0, 0, 0, 0
	for line := range bytes.Lines(raw) {
		if start := within.Find(line); len(start) > deepestBlock && len(opener.FindAll(start, deepestBlock+1)) > deepestBlock {
			return refuse("%s has quotations or lists more than %d deep within each other.", path.Base(name), deepestBlock)
		}
		if len(bytes.TrimSpace(line)) == 0 {
			here, styledHere = 0, 0
		}
		n := bytes.Count(line, []byte("["))
		links, here = links+n, here+n
		if links > mostLinks || here > mostLinksOf {
			return refuse("%s has more links than can be read: at most %d, and %d in one paragraph.", path.Base(name), mostLinks, mostLinksOf)
		}
		for _, b := range line {
			if b == '*' || b == '_' || b == '~' || b == '`' {
				styled, styledHere = styled+1, styledHere+1
			}
		}
		if styled > mostStyled || styledHere > mostStyledOf {
			return refuse("%s has more stars, lines and ticks that style words than can be read: at most %d, and %d in one paragraph.", path.Base(name), mostStyled, mostStyledOf)
		}
	}
	return nil
}

// boundXML refuses a part of a document with more elements than are read.
func boundXML(name string, raw []byte) error {
	if bytes.Count(raw, []byte("<")) > 2*mostElements {
		return refuse("%s has more than %d elements.", path.Base(name), mostElements)
	}
	depth := 0
	for i := 0; i < len(raw); i++ { // closed or not: how deep it goes at the most
		if raw[i] != '<' || i+1 == len(raw) {
			continue
		}
		switch raw[i+1] {
		case '/':
			depth--
		case '!', '?':
		default:
			end := bytes.IndexByte(raw[i:], '>')
			if end > 0 && raw[i+end-1] != '/' {
				depth++
			}
			if depth > deepestMarkup {
				return refuse("%s has elements more than %d deep within each other.", path.Base(name), deepestMarkup)
			}
		}
	}
	return nil
}

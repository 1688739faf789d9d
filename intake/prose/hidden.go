package prose

import (
	"errors"
	"io"
	"strings"

	"github.com/andybalholm/cascadia"
	"github.com/tdewolff/parse/v2"
	"github.com/tdewolff/parse/v2/css"
	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// Limits of the style sheets of a page that are looked at for what they hide.
const (
	mostHiding   = 2000
	mostMatching = 20_000_000 // selectors times elements
)

// unhidden takes out of a page what its author deleted or does not show: marked as deleted, hidden by an attribute, a
// style of its own or a rule of the page's style sheets. It tells whether there was anything.
func unhidden(root *html.Node) (any bool) {
	var sheets strings.Builder
	elements := 0
	for n := range root.Descendants() {
		if n.Type == html.ElementNode {
			elements++
			if n.DataAtom == atom.Style {
				sheets.WriteString(textOf(n) + "\n")
			}
		}
	}
	rules := hiding(sheets.String())
	if len(rules)*elements > mostMatching {
		rules = rules[:mostMatching/elements]
	}
	var gone []*html.Node
	for n := range root.Descendants() {
		if n.Type != html.ElementNode || n.DataAtom == atom.Html || n.DataAtom == atom.Body || n.DataAtom == atom.Head {
			continue
		}
		hidden := n.DataAtom == atom.Del || hides(attribute(n, "style"))
		for _, a := range n.Attr {
			hidden = hidden || a.Key == "hidden" && a.Val != "until-found"
		}
		for _, rule := range rules {
			hidden = hidden || rule.Match(n)
		}
		if hidden {
			gone = append(gone, n)
		}
	}
	for _, n := range gone {
		if n.Parent != nil {
			any = any || strings.TrimSpace(textOf(n)) != "" || cascadia.Query(n, pictures) != nil
			n.Parent.RemoveChild(n)
		}
	}
	return any
}

var pictures = cascadia.MustCompile("img")

// hides tells whether declarations of CSS hide what they are of.
func hides(style string) bool {
	for d := range strings.SplitSeq(style, ";") {
		name, value, _ := strings.Cut(d, ":")
		value = strings.ToLower(strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(value), "!important")))
		switch strings.ToLower(strings.TrimSpace(name)) {
		case "display":
			if value == "none" {
				return true
			}
		case "visibility":
			if value == "hidden" || value == "collapse" {
				return true
			}
		case "opacity", "font-size":
			if strings.Trim(value, "0.%pxemr") == "" && strings.Contains(value, "0") && !strings.ContainsAny(value, "123456789") {
				return true
			}
		}
	}
	return false
}

// hiding are the selectors of rules that hide, outside of rules that hold only on paper or at some width.
func hiding(sheet string) []cascadia.Sel {
	var out []cascadia.Sel
	p := css.NewParser(parse.NewInputString(sheet), false)
	depth := 0
	var selector, body strings.Builder
	for len(out) < mostHiding {
		kind, _, data := p.Next()
		switch kind {
		case css.ErrorGrammar:
			if errors.Is(p.Err(), io.EOF) {
				return out
			}
		case css.BeginAtRuleGrammar:
			depth++
		case css.EndAtRuleGrammar:
			depth--
		case css.QualifiedRuleGrammar, css.BeginRulesetGrammar:
			for _, v := range p.Values() {
				selector.Write(v.Data)
			}
			if kind == css.QualifiedRuleGrammar {
				selector.WriteByte(',')
			}
		case css.DeclarationGrammar:
			body.Write(data)
			body.WriteByte(':')
			for _, v := range p.Values() {
				body.Write(v.Data)
			}
			body.WriteByte(';')
		case css.EndRulesetGrammar:
			if depth == 0 && hides(body.String()) {
				for s := range strings.SplitSeq(selector.String(), ",") {
					if sel, err := cascadia.Parse(strings.TrimSpace(s)); err == nil && sel.PseudoElement() == "" {
						out = append(out, sel)
					}
				}
			}
			selector.Reset()
			body.Reset()
		}
	}
	return out
}

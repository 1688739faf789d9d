package html

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"regexp"
	"strconv"
	"strings"

	"raconte/core/refusal"

	"github.com/tdewolff/parse/v2"
	"github.com/tdewolff/parse/v2/css"
	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// mostPage is how many bytes a template of the house writes: it is all read before any of it goes out.
const mostPage = 160 << 20

// forbidden is what a page of the house may not have.
type forbidden struct {
	what string
	near string // as it stands in the page
	in   string // what it stands in, where it may be written in another way
}

func (f forbidden) Error() string { return f.what }

// page is what a template writes, within bounds, as long as someone waits for it.
type page struct {
	ctx context.Context
	bytes.Buffer
}

func (p *page) Write(b []byte) (int, error) {
	if err := p.ctx.Err(); err != nil {
		return 0, err
	}
	if p.Len()+len(b) > mostPage {
		return 0, refusal.New("The page has more than %d MB with this template.", mostPage>>20)
	}
	return p.Buffer.Write(b)
}

// guarded writes a page as browsers read it: it is parsed by their rules (HTML, 13.2), looked at, and what was parsed
// is written out, so that nothing can be one thing to this guard and another to a browser. The browser is told besides,
// at the beginning of each page, that nothing may run and nothing be fetched.
func guarded(ctx context.Context, to io.Writer, script bool, write func(io.Writer) error) error {
	made := &page{ctx: ctx}
	if err := write(made); err != nil {
		return err
	}
	root, err := html.Parse(&made.Buffer)
	if err != nil {
		return refusal.New("The page can't be read: %s.", err)
	}
	g := guard{script: script}
	for n := range root.Descendants() {
		if err := ctx.Err(); err != nil {
			return err
		}
		if err := g.node(n); err != nil {
			return err
		}
	}
	g.policy(root)
	if err := html.Render(to, root); err != nil {
		return fmt.Errorf("writing the page: %w", err)
	}
	return nil
}

type guard struct{ script bool }

// policy tells the browser what the page may fetch and run, first of all in its head.
func (g guard) policy(root *html.Node) {
	content := "default-src 'none'; img-src 'self' data:; media-src 'self' data:; style-src 'unsafe-inline'; font-src data:"
	if g.script {
		content += "; script-src 'unsafe-inline'"
	}
	meta := &html.Node{Type: html.ElementNode, Data: "meta", DataAtom: atom.Meta, Attr: []html.Attribute{{Key: "http-equiv", Val: "Content-Security-Policy"}, {Key: "content", Val: content}}}
	for n := range root.Descendants() {
		if n.DataAtom == atom.Head {
			n.InsertBefore(meta, n.FirstChild)
			break
		}
	}
	if first := root.FirstChild; first == nil || first.Type != html.DoctypeNode {
		root.InsertBefore(&html.Node{Type: html.DoctypeNode, Data: "html"}, first)
	}
}

func (g guard) node(n *html.Node) error {
	switch n.Type {
	case html.CommentNode: // nobody reads it, and browsers do not agree where it ends
		n.Data = ""
		return nil
	case html.TextNode:
		if n.Parent != nil && n.Parent.Data == "style" {
			return sheet(n.Data, false)
		}
		return nil
	case html.ElementNode:
	default:
		return nil
	}
	tag := strings.ToLower(n.Data)
	switch {
	case tag == "script" && !g.script:
		return forbidden{"A template can't run script unless the administrator allows it.", "<script", ""}
	case n.Namespace == "svg" && (tag == "script" || tag == "style"):
		return forbidden{fmt.Sprintf("A template can't have <%s> in SVG or MathML.", tag), "<" + tag, ""}
	case !elements[tag], n.Namespace != "" && (n.Namespace != "svg" || !drawn[n.Data]):
		return forbidden{fmt.Sprintf("A template can't have <%s>.", tag), "<" + tag, ""}
	}
	for _, a := range n.Attr {
		if err := g.attribute(tag, a, n.Attr); err != nil {
			return err
		}
	}
	return nil
}

// followed are the schemes of links that readers may follow.
var followed = regexp.MustCompile(`(?i)^(https?:|mailto:|tel:|#|[^:]*$|[^:]*[/?#])`)

// inside are addresses of what is in the page or beside it.
var inside = regexp.MustCompile(`(?i)^(data:image/|data:font/|data:video/|data:audio/|#|[\pL\pN_-][\pL\pN ._/-]*$)`)

func (g guard) attribute(tag string, a html.Attribute, all []html.Attribute) error {
	name, value := strings.ToLower(a.Key), strings.TrimSpace(a.Val)
	if strings.HasPrefix(name, "on") {
		if g.script {
			return nil
		}
		return forbidden{fmt.Sprintf("A template can't run script unless the administrator allows it: %s.", name), name, ""}
	}
	if name == "srcset" || name == "imagesrcset" {
		return forbidden{fmt.Sprintf("A template can't fetch what is not in it: %s=%q.", name, shortened(value)), shortened(value), ""}
	}
	if a.Namespace == "xmlns" || name == "xmlns" || strings.HasPrefix(name, "xmlns:") {
		return nil
	}
	_, local, colon := strings.Cut(name, ":")
	if !colon {
		local = name
	}
	if !attributes[local] && !named.MatchString(local) {
		return forbidden{fmt.Sprintf("A template can't have the attribute %s.", name), name, ""}
	}
	switch {
	case local == "style":
		return sheet(value, true)
	case local == "href" && (tag == "a" || tag == "area"), local == "cite":
		if !followed.MatchString(value) || strings.ContainsFunc(value, func(r rune) bool { return r < ' ' }) {
			return forbidden{fmt.Sprintf("A link leads where none may lead: %s=%q.", name, shortened(value)), shortened(value), ""}
		}
	case local == "src", local == "poster", local == "href":
		if value != "" && (!inside.MatchString(value) || strings.Contains(value, "..")) {
			return forbidden{fmt.Sprintf("A template can't fetch what is not in it: %s=%q.", name, shortened(value)), shortened(value), ""}
		}
	case tag == "meta" && local == "http-equiv" && !strings.EqualFold(value, "content-security-policy") && !strings.EqualFold(value, "content-type"):
		return forbidden{fmt.Sprintf("A template can't have <meta http-equiv=%q>.", value), value, ""}
	case strings.Contains(value, "(") || strings.Contains(value, "\\"):
		if _, free := map[string]bool{"content": true, "alt": true, "title": true, "value": true, "placeholder": true, "label": true, "pattern": true}[local]; !free && !named.MatchString(local) {
			return fetchless(value) // fill, mask, clip-path and the like take the values of CSS
		}
	}
	return nil
}

func shortened(s string) string {
	if r := []rune(s); len(r) > 60 {
		return string(r[:60]) + "…"
	}
	return s
}

var (
	escaped  = regexp.MustCompile(`\\([0-9a-fA-F]{1,6})\s?|\\(.)`)
	comments = regexp.MustCompile(`(?s)/\*.*?\*/`)
	fetches  = regexp.MustCompile(`(?i)@import|url\(\s*["']?\s*([^"')\s]*)|image-set\(|image\(|cross-fade\(|element\(|paint\(|\bsrc\(|expression\(`)
	beside   = regexp.MustCompile(`(?i)^(data:image/|data:font/|#|$)`)
)

// unescaped is CSS with characters that are written as numbers written out.
func unescaped(s string) string {
	return escaped.ReplaceAllStringFunc(s, func(s string) string {
		m := escaped.FindStringSubmatch(s)
		if m[1] == "" {
			return m[2]
		}
		n, _ := strconv.ParseInt(m[1], 16, 32)
		return string(rune(n))
	})
}

// fetchless refuses values of CSS that would fetch something.
func fetchless(s string) error {
	for _, m := range fetches.FindAllStringSubmatch(unescaped(comments.ReplaceAllString(s, "")), -1) {
		if strings.HasPrefix(strings.ToLower(m[0]), "url(") && beside.MatchString(m[1]) {
			continue
		}
		return forbidden{fmt.Sprintf("Styles can't fetch what is not in the template: %s.", shortened(m[0])), m[0], s}
	}
	return nil
}

// sheet looks at a style sheet, or, inline, at the declarations of an element: properties and rules are those that are
// allowed.
func sheet(s string, inline bool) error {
	if err := fetchless(s); err != nil {
		return err
	}
	p := css.NewParser(parse.NewInputString(s), inline)
	for {
		kind, _, data := p.Next()
		name := strings.ToLower(unescaped(string(data)))
		switch kind {
		case css.ErrorGrammar:
			if errors.Is(p.Err(), io.EOF) {
				return nil
			}
		case css.DeclarationGrammar, css.CustomPropertyGrammar:
			if !properties.MatchString(name) {
				return forbidden{fmt.Sprintf("Styles can't set %s.", shortened(name)), string(data), s}
			}
		case css.AtRuleGrammar, css.BeginAtRuleGrammar:
			if !rules[name] {
				return forbidden{fmt.Sprintf("Styles can't have %s.", shortened(name)), string(data), s}
			}
		}
	}
}

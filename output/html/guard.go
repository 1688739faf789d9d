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

	"golang.org/x/net/html"
)

// The bounds of what a template of the house writes, in bytes: in all, and one tag (a picture is one).
const (
	mostPage = 400 << 20
	mostTag  = 64 << 20
)

// forbidden is what a page of the house may not have.
type forbidden struct {
	what string
	near string // as it stands in the page
	in   string // what it stands in, where it may be written in another way
}

func (f forbidden) Error() string { return f.what }

// guarded passes on what is written to it, and stops at what would run, or would fetch something from elsewhere. The page
// is told to the browser to be such as well, at its beginning.
func guarded(ctx context.Context, to io.Writer, script bool, write func(io.Writer) error) error {
	from, into := io.Pipe()
	done := make(chan error, 1)
	go func() {
		err := write(into)
		into.CloseWithError(err)
		done <- err
	}()
	g := &guard{to: to, script: script, left: mostPage}
	err := g.pass(ctx, html.NewTokenizer(from))
	from.CloseWithError(errStopped)
	if written := <-done; written != nil && !errors.Is(written, errStopped) {
		return written
	}
	return err
}

var errStopped = errors.New("the page is not read on")

type guard struct {
	to      io.Writer
	script  bool
	left    int
	policed bool
	foreign int // SVG and MathML that are open: in them a browser reads some elements in another way
}

func (g *guard) pass(ctx context.Context, z *html.Tokenizer) error {
	z.SetMaxBuf(mostTag)
	styled := false
	for {
		kind := z.Next()
		if kind == html.ErrorToken {
			if errors.Is(z.Err(), io.EOF) {
				return ctx.Err()
			}
			if errors.Is(z.Err(), html.ErrBufferExceeded) {
				return refusal.New("A tag of the page has more than %d MB.", mostTag>>20)
			}
			return fmt.Errorf("reading the page: %w", z.Err())
		}
		raw := bytes.Clone(z.Raw())
		if g.left -= len(raw); g.left < 0 {
			return refusal.New("The page has more than %d MB with this template.", mostPage>>20)
		}
		if err := ctx.Err(); err != nil {
			return err
		}
		if kind == html.TextToken && styled {
			if err := styles(string(raw)); err != nil {
				return err
			}
		}
		styled = false
		after := ""
		switch kind {
		case html.StartTagToken, html.SelfClosingTagToken:
			name, more := z.TagName()
			tag := string(name)
			if err := g.element(tag); err != nil {
				return err
			}
			if err := g.attributes(tag, z, more); err != nil {
				return err
			}
			styled = tag == "style"
			if (tag == "svg" || tag == "math") && kind == html.StartTagToken {
				g.foreign++
			}
			if !g.policed && (tag == "html" || tag == "head") {
				g.policed, after = true, g.policy()
			} else if !g.policed && tag == "body" {
				g.policed, raw = true, append([]byte(g.policy()), raw...)
			}
		case html.EndTagToken:
			if name, _ := z.TagName(); g.foreign > 0 && (string(name) == "svg" || string(name) == "math") {
				g.foreign--
			}
		}
		if _, err := g.to.Write(append(raw, after...)); err != nil {
			return err
		}
	}
}

// policy tells the browser what the page may fetch and run, for what this guard does not know of.
func (g *guard) policy() string {
	script := ""
	if g.script {
		script = "; script-src 'unsafe-inline'"
	}
	return `<meta http-equiv="Content-Security-Policy" content="default-src 'none'; img-src 'self' data:; style-src 'unsafe-inline'; font-src data:` + script + `">`
}

// refused are elements that fetch something, that send something, or whose content browsers read in different ways.
var refused = names("iframe frame frameset object embed applet base form portal noscript noembed noframes xmp plaintext animate set animatemotion animatetransform")

// raw are the elements whose content is no markup in HTML, and is in SVG and MathML.
var raw = names("script style title textarea")

func (g *guard) element(tag string) error {
	switch {
	case tag == "script" && !g.script:
		return forbidden{"A template can't run script unless the administrator allows it.", "<script", ""}
	case refused[tag]:
		return forbidden{fmt.Sprintf("A template can't have <%s>.", tag), "<" + tag, ""}
	case g.foreign > 0 && raw[tag]:
		return forbidden{fmt.Sprintf("A template can't have <%s> in SVG or MathML.", tag), "<" + tag, ""}
	}
	return nil
}

// fetched are attributes whose address is fetched when a page is opened; others are followed by readers.
var fetched = names("src srcset poster background data code codebase lowsrc dynsrc archive profile manifest imagesrcset")

// followed are the schemes of links that readers may follow.
var followed = regexp.MustCompile(`(?i)^(https?:|mailto:|tel:|#|[^:]*$|[^:]*[/?#])`)

// inside are addresses of what is in the page or beside it.
var inside = regexp.MustCompile(`(?i)^(data:image/|data:font/|#|[\pL\pN_-][\pL\pN ._/-]*$)`)

func (g *guard) attributes(tag string, z *html.Tokenizer, more bool) error {
	for more {
		var key, val []byte
		key, val, more = z.TagAttr()
		name, value := string(key), strings.TrimSpace(string(val))
		_, local, colon := strings.Cut(name, ":")
		if !colon {
			local = name
		}
		switch {
		case strings.HasPrefix(local, "on") && !g.script:
			return forbidden{fmt.Sprintf("A template can't run script unless the administrator allows it: %s.", name), name, ""}
		case local == "style":
			if err := styles(value); err != nil {
				return err
			}
		case fetched[local], local == "href" && tag != "a" && tag != "area":
			if value != "" && (!inside.MatchString(value) || strings.Contains(value, "..")) {
				return forbidden{fmt.Sprintf("A template can't fetch what is not in it: %s=%q.", name, shortened(value)), shortened(value), ""}
			}
		case local == "href", local == "action", local == "formaction", local == "ping", local == "cite":
			if !followed.MatchString(value) {
				return forbidden{fmt.Sprintf("A link leads where none may lead: %s=%q.", name, shortened(value)), shortened(value), ""}
			}
		case tag == "meta" && local == "http-equiv" && !strings.EqualFold(value, "content-security-policy") && !strings.EqualFold(value, "content-type"):
			return forbidden{fmt.Sprintf("A template can't have <meta http-equiv=%q>.", value), value, ""}
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
	escaped = regexp.MustCompile(`\\([0-9a-fA-F]{1,6})\s?|\\(.)`)
	fetches = regexp.MustCompile(`(?i)@import|url\(\s*["']?\s*([^"')\s]*)|image-set\(|\bsrc\(`)
	beside  = regexp.MustCompile(`(?i)^(data:image/|data:font/|#|$)`)
)

// styles refuses what CSS would fetch. Characters may be written as numbers in it.
func styles(css string) error {
	plain := escaped.ReplaceAllStringFunc(css, func(s string) string {
		m := escaped.FindStringSubmatch(s)
		if m[1] == "" {
			return m[2]
		}
		n, _ := strconv.ParseInt(m[1], 16, 32)
		return string(rune(n))
	})
	for _, m := range fetches.FindAllStringSubmatch(plain, -1) {
		if strings.HasPrefix(strings.ToLower(m[0]), "url(") && beside.MatchString(m[1]) {
			continue
		}
		return forbidden{fmt.Sprintf("Styles can't fetch what is not in the template: %s.", shortened(m[0])), m[0], css}
	}
	return nil
}

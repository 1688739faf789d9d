package mail

import (
	"strings"

	"golang.org/x/net/html"
)

// plain is the text of a page, a line for each of its blocks. Nothing of it is run or fetched.
func plain(page string) string {
	var out strings.Builder
	z := html.NewTokenizer(strings.NewReader(page))
	hidden := 0
	for {
		switch z.Next() {
		case html.ErrorToken:
			return strings.TrimSpace(out.String())
		case html.TextToken:
			if hidden == 0 {
				if said := strings.Join(strings.Fields(string(z.Text())), " "); said != "" {
					out.WriteString(said + " ")
				}
			}
		case html.StartTagToken, html.SelfClosingTagToken:
			name, _ := z.TagName()
			switch string(name) {
			case "script", "style", "head", "title":
				hidden++
			case "br", "p", "div", "li", "tr", "h1", "h2", "h3":
				out.WriteByte('\n')
			}
		case html.EndTagToken:
			name, _ := z.TagName()
			switch string(name) {
			case "script", "style", "head", "title":
				hidden = max(0, hidden-1)
			}
		}
	}
}

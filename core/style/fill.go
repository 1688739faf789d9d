package style

import "strings"

// Placeholders are what may stand in braces in headers, footers and the templates of the house, in the order in which
// people are offered them.
var Placeholders = []string{
	"title", "kind", "number", "revision", "state", "date", "effective", "review", "owner", "author", "approver",
	"classification", "section", "house", "page", "pages", "page of pages",
}

// Fill puts values in the place of placeholders. Parts are divided by " · "; one of which no placeholder has a value is
// left out, so that nothing is left hanging. What is in braces and no placeholder stays as it is.
func Fill(s string, value func(name string) (string, bool)) string {
	var parts []string
	for _, part := range strings.Split(s, " · ") {
		var out strings.Builder
		asked, got := false, false
		for {
			from := strings.IndexByte(part, '{')
			if from < 0 {
				break
			}
			length := strings.IndexByte(part[from:], '}')
			if length < 0 {
				break
			}
			name := part[from+1 : from+length]
			v, known := value(name)
			if !known {
				v = part[from : from+length+1]
			} else {
				asked, got = true, got || v != ""
			}
			out.WriteString(part[:from] + v)
			part = part[from+length+1:]
		}
		if out.WriteString(part); !asked || got {
			parts = append(parts, out.String())
		}
	}
	return strings.Join(parts, " · ")
}

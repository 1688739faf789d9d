package receiver

import (
	"encoding/json"
	"encoding/xml"
	"net/url"
	"strings"
)

// Values are what placeholders stand for, by their names.
type Values map[string]string

// Filled is a text with its placeholders filled in, each written so that it stays what it is: within JSON as the inside
// of a string (RFC 8259), within XML and HTML as text, within a form or an address percent-encoded (RFC 3986),
// elsewhere as it is. What is filled in is not looked at again, so that a title that reads {text} stays one.
func Filled(template, mediaType string, v Values) string {
	write := func(s string) string { return s }
	mediaType = strings.ToLower(mediaType)
	switch {
	case strings.Contains(mediaType, "json"):
		write = inJSON
	case strings.Contains(mediaType, "form-urlencoded"):
		write = url.QueryEscape
	case strings.Contains(mediaType, "xml") || strings.Contains(mediaType, "html"):
		write = inXML
	}
	return filled(template, write, v)
}

// FilledAddress is an address with its placeholders filled in as single segments or values.
func FilledAddress(template string, v Values) string {
	return filled(template, func(s string) string {
		if s == "." || s == ".." {
			return strings.ReplaceAll(s, ".", "%2E")
		}
		return strings.ReplaceAll(url.QueryEscape(s), "+", "%20")
	}, v)
}

func filled(template string, write func(string) string, v Values) string {
	var out strings.Builder
	for {
		before, rest, open := strings.Cut(template, "{")
		out.WriteString(before)
		if !open {
			return out.String()
		}
		name, after, closed := strings.Cut(rest, "}")
		if value, known := v[name]; closed && known {
			out.WriteString(write(value))
			template = after
			continue
		}
		out.WriteByte('{')
		template = rest
	}
}

// inXML is a text within an element or an attribute's value (XML 1.0).
func inXML(s string) string {
	var out strings.Builder
	_ = xml.EscapeText(&out, []byte(s)) // a strings.Builder takes everything
	return out.String()
}

func inJSON(s string) string {
	raw, err := json.Marshal(s)
	if err != nil || len(raw) < 2 {
		return ""
	}
	return string(raw[1 : len(raw)-1])
}

// Found is what stands at a path in a JSON answer, as text: names with points between them. "" where nothing is.
func Found(answer []byte, path string) string {
	var at any
	if path == "" || json.Unmarshal(answer, &at) != nil {
		return ""
	}
	for _, name := range strings.Split(path, ".") {
		in, is := at.(map[string]any)
		if !is {
			return ""
		}
		at = in[name]
	}
	switch v := at.(type) {
	case string:
		return v
	case nil, map[string]any, []any:
		return ""
	default:
		raw, _ := json.Marshal(v)
		return string(raw)
	}
}

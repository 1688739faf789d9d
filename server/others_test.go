package server_test

import (
	"encoding/json"
	"maps"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"testing"
	"time"

	"raconte/api"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// theirs are ids of things in a closed folder, by the names that the API's description has for them.
type theirs map[string]string

// of is what a value of a schema is, every id one of theirs; with all that may be given, or only what must be.
func (ids theirs) of(name string, ref *openapi3.SchemaRef, all bool, depth int) any {
	s := ref.Value
	for _, several := range []openapi3.SchemaRefs{s.OneOf, s.AnyOf, s.AllOf} {
		if len(several) > 0 {
			return ids.of(name, several[0], all, depth+1)
		}
	}
	switch {
	case len(s.Enum) > 0:
		return s.Enum[0]
	case s.Type.Is("boolean"):
		return true
	case s.Type.Is("integer"), s.Type.Is("number"):
		if s.Min != nil && *s.Min > 1 {
			return *s.Min
		}
		return 1
	case s.Type.Is("array"):
		if depth > 8 {
			return []any{}
		}
		return []any{ids.of(strings.TrimSuffix(name, "s"), s.Items, all, depth+1)}
	case s.Type.Is("object"), len(s.Properties) > 0:
		out := map[string]any{}
		for key, p := range s.Properties {
			if slices.Contains(s.Required, key) || all && depth < 8 {
				out[key] = ids.of(key, p, all, depth+1)
			}
		}
		return out
	}
	if id, known := ids[name]; known {
		return id
	}
	switch {
	case strings.Contains(s.Pattern, "A-Za-z0-9_-"):
		return ids["document"]
	case s.Format == "date":
		return time.Now().AddDate(0, 0, 3).Format(time.DateOnly)
	case s.Format == "date-time":
		return time.Now().Format(time.RFC3339)
	}
	return strings.Repeat("x", max(1, int(s.MinLength)))
}

// TestIdsOfOthersTellAndChangeNothing calls every operation, with ids of what lies in a closed folder wherever an
// address, its query or a body takes one, as authors, readers and nobody: none hears a word of it, and it stays as it
// is.
func TestIdsOfOthersTellAndChangeNothing(t *testing.T) {
	h := start(t)
	require.NoError(t, h.Works.FindAll(t.Context()))
	h.Work(t)
	adaeze, admin := h.browser(t, "adaeze"), h.browser(t, "admin")
	document := adaeze.documents()["Ammonia leak: what to do"]
	var whole api.Document
	whose := func() (all string) {
		for _, path := range []string{"", "/shares", "/comments", "/reviews", "/history"} {
			code, body := admin.do("GET", "/api/documents/"+document+path, nil)
			require.Equal(t, http.StatusOK, code, body)
			all += body + "\n"
		}
		return all
	}
	_, body := adaeze.do("GET", "/api/documents/"+document, nil)
	require.NoError(t, json.Unmarshal([]byte(body), &whole))
	ids := theirs{"document": document, "start": document, "revision": "1", "page": "1", "kind": "filed"}
	for _, b := range whole.Blocks {
		ids["block"] = b.Id
		for _, f := range b.Content.Figures {
			ids["figure"], ids["shot"] = f.ID, f.Shot
		}
	}
	h.deliver(adaeze, document, "html")
	var made []api.Delivery
	_, body = adaeze.do("GET", "/api/deliveries", nil)
	require.NoError(t, json.Unmarshal([]byte(body), &made))
	ids["delivery"] = made[0].Id
	var folders []api.Folder
	_, body = adaeze.do("GET", "/api/folders", nil)
	require.NoError(t, json.Unmarshal([]byte(body), &folders))
	for _, f := range folders {
		if f.Name == "Quality" {
			ids["folder"], ids["parent"] = f.Id, f.Id
		}
	}
	before := whose()
	browsers := map[string]browser{}

	spec, err := api.GetSpec()
	require.NoError(t, err)
	tried, done := 0, 0
	for _, path := range slices.Sorted(maps.Keys(spec.Paths.Map())) {
		address := path
		for name, id := range ids {
			address = strings.ReplaceAll(address, "{"+name+"}", id)
		}
		for strings.Contains(address, "{") {
			at, end := strings.Index(address, "{"), strings.Index(address, "}")
			address = address[:at] + document + address[end+1:]
		}
		for method, op := range spec.Paths.Value(path).Operations() {
			if endsSomething[op.OperationID] {
				continue
			}
			query := url.Values{}
			for _, p := range op.Parameters {
				if v, ok := ids.of(p.Value.Name, p.Value.Schema, true, 0).(string); ok && p.Value.In == "query" {
					query.Set(p.Value.Name, v)
				}
			}
			for _, all := range []bool{false, true} {
				var body any
				if op.RequestBody != nil && op.RequestBody.Value.Content["application/json"] != nil {
					body = ids.of("", op.RequestBody.Value.Content["application/json"].Schema, all, 0)
				}
				at := address
				if all && len(query) > 0 {
					at += "?" + query.Encode()
				}
				for _, name := range []string{"tomasz", "ruben", ""} {
					if _, in := browsers[name]; !in {
						browsers[name] = h.browser(t, name)
					}
					code, answer := browsers[name].do(method, at, body)
					if code == http.StatusUnauthorized {
						delete(browsers, name) // it has ended its own session
					}
					said := strings.ToLower(answer)
					assert.NotContains(t, said, "ammonia", "%s %s by %q", method, at, name)
					assert.NotContains(t, said, "brigade", "%s %s by %q", method, at, name)
					assert.NotEqual(t, http.StatusInternalServerError, code, "%s %s by %q: %s", method, at, name, answer)
					tried++
					if code < 300 {
						done++
					}
				}
			}
		}
	}
	t.Log(tried, "tried,", done, "done")
	assert.Greater(t, tried, 1000)
	assert.Greater(t, done, 50)
	assert.Equal(t, before, whose())
}

package server_test

import (
	"encoding/json"
	"errors"
	"io"
	"net/url"
	"strings"
	"testing"

	"raconte/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWhoMayHaveTemplatesDoWhat(t *testing.T) {
	h := start(t)
	author, reader, admin := h.browser(t, "ines"), h.browser(t, "ruben"), h.browser(t, "admin")
	const plain, scripted = "<html><body>{{.Title}}</body></html>", "<html><body><script>1</script>{{.Title}}</body></html>"
	read := func(body string) (made api.Template) {
		require.NoError(t, json.Unmarshal([]byte(body), &made), body)
		return made
	}
	code, _ := reader.do("POST", "/api/templates?kind=html&name=x", []byte(plain))
	assert.Equal(t, 403, code)
	code, body := author.do("POST", "/api/templates?kind=html&name=x", []byte(scripted))
	assert.Equal(t, 422, code)
	assert.Contains(t, body, "Line 1: A template can't run script")
	code, body = author.do("POST", "/api/templates?kind=html&name=Ours", []byte(plain))
	require.Equal(t, 201, code, body)
	made := read(body)
	change := "/api/templates/" + made.Id
	code, _ = author.do("PATCH", change, map[string]any{"version": 1, "script": true})
	assert.Equal(t, 403, code, "script is the administrator's to allow")
	code, body = admin.do("PATCH", change, map[string]any{"version": 1, "script": true})
	require.Equal(t, 200, code, body)
	code, body = admin.do("PUT", change+"?version=2", []byte(scripted))
	require.Equal(t, 200, code, body)
	assert.True(t, read(body).Script)
	code, _ = author.do("PUT", change+"?version=3", []byte(scripted))
	assert.Equal(t, 422, code, "what someone else changes may run none")
	code, _ = author.do("PUT", change+"?version=2", []byte(plain))
	assert.Equal(t, 409, code, "someone else has changed it since")
	code, body = author.do("PUT", change+"?version=3", []byte(plain))
	require.Equal(t, 200, code, body)
	assert.False(t, read(body).Script)

	ready := reader.documents()["Move a lot between rooms"]
	_, body = reader.do("GET", "/api/formats", nil)
	assert.Contains(t, body, made.Id, "readers choose it too")
	code, body = reader.do("POST", "/api/documents/"+ready+"/weighed", map[string]any{"format": "html", "template": made.Id})
	assert.Equal(t, 200, code, body)
	assert.NotContains(t, body, "null")
	code, body = reader.do("POST", "/api/documents/"+ready+"/weighed", map[string]any{"format": "docx", "template": made.Id})
	assert.Equal(t, 422, code, "it is of another form")
	assert.Contains(t, body, "has no template")
	for source, said := range map[string]string{plain: "Move a lot between rooms", "<p>{{.Nothing}}": "Line 1: .Nothing", scripted: "can&#39;t run script"} {
		res, err := author.PostForm(author.address+"/api/documents/"+ready+"/templated", url.Values{"source": {source}, "script": {"true"}})
		require.NoError(t, err)
		body, err := io.ReadAll(res.Body)
		require.NoError(t, errors.Join(err, res.Body.Close()))
		assert.Contains(t, string(body), said)
		assert.True(t, strings.HasPrefix(res.Header.Get("Content-Security-Policy"), "sandbox; default-src 'none'"), "it can do nothing, whatever it is")
	}
	code, _ = author.do("DELETE", change, nil)
	assert.Equal(t, 204, code)
	code, _ = author.do("GET", change, nil)
	assert.Equal(t, 404, code)
}

// TestATemplateIsBegunFromAnExample takes each example that there is and keeps it as a template of one's own, as it
// came.
func TestATemplateIsBegunFromAnExample(t *testing.T) {
	h := start(t)
	author, reader := h.browser(t, "ines"), h.browser(t, "ruben")
	kinds := map[string]string{"docx": "docx", "pptx": "pptx", "page": "html", "steps": "html", "printed": "html", "fragment": "html"}
	for example, kind := range kinds {
		code, file := author.do("GET", "/api/templates/examples/"+example, nil)
		require.Equal(t, 200, code, example+": "+file)
		code, body := author.do("POST", "/api/templates?kind="+kind+"&name=Ours", []byte(file))
		assert.Equal(t, 201, code, body)
		code, _ = reader.do("GET", "/api/templates/examples/"+example, nil)
		assert.Equal(t, 403, code)
	}
	code, _ := author.do("GET", "/api/templates/examples/parts", nil)
	assert.Equal(t, 400, code, "what others are made of is none")
}

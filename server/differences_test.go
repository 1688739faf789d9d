package server_test

import (
	"encoding/json"
	"image/png"
	"strings"
	"testing"

	"raconte/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestStatesOfADocumentAreComparedAndBroughtBack(t *testing.T) {
	h := start(t)
	ines, ruben := h.browser(t, "ines"), h.browser(t, "ruben")
	id := ines.documents()["Move a lot between rooms"]
	read := func() (d api.Document) {
		_, said := ines.do("GET", "/api/documents/"+id, nil)
		require.NoError(t, json.Unmarshal([]byte(said), &d))
		return d
	}
	compare := func(query string) (d api.Differences) {
		code, said := ines.do("GET", "/api/documents/"+id+"/differences"+query, nil)
		require.Equal(t, 200, code, said)
		require.NoError(t, json.Unmarshal([]byte(said), &d))
		return d
	}
	assert.True(t, compare("").Difference.Same(), "nothing has changed since it was released")
	code, said := ines.do("GET", "/api/documents/"+id+"/differences?to=1", nil)
	assert.Equal(t, 422, code)
	assert.Contains(t, said, "no earlier revision")

	// A step is reworded and its picture marked; another is taken away.
	first := read()
	step, last := first.Blocks[0], first.Blocks[len(first.Blocks)-1]
	step.Content.Words.Content[0].Content[0].Text = "Slowly o" + step.Content.Words.Content[0].Content[0].Text[1:]
	step.Content.Figures[0].Marks = step.Content.Figures[0].Marks[:0]
	change := map[string]any{"id": "c1", "blocks": []map[string]any{
		{"id": step.Id, "base": step.Version, "order": step.Order, "removed": false, "content": step.Content},
		{"id": last.Id, "base": last.Version, "order": last.Order, "removed": true, "content": last.Content},
	}}
	code, said = ines.do("POST", "/api/documents/"+id+"/changes", change)
	require.Equal(t, 200, code, said)
	d := compare("")
	assert.Equal(t, "Draft", d.To.Said)
	assert.Equal(t, "Revision 1", d.From.Said)
	assert.Equal(t, map[string]int{"reworded": 1, "pictures": 1, "removed": 1}, map[string]int{"reworded": d.Difference.Counts["reworded"], "pictures": d.Difference.Counts["pictures"], "removed": d.Difference.Counts["removed"]})
	code, _ = ruben.do("GET", "/api/documents/"+id+"/differences", nil)
	assert.Equal(t, 403, code)

	figure := step.Content.Figures[0].ID
	code, said = ines.do("GET", "/api/documents/"+id+"/differing?from=1&before="+figure+"&after="+figure, nil)
	require.Equal(t, 200, code, said)
	assert.Contains(t, said, `"sizes":true`)
	assert.NotContains(t, said, `"places":[]`, "the marks are gone there")
	picture := func(query string) string {
		code, data := ines.do("GET", "/api/documents/"+id+"/figures/"+figure+"?width=400"+query, nil)
		require.Equal(t, 200, code)
		_, err := png.DecodeConfig(strings.NewReader(data))
		require.NoError(t, err)
		return data
	}
	assert.NotEqual(t, picture(""), picture("&revision=1"), "the revision keeps its picture")
	_, said = ines.do("GET", "/api/documents/"+id+"/pages?revision=1", nil)
	assert.NotContains(t, said, "Slowly")
	_, said = ines.do("GET", "/api/documents/"+id+"/pages", nil)
	assert.Contains(t, said, "Slowly")
	_, said = ruben.do("GET", "/api/documents/"+id+"/pages?revision=99", nil)
	assert.Contains(t, said, "sheets", "readers get the valid one, whatever they ask for")

	// The draft becomes what the revision was, and the valid revision stays.
	code, _ = ines.do("POST", "/api/documents/"+id+"/restored", map[string]any{"revision": 1, "seq": first.Seq})
	assert.Equal(t, 409, code, "it has changed since")
	code, said = ines.do("POST", "/api/documents/"+id+"/restored", map[string]any{"revision": 1, "seq": read().Seq})
	require.Equal(t, 200, code, said)
	assert.Contains(t, said, `"state":"draft"`)
	assert.True(t, compare("").Difference.Same(), "as it was")
	assert.Len(t, read().Blocks, len(first.Blocks))
	code, _ = ines.do("POST", "/api/documents/"+id+"/restored", map[string]any{"revision": 9, "seq": read().Seq})
	assert.Equal(t, 422, code)
	code, _ = ruben.do("POST", "/api/documents/"+id+"/restored", map[string]any{"revision": 1, "seq": 0})
	assert.Equal(t, 403, code)
}

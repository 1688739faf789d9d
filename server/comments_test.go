package server_test

import (
	"encoding/json"
	"strings"
	"testing"

	"raconte/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestCommentsAreTheirWritersAndReachNoReader(t *testing.T) {
	h := start(t)
	ines, tomasz, ruben := h.browser(t, "ines"), h.browser(t, "tomasz"), h.browser(t, "ruben")
	id := ines.documents()["Move a lot between rooms"]
	path := "/api/documents/" + id + "/comments"
	me := func(b browser) string {
		_, said := b.do("GET", "/api/session", nil)
		var a api.Account
		require.NoError(t, json.Unmarshal([]byte(said), &a))
		return a.Id
	}
	list := func(b browser) (all []api.Thread) {
		code, said := b.do("GET", path, nil)
		require.Equal(t, 200, code, said)
		require.NoError(t, json.Unmarshal([]byte(said), &all))
		return all
	}
	var doc api.Document
	_, said := ines.do("GET", "/api/documents/"+id, nil)
	require.NoError(t, json.Unmarshal([]byte(said), &doc))
	told := tomasz.listen(t)
	quiet := ruben.listen(t)
	first := map[string]any{"id": "c1", "body": " Is it Room 3? ", "place": map[string]any{"block": doc.Blocks[0].Id, "words": map[string]string{"text": "Rooms"}}, "mentions": []string{me(tomasz)}}
	for range 2 { // sent twice, kept once
		code, said := ines.do("POST", path, first)
		require.Equal(t, 204, code, said)
	}
	assert.Contains(t, heard(told), "event: comments", "others hear of it at once")
	code, said := tomasz.do("POST", path, map[string]any{"id": "c2", "thread": "c1", "body": "It is."})
	require.Equal(t, 204, code, said)
	threads := list(tomasz)
	require.Len(t, threads, 1)
	assert.Equal(t, "Rooms", threads[0].Place.Words.Text)
	assert.Equal(t, []string{"Is it Room 3?", "It is."}, []string{threads[0].Comments[0].Body, threads[0].Comments[1].Body})
	assert.Equal(t, []bool{false, true}, []bool{threads[0].Comments[0].Mine, threads[0].Comments[1].Mine})

	for says, bad := range map[string]map[string]any{
		"1 to 4000 characters": {"id": "x", "body": strings.Repeat("x", 4001)},
		"may not see":          {"id": "x", "body": "x", "mentions": []string{me(ruben)}},
		"of a step":            {"id": "x", "body": "x", "place": map[string]any{"figure": "f"}},
		"id of another":        {"id": "c1", "body": "mine now"},
	} {
		code, said := tomasz.do("POST", path, bad)
		assert.Equal(t, 422, code, said)
		assert.Contains(t, said, says)
	}
	code, _ = tomasz.do("POST", path, map[string]any{"id": "x", "body": "x", "thread": "c2"})
	assert.Equal(t, 404, code, "an answer belongs to a first comment")
	code, _ = tomasz.do("PATCH", path+"/c1", map[string]any{"body": "Changed"})
	assert.Equal(t, 404, code, "what others have said stays")
	code, _ = tomasz.do("DELETE", path+"/c1", nil)
	assert.Equal(t, 404, code)
	code, _ = tomasz.do("PATCH", path+"/c1", map[string]any{"resolved": true})
	assert.Equal(t, 204, code, "settled by anyone who edits")
	assert.Equal(t, "Tomasz Ferrow", list(ines)[0].Resolved.By)
	code, _ = ines.do("PATCH", path+"/c1", map[string]any{"resolved": false, "body": "Is it Room 4?"})
	assert.Equal(t, 204, code)
	assert.Nil(t, list(ines)[0].Resolved)
	assert.NotNil(t, list(ines)[0].Comments[0].Edited)
	code, _ = ines.do("DELETE", path+"/c1", nil)
	assert.Equal(t, 204, code)
	threads = list(ines)
	assert.True(t, threads[0].Comments[0].Deleted)
	assert.Empty(t, threads[0].Comments[0].Body)
	assert.Equal(t, "It is.", threads[0].Comments[1].Body, "what answered it stays")
	code, _ = tomasz.do("DELETE", path+"/c2", nil)
	assert.Equal(t, 204, code)
	assert.Empty(t, list(ines), "of which all was taken back is gone")

	// Readers reach none of it, and are told of none.
	for _, c := range []struct{ method, path string }{{"GET", path}, {"POST", path}, {"PATCH", path + "/c1"}, {"DELETE", path + "/c1"}} {
		code, _ := ruben.do(c.method, c.path, first)
		assert.Equal(t, 403, code, c.method)
	}
	assert.Contains(t, heard(quiet), "nothing within a second")
}

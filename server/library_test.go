package server_test

import (
	"encoding/json"
	"net/http"
	"net/url"
	"os"
	"strings"
	"testing"

	"raconte/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// get reads an answer; anything but 200 fails the test.
func get[T any](b browser, path string) T {
	b.t.Helper()
	code, body := b.do("GET", path, nil)
	require.Equal(b.t, 200, code, body)
	var v T
	require.NoError(b.t, json.Unmarshal([]byte(body), &v))
	return v
}

func TestOneSearchFindsStepsPicturesAndFiledPages(t *testing.T) {
	h := start(t)
	require.NoError(t, h.Works.FindAll(t.Context()))
	ines, ruben := h.browser(t, "ines"), h.browser(t, "ruben")
	found := func(b browser, query string) (all []string) {
		for _, hit := range get[[]api.Hit](b, "/api/search?"+query) {
			told := hit.Document.Title
			for _, parts := range []*[]api.Part{hit.Said, hit.Pictured} {
				if parts != nil {
					for _, p := range *parts {
						if p.Hit {
							told += " " + p.Text
						}
					}
				}
			}
			all = append(all, told)
		}
		return all
	}
	text := func(s string) string { return "text=" + url.QueryEscape(s) }
	assert.Equal(t, "Receive a lot into a cold room weight scale", found(ines, text("wieght scale"))[1], "after the title that has them")
	assert.Contains(t, found(ines, text("Ostrave"))[0], "Ostrave", "what a picture shows")
	assert.Contains(t, found(ruben, text("Ostrave"))[0], "Ostrave", "for readers too, where it is not concealed")
	assert.Empty(t, found(ines, text("orchard-gate")), "what is concealed is not found")
	assert.NotEmpty(t, found(ines, text("siren")))
	for _, told := range found(ruben, text("siren")) {
		assert.NotContains(t, told, "Answer a temperature alarm", "readers find no drafts")
	}
	assert.Equal(t, []string{"Clean the dock scale"}, found(ines, "due=overdue"))
	assert.Equal(t, []string{"Close a cold room for the season"}, found(ines, "due=soon"))
	assert.Equal(t, []string{"Dock 2 handbook"}, found(ines, "kind=manual"))
	assert.Equal(t, []string{"Recount a lot by hand"}, found(ines, "state=retired"))
	assert.Empty(t, found(ruben, "state=retired"))
	assert.Len(t, found(ines, "usedIn="+ines.documents()["Dock 2 handbook"]), 4)
	assert.Equal(t, []string{"Procedure with the usual parts"}, found(ines, "starts=true"))
	assert.Empty(t, found(ruben, "starts=true"))
	byTitle := found(ines, "sort=title")
	assert.Equal(t, "Ammonia leak: what to do", byTitle[0])
	assert.NotContains(t, byTitle, "Procedure with the usual parts", "a start is no document")

	id := ines.documents()["Reprint a lot label"]
	code, body := ines.do("PUT", "/api/documents/"+id+"/shelf", map[string]bool{"pinned": true, "opened": true})
	require.Equal(t, 204, code, body)
	assert.Equal(t, "Reprint a lot label", found(ines, "")[0], "what is pinned stands first")
	assert.NotEqual(t, "Reprint a lot label", found(ruben, "")[0], "for who pinned it")
	assert.Equal(t, id, get[[]api.Summary](ines, "/api/recent")[0].Id)
	assert.Len(t, found(ines, "pinned=true"), 1)
}

func TestWhatIsWrittenIsFoundAMomentLater(t *testing.T) {
	h := start(t)
	ines := h.browser(t, "ines")
	id := ines.documents()["Reprint a lot label"]
	change := func(change, id, block, said string, base int, removed bool) {
		code, body := ines.do("POST", "/api/documents/"+id+"/changes", map[string]any{"id": change, "blocks": []any{map[string]any{
			"id": block, "base": base, "order": "Z00000", "removed": removed,
			"content": map[string]any{"type": "step", "figures": []any{}, "words": map[string]any{"type": "doc", "content": []any{
				map[string]any{"type": "paragraph", "content": []any{map[string]any{"type": "text", "text": said}}}}}}}}})
		require.Equal(t, 200, code, body)
		require.NoError(t, h.Works.FindAll(t.Context()))
	}
	hits := func(word string) int { return len(get[[]api.Hit](ines, "/api/search?text="+word)) }
	change("c1", id, "new", "Kerfuffle with the printer", 0, false)
	assert.Equal(t, 1, hits("kerfuffle"))
	assert.Equal(t, 1, hits("kerfufle"), "a word that was new is known when it is misspelt")
	change("c2", id, "new", "Trouble with the printer", 1, false)
	assert.Zero(t, hits("kerfuffle"))
	assert.Equal(t, 1, hits("trouble"))
	change("c3", id, "new", "Trouble with the printer", 2, true)
	assert.Zero(t, hits("trouble"))
}

func TestDocumentsBeginAsStartsAndOfBlocks(t *testing.T) {
	h := start(t)
	ines, ruben := h.browser(t, "ines"), h.browser(t, "ruben")
	start := get[[]api.Hit](ines, "/api/search?starts=true")[0].Document
	code, body := ines.do("POST", "/api/documents", map[string]any{"title": "Begun", "start": start.Id})
	require.Equal(t, 201, code, body)
	var made api.Summary
	require.NoError(t, json.Unmarshal([]byte(body), &made))
	whole := get[api.Document](ines, "/api/documents/"+made.Id)
	assert.Equal(t, []any{"Begun", 6, 2}, []any{made.Title, len(whole.Blocks), made.Steps})
	assert.Nil(t, made.Template)

	shot := get[api.Document](ines, "/api/documents/"+ines.documents()["Reprint a lot label"]).Blocks[0]
	code, body = ines.do("POST", "/api/documents", map[string]any{"title": "Of blocks", "blocks": []any{shot.Content, shot.Content}})
	require.Equal(t, 201, code, body)
	require.NoError(t, json.Unmarshal([]byte(body), &made))
	whole = get[api.Document](ines, "/api/documents/"+made.Id)
	assert.NotEqual(t, whole.Blocks[0].Content.Figures[0].ID, whole.Blocks[1].Content.Figures[0].ID, "each picture has an id of its own")
	uses := get[[]api.Use](ines, "/api/shots/"+whole.Blocks[0].Content.Figures[0].Shot+"/uses")
	require.Len(t, uses, 3, "where a shot is used")
	assert.Equal(t, []string{"Of blocks", "Of blocks", "Reprint a lot label"}, []string{uses[0].Title, uses[1].Title, uses[2].Title})
	assert.Equal(t, []string{whole.Blocks[1].Id}, get[[]string](ines, "/api/documents/"+made.Id+"/repeats"), "and the second shows the same")
	require.NoError(t, h.Works.FindAll(t.Context()))

	copied := map[string]any{"blocks": []any{shot.Content, map[string]any{"type": "chapter", "document": "x", "words": map[string]any{"type": "doc"}, "figures": []any{}}}}
	code, body = ines.do("POST", "/api/documents/"+made.Id+"/steps", copied)
	assert.Equal(t, http.StatusUnprocessableEntity, code)
	assert.Contains(t, body, "can't have a chapter")
	for _, who := range []browser{ruben} {
		code, _ = who.do("POST", "/api/documents", map[string]any{"title": "x"})
		assert.Equal(t, http.StatusForbidden, code)
	}
	alike := get[[]api.Alike](ines, "/api/documents/"+ines.documents()["Dock 2 handbook"]+"/alike")
	assert.Empty(t, alike)
	code, body = ines.do("POST", "/api/documents/"+ines.documents()["Close a cold room for the season"]+"/duplicate", nil)
	require.Equal(t, 201, code, body)
	require.NoError(t, h.Works.FindAll(t.Context()))
	alike = get[[]api.Alike](ines, "/api/documents/"+ines.documents()["Close a cold room for the season"]+"/alike")
	require.Len(t, alike, 1)
	assert.Equal(t, []any{"Copy of Close a cold room for the season", true}, []any{alike[0].Document.Title, alike[0].Share > 80})
}

func TestFilesFromElsewhereBecomeDocuments(t *testing.T) {
	h := start(t)
	ines := h.browser(t, "ines")
	docx, err := os.ReadFile("../intake/prose/testdata/libreoffice.docx")
	require.NoError(t, err)
	bring := func(name string, data []byte) (int, string) {
		return ines.do("POST", "/api/imports?name="+url.QueryEscape(name), data, "Content-Type", "application/octet-stream")
	}
	code, body := bring("weigh.docx", docx)
	require.Equal(t, 201, code, body)
	var made api.Imported
	require.NoError(t, json.Unmarshal([]byte(body), &made))
	assert.Equal(t, []any{"Weigh a bin", 5, 0}, []any{made.Document.Title, made.Document.Steps, len(made.Left)})
	whole := get[api.Document](ines, "/api/documents/"+made.Document.Id)
	assert.Len(t, whole.Shots, 2)
	code, body = bring("a.md", []byte("# A\n\n1. Go ![](http://far.example/x.png) ![](data:image/png;base64,aGVsbG8=)\n"))
	require.Equal(t, 201, code, body)
	require.NoError(t, json.Unmarshal([]byte(body), &made))
	assert.Len(t, made.Left, 2, "what lies elsewhere, and what is no picture, is listed")
	for name, data := range map[string][]byte{"half.docx": docx[:999], "odd.bin": []byte("x"), "empty.html": nil} {
		code, body = bring(name, data)
		assert.Contains(t, []int{400, 422}, code, name)
		assert.True(t, code == 400 || strings.Contains(body, "Nothing was brought in"), body)
	}
}

func TestWhatIsWorthALookComesFromTheServer(t *testing.T) {
	h := start(t)
	ines := h.browser(t, "ines")
	rules := map[string]bool{}
	for _, f := range get[[]api.Finding](ines, "/api/documents/"+ines.documents()["Move a lot between rooms"]+"/looks") {
		rules[f.Rule] = true
	}
	assert.True(t, rules["small-print"])
	assert.True(t, rules["not-named"])
	code, picture := ines.do("GET", "/api/code?address="+url.QueryEscape("https://a.example/x"), nil)
	assert.Equal(t, 200, code)
	assert.True(t, strings.HasPrefix(picture, "\x89PNG"))
	code, _ = ines.do("GET", "/api/code?address="+url.QueryEscape("javascript:alert(1)"), nil)
	assert.Equal(t, http.StatusUnprocessableEntity, code)
}

func TestTheHouseIsTheAdministrators(t *testing.T) {
	h := start(t)
	admin, ines := h.browser(t, "admin"), h.browser(t, "ines")
	people := get[[]api.Person](ines, "/api/people")
	assert.Len(t, people, 5)
	code, body := admin.do("POST", "/api/groups", map[string]any{"name": "Night shift", "accounts": []string{people[0].Id}})
	require.Equal(t, 201, code, body)
	var group api.Group
	require.NoError(t, json.Unmarshal([]byte(body), &group))
	code, body = admin.do("POST", "/api/groups", map[string]any{"name": "Night shift", "accounts": []string{}})
	assert.Equal(t, http.StatusUnprocessableEntity, code, body)
	code, body = admin.do("POST", "/api/folders", map[string]any{"name": "Night", "open": false, "groups": []string{group.Id}, "ask": "Maud"})
	require.Equal(t, 201, code, body)
	var folder api.Folder
	require.NoError(t, json.Unmarshal([]byte(body), &folder))
	for _, f := range get[[]api.Folder](ines, "/api/folders") {
		assert.NotEqual(t, "Night", f.Name, "a closed folder is not even named")
		assert.Empty(t, f.Accounts)
	}
	code, body = admin.do("PUT", "/api/folders/"+folder.Id, map[string]any{"version": 1, "name": "Night", "open": false, "accounts": []string{"nobody"}})
	assert.Equal(t, http.StatusUnprocessableEntity, code, body)
	code, body = admin.do("PUT", "/api/folders/"+folder.Id, map[string]any{"version": 1, "name": "Evening", "open": true})
	assert.Equal(t, 200, code, body)
	code, body = admin.do("PUT", "/api/folders/"+folder.Id, map[string]any{"version": 1, "name": "Night", "open": false})
	assert.Equal(t, http.StatusConflict, code, "someone else has opened it: %s", body)
	code, body = admin.do("PUT", "/api/groups/"+group.Id, map[string]any{"version": 2, "name": "Others", "accounts": []string{}})
	assert.Equal(t, http.StatusConflict, code, body)
	code, body = admin.do("DELETE", "/api/folders/"+folder.Id, nil)
	assert.Equal(t, 204, code, body)
	code, body = admin.do("DELETE", "/api/groups/"+group.Id, nil)
	assert.Equal(t, 204, code, body)
	code, body = admin.do("PUT", "/api/house", map[string]any{"version": 1, "pattern": "X"})
	assert.Equal(t, http.StatusUnprocessableEntity, code)
	assert.Contains(t, body, "one count")
	code, _ = admin.do("PUT", "/api/house", map[string]any{"version": 1, "pattern": "SOP-{nnnn}"})
	assert.Equal(t, 204, code)
	id := ines.documents()["Reprint a lot label"]
	code, body = ines.do("POST", "/api/documents/"+id+"/number", nil)
	require.Equal(t, 200, code, body)
	assert.Contains(t, body, "SOP-00")
	code, again := ines.do("POST", "/api/documents/"+id+"/number", nil)
	assert.Equal(t, 200, code)
	var one, two api.Summary
	require.NoError(t, json.Unmarshal([]byte(body), &one))
	require.NoError(t, json.Unmarshal([]byte(again), &two))
	assert.Equal(t, *one.Number, *two.Number, "given once")
	code, body = ines.do("PUT", "/api/documents/"+id+"/state", map[string]any{"act": "retire", "seq": get[api.Document](ines, "/api/documents/"+id).Seq})
	require.Equal(t, 200, code, body)
	code, body = h.browser(t, "ruben").do("GET", "/api/documents/"+id, nil)
	assert.Equal(t, http.StatusUnprocessableEntity, code)
	assert.Contains(t, body, "is retired")
	leads := get[[]api.Linking](ines, "/api/documents/"+id+"/links")
	assert.Len(t, leads, 2, "the handbook and the morning lead there")
}

package server_test

import (
	"strings"
	"testing"

	"raconte/api"
	"raconte/core/document"
	"raconte/core/words"
	"raconte/store"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestReadersKnowADocumentByWhatWasReleased changes a title in a draft, and looks for it in all that a reader is told.
func TestReadersKnowADocumentByWhatWasReleased(t *testing.T) {
	h := start(t)
	ines, ruben := h.browser(t, "ines"), h.browser(t, "ruben")
	stream := ruben.listen(t)
	_, body := ines.do("POST", "/api/documents", map[string]string{"title": "Secret plan"})
	never := decoded[api.Summary](t, body).Id
	moved := ines.documents()["Reprint a lot label"]
	_, body = ines.do("GET", "/api/documents/"+moved, nil)
	was := decoded[api.Document](t, body)
	leading := document.NewStep("lead", words.Node{Type: "doc"})
	leading.Document = moved
	other := document.NewStep("other", words.Node{Type: "doc"})
	other.Document = never
	_, body = ines.do("POST", "/api/documents", map[string]string{"title": "Leads on"})
	leads := decoded[api.Summary](t, body).Id
	// Only the draft leads to what was never released: that could not be released itself.
	change := api.Change{Id: "lead", Blocks: []api.BlockChange{{Id: "lead", Order: "001000", Content: leading.Content}}}
	code, body := ines.do("POST", "/api/documents/"+leads+"/changes", change)
	require.Equal(t, 200, code, body)
	code, body = ines.ready(leads)
	require.Equal(t, 200, code, body)
	code, body = ines.do("POST", "/api/documents/"+leads+"/changes", api.Change{Id: "other", Blocks: []api.BlockChange{{Id: "other", Order: "002000", Content: other.Content}}})
	require.Equal(t, 200, code, body)
	facts := was.Facts
	facts.Title = "Secret plan for labels"
	code, body = ines.do("POST", "/api/documents/"+moved+"/changes", api.Change{Id: "title", Blocks: []api.BlockChange{}, Facts: &api.FactsChange{Base: was.FactsVersion, Facts: facts}})
	require.Equal(t, 200, code, body)
	code, body = ines.do("POST", "/api/documents/"+moved+"/confirmations", map[string]any{"people": []string{accountID(t, h, "ruben")}, "groups": []string{}})
	require.Equal(t, 204, code, body)

	for _, address := range []string{
		"/api/documents", "/api/documents/" + leads, "/api/documents/" + moved, "/api/documents/" + moved + "/links", "/api/documents/" + never + "/links",
		"/api/confirmations", "/api/notices", "/api/search?text=secret", "/api/search?used=" + leads, "/api/recent", "/api/documents/" + leads + "/pages",
	} {
		code, body := ruben.do("GET", address, nil)
		if strings.Contains(body, "Secret plan") {
			t.Errorf("%s tells the title of a draft: %d %s", address, code, body)
		}
	}
	_, body = ruben.do("GET", "/api/confirmations", nil)
	assert.Contains(t, body, "Reprint a lot label")
	_, body = ruben.do("GET", "/api/documents/"+moved+"/links", nil)
	assert.Contains(t, body, "Leads on")
	for {
		event := soon(stream)
		if event == "nothing" {
			break
		}
		assert.NotContains(t, event, never)
	}
}

// TestNothingIsToldOfClosedFolders listens as an author who is no member, and asks for what leads to and from there.
func TestNothingIsToldOfClosedFolders(t *testing.T) {
	h := start(t)
	admin, tomasz := h.browser(t, "admin"), h.browser(t, "tomasz")
	closed := h.browser(t, "adaeze").documents()["Ammonia leak: what to do"]
	_, body := admin.do("GET", "/api/documents/"+closed, nil)
	folder := decoded[api.Document](t, body).Summary.Folder
	require.NotNil(t, folder)
	open := tomasz.documents()["Reprint a lot label"]
	_, body = admin.do("POST", "/api/documents", map[string]any{"title": "Brigade", "folder": *folder})
	inside := decoded[api.Summary](t, body).Id
	stream := tomasz.listen(t)
	lead := document.NewStep("lead", words.Node{Type: "doc"})
	lead.Document = open
	code, body := admin.do("POST", "/api/documents/"+inside+"/changes", api.Change{Id: "one", Blocks: []api.BlockChange{{Id: "lead", Order: "001000", Content: lead.Content}}})
	require.Equal(t, 200, code, body)
	code, body = admin.do("POST", "/api/documents/"+inside+"/comments", map[string]any{"id": "c1", "words": "Look", "body": "Look", "place": map[string]any{}})
	assert.Less(t, code, 500, body)
	assert.Equal(t, "nothing", soon(stream))
	_, body = tomasz.do("GET", "/api/search?usedIn="+inside, nil)
	assert.NotContains(t, body, open, "what a closed document leads to")
	_, body = tomasz.do("GET", "/api/documents/"+open+"/links", nil)
	assert.NotContains(t, body, inside)
	_, body = admin.do("GET", "/api/documents/"+open+"/links", nil)
	assert.Contains(t, body, inside)

	// What someone was told of before its folder was closed to them is not told any more.
	require.NoError(t, h.Works.Tell(t.Context(), store.Document{ID: open, Title: "Reprint a lot label"}, store.Notice{Kind: store.AboutMention, Ref: "x", Told: "About “Reprint a lot label”"}, accountID(t, h, "tomasz")))
	_, body = tomasz.do("GET", "/api/notices", nil)
	assert.Contains(t, body, "About “Reprint")
	code, body = admin.do("PUT", "/api/documents/"+open+"/place", map[string]any{"folder": *folder})
	require.Less(t, code, 300, body)
	_, body = tomasz.do("GET", "/api/notices", nil)
	assert.NotContains(t, body, "About “Reprint")
}

func accountID(t *testing.T, h house, name string) string {
	all, err := h.Store.Identity.Accounts(t.Context())
	require.NoError(t, err)
	for _, a := range all {
		if a.Name == name {
			return a.ID
		}
	}
	t.Fatal("no account " + name)
	return ""
}

package server_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"

	"raconte/api"
	"raconte/core/document"

	"codeberg.org/go-pdf/fpdf"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestWhatIsInAClosedFolderIsNobodyElses goes through all operations on a document of a closed folder as someone who
// may not open it, and looks for its title wherever documents are told of.
func TestWhatIsInAClosedFolderIsNobodyElses(t *testing.T) {
	h := start(t)
	require.NoError(t, h.Works.FindAll(t.Context()))
	adaeze, tomasz, ruben := h.browser(t, "adaeze"), h.browser(t, "tomasz"), h.browser(t, "ruben")
	id := adaeze.documents()["Ammonia leak: what to do"]
	require.NotEmpty(t, id)
	assert.Empty(t, tomasz.documents()["Ammonia leak: what to do"])
	spec, err := api.GetSpec()
	require.NoError(t, err)
	tried := 0
	for path, item := range spec.Paths.Map() {
		if !strings.Contains(path, "{document}") {
			continue
		}
		at := strings.NewReplacer("{document}", id, "{figure}", "f", "{page}", "1").Replace(path)
		for method := range item.Operations() {
			for _, who := range []browser{tomasz, ruben} {
				code, body := who.do(method, at, nil)
				assert.Equal(t, http.StatusForbidden, code, "%s %s", method, path)
				assert.NotContains(t, body, "Ammonia")
			}
			tried++
		}
	}
	assert.Greater(t, tried, 20)
	_, body := tomasz.do("GET", "/api/documents/"+id, nil)
	assert.Contains(t, body, "Ask Adaeze Quillan for it", "whoever follows a link is told whom to ask")
	code, _ := tomasz.do("POST", "/api/documents", map[string]any{"title": "x", "start": id})
	assert.Equal(t, http.StatusForbidden, code, "nor can it be the start of another")
	for _, list := range []string{"/api/documents", "/api/search", "/api/search?text=ammonia", "/api/search?text=brigade", "/api/search?kind=filed", "/api/recent", "/api/deleted", "/api/deliveries"} {
		_, body := tomasz.do("GET", list, nil)
		assert.NotContains(t, strings.ToLower(body), "ammonia", list)
	}
	_, body = adaeze.do("GET", "/api/search?text=brigade", nil)
	assert.Contains(t, body, "Ammonia")

	// A procedure that hands over to it tells whom to ask, and nothing else.
	move := tomasz.documents()["Answer a temperature alarm"]
	step := func(base int) map[string]any {
		return map[string]any{"id": fmt.Sprint("c", base), "blocks": []any{map[string]any{"id": "lead", "base": base, "order": "Z00000", "removed": false,
			"content": map[string]any{"type": "step", "document": id, "words": map[string]any{"type": "doc"}, "figures": []any{}}}}}
	}
	admin := h.browser(t, "admin")
	code, body = admin.do("POST", "/api/documents/"+move+"/changes", step(0))
	require.Equal(t, 200, code, body)
	_, body = tomasz.do("GET", "/api/documents/"+move, nil)
	assert.NotContains(t, body, "Ammonia")
	var whole api.Document
	require.NoError(t, json.Unmarshal([]byte(body), &whole))
	assert.Equal(t, document.Other{ID: id, Closed: true, Ask: "Adaeze Quillan", Revision: 1, Address: (*whole.Others)[id].Address}, (*whole.Others)[id])

	// Closing the folder of a manual's chapter takes the chapter out of what its readers get.
	handbook := ruben.documents()["Dock 2 handbook"]
	_, body = ruben.do("GET", "/api/documents/"+handbook, nil)
	assert.Contains(t, body, "Scan the bin card")
	_, folders := adaeze.do("GET", "/api/folders", nil)
	var all []api.Folder
	require.NoError(t, json.Unmarshal([]byte(folders), &all))
	for _, f := range all {
		if f.Name == "Quality" {
			code, body := admin.do("PUT", "/api/documents/"+adaeze.documents()["Receive a lot into a cold room"]+"/place", map[string]string{"folder": f.Id})
			require.Equal(t, 200, code, body)
		}
	}
	_, body = ruben.do("GET", "/api/documents/"+handbook, nil)
	assert.NotContains(t, body, "Scan the bin card")
	assert.Contains(t, body, "Unlock the dock", "what else stands there stays")
	assert.Contains(t, body, "closed folder: ask Adaeze Quillan for it", "and whom to ask is told")

	// Nor is it had by way of a file that a member made of the manual.
	h.Work(t)
	assert.Contains(t, string(h.deliver(adaeze, handbook, "html")), "Scan the bin card")
	var made []api.Delivery
	_, body = adaeze.do("GET", "/api/deliveries", nil)
	require.NoError(t, json.Unmarshal([]byte(body), &made))
	for _, who := range []browser{tomasz, ruben} {
		code, body := who.do("GET", "/api/deliveries/"+made[0].Id+"/file", nil)
		assert.Equal(t, http.StatusNotFound, code)
		assert.NotContains(t, body, "Scan the bin card")
	}
}

func TestManualsHaveTheirChaptersInEveryForm(t *testing.T) {
	h := start(t)
	h.Work(t)
	ines, ruben := h.browser(t, "ines"), h.browser(t, "ruben")
	id := ines.documents()["Dock 2 handbook"]
	_, body := ruben.do("GET", "/api/documents/"+id, nil)
	var whole api.Document
	require.NoError(t, json.Unmarshal([]byte(body), &whole))
	figures := 0
	for _, b := range whole.Blocks {
		for _, f := range b.Content.Figures {
			figures++
			if figures == 1 {
				code, picture := ruben.do("GET", "/api/documents/"+id+"/figures/"+f.ID+"?width=300", nil)
				assert.Equal(t, 200, code)
				assert.True(t, strings.HasPrefix(picture, "\x89PNG") || strings.HasPrefix(picture, "\xff\xd8"))
			}
		}
	}
	assert.Equal(t, 18, figures)
	file := h.deliver(ines, id, "bundle")
	code, body := ines.do("POST", "/api/bundles", file, "Content-Type", "application/zip")
	require.Equal(t, 201, code, body)
	var made api.Summary
	require.NoError(t, json.Unmarshal([]byte(body), &made))
	_, body = ines.do("GET", "/api/documents/"+made.Id, nil)
	var again api.Document
	require.NoError(t, json.Unmarshal([]byte(body), &again))
	chapters := 0
	for _, b := range again.Blocks {
		if b.Content.Type == document.Chapter {
			chapters++
			other, there := (*again.Others)[b.Content.Document]
			assert.True(t, there, "the chapter came in the same bundle")
			assert.NotEqual(t, ines.documents()["x"], other.ID)
		}
	}
	assert.Equal(t, 4, chapters)
}

// deliver makes a file of a document and answers with it.
func (h house) deliver(b browser, id, format string) []byte {
	code, body := b.do("POST", "/api/documents/"+id+"/deliveries", map[string]any{"format": format, "layout": "running"})
	require.Equal(b.t, 202, code, body)
	var d api.Delivery
	require.NoError(b.t, json.Unmarshal([]byte(body), &d))
	require.Eventually(b.t, func() bool {
		_, body = b.do("GET", "/api/deliveries/"+d.Id, nil)
		return strings.Contains(body, `"state":"done"`)
	}, 5*time.Minute, 20*time.Millisecond, body)
	_, file := b.do("GET", "/api/deliveries/"+d.Id+"/file", nil)
	return []byte(file)
}

func lines(t *testing.T, protect bool, all ...string) []byte {
	pdf := fpdf.New("P", "pt", "A4", "")
	if protect {
		pdf.SetProtection(0, "secret", "owner")
	}
	pdf.AddPage()
	pdf.SetFont("Helvetica", "", 12)
	for i, l := range all {
		pdf.Text(60, 80+float64(i)*20, l)
	}
	var out bytes.Buffer
	require.NoError(t, pdf.Output(&out))
	return out.Bytes()
}

func TestAPDFIsFiledSearchedAndRewritten(t *testing.T) {
	h := start(t)
	ines, ruben := h.browser(t, "ines"), h.browser(t, "ruben")
	file := func(data []byte) (int, string) {
		return ines.do("POST", "/api/filed?name=Old%20rules.pdf", data, "Content-Type", "application/pdf")
	}
	good := lines(t, false, "Old rules", "1. Wear gloves.", "2. Shut the gate.")
	for name, c := range map[string]struct {
		data []byte
		says string
	}{
		"a text": {[]byte("hello"), "not a PDF"}, "half a file": {good[:len(good)/3], "broken"}, "a locked one": {lines(t, true, "x"), "locked by a password"},
	} {
		code, body := file(c.data)
		assert.Equal(t, http.StatusUnprocessableEntity, code, name)
		assert.Contains(t, body, c.says, name)
		assert.Contains(t, body, "Nothing was filed", name)
	}
	code, body := file(good)
	require.Equal(t, 201, code, body)
	var made api.Summary
	require.NoError(t, json.Unmarshal([]byte(body), &made))
	at := "/api/documents/" + made.Id
	code, body = ines.ready(made.Id)
	require.Equal(t, 200, code, body)
	require.NoError(t, h.Works.FindAll(t.Context()))
	_, body = ruben.do("GET", "/api/search?text=gloves", nil)
	assert.Contains(t, body, `"page":1`)
	_, whole := ruben.do("GET", at+"/file", nil)
	assert.Equal(t, string(good), whole)
	_, picture := ruben.do("GET", at+"/file/1", nil)
	assert.True(t, strings.HasPrefix(picture, "\x89PNG"))
	code, _ = ruben.do("GET", at+"/file/2", nil)
	assert.Equal(t, 404, code)

	code, body = ines.do("POST", at+"/rewrite", nil)
	require.Equal(t, 200, code, body)
	_, body = ines.do("GET", at, nil)
	var draft api.Document
	require.NoError(t, json.Unmarshal([]byte(body), &draft))
	assert.Equal(t, []any{"procedure", api.State("draft"), 2}, []any{draft.Summary.Kind, draft.Summary.State, draft.Summary.Steps})
	_, body = ruben.do("GET", at, nil)
	assert.Contains(t, body, `"kind":"filed"`, "readers have the PDF until the draft is released")
	code, body = ines.ready(made.Id)
	require.Equal(t, 200, code, body)
	_, body = ruben.do("GET", at, nil)
	assert.Contains(t, body, "Wear gloves.")
	assert.Contains(t, body, `"kind":"procedure"`)
	_, body = ines.do("GET", at+"/history", nil)
	assert.Equal(t, 2, strings.Count(body, `"what":"revision"`), "the PDF stays in the history")
	code, _ = ines.do("POST", at+"/rewrite", nil)
	assert.Equal(t, http.StatusUnprocessableEntity, code)
}

// TestWhatIsWithheldIsWithheldFromManualsAndTheSearch conceals something of a shot after it was handed out in a
// chapter.
func TestWhatIsWithheldIsWithheldFromManualsAndTheSearch(t *testing.T) {
	h := start(t)
	h.Work(t)
	require.NoError(t, h.Works.FindAll(t.Context()))
	ines, ruben := h.browser(t, "ines"), h.browser(t, "ruben")
	handbook := ruben.documents()["Dock 2 handbook"]
	h.deliver(ruben, handbook, "pdf")
	receive := get[api.Document](ines, "/api/documents/"+ines.documents()["Receive a lot into a cold room"])
	hits := func() int { return len(get[[]api.Hit](ruben, "/api/search?text=Ostrave")) }
	before := hits()
	assert.Positive(t, before)
	for _, shot := range receive.Shots {
		code, body := ines.do("POST", "/api/shots/"+shot.Id+"/handed", []any{map[string]int{"x": 0, "y": 0, "w": shot.Width, "h": shot.Height}})
		require.Less(t, code, 300, body)
	}
	deliveries := get[[]api.Delivery](ruben, "/api/deliveries")
	require.Len(t, deliveries, 1)
	assert.Equal(t, api.DeliveryState("failed"), deliveries[0].State, "the manual's file is withdrawn")
	assert.Contains(t, *deliveries[0].Error, "Withdrawn")
	require.NoError(t, h.Works.FindAll(t.Context()))
	assert.Less(t, hits(), before, "what is concealed in the pictures is found no more")
	whole := get[api.Document](ruben, "/api/documents/"+handbook)
	assert.NotEmpty(t, whole.Blocks, "and the manual is still there")
}

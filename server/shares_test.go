package server_test

import (
	"strings"
	"testing"

	"raconte/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestALinkShowsItsDocumentAndNothingElse(t *testing.T) {
	h := start(t)
	ines, admin, guest := h.browser(t, "ines"), h.browser(t, "admin"), h.browser(t, "")
	id := ines.documents()["Reprint a lot label"]
	make := func(order map[string]any) (api.MadeShare, string) {
		code, body := ines.do("POST", "/api/documents/"+id+"/shares", order)
		require.Equal(t, 201, code, body)
		made := decoded[api.MadeShare](t, body)
		return made, "/api/shared/" + strings.TrimPrefix(made.Address, "http://raconte.example/s/")
	}
	open := func(at, password string) (int, api.Opening) {
		code, body := guest.do("POST", at, map[string]string{"password": password})
		if code != 200 {
			return code, api.Opening{}
		}
		return code, decoded[api.Opening](t, body)
	}
	made, at := make(map[string]any{"name": "Night shift", "password": "plums", "most": 2})
	code, body := guest.do("POST", at, map[string]string{})
	assert.Equal(t, 401, code)
	assert.Contains(t, body, `"needs":"password"`)
	assert.NotContains(t, body, "Reprint", "not even its title is told before")
	code, _ = open(at, "pears")
	assert.Equal(t, 401, code)
	code, opened := open(at, "plums")
	require.Equal(t, 200, code)
	code, _ = guest.do("GET", at, nil)
	assert.Equal(t, 401, code, "the address alone is not enough")
	code, body = guest.do("GET", at+"?opening="+opened.Opening, nil)
	require.Equal(t, 200, code)
	whole := decoded[api.Document](t, body)
	assert.Equal(t, "Reprint a lot label", whole.Summary.Title)
	assert.Empty(t, whole.Shots)
	figure := ""
	for _, b := range whole.Blocks {
		for _, f := range b.Content.Figures {
			assert.Empty(t, f.Marks)
			assert.Empty(t, f.Shot)
			figure = f.ID
		}
	}
	code, _ = guest.do("GET", at+"/figures/"+figure+"?width=400&opening="+opened.Opening, nil)
	assert.Equal(t, 200, code)
	code, _ = guest.do("GET", at+"/figures/other?opening="+opened.Opening, nil)
	assert.Equal(t, 404, code)
	for _, no := range []string{at + "/pdf?opening=" + opened.Opening, "/api/documents/" + id, "/api/documents/" + id + "/figures/" + figure, "/api/search"} {
		code, _ = guest.do("GET", no, nil)
		assert.Contains(t, []int{401, 403}, code, no)
	}
	code, _ = guest.do("POST", at+"/comments?opening="+opened.Opening, map[string]string{"id": "g", "name": "Pat", "body": "x"})
	assert.Equal(t, 403, code)
	code, _ = open(at, "plums")
	assert.Equal(t, 200, code)
	code, _ = open(at, "plums")
	assert.Equal(t, 403, code, "as often as it may be")

	// Revoked while it is open.
	code, _ = ines.do("DELETE", "/api/documents/"+id+"/shares/"+made.Share.Id, nil)
	require.Equal(t, 204, code)
	code, _ = guest.do("GET", at+"/state?opening="+opened.Opening, nil)
	assert.Equal(t, 404, code)

	// One that lets its reader take the PDF and comment; its opening opens no other link.
	_, at2 := make(map[string]any{"name": "Machine 4", "downloads": true, "comments": true})
	code, _ = guest.do("GET", at2+"?opening="+opened.Opening, nil)
	assert.Equal(t, 401, code)
	code, pdf := guest.do("GET", at2+"/pdf", nil)
	require.Equal(t, 200, code)
	assert.True(t, strings.HasPrefix(pdf, "%PDF-"))
	_, opened = open(at2, "")
	code, body = guest.do("POST", at2+"/comments?opening="+opened.Opening, map[string]string{"id": "g1", "name": "Pat Orchard", "body": "Which printer?", "block": whole.Blocks[0].Id})
	require.Equal(t, 204, code, body)
	_, body = ines.do("GET", "/api/documents/"+id+"/comments", nil)
	thread := decoded[[]api.Thread](t, body)[0]
	assert.Equal(t, "Pat Orchard (by a link)", thread.Comments[0].By)
	assert.False(t, thread.Comments[0].Mine, "it is not hers, though she made the link")

	// A fixed revision stays; a link of someone who was disabled ends.
	code, body = ines.do("POST", "/api/documents/"+id+"/shares", map[string]any{"name": "x", "revision": 9})
	assert.Equal(t, 422, code, body)
	code, _ = ines.do("POST", "/api/documents/"+ines.documents()["Answer a temperature alarm"]+"/shares", map[string]any{"name": "x"})
	assert.Equal(t, 422, code, "of what was never released nothing is shared")
	often, at3 := make(map[string]any{"name": "Canteen"})
	_, err := h.Store.SQL().Exec("INSERT INTO share_openings (hash, share_id, opened_at) SELECT LPAD(seq, 64, '0'), ?, UTC_TIMESTAMP(3) FROM seq_1_to_7000", often.Share.Id)
	require.NoError(t, err)
	code, opened = open(at3, "")
	require.Equal(t, 200, code)
	code, _ = guest.do("GET", at3+"?opening="+opened.Opening, nil)
	assert.Equal(t, 200, code)
	kept := 0
	require.NoError(t, h.Store.SQL().QueryRow("SELECT COUNT(*) FROM share_openings WHERE share_id = ?", often.Share.Id).Scan(&kept))
	assert.LessOrEqual(t, kept, 5000, "who opens a link over and over takes no more room than that")
	account, err := h.Store.Identity.AccountNamed(t.Context(), "ines")
	require.NoError(t, err)
	code, _ = admin.do("PATCH", "/api/accounts/"+account.ID, map[string]any{"disabled": true})
	require.Equal(t, 204, code)
	code, _ = guest.do("GET", at2+"/pdf", nil)
	assert.Equal(t, 404, code)

	// Framed by whom the administrator lists, and by nobody else.
	frames := func(all ...string) int {
		code, _ := admin.do("PUT", "/api/house", map[string]any{"version": 1, "frames": all})
		return code
	}
	assert.Equal(t, 422, frames("https://intranet.example; script-src *"))
	assert.Equal(t, 204, frames("https://intranet.example"))
	for path, want := range map[string]string{"/s/x": "frame-ancestors https://intranet.example", "/d/x": "frame-ancestors 'none'"} {
		res, err := guest.Get(h.Address + path)
		require.NoError(t, err)
		_ = res.Body.Close()
		assert.Contains(t, res.Header.Get("Content-Security-Policy"), want, path)
		assert.Equal(t, strings.HasPrefix(path, "/s/"), res.Header.Get("X-Robots-Tag") != "")
	}
}

// TestAFiledPDFIsReadByALink page by page, and taken as it was filed where the link lets it be taken.
func TestAFiledPDFIsReadByALink(t *testing.T) {
	h := start(t)
	ines, adaeze, guest := h.browser(t, "ines"), h.browser(t, "adaeze"), h.browser(t, "")
	code, file := adaeze.do("GET", "/api/documents/"+adaeze.documents()["Ammonia leak: what to do"]+"/file", nil)
	require.Equal(t, 200, code)
	code, body := ines.do("POST", "/api/filed?name=Alarm.pdf", []byte(file), "Content-Type", "application/pdf")
	require.Equal(t, 201, code, body)
	id := decoded[api.Summary](t, body).Id
	code, body = ines.ready(id)
	require.Equal(t, 200, code, body)
	by := func(order map[string]any) (at, opening string) {
		code, body := ines.do("POST", "/api/documents/"+id+"/shares", order)
		require.Equal(t, 201, code, body)
		at = "/api/shared/" + strings.TrimPrefix(decoded[api.MadeShare](t, body).Address, "http://raconte.example/s/")
		code, body = guest.do("POST", at, map[string]string{})
		require.Equal(t, 200, code, body)
		return at, "?opening=" + decoded[api.Opening](t, body).Opening
	}
	at, opening := by(map[string]any{"name": "To read"})
	code, body = guest.do("GET", at+"/file/1"+opening, nil)
	require.Equal(t, 200, code, body)
	assert.Equal(t, "\x89PNG", body[:4])
	code, _ = guest.do("GET", at+"/file/1", nil)
	assert.Equal(t, 401, code, "the link has to be opened first")
	code, _ = guest.do("GET", at+"/file/99"+opening, nil)
	assert.Equal(t, 404, code)
	code, _ = guest.do("GET", at+"/pdf"+opening, nil)
	assert.Equal(t, 403, code, "this one is for reading")

	at, opening = by(map[string]any{"name": "To take", "downloads": true})
	code, body = guest.do("GET", at+"/pdf"+opening, nil)
	require.Equal(t, 200, code)
	assert.Equal(t, file, body, "byte for byte")
	_, head := ines.do("GET", "/api/documents/"+id, nil)
	code, _ = ines.do("PUT", "/api/documents/"+id+"/state", map[string]any{"act": "retire", "seq": decoded[api.Document](t, head).Seq})
	require.Equal(t, 200, code)
	for _, one := range []string{"/pdf", "/file/1", ""} {
		code, body = guest.do("GET", at+one+opening, nil)
		assert.Equal(t, 422, code)
		assert.Contains(t, body, "is retired")
	}
}

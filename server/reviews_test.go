package server_test

import (
	"fmt"
	"testing"
	"time"

	"raconte/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// ask sends a document to people, and returns what came of it.
func (b browser) ask(t *testing.T, id string, order map[string]any) (int, api.Review, string) {
	_, body := b.do("GET", "/api/documents/"+id, nil)
	order["seq"] = decoded[api.Document](t, body).Seq
	if order["groups"] == nil {
		order["groups"] = []string{}
	}
	code, body := b.do("POST", "/api/documents/"+id+"/reviews", order)
	if code != 201 {
		return code, api.Review{}, body
	}
	return code, decoded[api.Review](t, body), body
}

// approving is the demo's house, with a rule for all that lies in no folder.
func approving(t *testing.T, rule string) (h house, admin, ines, adaeze, ruben browser, who map[string]string) {
	h = start(t)
	admin, ines, adaeze, ruben = h.browser(t, "admin"), h.browser(t, "ines"), h.browser(t, "adaeze"), h.browser(t, "ruben")
	code, body := admin.do("PUT", "/api/house", []byte(`{"version":1,"rule":`+rule+`}`))
	require.Equal(t, 204, code, body)
	who = map[string]string{}
	_, body = admin.do("GET", "/api/accounts", nil)
	for _, m := range decoded[[]api.Member](t, body) {
		who[m.Name] = m.Id
	}
	return h, admin, ines, adaeze, ruben, who
}

// written makes a document with one step.
func (b browser) written(t *testing.T, title, words string) string {
	_, body := b.do("POST", "/api/documents", []byte(fmt.Sprintf(`{"title":%q,"blocks":[{"type":"step","words":{"type":"doc","content":[{"type":"paragraph","content":[{"type":"text","text":%q}]}]},"figures":[]}]}`, title, words)))
	return decoded[api.Summary](t, body).Id
}

func TestADocumentIsReviewedApprovedAndReleasedOnItsDay(t *testing.T) {
	h, _, ines, adaeze, ruben, who := approving(t, `{"needed":1,"notAuthor":true}`)
	mails := h.mailed(t)
	h.Work(t)
	id := ines.written(t, "Weigh a bin", "Put the bin on the scale.")
	code, body := ines.ready(id)
	assert.Equal(t, 422, code)
	assert.Contains(t, body, "One person approves, not those who have written it in this folder")

	// Looked at first: the approver may comment and answer, and change nothing.
	code, _, body = ines.ask(t, id, map[string]any{"approval": false, "people": []string{who["ruben"]}})
	assert.Equal(t, 422, code)
	assert.Contains(t, body, "Ruben Hask may not see drafts")
	code, review, body := ines.ask(t, id, map[string]any{"approval": false, "people": []string{who["adaeze"]}, "note": "The scale is new.", "due": time.Now().AddDate(0, 0, 1).Format(time.DateOnly)})
	require.Equal(t, 201, code, body)
	sent := mails("adaeze@pellworth.example", 1)[0]
	assert.Equal(t, "Ines Brackwater asks you to look at “Weigh a bin”", sent.Subject)
	assert.Contains(t, sent.Text, "The scale is new.")
	_, body = adaeze.do("GET", "/api/reviews", nil)
	waiting := decoded[[]api.Review](t, body)
	require.Len(t, waiting, 2, "and the demo's")
	assert.Equal(t, "Weigh a bin", waiting[0].Title, "the soonest first")
	code, _ = adaeze.do("POST", "/api/documents/"+id+"/changes", map[string]any{"id": "c", "blocks": []any{}})
	assert.Equal(t, 403, code)
	code, body = adaeze.do("POST", "/api/documents/"+id+"/comments", map[string]any{"id": "k1", "place": map[string]any{}, "body": "Which bin, @Ines Brackwater?", "mentions": []string{who["ines"]}})
	assert.Equal(t, 204, code, body)
	code, _ = adaeze.do("POST", "/api/documents/"+id+"/reviews/"+review.Id, map[string]any{"answer": "changes"})
	assert.Equal(t, 422, code, "without saying what should change")
	code, body = adaeze.do("POST", "/api/documents/"+id+"/reviews/"+review.Id, map[string]any{"answer": "changes", "words": "Say which bin."})
	require.Equal(t, 200, code, body)
	_, body = ines.do("GET", "/api/notices", nil)
	told := decoded[[]api.NoticeOf](t, body)
	require.Len(t, told, 3)
	assert.Equal(t, "mention due", string(told[1].Kind)+" "+string(told[2].Kind), "and the demo's document that is due")
	assert.Equal(t, "Adaeze Quillan asks for changes in “Weigh a bin”. Say which bin.", told[0].Told)
	require.NoError(t, h.Works.Today(t.Context()))
	_, body = adaeze.do("GET", "/api/notices", nil)
	assert.Len(t, decoded[[]api.NoticeOf](t, body), 2, "who has answered is not reminded; the other is the demo's")

	// Approved: what was signed is what is released, on its day, and nothing else.
	code, _, body = ines.ask(t, id, map[string]any{"approval": true, "people": []string{who["ines"]}})
	assert.Equal(t, 422, code, body)
	day := time.Now().AddDate(0, 0, 3).Format(time.DateOnly)
	order := map[string]any{"approval": true, "people": []string{who["adaeze"]}, "holdsFrom": day}
	_, first, _ := ines.ask(t, id, order)
	sign := func(r api.Review, password string) (int, string) {
		return adaeze.do("POST", "/api/documents/"+id+"/reviews/"+r.Id+"/signature", map[string]any{"digest": r.Digest, "password": password})
	}
	_, body = ines.do("GET", "/api/documents/"+id, nil)
	step := decoded[api.Document](t, body).Blocks[0]
	change := func(n int, words string) {
		code, body := ines.do("POST", "/api/documents/"+id+"/changes", []byte(fmt.Sprintf(`{"id":"w%d","blocks":[{"id":%q,"base":%d,"order":%q,"removed":false,"content":{"type":"step","words":{"type":"doc","content":[{"type":"paragraph","content":[{"type":"text","text":%q}]}]},"figures":[]}}]}`, n, step.Id, n, step.Order, words)))
		require.Equal(t, 200, code, body)
	}
	change(1, "Put the empty bin on the scale.")
	code, body = sign(first, "pellworth")
	assert.Equal(t, 422, code, "it has changed since")
	assert.Contains(t, body, "Ines Brackwater has to ask again")
	_, second, _ := ines.ask(t, id, order)
	code, _ = sign(second, "not it")
	assert.Equal(t, 422, code)
	code, _ = h.browser(t, "admin").do("POST", "/api/documents/"+id+"/reviews/"+second.Id+"/signature", map[string]any{"digest": second.Digest, "password": "pellworth"})
	assert.Equal(t, 422, code, "who was not asked")
	code, body = sign(second, "pellworth")
	require.Equal(t, 200, code, body)
	assert.Contains(t, body, `"outcome":"approved"`)
	code, _ = ruben.do("GET", "/api/documents/"+id, nil)
	assert.Equal(t, 404, code, "not before its day")
	change(2, "Put the empty bin on the new scale.")

	h.Store.SetClock(func() time.Time { return time.Now().UTC().AddDate(0, 0, 4).Truncate(time.Millisecond) })
	require.NoError(t, h.Works.Today(t.Context()))
	_, body = ruben.do("GET", "/api/documents/"+id, nil)
	assert.Contains(t, body, "Put the empty bin on the scale.")
	assert.NotContains(t, body, "new scale", "what was written since is still a draft")
	_, body = ruben.do("GET", "/api/documents/"+id+"/pages?layout=running", nil)
	assert.Contains(t, body, "Adaeze Quillan")
	assert.Contains(t, body, second.Digest[:12])
	_, body = ines.do("GET", "/api/documents/"+id, nil)
	assert.Contains(t, body, "new scale")
	assert.Contains(t, body, `"state":"draft"`)

	// Who holds a printed page can ask about it, signed in or not.
	nobody := h.browser(t, "")
	_, body = nobody.do("GET", "/api/valid/"+id+"/1", nil)
	assert.Equal(t, api.ValidityStateValid, decoded[api.Validity](t, body).State)
	assert.Nil(t, decoded[api.Validity](t, body).Title)
	_, body = nobody.do("GET", "/api/valid/"+id+"/7", nil)
	assert.Equal(t, api.ValidityStateUnknown, decoded[api.Validity](t, body).State)
	_, body = ines.do("GET", "/api/trail?document="+id, nil)
	acts := ""
	for _, l := range decoded[[]api.TrailLine](t, body) {
		acts += string(l.Act) + " "
	}
	assert.Equal(t, "released approved review review review review created ", acts)
}

func TestAReaderConfirmsWhatTheyHaveRead(t *testing.T) {
	_, _, ines, _, ruben, who := approving(t, `{"needed":0}`)
	id := ines.written(t, "Wear gloves", "Wear gloves.")
	ask := map[string]any{"people": []string{who["ruben"]}, "groups": []string{}}
	code, _ := ines.do("POST", "/api/documents/"+id+"/confirmations", ask)
	assert.Equal(t, 422, code, "nothing is valid yet")
	code, body := ines.ready(id)
	require.Equal(t, 200, code, body)
	code, body = ines.do("POST", "/api/documents/"+id+"/confirmations", ask)
	require.Equal(t, 204, code, body)
	mine := func() api.Confirmation {
		_, body := ruben.do("GET", "/api/confirmations", nil)
		for _, c := range decoded[[]api.Confirmation](t, body) {
			if c.Document == id {
				return c
			}
		}
		t.Fatal("nothing is asked")
		return api.Confirmation{}
	}
	assert.False(t, mine().Confirmed)
	code, _ = ruben.do("PUT", "/api/documents/"+id+"/confirmations", map[string]any{"revision": 2})
	assert.Equal(t, 409, code)
	code, _ = ruben.do("PUT", "/api/documents/"+id+"/confirmations", map[string]any{"revision": 1})
	assert.Equal(t, 204, code)
	assert.True(t, mine().Confirmed)
	_, body = ines.do("GET", "/api/confirmations.csv?document="+id, nil)
	assert.Contains(t, body, "Ruben Hask,Wear gloves,1,1,")

	// A new revision asks again only when its author says so.
	_, body = ines.do("GET", "/api/documents/"+id, nil)
	whole := decoded[api.Document](t, body)
	code, body = ines.do("POST", "/api/documents/"+id+"/changes", map[string]any{"id": "c2", "blocks": []any{}, "facts": map[string]any{"base": whole.FactsVersion, "facts": map[string]any{"title": "Wear thick gloves"}}})
	require.Equal(t, 200, code, body)
	code, body = ines.ready(id)
	require.Equal(t, 200, code, body)
	assert.True(t, mine().Confirmed)
	ask["again"] = true
	code, _ = ines.do("POST", "/api/documents/"+id+"/confirmations", ask)
	require.Equal(t, 204, code)
	assert.False(t, mine().Confirmed)
}

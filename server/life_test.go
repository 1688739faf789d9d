package server_test

import (
	"fmt"
	"testing"
	"time"

	"raconte/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestAnApprovedRevisionIsWithdrawnBeforeItsDay and is then neither told nor released when the day comes.
func TestAnApprovedRevisionIsWithdrawnBeforeItsDay(t *testing.T) {
	h, _, ines, adaeze, ruben, who := approving(t, `{"needed":1,"notAuthor":true}`)
	id := ines.written(t, "Weigh a bin", "Put the bin on the scale.")
	approval := func() api.Approval {
		code, body := ines.do("GET", "/api/documents/"+id+"/approval", nil)
		require.Equal(t, 200, code, body)
		return decoded[api.Approval](t, body)
	}
	var may []string
	for _, p := range approval().May {
		may = append(may, p.Name)
	}
	assert.Contains(t, may, "Adaeze Quillan")
	assert.NotContains(t, may, "Ruben Hask", "who only reads")
	assert.Nil(t, approval().Coming)

	day := time.Now().AddDate(0, 0, 3)
	_, review, _ := ines.ask(t, id, map[string]any{"approval": true, "people": []string{who["adaeze"]}, "holdsFrom": day.Format(time.DateOnly)})
	code, body := adaeze.do("POST", "/api/documents/"+id+"/reviews/"+review.Id+"/signature", map[string]any{"digest": review.Digest, "password": "pellworth"})
	require.Equal(t, 200, code, body)
	coming := approval().Coming
	require.NotNil(t, coming)
	assert.Equal(t, day.Format(time.DateOnly), coming.HoldsFrom.Format(time.DateOnly))

	code, _ = ruben.do("DELETE", "/api/documents/"+id+"/approval", nil)
	assert.Equal(t, 403, code)
	code, body = ines.do("DELETE", "/api/documents/"+id+"/approval", nil)
	require.Equal(t, 204, code, body)
	assert.Nil(t, approval().Coming)
	code, _ = ines.do("DELETE", "/api/documents/"+id+"/approval", nil)
	assert.Equal(t, 404, code, "there is none any more")
	h.Store.SetClock(func() time.Time { return time.Now().UTC().AddDate(0, 0, 4).Truncate(time.Millisecond) })
	require.NoError(t, h.Works.Today(t.Context()))
	code, _ = ruben.do("GET", "/api/documents/"+id, nil)
	assert.Equal(t, 404, code)
	_, body = ines.do("GET", "/api/trail?document="+id, nil)
	assert.Contains(t, body, "withdrawn before its day")
}

// valid is a document that holds, of one who has written it and one who only reads.
func valid(t *testing.T) (writes, reads browser, id string) {
	h := start(t)
	writes, reads = h.browser(t, "ines"), h.browser(t, "ruben")
	id = writes.written(t, "Weigh a bin", "Put the bin on the scale.")
	code, body := writes.ready(id)
	require.Equal(t, 200, code, body)
	return writes, reads, id
}

func TestADocumentThatIsStillValidIsReviewedLater(t *testing.T) {
	ines, ruben, id := valid(t)
	_, body := ines.do("GET", "/api/documents/"+id, nil)
	before := decoded[api.Document](t, body)
	say := func(b browser, days int) (int, string) {
		day := time.Now().AddDate(0, 0, days).Format(time.DateOnly)
		return b.do("POST", "/api/documents/"+id+"/still-valid", map[string]any{"review": day, "note": "Looked at on the floor."})
	}
	code, body := say(ines, 0)
	assert.Equal(t, 422, code)
	assert.Contains(t, body, "Choose a later day")
	code, _ = say(ruben, 400)
	assert.Equal(t, 403, code, "who does not answer for it")
	code, body = say(ines, 400)
	require.Equal(t, 200, code, body)
	summary := decoded[api.Summary](t, body)
	assert.Equal(t, time.Now().AddDate(0, 0, 400).Format(time.DateOnly), *summary.Review)
	assert.Equal(t, api.StateReady, summary.State, "it says what it said")
	assert.Equal(t, 1, summary.Revision)

	// Whoever has it open asks for what has changed, and is told of the facts and of no step.
	code, body = ines.do("GET", fmt.Sprintf("/api/documents/%s/changes?since=%d", id, before.Seq), nil)
	require.Equal(t, 200, code, body)
	news := decoded[api.Changes](t, body)
	assert.Empty(t, news.Blocks)
	assert.Equal(t, before.FactsVersion+1, news.FactsVersion)
	assert.Greater(t, news.Seq, before.Seq)
	_, body = ines.do("GET", "/api/trail?document="+id, nil)
	assert.Contains(t, body, "Looked at on the floor.")
}

func TestADeletedDocumentIsNobodysUntilItIsRestored(t *testing.T) {
	ines, ruben, id := valid(t)
	toReader := ruben.listen(t)
	code, _ := ruben.do("DELETE", "/api/documents/"+id, nil)
	assert.Equal(t, 403, code)
	code, body := ines.do("DELETE", "/api/documents/"+id, nil)
	require.Equal(t, 204, code, body)
	assert.Contains(t, heard(toReader), id, "who has it open learns that it is gone")
	for _, b := range []browser{ines, ruben} {
		code, _ = b.do("GET", "/api/documents/"+id, nil)
		assert.Equal(t, 404, code)
		assert.NotContains(t, b.documents(), "Weigh a bin")
	}
	code, _ = ines.do("DELETE", "/api/documents/"+id, nil)
	assert.Equal(t, 404, code, "it is deleted once")
	_, body = ines.do("GET", "/api/deleted", nil)
	gone := decoded[[]api.Deleted](t, body)
	require.NotEmpty(t, gone)
	assert.Equal(t, "Weigh a bin", gone[0].Document.Title)
	assert.True(t, gone[0].Goes.After(time.Now().AddDate(0, 0, 29)), "it can be restored for a month")
	code, _ = ruben.do("POST", "/api/documents/"+id+"/restore", nil)
	assert.Equal(t, 403, code)
	code, body = ines.do("POST", "/api/documents/"+id+"/restore", nil)
	require.Equal(t, 204, code, body)
	code, body = ruben.do("GET", "/api/documents/"+id, nil)
	assert.Equal(t, 200, code)
	assert.Contains(t, body, "Put the bin on the scale.")
}

func TestWhoIsInADocumentIsToldToWhoMayWriteIt(t *testing.T) {
	h := start(t)
	ines, tomasz, adaeze, ruben := h.browser(t, "ines"), h.browser(t, "tomasz"), h.browser(t, "adaeze"), h.browser(t, "ruben")
	id := ines.written(t, "Weigh a bin", "Put the bin on the scale.")
	block := "a"
	here := func(b browser, page string, more map[string]any) []api.Present {
		said := map[string]any{"page": page, "at": block}
		for k, v := range more {
			said[k] = v
		}
		code, body := b.do("PUT", "/api/documents/"+id+"/presence", said)
		require.Equal(t, 200, code, body)
		return decoded[[]api.Present](t, body)
	}
	const one, two, three = "11111111-1111-4111-8111-111111111111", "22222222-2222-4222-8222-222222222222", "33333333-3333-4333-8333-333333333333"
	toInes := ines.listen(t)
	here(ines, one, map[string]any{"writing": true})
	assert.Contains(t, heard(toInes), `"writing":true`)
	all := here(tomasz, two, map[string]any{"writing": true})
	require.Len(t, all, 2)
	assert.False(t, all[1].Writing, "the same step is written by one")
	assert.Contains(t, heard(toInes), "Tomasz Ferrow")
	all = here(adaeze, three, map[string]any{"writing": true, "take": true})
	require.Len(t, all, 3)
	assert.Contains(t, heard(toInes), "Adaeze Quillan")
	for _, p := range all {
		assert.Equal(t, p.Page == one, p.Writing, "who only reviews takes nothing over")
	}
	here(tomasz, two, map[string]any{"writing": true, "take": true})
	assert.Contains(t, heard(toInes), `"taken":"`+one+`"`, "the page that has to stop is named")
	here(tomasz, two, map[string]any{"gone": true})
	assert.NotContains(t, heard(toInes), "Tomasz Ferrow")
	code, _ := ruben.do("PUT", "/api/documents/"+id+"/presence", map[string]any{"page": two})
	assert.Equal(t, 403, code, "readers are not seen, and see nobody")
}

func TestSigningOutEndsTheSession(t *testing.T) {
	h := start(t)
	ines := h.browser(t, "ines")
	code, _ := ines.do("GET", "/api/session", nil)
	require.Equal(t, 200, code)
	code, _ = ines.do("DELETE", "/api/session", nil)
	assert.Equal(t, 204, code)
	code, body := ines.do("GET", "/api/documents", nil)
	assert.Equal(t, 401, code)
	assert.Contains(t, body, "Sign in first")
}

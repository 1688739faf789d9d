package server_test

import (
	"fmt"
	"testing"
	"time"

	"raconte/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestARuleIsNotWalkedAround moves a document to where nobody asks for approval, and signs what others, or they
// themselves, have written in other ways.
func TestARuleIsNotWalkedAround(t *testing.T) {
	h, admin, ines, adaeze, _, who := approving(t, `{"needed":1,"notAuthor":true}`)
	code, body := admin.do("POST", "/api/folders", map[string]any{"name": "Free", "open": true, "rule": map[string]any{"needed": 0}})
	require.Equal(t, 201, code, body)
	free := decoded[api.Folder](t, body).Id
	put := func(b browser, id, folder string) {
		code, body := b.do("PUT", "/api/documents/"+id+"/place", map[string]any{"folder": folder})
		require.Equal(t, 200, code, body)
	}
	id := ines.written(t, "Weigh a bin", "Put the bin on the scale.")
	put(ines, id, free)
	code, body = ines.ready(id)
	assert.Equal(t, 422, code, "the rule of where it was still holds: "+body)
	put(ines, id, "")
	code, body = ines.ready(id)
	assert.Equal(t, 422, code, body)
	_, body = admin.do("GET", "/api/trail?document="+id, nil)
	assert.Contains(t, body, "From no folder to “Free”")
	assert.Contains(t, body, "From “Free” to no folder")

	// Somebody who has changed the title, and nothing else, has written in it.
	_, body = admin.do("GET", "/api/documents/"+id, nil)
	whole := decoded[api.Document](t, body)
	facts := whole.Facts
	facts.Title = "Weigh a full bin"
	code, body = admin.do("POST", "/api/documents/"+id+"/changes", api.Change{Id: "title", Blocks: []api.BlockChange{}, Facts: &api.FactsChange{Base: whole.FactsVersion, Facts: facts}})
	require.Equal(t, 200, code, body)
	// And somebody whose words were written over since.
	over := whole.Blocks[0]
	for i, b := range []browser{h.browser(t, "tomasz"), ines} {
		code, body = b.do("POST", "/api/documents/"+id+"/changes", api.Change{Id: fmt.Sprint("over", i), Blocks: []api.BlockChange{{Id: over.Id, Base: over.Version + i, Order: over.Order, Content: over.Content}}})
		require.Equal(t, 200, code, body)
	}
	for _, writer := range []string{"admin", "tomasz", "ines"} {
		code, _, body = ines.ask(t, id, map[string]any{"approval": true, "people": []string{who[writer]}})
		assert.Equal(t, 422, code, writer+": "+body)
	}
	sign := func(b browser, r api.Review) (int, string) {
		return b.do("POST", "/api/documents/"+id+"/reviews/"+r.Id+"/signature", map[string]any{"digest": r.Digest, "password": "pellworth"})
	}
	tomorrow := time.Now().AddDate(0, 0, 1).Format(time.DateOnly)
	code, review, body := ines.ask(t, id, map[string]any{"approval": true, "people": []string{who["adaeze"]}, "holdsFrom": tomorrow})
	require.Equal(t, 201, code, body)
	code, body = sign(adaeze, review)
	require.Equal(t, 200, code, body)

	// What the administrator writes before that day is not in the revision; they do not sign it after the release.
	_, body = admin.do("GET", "/api/documents/"+id, nil)
	step := decoded[api.Document](t, body).Blocks[0]
	step.Content.Critical = true
	code, body = admin.do("POST", "/api/documents/"+id+"/changes", api.Change{Id: "late", Blocks: []api.BlockChange{{Id: step.Id, Base: step.Version, Order: step.Order, Content: step.Content}}})
	require.Equal(t, 200, code, body)
	h.Store.SetClock(func() time.Time { return time.Now().UTC().AddDate(0, 0, 1).Truncate(time.Millisecond) })
	released, err := h.Store.Releases.ReleaseDue(t.Context())
	require.NoError(t, err)
	require.Len(t, released, 1)
	code, _, body = ines.ask(t, id, map[string]any{"approval": true, "people": []string{who["admin"]}})
	assert.Equal(t, 422, code, body)
	code, _, body = ines.ask(t, id, map[string]any{"approval": true, "people": []string{who["adaeze"]}})
	assert.Equal(t, 201, code, "who has not written since may: "+body)
}

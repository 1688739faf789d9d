package server_test

import (
	"bytes"
	"context"
	"fmt"
	"net/http"
	"sync"
	"testing"
	"time"

	"raconte/api"
	"raconte/core/document"
	"raconte/core/words"
	"raconte/store"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestOneConnectionIsEnough does all that is done in transactions with a pool of one connection: what asks for a second
// within one would wait for itself.
func TestOneConnectionIsEnough(t *testing.T) {
	h, admin, ines, adaeze, _, who := approving(t, `{"needed":1,"notAuthor":true}`)
	h.Store.SQL().SetMaxOpenConns(1)
	id := ines.written(t, "Weigh a bin", "Put the bin on the scale.")
	code, review, body := ines.ask(t, id, map[string]any{"approval": true, "people": []string{who["adaeze"]}})
	require.Equal(t, 201, code, body)
	code, body = adaeze.do("POST", "/api/documents/"+id+"/reviews/"+review.Id+"/signature", map[string]any{"digest": review.Digest, "password": "pellworth"})
	require.Equal(t, 200, code, body)
	leads := document.NewStep("lead", words.Node{Type: "doc"})
	leads.Document = ines.documents()["Reprint a lot label"]
	code, body = ines.do("POST", "/api/documents/"+id+"/changes", api.Change{Id: "lead", Blocks: []api.BlockChange{{Id: "lead", Order: "009000", Content: leads.Content}}})
	require.Equal(t, 200, code, body)
	for name, do := range map[string]func() (int, string){
		"a number": func() (int, string) { return ines.do("POST", "/api/documents/"+id+"/number", nil) },
		"a link": func() (int, string) {
			return ines.do("POST", "/api/documents/"+id+"/shares", map[string]any{"name": "Night"})
		},
		"a delivery": func() (int, string) {
			return ines.do("POST", "/api/documents/"+id+"/deliveries", map[string]any{"format": "html"})
		},
		"a move": func() (int, string) {
			return ines.do("PUT", "/api/documents/"+id+"/place", map[string]any{"folder": ""})
		},
		"a person": func() (int, string) {
			return admin.do("POST", "/api/accounts", map[string]any{"name": "wren", "displayName": "Wren", "role": "author"})
		},
		"a folder": func() (int, string) {
			return admin.do("POST", "/api/folders", map[string]any{"name": "Shut", "open": false})
		},
		"a door": func() (int, string) { return ines.do("POST", "/api/doors", map[string]string{"name": "Dock"}) },
		"a comment": func() (int, string) {
			return ines.do("POST", "/api/documents/"+id+"/comments", map[string]any{"id": "k1", "place": map[string]any{}, "body": "Hm", "mentions": []string{}})
		},
	} {
		code, body := do()
		assert.Less(t, code, 300, name+": "+body)
	}
	require.NoError(t, h.Works.FindAll(t.Context()))
	require.NoError(t, h.Works.Today(t.Context()))
	require.NoError(t, h.Works.Sweep(t.Context(), time.Now()))
	var all sync.WaitGroup
	for i := range 12 { // and many at once wait for each other, and for nothing else
		all.Go(func() {
			code, body := ines.do("POST", "/api/documents/"+id+"/changes", api.Change{Id: fmt.Sprint("many", i), Blocks: []api.BlockChange{{Id: fmt.Sprint("b", i), Order: fmt.Sprintf("%06d", 9100+i), Content: leads.Content}}})
			assert.Equal(t, 200, code, body)
		})
	}
	all.Wait()
}

// TestABadDocumentKeepsNoOtherFromBeingFound breaks what is kept of one, so that whoever reads it fails.
func TestABadDocumentKeepsNoOtherFromBeingFound(t *testing.T) {
	log := &heardLog{}
	h := startWith(t, logging(log))
	ines := h.browser(t, "ines")
	bad, good := ines.written(t, "Broken by hand", "Zebra one"), ines.written(t, "Whole", "Zebra two")
	_, err := h.Store.SQL().Exec(`UPDATE blocks SET content = '[1]' WHERE document_id = ?`, bad)
	require.NoError(t, err)
	require.NoError(t, h.Works.FindAll(t.Context()))
	require.NoError(t, h.Works.FindAll(t.Context()))
	_, body := ines.do("GET", "/api/search?text=zebra", nil)
	assert.Contains(t, body, good)
	assert.NotContains(t, body, bad)
	assert.Equal(t, 1, bytes.Count([]byte(log.String()), []byte("is set aside until it changes")), "and it is told once")
}

// TestSayingForgottenEndsNoInvitation says “forgotten” of someone who is invited.
func TestSayingForgottenEndsNoInvitation(t *testing.T) {
	h := start(t)
	mails := h.mailed(t)
	h.Work(t)
	admin, nobody := h.browser(t, "admin"), h.browser(t, "")
	_, body := admin.do("POST", "/api/accounts", map[string]any{"name": "wren", "displayName": "Wren Oddie", "email": "wren@pellworth.example", "role": "author"})
	link := decoded[api.Invitation](t, body).Link
	code, body := nobody.do("POST", "/api/forgotten", map[string]string{"name": "wren"})
	require.Equal(t, http.StatusNoContent, code, body)
	mails("wren@pellworth.example", 2)
	token := link[len("http://raconte.example/welcome/"):]
	code, body = nobody.do("POST", "/api/tickets/"+token, map[string]string{"password": "plum dock cellar 9"})
	assert.Equal(t, 200, code, body)
}

// TestASameRequestManyTimesAtOnceIsOne sends one to a door as a browser does that lost all answers.
func TestASameRequestManyTimesAtOnceIsOne(t *testing.T) {
	h := start(t)
	ines := h.browser(t, "ines")
	_, body := ines.do("POST", "/api/doors", map[string]string{"name": "Dock"})
	made := decoded[struct {
		Door    api.Door
		Address string
	}](t, body)
	door, err := h.Store.Exchange.DoorWith(t.Context(), store.HashToken(made.Address[len("http://raconte.example/ask/"):]))
	require.NoError(t, err)
	var all sync.WaitGroup
	var mu sync.Mutex
	kept, there := 0, 0
	for range 30 {
		all.Go(func() {
			came := "door " + door.ID + " one"
			_, err := h.Works.Receive(context.Background(), store.Incoming{DoorID: &door.ID, CameAs: &came, Asker: "Ruta"}, map[document.Question]string{document.Wrong: "It is \x00blank"}, nil, door.MadeBy, "follow", store.HashToken("follow"))
			mu.Lock()
			defer mu.Unlock()
			switch {
			case err == nil:
				kept++
			case assert.ErrorIs(t, err, store.ErrConflict):
				there++
			}
		})
	}
	all.Wait()
	assert.Equal(t, []int{1, 29}, []int{kept, there})
	n := 0
	for title := range ines.documents() {
		if title == "It is blank" {
			n++
		}
	}
	assert.Equal(t, 1, n, "and nothing is left of the others")
}

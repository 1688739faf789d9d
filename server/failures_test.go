package server_test

import (
	"net/http"
	"slices"
	"strings"
	"testing"

	"raconte/api"
	"raconte/core/document"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAReaderTellsWhereAStepFails(t *testing.T) {
	h := start(t)
	ruben, ines := h.browser(t, "ruben"), h.browser(t, "ines")
	var whole api.Document
	var step api.Block
	for _, d := range get[[]api.Summary](ruben, "/api/documents") {
		whole = get[api.Document](ruben, "/api/documents/"+d.Id)
		at := slices.IndexFunc(whole.Blocks, func(b api.Block) bool { return b.Content.Type == document.Step && len(b.Content.Figures) > 0 })
		if d.Kind == "procedure" && at >= 0 {
			step = whole.Blocks[at]
			break
		}
	}
	require.NotEmpty(t, step.Id)
	id := whole.Summary.Id
	token := strings.Repeat("a", 43)
	said := map[string]any{"id": "f1e1d1c1-0000-4000-8000-000000000001", "block": step.Id, "wrong": "The button is grey.", "follow": token}
	for range 2 {
		code, body := ruben.do("POST", "/api/documents/"+id+"/failures", said)
		require.Equal(t, http.StatusNoContent, code, body)
	}
	inbox := get[[]api.Incoming](ines, "/api/inbox")
	require.NotEmpty(t, inbox)
	n, found := 0, ""
	for _, a := range inbox {
		if a.Title == "The button is grey." {
			n, found = n+1, a.Document
			assert.Equal(t, "Ruben Hask", a.Asker)
		}
	}
	require.Equal(t, 1, n, "the same twice is one")
	d := get[api.Document](ines, "/api/documents/"+found)
	assert.Contains(t, d.Blocks[0].Content.Words.Reading(nil), whole.Summary.Title)
	assert.Len(t, d.Blocks[1].Content.Figures, len(step.Content.Figures))
	said["block"], said["id"] = "f1e1d1c1-0000-4000-8000-00000000000f", "f1e1d1c1-0000-4000-8000-000000000002"
	code, _ := ruben.do("POST", "/api/documents/"+id+"/failures", said)
	assert.Equal(t, http.StatusNotFound, code)
}

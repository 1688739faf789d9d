package server_test

import (
	"encoding/json"
	"regexp"
	"strings"
	"testing"
	"time"

	"raconte/api"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestDeliveriesAreMadeAgainAndTellWhoHasThem(t *testing.T) {
	h := start(t)
	h.Work(t)
	ines, ruben, tomasz := h.browser(t, "ines"), h.browser(t, "ruben"), h.browser(t, "tomasz")
	id := ines.documents()["Move a lot between rooms"]
	read := func(b browser, body string) api.Delivery {
		var d api.Delivery
		require.NoError(t, json.Unmarshal([]byte(body), &d), body)
		require.Eventually(t, func() bool {
			_, body := b.do("GET", "/api/deliveries/"+d.Id, nil)
			require.NoError(t, json.Unmarshal([]byte(body), &d))
			return d.State == "done"
		}, 5*time.Minute, 30*time.Millisecond)
		return d
	}
	var whole api.Document
	_, body := ines.do("GET", "/api/documents/"+id, nil)
	require.NoError(t, json.Unmarshal([]byte(body), &whole))
	chosen := whole.Blocks[1].Id
	code, body := ruben.do("POST", "/api/documents/"+id+"/deliveries", map[string]any{"format": "txt", "steps": []string{chosen}})
	require.Equal(t, 202, code, body)
	made := read(ruben, body)
	assert.Equal(t, "Revision 1", made.From)
	assert.Equal(t, 1, *made.Steps)
	assert.Empty(t, made.Taken)
	_, first := ruben.do("GET", "/api/deliveries/"+made.Id+"/file", nil)
	assert.Regexp(t, `(?m)^2\. `, first, "its number is that of the whole")
	assert.NotRegexp(t, `(?m)^1\. `, first)
	_, body = ines.do("GET", "/api/deliveries/"+made.Id, nil)
	assert.Contains(t, body, `"taken":"Ruben Hask"`)
	code, _ = tomasz.do("GET", "/api/deliveries/"+made.Id+"/file", nil)
	assert.Equal(t, 200, code, "who edits the document has it too")
	_, body = ruben.do("GET", "/api/deliveries/"+made.Id, nil)
	assert.Contains(t, body, `"taken":"Ruben Hask, Tomasz Ferrow"`)

	code, body = ruben.do("POST", "/api/deliveries/"+made.Id+"/again", nil)
	require.Equal(t, 202, code, body)
	again := read(ruben, body)
	assert.NotEqual(t, made.Id, again.Id)
	_, second := ruben.do("GET", "/api/deliveries/"+again.Id+"/file", nil)
	assert.Equal(t, first, second, "as it was made before")

	_, body = ruben.do("POST", "/api/documents/"+id+"/weighed", map[string]any{"format": "txt", "steps": []string{chosen}})
	var weight struct{ Bytes int64 }
	require.NoError(t, json.Unmarshal([]byte(body), &weight))
	assert.EqualValues(t, len(first), weight.Bytes, "the size is that of the file")
}

func TestWhatIsCopiedIsTheDocumentAsItsReaderHasIt(t *testing.T) {
	h := start(t)
	ines, ruben := h.browser(t, "ines"), h.browser(t, "ruben")
	id := ines.documents()["Move a lot between rooms"]
	code, page := ruben.do("POST", "/api/documents/"+id+"/copied", map[string]any{"as": "html"})
	require.Equal(t, 200, code, page)
	assert.Contains(t, page, "<h1 dir=\"auto\">Move a lot between rooms</h1>")
	assert.NotEmpty(t, regexp.MustCompile(`<img src="data:image/(png|jpeg);base64,`).FindAllString(page, -1))
	assert.False(t, strings.Contains(page, "<script") || strings.Contains(page, "/api/"), "it needs nothing of the house")
	code, text := ruben.do("POST", "/api/documents/"+id+"/copied", map[string]any{"as": "markdown"})
	require.Equal(t, 200, code)
	assert.True(t, strings.HasPrefix(text, "# Move a lot between rooms"))
	draft := ines.documents()["Answer a temperature alarm"]
	code, _ = ruben.do("POST", "/api/documents/"+draft+"/copied", map[string]any{"as": "text"})
	assert.Equal(t, 404, code, "drafts are not a reader's")
	code, body := ines.do("POST", "/api/documents/"+draft+"/copied", map[string]any{"as": "text"})
	require.Equal(t, 200, code, body)
	assert.Contains(t, body, "DRAFT", "and say what they are")
	code, _ = ines.do("POST", "/api/documents/"+draft+"/copied", map[string]any{"as": "video"})
	assert.Equal(t, 400, code)
}

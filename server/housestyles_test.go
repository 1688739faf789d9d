package server_test

import (
	"encoding/json"
	"net/http"
	"os"
	"testing"

	"raconte/api"
	"raconte/core/style"
	"raconte/core/text"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestHouseStylesAreCheckedAndTheirFilesToo(t *testing.T) {
	h := start(t)
	author, reader, admin := h.browser(t, "ines"), h.browser(t, "ruben"), h.browser(t, "admin")
	own := style.Default()
	own.Name, own.Paper.Name = "Ours", "a5"
	for says, spoil := range map[string]func(*style.Style){
		"no colour": func(s *style.Style) { s.Colors.Text = "red" }, "leave less": func(s *style.Style) { s.Margins.Left = 380 },
		"Add its file first": func(s *style.Style) {
			s.Faces.Bold = "0123456789abcdef0123456789abcdef0123456789abcdef0123456789abcdef"
		},
	} {
		bad := own
		spoil(&bad)
		code, body := author.do("POST", "/api/housestyles", bad)
		assert.Equal(t, 422, code, body)
		assert.Contains(t, body, says)
	}
	code, body := author.do("POST", "/api/housestyles", own)
	require.Equal(t, 201, code, body)
	var kept api.KeptStyle
	require.NoError(t, json.Unmarshal([]byte(body), &kept))
	code, body = author.do("PUT", "/api/housestyles/plain", map[string]any{"version": 0, "style": own})
	assert.Equal(t, 422, code, "what ships stays")
	assert.Contains(t, body, "ships with Raconte")
	code, _ = author.do("PUT", "/api/housestyles/usual", map[string]any{"style": kept.Id})
	assert.Equal(t, 403, code)
	code, _ = admin.do("PUT", "/api/housestyles/usual", map[string]any{"style": kept.Id})
	assert.Equal(t, 204, code)
	draft := author.documents()["Answer a temperature alarm"]
	_, body = author.do("GET", "/api/documents/"+draft+"/pages", nil)
	assert.Contains(t, body, `"w":419.53`, "drafts that name none have the usual one")
	ready := reader.documents()["Move a lot between rooms"]
	_, body = reader.do("GET", "/api/documents/"+ready+"/pages", nil)
	assert.Contains(t, body, `"w":595.28`, "revisions keep what they were released with")
	_, body = author.do("GET", "/api/documents/"+ready+"/pages", nil)
	assert.Contains(t, body, `"w":595.28`, "for those who edit, too, while nothing is changed")
	code, _ = author.do("DELETE", "/api/housestyles/"+kept.Id, nil)
	assert.Equal(t, 204, code)
	_, body = author.do("GET", "/api/documents/"+draft+"/pages", nil)
	assert.Contains(t, body, `"w":595.28`)
	code, _ = author.do("PUT", "/api/housestyles/"+kept.Id, map[string]any{"version": 1, "style": own})
	assert.Equal(t, 404, code, "it is deleted")

	face := text.TTF(text.Bold)
	restricted := append([]byte(nil), face...)
	for i := range int(restricted[5]) { // the tables, by their names
		if at := 12 + 16*i; string(restricted[at:at+4]) == "OS/2" {
			o := int(restricted[at+8])<<24 | int(restricted[at+9])<<16 | int(restricted[at+10])<<8 | int(restricted[at+11])
			restricted[o+8], restricted[o+9] = 0, 2 // OpenType's fsType: restricted
		}
	}
	big := append([]byte("\x89PNG\r\n\x1a\n"), make([]byte, 5<<20)...)
	script, err := os.ReadFile("housestyles.go")
	require.NoError(t, err)
	for says, data := range map[string][]byte{
		"no face": script, "its tables": face[:200], "not allow": restricted, "at most 4 MB": big, "can't be read": []byte("\x89PNG\r\n\x1a\nxx"),
		"letters": append([]byte("OTTO"), face[4:]...),
	} {
		code, body := author.do("POST", "/api/housefiles?name=x", data)
		assert.Equal(t, 422, code, body)
		assert.Contains(t, body, says)
	}
	code, body = author.do("POST", "/api/housefiles?name=bold.ttf", face)
	require.Equal(t, 201, code, body)
	var file api.HouseFile
	require.NoError(t, json.Unmarshal([]byte(body), &file))
	assert.Equal(t, "bold", *file.Cut)
	own.Faces.Regular = file.Sha256
	code, body = author.do("POST", "/api/documents/"+draft+"/tried", map[string]any{"style": own})
	require.Equal(t, 200, code, body)
	assert.Contains(t, body, `"face":"house:regular:`+file.Sha256, "words are set in the face of the house")
	code, body = reader.do("GET", "/api/housefiles/"+file.Sha256, nil)
	assert.Equal(t, http.StatusOK, code)
	assert.Len(t, body, len(face))
	code, _ = reader.do("POST", "/api/housefiles?name=bold.ttf", face)
	assert.Equal(t, 403, code)
}

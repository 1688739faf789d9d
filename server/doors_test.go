package server_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"strings"
	"testing"

	"raconte/api"
	"raconte/core/document"
	"raconte/platform/seal"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestADoorLetsARequestInAndNothingElse(t *testing.T) {
	h := start(t)
	mails := h.mailed(t)
	var err error
	h.Works.Key, err = seal.Parse("MDEyMzQ1Njc4OTAxMjM0NTY3ODkwMTIzNDU2Nzg5MDE=")
	require.NoError(t, err)
	h.Work(t)
	ines, nobody := h.browser(t, "ines"), h.browser(t, "")
	code, body := ines.do("POST", "/api/doors", map[string]string{"name": "Dock hands"})
	require.Equal(t, 201, code, body)
	made := decoded[struct {
		Door    api.Door
		Address string
	}](t, body)
	door := "/api/door/" + made.Address[strings.LastIndex(made.Address, "/")+1:]
	red := color.RGBA{200, 0, 0, 255}
	img := image.NewRGBA(image.Rect(0, 0, 200, 100))
	draw.Draw(img, img.Rect, image.White, image.Point{}, draw.Src)
	draw.Draw(img, image.Rect(20, 20, 80, 60), image.NewUniform(red), image.Point{}, draw.Src)
	var picture bytes.Buffer
	require.NoError(t, png.Encode(&picture, img))
	put := func(shot string, data []byte) (int, string) {
		return nobody.do("PUT", door+"/pictures/"+shot, data, "Content-Type", "application/octet-stream")
	}
	code, body = put("one", picture.Bytes())
	require.Equal(t, 200, code, body)
	code, body = put("bad", []byte("<svg onload=alert(1)>"))
	assert.Equal(t, 422, code, "what is no picture stays out")
	assert.NotEmpty(t, body)
	code, _ = nobody.do("GET", "/api/shots/one", nil)
	assert.Equal(t, 401, code)

	figure := func(shot string) string {
		return fmt.Sprintf(`{"id":"f","shot":%q,"alt":"","marks":[{"id":"m","kind":"concealment","ink":"dark","weight":"fine","points":[{"x":20,"y":20},{"x":80,"y":60}]}]}`, shot)
	}
	follow := strings.Repeat("f", 43)
	ask := func(id, follow, pictures string) (int, string) {
		return nobody.do("POST", door, []byte(fmt.Sprintf(`{"id":%q,"follow":%q,"name":"Ruta <b>","mail":"ruta@dock.example","wrong":"It is blank\n{\"x\": 1} <script>","tried":"Everything","pictures":[%s]}`, id, follow, pictures)))
	}
	// A picture of the house can't be named, however its id came to be known.
	for _, d := range ines.documents() {
		_, body := ines.do("GET", "/api/documents/"+d, nil)
		doc := decoded[api.Document](t, body)
		if len(doc.Shots) > 0 {
			code, body = ask("x", strings.Repeat("x", 43), figure(doc.Shots[0].Id))
			assert.Equal(t, 422, code, body)
			break
		}
	}
	for range 2 { // sent twice, kept once
		code, body = ask("a1", follow, figure("one"))
		require.Equal(t, 204, code, body)
	}
	_, body = ines.do("GET", "/api/inbox", nil)
	inbox := decoded[[]api.Incoming](t, body)
	require.Len(t, inbox, 1)
	assert.Equal(t, []string{"It is blank", "Ruta <b>", "new"}, []string{inbox[0].Title, inbox[0].Asker, string(inbox[0].State)})
	_, body = ines.do("GET", "/api/inbox?text=everything", nil)
	assert.Len(t, decoded[[]api.Incoming](t, body), 1, "it is found by what it says")
	for _, who := range []string{"ruben", "adaeze"} {
		code, _ := h.browser(t, who).do("GET", "/api/inbox", nil)
		assert.Equal(t, 403, code, who)
	}

	// It is answered: its asker is told by mail, and sees the answer, and what they concealed is concealed from who only
	// reads.
	id := inbox[0].Document
	_, body = ines.do("GET", "/api/documents/"+id, nil)
	whole := decoded[api.Document](t, body)
	reply := whole.Blocks[len(whole.Blocks)-1]
	require.Equal(t, document.Reply, reply.Content.Asks)
	for i, said := range []string{"Turn the roll of {lot}.", "Turn the roll."} {
		code, body = ines.do("POST", "/api/documents/"+id+"/changes", map[string]any{"id": fmt.Sprint("c", i), "blocks": []any{map[string]any{
			"id": reply.Id, "base": reply.Version + i, "order": reply.Order, "removed": false,
			"content": map[string]any{"type": "passage", "asks": "reply", "words": saying(said), "figures": []any{}}}}})
		require.Equal(t, 200, code, body)
		if i == 0 {
			code, body = ines.do("PUT", "/api/documents/"+id+"/asked", map[string]string{"state": "answered"})
			assert.Equal(t, 422, code, "what is not filled in is not sent")
			assert.Contains(t, body, "{lot}")
		}
	}
	code, body = ines.do("PUT", "/api/documents/"+id+"/asked", map[string]string{"state": "answered"})
	require.Equal(t, 204, code, body)
	got := mails("ruta@dock.example", 1)
	require.NotEmpty(t, got)
	assert.Contains(t, got[0].Text, "Turn the roll.")
	assert.Contains(t, got[0].Text, "/s/"+follow)
	shared := "/api/shared/" + follow
	code, body = nobody.do("POST", shared, []byte("{}"))
	require.Equal(t, 200, code, body)
	opening := "?opening=" + decoded[api.Opening](t, body).Opening
	_, body = nobody.do("GET", shared+opening, nil)
	seen := decoded[api.Document](t, body)
	assert.Contains(t, body, "Turn the roll.")
	_, body = nobody.do("GET", shared+"/figures/"+seen.Blocks[1].Content.Figures[0].ID+opening, nil)
	shown, err := png.Decode(strings.NewReader(body))
	require.NoError(t, err)
	assert.NotEqual(t, red, color.RGBAModel.Convert(shown.At(50, 40)))
	code, body = nobody.do("POST", shared+"/comments"+opening, map[string]string{"id": "k1", "name": "Ruta", "body": "Thank you"})
	require.Equal(t, 204, code, body)
	_, body = nobody.do("GET", shared+"/comments"+opening, nil)
	assert.Contains(t, body, "Thank you")
	_, body = ines.do("GET", "/api/inbox", nil)
	assert.Equal(t, "taken", string(decoded[[]api.Incoming](t, body)[0].State), "who said more is waited on again")
	for path := range map[string]bool{"/api/documents/" + id: true, "/api/inbox": true, "/api/documents/" + id + "/comments": true} {
		code, _ := nobody.do("GET", path, nil)
		assert.Equal(t, 401, code, path)
	}

	// A flood waits, and a closed door takes nothing.
	waits := 0
	for i := range 25 {
		if code, _ := put(fmt.Sprint("flood", i), picture.Bytes()); code == 429 {
			waits++
		}
	}
	assert.Greater(t, waits, 5)
	code, _ = ines.do("DELETE", "/api/doors/"+made.Door.Id, nil)
	require.Equal(t, 204, code)
	code, body = ask("a2", strings.Repeat("g", 43), "")
	assert.Contains(t, []int{404, 429}, code, body)
	code, _ = nobody.do("GET", shared+opening, nil)
	assert.Equal(t, 200, code, "those who asked still follow")
}

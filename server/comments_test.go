package server_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"strings"
	"testing"

	"raconte/api"
	"raconte/core/comment"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestCommentsAreTheirWritersAndReachNoReader(t *testing.T) {
	h := start(t)
	ines, tomasz, ruben := h.browser(t, "ines"), h.browser(t, "tomasz"), h.browser(t, "ruben")
	id := ines.documents()["Move a lot between rooms"]
	path := "/api/documents/" + id + "/comments"
	me := func(b browser) string {
		_, said := b.do("GET", "/api/session", nil)
		var a api.Account
		require.NoError(t, json.Unmarshal([]byte(said), &a))
		return a.Id
	}
	list := func(b browser) (all []api.Thread) {
		code, said := b.do("GET", path, nil)
		require.Equal(t, 200, code, said)
		require.NoError(t, json.Unmarshal([]byte(said), &all))
		return all
	}
	var doc api.Document
	_, said := ines.do("GET", "/api/documents/"+id, nil)
	require.NoError(t, json.Unmarshal([]byte(said), &doc))
	told := tomasz.listen(t)
	quiet := ruben.listen(t)
	first := map[string]any{"id": "c1", "body": " Is it Room 3? ", "place": map[string]any{"block": doc.Blocks[0].Id, "words": map[string]string{"text": "Rooms"}}, "mentions": []string{me(tomasz)}}
	for range 2 { // sent twice, kept once
		code, said := ines.do("POST", path, first)
		require.Equal(t, 204, code, said)
	}
	assert.Contains(t, heard(told)+heard(told), "event: comments", "others hear of it at once")
	code, said := tomasz.do("POST", path, map[string]any{"id": "c2", "thread": "c1", "body": "It is."})
	require.Equal(t, 204, code, said)
	threads := list(tomasz)
	require.Len(t, threads, 1)
	assert.Equal(t, "Rooms", threads[0].Place.Words.Text)
	assert.Equal(t, []string{"Is it Room 3?", "It is."}, []string{threads[0].Comments[0].Body, threads[0].Comments[1].Body})
	assert.Equal(t, []bool{false, true}, []bool{threads[0].Comments[0].Mine, threads[0].Comments[1].Mine})

	for says, bad := range map[string]map[string]any{
		"1 to 4000 characters": {"id": "x", "body": strings.Repeat("x", 4001)},
		"may not see":          {"id": "x", "body": "x", "mentions": []string{me(ruben)}},
		"of a step":            {"id": "x", "body": "x", "place": map[string]any{"figure": "f"}},
		"id of another":        {"id": "c1", "body": "mine now"},
	} {
		code, said := tomasz.do("POST", path, bad)
		assert.Equal(t, 422, code, said)
		assert.Contains(t, said, says)
	}
	code, _ = tomasz.do("POST", path, map[string]any{"id": "x", "body": "x", "thread": "c2"})
	assert.Equal(t, 404, code, "an answer belongs to a first comment")
	code, _ = tomasz.do("PATCH", path+"/c1", map[string]any{"body": "Changed"})
	assert.Equal(t, 404, code, "what others have said stays")
	code, _ = tomasz.do("DELETE", path+"/c1", nil)
	assert.Equal(t, 404, code)
	code, _ = tomasz.do("PATCH", path+"/c1", map[string]any{"resolved": true})
	assert.Equal(t, 204, code, "settled by anyone who edits")
	assert.Equal(t, "Tomasz Ferrow", list(ines)[0].Resolved.By)
	code, _ = ines.do("PATCH", path+"/c1", map[string]any{"resolved": false, "body": "Is it Room 4?"})
	assert.Equal(t, 204, code)
	assert.Nil(t, list(ines)[0].Resolved)
	assert.NotNil(t, list(ines)[0].Comments[0].Edited)
	code, _ = ines.do("DELETE", path+"/c1", nil)
	assert.Equal(t, 204, code)
	threads = list(ines)
	assert.True(t, threads[0].Comments[0].Deleted)
	assert.Empty(t, threads[0].Comments[0].Body)
	assert.Equal(t, "It is.", threads[0].Comments[1].Body, "what answered it stays")
	code, _ = tomasz.do("DELETE", path+"/c2", nil)
	assert.Equal(t, 204, code)
	assert.Empty(t, list(ines), "of which all was taken back is gone")

	// Other words are suggested by who may not write, and taken or refused by who may.
	adaeze := h.browser(t, "adaeze")
	_, body := ines.do("GET", strings.TrimSuffix(path, "/comments"), nil)
	step := decoded[api.Document](t, body).Blocks[0]
	suggest := func(words any) (int, string) {
		return adaeze.do("POST", path, map[string]any{"id": "s1", "body": "Shorter.", "place": map[string]any{"block": step.Id}, "suggestion": words})
	}
	code, _ = suggest(step.Content.Words)
	assert.Equal(t, 422, code, "the words that stand there")
	code, body = suggest(map[string]any{"type": "doc", "content": []any{map[string]any{"type": "paragraph", "content": []any{map[string]any{"type": "text", "text": "Press it."}}}}})
	require.Equal(t, 204, code, body)
	fresh := ""
	for _, p := range list(ines)[0].Suggestion.Pieces {
		if p.Kind == api.SuggestionPieceKindAdded {
			fresh += p.Text
		}
	}
	assert.Contains(t, fresh, "it")
	code, _ = adaeze.do("PATCH", path+"/s1", map[string]any{"outcome": "taken"})
	assert.Equal(t, 403, code)
	code, _ = ines.do("PATCH", path+"/s1", map[string]any{"outcome": "refused"})
	assert.Equal(t, 204, code)
	assert.Equal(t, "Ines Brackwater", list(ines)[0].Resolved.By)
	code, _ = ines.do("PATCH", path+"/s1", map[string]any{"outcome": "taken"})
	assert.Equal(t, 404, code, "it was decided")

	// Readers reach none of it, and are told of none.
	for _, c := range []struct{ method, path string }{{"GET", path}, {"POST", path}, {"PATCH", path + "/c1"}, {"DELETE", path + "/c1"}} {
		code, _ := ruben.do(c.method, c.path, first)
		assert.Equal(t, 403, code, c.method)
	}
	assert.Equal(t, "nothing", soon(quiet))
}

func TestAPlaceInAPictureIsFoundAgainInANewShot(t *testing.T) {
	h := start(t)
	ines := h.browser(t, "ines")
	// A screen with one thing that looks like nothing else, and the same where it has moved by 90 and 40.
	screen := func(x, y int) []byte {
		img := image.NewRGBA(image.Rect(0, 0, 640, 400))
		draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{235, 238, 240, 255}), image.Point{}, draw.Src)
		for dy := range 60 {
			for dx := range 80 {
				v := uint8((dx*dx*7 + dy*dy*13 + dx*dy*5) % 251)
				img.SetRGBA(x+dx, y+dy, color.RGBA{v, 255 - v, uint8(dx * 3), 255})
			}
		}
		var out bytes.Buffer
		require.NoError(t, png.Encode(&out, img))
		return out.Bytes()
	}
	for id, data := range map[string][]byte{"pin-before": screen(200, 150), "pin-after": screen(290, 190), "pin-gone": screen(900, 900)} {
		code, body := ines.do("PUT", "/api/shots/"+id+"?name=x.png", data, "Content-Type", "application/octet-stream")
		require.Less(t, code, 300, body)
	}
	_, body := ines.do("POST", "/api/documents", map[string]string{"title": "Pinned"})
	id := decoded[api.Summary](t, body).Id
	show := func(base int, shot string) {
		code, body := ines.do("POST", "/api/documents/"+id+"/changes", []byte(fmt.Sprintf(`{"id":"c%d","blocks":[{"id":"b","base":%d,"order":"a00000","removed":false,"content":{"type":"step","words":{"type":"doc"},"figures":[{"id":"f","shot":%q,"alt":"","marks":[]}]}}]}`, base, base, shot)))
		require.Equal(t, 200, code, body)
	}
	pin := func() comment.Pin {
		_, body := ines.do("GET", "/api/documents/"+id+"/comments", nil)
		return *decoded[[]api.Thread](t, body)[0].Place.Pin
	}
	show(0, "pin-before")
	code, body := ines.do("POST", "/api/documents/"+id+"/comments", []byte(`{"id":"p","body":"This?","place":{"block":"b","figure":"f","pin":{"shot":"pin-before","x":200,"y":150,"w":80,"h":60}}}`))
	require.Equal(t, 204, code, body)
	show(1, "pin-after")
	moved := pin()
	assert.Equal(t, "pin-after", moved.Shot)
	assert.InDelta(t, 290, moved.X, 2)
	assert.InDelta(t, 190, moved.Y, 2)
	show(2, "pin-gone")
	assert.Equal(t, "pin-gone", pin().Lost, "and it is said where it is not found")
	assert.Equal(t, "pin-after", pin().Shot)
}

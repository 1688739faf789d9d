package server_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"mime/multipart"
	"strings"
	"testing"
	"time"

	"raconte/api"
	"raconte/core/capture"
	"raconte/core/scene"
	"raconte/core/sight"
	"raconte/engines/ocr"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var began = time.Date(2026, 11, 23, 9, 5, 10, 0, time.UTC)

// screenshot is a page with a dot, by which it differs from others, and a pointer if wanted.
func screenshot(t *testing.T, w, h int, dot uint8, pointer image.Point) []byte {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(img, img.Rect, image.White, image.Point{}, draw.Src)
	draw.Draw(img, image.Rect(50, 50, 80, 60), image.NewUniform(color.RGBA{dot, 90, 90, 255}), image.Point{}, draw.Src)
	if pointer != (image.Point{}) {
		draw.Draw(img, image.Rectangle{pointer, pointer.Add(image.Pt(12, 19))}, image.Black, image.Point{}, draw.Src)
	}
	var buf bytes.Buffer
	require.NoError(t, png.Encode(&buf, img))
	return buf.Bytes()
}

// bring sends a shot as a form; path ends with its id.
func (b browser) bring(method, path string, about any, picture []byte, headers ...string) (int, string) {
	b.t.Helper()
	return b.send(method, path, about, picture, nil, headers...)
}

// send brings a shot with more fields.
func (b browser) send(method, path string, about any, picture []byte, fields map[string]string, headers ...string) (int, string) {
	b.t.Helper()
	var buf bytes.Buffer
	form := multipart.NewWriter(&buf)
	if about != nil {
		raw, err := json.Marshal(about)
		require.NoError(b.t, err)
		require.NoError(b.t, form.WriteField("about", string(raw)))
	}
	require.NoError(b.t, form.WriteField("name", "shot.png"))
	for name, value := range fields {
		require.NoError(b.t, form.WriteField(name, value))
	}
	part, err := form.CreateFormFile("picture", "shot.png")
	require.NoError(b.t, err)
	_, err = part.Write(picture)
	require.NoError(b.t, err)
	require.NoError(b.t, form.Close())
	return b.do(method, path, buf.Bytes(), append(headers, "Content-Type", form.FormDataContentType())...)
}

func (b browser) session(id string) api.CaptureWithShots {
	code, body := b.do("GET", "/api/captures/"+id, nil)
	require.Equal(b.t, 200, code, body)
	var s api.CaptureWithShots
	require.NoError(b.t, json.Unmarshal([]byte(body), &s))
	return s
}

func (s inOrder) ids() []string {
	var ids []string
	for _, shot := range s.Shots {
		ids = append(ids, shot.Id)
	}
	return ids
}

type inOrder api.CaptureWithShots

// setAbout tells something else of a shot than what came in with it.
func (h house) setAbout(t *testing.T, id string, about capture.About) {
	raw, err := json.Marshal(about)
	require.NoError(t, err)
	_, err = h.Store.SQL().Exec("UPDATE shots SET about = ? WHERE id = ?", raw, id)
	require.NoError(t, err)
}

func TestASessionKeepsShotsInOrderAndTellsRepeats(t *testing.T) {
	h := start(t)
	ines, tomasz := h.browser(t, "ines"), h.browser(t, "tomasz")
	code, body := ines.do("PUT", "/api/captures/one", map[string]string{"name": "Practice"})
	require.Equal(t, 200, code, body)
	about := func(seconds int, act *capture.Action, pointer *capture.Pointer) capture.About {
		return capture.About{Taken: began.Add(time.Duration(seconds) * time.Second), Source: "screen", Action: act, Pointer: pointer}
	}
	next := &capture.Action{Kind: capture.Click, Element: &capture.Element{Name: "Next", Role: "button", Rect: scene.Rect{X: 5, Y: 5, W: 50, H: 20}}}
	for _, s := range []struct {
		id      string
		about   capture.About
		picture []byte
	}{
		{"a", about(0, nil, nil), screenshot(t, 900, 600, 1, image.Point{})},
		{"b", about(1, nil, nil), screenshot(t, 900, 600, 1, image.Point{})},
		{"c", about(2, nil, &capture.Pointer{X: 300, Y: 300, Drawn: true}), screenshot(t, 900, 600, 1, image.Pt(300, 300))},
		{"d", about(3, next, nil), screenshot(t, 900, 600, 1, image.Point{})},
		{"e", about(4, nil, nil), screenshot(t, 900, 600, 200, image.Point{})},
		{"f", about(5, nil, nil), screenshot(t, 890, 600, 200, image.Point{})},
	} {
		for range 2 { // a retry does nothing more
			code, body := ines.bring("PUT", "/api/captures/one/shots/"+s.id, s.about, s.picture)
			require.Equal(t, 200, code, body)
		}
	}
	got := ines.session("one")
	assert.Equal(t, []string{"a", "b", "c", "d", "e", "f"}, inOrder(got).ids())
	var verdicts []string
	for _, s := range got.Shots {
		verdicts = append(verdicts, string(s.Verdict))
	}
	want := []string{"", "same", "same-but-pointer", "changed", "changed", "changed"}
	assert.Equal(t, want, verdicts, "what was clicked is a step of its own")
	assert.True(t, got.Shots[5].Uneven)
	assert.False(t, got.Shots[4].Uneven)

	code, body = ines.do("POST", "/api/captures/one/compared", nil)
	require.Equal(t, 200, code, body)
	for i, s := range ines.session("one").Shots {
		assert.Equal(t, want[i], string(s.Verdict), "the same when all are compared again")
	}

	code, _ = ines.do("POST", "/api/captures/one/even", nil)
	require.Equal(t, 200, code)
	for _, s := range ines.session("one").Shots {
		require.NotNil(t, s.About.Crop)
		assert.Equal(t, scene.Rect{W: 890, H: 600}, *s.About.Crop)
		assert.False(t, s.Uneven)
	}

	code, _ = ines.do("PUT", "/api/captures/one/order", map[string]any{"shots": []string{"f", "a", "nobody"}})
	require.Equal(t, 204, code)
	assert.Equal(t, []string{"f", "a", "b", "c", "d", "e"}, inOrder(ines.session("one")).ids())
	code, _ = ines.do("PUT", "/api/shots/discarded", map[string]any{"shots": []string{"b", "c"}, "discarded": true})
	require.Equal(t, 204, code)
	assert.Equal(t, []string{"f", "a", "d", "e"}, inOrder(ines.session("one")).ids())
	ines.do("PUT", "/api/shots/discarded", map[string]any{"shots": []string{"c"}, "discarded": false})
	assert.Equal(t, []string{"f", "a", "c", "d", "e"}, inOrder(ines.session("one")).ids())

	// A session, and shots that no document uses, are nobody else's.
	for _, path := range []string{"/api/captures/one", "/api/shots/a", "/api/shots/a/preview", "/api/shots/a/about"} {
		code, _ := tomasz.do("GET", path, nil)
		assert.Equal(t, 404, code, path)
	}
	code, _ = tomasz.bring("PUT", "/api/captures/one/shots/x", about(9, nil, nil), screenshot(t, 20, 20, 1, image.Point{}))
	assert.Equal(t, 404, code)
	tomasz.do("PUT", "/api/shots/discarded", map[string]any{"shots": []string{"a"}, "discarded": true})
	assert.Len(t, ines.session("one").Shots, 5)
}

func TestShotsAreFoundAgainAndRoomIsMade(t *testing.T) {
	h := start(t)
	ines := h.browser(t, "ines")
	find := func(query string) []api.Taken {
		code, body := ines.do("GET", "/api/shots?"+query, nil)
		require.Equal(t, 200, code, body)
		var got []api.Taken
		require.NoError(t, json.Unmarshal([]byte(body), &got))
		return got
	}
	all, placed, unplaced := len(find("")), find("placed=true"), find("placed=false")
	assert.Equal(t, all, len(placed)+len(unplaced))
	for _, s := range placed {
		assert.Contains(t, s.About.Source, "practice")
	}
	assert.NotEmpty(t, find("window=Season"))
	assert.Empty(t, find("window=%25"), "a wildcard is a letter like any other")
	require.NoError(t, h.Store.Captures.SetRead(t.Context(), unplaced[0].Id, nil))
	assert.Empty(t, find("text=Flibbertigibbet"))
	assert.Len(t, find("day=2026-11-23&offset=0"), all)
	assert.Empty(t, find("day=2026-11-24&offset=0"))

	var room api.Room
	_, body := ines.do("GET", "/api/shots/room", nil)
	require.NoError(t, json.Unmarshal([]byte(body), &room))
	assert.Equal(t, all, room.Shots)
	assert.Equal(t, len(find("unused=true")), room.UnusedShots)
	for _, s := range find("unused=true") {
		assert.False(t, s.Placed)
	}

	// A smaller copy lies next to the shot, which stays.
	ines.do("PUT", "/api/captures/wide", map[string]string{"name": "Wide"})
	for _, id := range []string{"wide1", "wide2"} {
		about := capture.About{Taken: began, Source: "screen", Scale: 2, Pointer: &capture.Pointer{X: 800, Y: 400}}
		code, body := ines.bring("PUT", "/api/captures/wide/shots/"+id, about, screenshot(t, 3200, 400, 9, image.Point{}))
		require.Equal(t, 200, code, body)
	}
	s := ines.session("wide")
	require.NotNil(t, s.Shots[0].Print)
	assert.Equal(t, 1600, s.Shots[0].Print.Width)
	code, body := ines.do("POST", "/api/shots/wide1/scaled", map[string]int{"width": 1600})
	require.Equal(t, 201, code, body)
	s = ines.session("wide")
	require.Len(t, s.Shots, 3)
	assert.Equal(t, []int{3200, 1600, 3200}, []int{s.Shots[0].Width, s.Shots[1].Width, s.Shots[2].Width})
	assert.Equal(t, 400.0, s.Shots[1].About.Pointer.X)
	code, _ = ines.do("POST", "/api/shots/wide1/scaled", map[string]int{"width": 5000})
	assert.Equal(t, 400, code)
}

func TestARecorderBringsShotsWhileItsTokenHolds(t *testing.T) {
	h := start(t)
	ines, recorder := h.browser(t, "ines"), h.browser(t, "")
	code, body := ines.do("POST", "/api/devices", map[string]string{"name": "Dock PC"})
	require.Equal(t, 201, code, body)
	var made api.NewDevice
	require.NoError(t, json.Unmarshal([]byte(body), &made))
	bearer := []string{"Authorization", "Bearer " + made.Token}
	about := map[string]any{
		"taken": began, "source": "screen", "window": map[string]any{"title": "Lotroom", "rect": scene.Rect{W: 300, H: 200}},
		"action": map[string]any{"kind": "keys", "text": "hunter2", "element": map[string]any{"name": "PIN", "role": "password", "rect": scene.Rect{W: 9, H: 9}}},
	}
	picture := screenshot(t, 300, 200, 7, image.Point{})
	for range 2 {
		code, body := recorder.bring("PUT", "/api/feed/shots/f1", about, picture, bearer...)
		require.Equal(t, 200, code, body)
		assert.NotContains(t, body, "hunter2")
	}
	code, _ = recorder.bring("PUT", "/api/feed/shots/f1", about, screenshot(t, 300, 200, 8, image.Point{}), bearer...)
	assert.Equal(t, 409, code)

	var sessions []api.Capture
	_, body = ines.do("GET", "/api/captures", nil)
	require.NoError(t, json.Unmarshal([]byte(body), &sessions))
	assert.Equal(t, "Dock PC, 23 November 2026", sessions[0].Name)
	got := ines.session(sessions[0].Id)
	require.Len(t, got.Shots, 1)
	assert.Equal(t, "feed", got.Shots[0].About.Source, "whatever it says of itself")

	for name, c := range map[string]struct {
		about   any
		picture []byte
		want    int
	}{
		"no about":             {nil, picture, 400},
		"no time":              {map[string]any{"source": "feed"}, picture, 400},
		"no JSON":              {"what?", picture, 400},
		"no picture":           {about, nil, 400},
		"not a shot":           {about, []byte("hello"), 422},
		"huge element":         {map[string]any{"taken": began, "note": string(bytes.Repeat([]byte("x"), 2<<20))}, picture, 400},
		"scale that overflows": {map[string]any{"taken": began, "source": "feed", "scale": 1e308}, picture, 400},
		"place far off":        {map[string]any{"taken": began, "source": "feed", "pointer": map[string]any{"x": 1e300, "y": 1}}, picture, 400},
		"year 9999":            {map[string]any{"taken": "9999-01-01T00:00:00Z", "source": "feed"}, picture, 400},
		"countless elements":   {json.RawMessage(`{"taken":"2026-11-23T09:05:10Z","elements":[` + strings.Repeat("{},", 30_000) + `{}]}`), picture, 400},
	} {
		code, body := recorder.bring("PUT", "/api/feed/shots/bad", c.about, c.picture, bearer...)
		assert.Equal(t, c.want, code, "%s: %s", name, body)
	}
	code, _ = recorder.do("GET", "/api/captures", nil, bearer...)
	assert.Equal(t, 401, code, "a device token opens the feed and nothing else")
	code, _ = ines.bring("PUT", "/api/feed/shots/f2", about, picture)
	assert.Equal(t, 401, code, "and a person's session does not open the feed")

	code, _ = h.browser(t, "tomasz").do("DELETE", "/api/devices/"+made.Device.Id, nil)
	assert.Equal(t, 404, code)
	code, _ = ines.do("DELETE", "/api/devices/"+made.Device.Id, nil)
	require.Equal(t, 204, code)
	code, _ = recorder.bring("PUT", "/api/feed/shots/f3", about, picture, bearer...)
	assert.Equal(t, 401, code)
}

func TestTheTextInAPictureIsReadButNotASecret(t *testing.T) {
	reader, err := ocr.Find(t.Context(), "eng")
	if errors.Is(err, ocr.ErrAbsent) {
		t.Skip("tesseract is not installed here")
	}
	require.NoError(t, err)
	h := start(t)
	h.Works.Reader = reader
	_, err = h.Store.SQL().Exec("UPDATE shots SET found_text = NULL, words = NULL") // what the practice workstation knew
	require.NoError(t, err)
	read := func(id string) {
		shot, err := h.Store.Captures.Shot(t.Context(), id)
		require.NoError(t, err)
		require.Eventually(t, func() bool { // who waits for it waits a few seconds, which a busy machine may exceed
			_, done := h.Works.ReadNow(t.Context(), shot)
			return done
		}, 5*time.Minute, 10*time.Millisecond)
	}
	ines := h.browser(t, "ines")
	find := func(text string) []api.Taken {
		_, body := ines.do("GET", "/api/shots?text="+text, nil)
		var got []api.Taken
		require.NoError(t, json.Unmarshal([]byte(body), &got))
		return got
	}
	_, body := ines.do("GET", "/api/shots?window=Alarms", nil)
	var shots []api.Taken
	require.NoError(t, json.Unmarshal([]byte(body), &shots))
	require.NotEmpty(t, shots)
	assert.Empty(t, find("Compressor"))
	shot := shots[0]
	for _, s := range shots {
		if s.About.Action == nil && s.Name > shot.Name {
			shot = s
		}
	}
	read(shot.Id)
	require.Len(t, find("Temperature%20siren"), 1)
	_, body = ines.do("GET", "/api/shots/"+shot.Id+"/words", nil)
	assert.Contains(t, sight.Text(decoded[api.ReadWords](t, body).Words), "Temperature")
	code, _ := h.browser(t, "ruben").do("GET", "/api/shots/"+shot.Id+"/words", nil)
	assert.Equal(t, 403, code, "who only reads has not the words under what is concealed")

	// The same shot with its heading declared a password field tells nothing of the heading.
	kept, err := h.Store.Captures.Shot(t.Context(), shot.Id)
	require.NoError(t, err)
	kept.About.Elements = append(kept.About.Elements, capture.Element{Name: "PIN", Role: "password", Secret: true, Rect: scene.Rect{X: 200, Y: 90, W: 800, H: 50}})
	h.setAbout(t, shot.Id, kept.About)
	_, err = h.Store.SQL().Exec("UPDATE shots SET found_text = NULL WHERE id = ?", shot.Id)
	require.NoError(t, err)
	read(shot.Id)
	again, err := h.Store.Captures.Shot(t.Context(), shot.Id)
	require.NoError(t, err)
	assert.NotContains(t, *again.FoundText, "Temperature alarms")
	assert.Contains(t, *again.FoundText, "siren")
}

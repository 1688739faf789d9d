package server_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"mime/multipart"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"raconte/api"
	doc "raconte/core/document"
	"raconte/core/figure"
	"raconte/core/scene"
	"raconte/core/words"
	"raconte/engines/media"
	"raconte/engines/voice"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// movingSecret is a recording of three seconds in which a striped field of the planted colour goes down.
func movingSecret(t *testing.T) []byte {
	path := filepath.Join(t.TempDir(), "in.mp4")
	size := image.Pt(640, 360)
	w, err := media.Write(t.Context(), path, media.MP4, size, media.Look{Rate: 10}, "")
	require.NoError(t, err)
	for n := range 30 {
		img := image.NewRGBA(image.Rectangle{Max: size})
		draw.Draw(img, img.Rect, image.NewUniform(color.RGBA{235, 240, 238, 255}), image.Point{}, draw.Src)
		y := 60 + max(0, n-10)*8
		for i := range 10 {
			c := planted
			if i%3 == 1 {
				c = color.RGBA{10, uint8(20 * i), 10, 255}
			}
			draw.Draw(img, image.Rect(200+i*12, y, 207+i*12, y+30-i), image.NewUniform(c), image.Point{}, draw.Src)
		}
		require.NoError(t, w.Add(img))
	}
	require.NoError(t, w.Close())
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	return data
}

// clipForm is a recording as a browser brings it in.
func clipForm(t *testing.T, data []byte) (body []byte, kind string) {
	var buf bytes.Buffer
	w := multipart.NewWriter(&buf)
	require.NoError(t, w.WriteField("about", `{"taken":"2026-11-26T09:00:00Z","source":"screen"}`))
	require.NoError(t, w.WriteField("name", "Moving.mp4"))
	part, err := w.CreateFormFile("clip", "clip")
	require.NoError(t, err)
	_, err = part.Write(data)
	require.NoError(t, err)
	require.NoError(t, w.Close())
	return buf.Bytes(), w.FormDataContentType()
}

// once asks until an answer is not "being made" any more.
func (b browser) once(t *testing.T, method, path string, in any, headers ...string) (code int, body string) {
	require.Eventually(t, func() bool {
		code, body = b.do(method, path, in, headers...)
		return code != http.StatusAccepted
	}, 5*time.Minute, 200*time.Millisecond, path)
	return code, body
}

// TestAClipIsConcealedAndPlaysForReaders takes a recording through all that can be had of it: what is concealed in it,
// and follows what it covers, is in nothing that a reader gets.
func TestAClipIsConcealedAndPlaysForReaders(t *testing.T) {
	h := start(t)
	h.Work(t)
	author, reader := h.browser(t, "ines"), h.browser(t, "ruben")
	form, kind := clipForm(t, movingSecret(t))
	code, body := author.do("PUT", "/api/shots/moving/clip", form, "Content-Type", kind)
	require.Equal(t, 200, code, body)
	taken := decoded[api.Taken](t, body)
	require.NotNil(t, taken.Clip)
	assert.InDelta(t, 3000, taken.Clip.Ms, 100)
	again, body := author.do("PUT", "/api/shots/moving/clip", form, "Content-Type", kind)
	require.Equal(t, 200, again, body)
	assert.Equal(t, taken.About, decoded[api.Taken](t, body).About, "sent again it is the same")
	code, body = author.do("GET", "/api/shots/moving/clip", nil, "Range", "bytes=0-99")
	assert.Equal(t, http.StatusPartialContent, code)
	assert.Len(t, body, 100)
	for _, bad := range [][]byte{[]byte("ffconcat version 1.0\nfile /etc/passwd\n"), movingSecret(t)[:900], {}} {
		form, kind := clipForm(t, bad)
		code, body := author.do("PUT", "/api/shots/bad/clip", form, "Content-Type", kind)
		assert.Equal(t, 422, code, body)
	}

	part := scene.Rect{X: 190, Y: 50, W: 140, H: 50}
	code, body = author.once(t, "POST", "/api/shots/moving/clip/follow", map[string]any{"at": 200, "part": part})
	require.Equal(t, 200, code, body)
	path := decoded[[]figure.Place](t, body)
	last := path[len(path)-1]
	assert.InDelta(t, 152, last.By.Y, 9, "it went along")
	code, body = author.once(t, "GET", "/api/shots/moving/clip/stills", nil)
	require.Equal(t, 200, code, body)
	code, _ = author.do("GET", "/api/shots/moving/clip/strip", nil)
	assert.Equal(t, 200, code)

	_, body = author.do("POST", "/api/documents", map[string]string{"title": "A clip"})
	made := decoded[api.Summary](t, body)
	document := "/api/documents/" + made.Id
	cover := figure.Mark{ID: "c", Kind: figure.Concealment, Style: figure.Style{Ink: "dark", Weight: figure.Fine}, Points: []scene.Point{{X: part.X, Y: part.Y}, {X: part.X + part.W, Y: part.Y + part.H}}, Path: path}
	f := figure.Figure{ID: "f", Shot: "moving", Alt: "A field goes down", Marks: []figure.Mark{cover}, Clip: &figure.Clip{Ms: taken.Clip.Ms, Poster: taken.Clip.Poster, Parts: []figure.Stretch{{Span: figure.Span{From: 500, To: 2500}}}}}
	step := doc.NewStep("", words.Plain("Watch it"), f)
	code, body = author.do("POST", document+"/changes", api.Change{Id: "one", Blocks: []api.BlockChange{{Id: "s", Order: "001000", Content: step.Content}}})
	require.Equal(t, 200, code, body)
	code, body = author.ready(made.Id)
	require.Equal(t, 200, code, body)

	for _, address := range []string{"/api/shots/moving/clip", "/api/shots/moving/clip/frame?at=0", "/api/shots/moving/clip/strip", "/api/shots/moving"} {
		code, _ := reader.do("GET", address, nil)
		assert.Equal(t, 403, code, address)
	}
	code, body = reader.once(t, "GET", document+"/figures/f/clip", nil)
	require.Equal(t, 200, code, body)
	assert.Greater(t, inFilm(t, []byte(body), "the clip"), 8)
	code, body = reader.do("GET", document+"/figures/f/clip", nil, "Range", "bytes=10-19")
	assert.Equal(t, http.StatusPartialContent, code)
	assert.Len(t, body, 10)
	code, poster := reader.do("GET", document+"/figures/f", nil)
	require.Equal(t, 200, code)
	assert.False(t, shows(t, []byte(poster)))
	for _, format := range []string{"html", "html-folder", "epub", "pptx", "mp4", "md", "gif"} {
		if format == "gif" { // as the author takes it out
			code, body := author.once(t, "POST", "/api/clips", map[string]any{"figure": f, "first": 1, "form": "gif", "most": 60_000})
			require.Equal(t, 200, code, body)
			var m api.Making
			require.NoError(t, json.Unmarshal([]byte(body), &m))
			for m.Key == "" {
				require.Nil(t, m.Error, body)
				time.Sleep(200 * time.Millisecond)
				_, body = author.do("POST", "/api/clips", map[string]any{"figure": f, "first": 1, "form": "gif", "most": 60_000})
				m = decoded[api.Making](t, body)
			}
			_, data := author.do("GET", "/api/clips/"+m.Key+"?form=gif", nil)
			assert.LessOrEqual(t, len(data), 60_000)
			inFilm(t, []byte(data), format)
			continue
		}
		data := delivered(t, reader, document, format)
		films := 0
		for _, part := range unpacked(t, data) {
			if len(part) > 12 && string(part[4:8]) == "ftyp" {
				films++
				inFilm(t, part, format)
			}
		}
		assert.Equal(t, 1, films, "the clip is in "+format)
	}

	// Who reviews draws on the picture of the moment that was chosen, with what is covered then.
	later := step.Content
	later.Figures = []figure.Figure{f.Clone()}
	later.Figures[0].Clip.Poster = 2300
	code, body = author.do("POST", document+"/changes", api.Change{Id: "later", Blocks: []api.BlockChange{{Id: "s", Order: "001000", Base: 1, Content: later}}})
	require.Equal(t, 200, code, body)
	code, ground := h.browser(t, "adaeze").do("GET", document+"/figures/f/ground", nil)
	require.Equal(t, 200, code, ground)
	assert.False(t, shows(t, []byte(ground)))

	// What is concealed afterwards follows what it covers in what was handed out before, too.
	_, body = author.do("POST", "/api/documents", map[string]string{"title": "Shown too soon"})
	soon := decoded[api.Summary](t, body)
	open := step.Content
	open.Figures = []figure.Figure{f.Clone()}
	open.Figures[0].Marks = []figure.Mark{}
	code, body = author.do("POST", "/api/documents/"+soon.Id+"/changes", api.Change{Id: "soon", Blocks: []api.BlockChange{{Id: "s", Order: "001000", Content: open}}})
	require.Equal(t, 200, code, body)
	code, body = author.ready(soon.Id)
	require.Equal(t, 200, code, body)
	code, body = author.do("POST", "/api/shots/moving/handed", []figure.Area{{Rect: part, Path: path}})
	require.Equal(t, 200, code, body)
	code, body = reader.once(t, "GET", "/api/documents/"+soon.Id+"/figures/f/clip", nil)
	require.Equal(t, 200, code, body)
	inFilm(t, []byte(body), "withheld")

	// It goes elsewhere whole, and comes back.
	bundle := delivered(t, author, document, "bundle")
	code, body = author.do("POST", "/api/bundles", bundle, "Content-Type", "application/zip")
	require.Equal(t, 201, code, body)
	copied := decoded[api.Summary](t, body)
	code, body = author.once(t, "GET", "/api/documents/"+copied.Id+"/figures/f/clip", nil)
	require.Equal(t, 200, code, body)
	inFilm(t, []byte(body), "the copy")
}

// delivered is the file of a delivery.
func delivered(t *testing.T, who browser, document, format string) []byte {
	code, body := who.do("POST", document+"/deliveries", map[string]any{"format": format})
	require.Equal(t, 202, code, body)
	d := decoded[api.Delivery](t, body)
	require.Eventually(t, func() bool {
		_, body := who.do("GET", "/api/deliveries/"+d.Id, nil)
		d = decoded[api.Delivery](t, body)
		return d.State == "done" || d.State == "failed"
	}, 5*time.Minute, 100*time.Millisecond, format)
	require.EqualValues(t, "done", d.State, "%s: %v", format, fmt.Sprint(d.Error))
	_, data := who.do("GET", "/api/deliveries/"+d.Id+"/file", nil)
	return []byte(data)
}

// TestAFilmIsOfferedToReaders has a film made of a revision, with what a person has recorded and what a synthetic voice
// says.
func TestAFilmIsOfferedToReaders(t *testing.T) {
	h := start(t)
	h.Works.Speaker = voice.Find("")
	require.NotNil(t, h.Works.Speaker)
	h.Work(t)
	author, reader := h.browser(t, "ines"), h.browser(t, "ruben")
	code, body := author.do("PUT", "/api/shots/one", screenshot(t, 800, 500, 1, image.Point{}), "Content-Type", "application/octet-stream")
	require.Equal(t, 200, code, body)
	_, body = author.do("POST", "/api/documents", map[string]string{"title": "A film"})
	made := decoded[api.Summary](t, body)
	document := "/api/documents/" + made.Id
	tone := filepath.Join(t.TempDir(), "tone.wav")
	pcm := media.Pause(2000)
	for i := range pcm {
		pcm[i] = int16(6000 * (i / 40 % 2))
	}
	require.NoError(t, media.WriteWAV(tone, pcm))
	raw, err := os.ReadFile(tone)
	require.NoError(t, err)
	code, body = author.do("POST", document+"/voices?from=500&to=1500", raw, "Content-Type", "application/octet-stream")
	require.Equal(t, 201, code, body)
	voice := decoded[doc.Voice](t, body)
	assert.InDelta(t, 1000, voice.Ms, 60, "its ends were trimmed")
	code, body = author.do("POST", document+"/voices", []byte("no sound"), "Content-Type", "application/octet-stream")
	assert.Equal(t, 422, code, body)
	code, _ = reader.do("GET", document+"/voices/"+voice.SHA256, nil)
	assert.Equal(t, 403, code)

	spoken := doc.NewStep("", words.Plain("Open the WMS and press Receive."), figure.Figure{ID: "f1", Shot: "one", Alt: "x", Marks: []figure.Mark{}})
	own := doc.NewStep("", words.Plain("Wait for the lamp."), figure.Figure{ID: "f2", Shot: "one", Alt: "x", Marks: []figure.Mark{}})
	own.Film = &doc.Told{Voice: &voice}
	change := api.Change{Id: "one", Blocks: []api.BlockChange{{Id: "a", Order: "001000", Content: spoken.Content}, {Id: "b", Order: "002000", Content: own.Content}}}
	change.Facts = &api.FactsChange{Base: 1, Facts: doc.Facts{Title: "A film", Film: &doc.Film{Size: "720p", Offered: true}}}
	code, body = author.do("POST", document+"/changes", change)
	require.Equal(t, 200, code, body)
	code, body = reader.do("GET", document+"/film", nil)
	assert.Equal(t, 404, code, "a reader knows nothing of a draft: "+body)
	code, body = author.do("GET", document+"/film", nil)
	assert.Equal(t, 422, code)
	assert.Contains(t, body, "There is no valid revision yet")
	code, body = author.do("PUT", "/api/sayings", map[string]any{"version": 1, "words": []map[string]string{{"word": "WMS", "said": "warehouse system"}}})
	require.Equal(t, 200, code, body)
	code, body = author.do("PUT", "/api/sayings", map[string]any{"version": 1, "words": []map[string]string{}})
	assert.Equal(t, 409, code, body)
	code, body = author.ready(made.Id)
	require.Equal(t, 200, code, body)
	var film api.FilmOf
	require.Eventually(t, func() bool {
		code, body := reader.do("GET", document+"/film", nil)
		require.Equal(t, 200, code, body)
		film = decoded[api.FilmOf](t, body)
		require.Nil(t, film.Making.Error)
		return film.Making.Key != ""
	}, 5*time.Minute, 200*time.Millisecond)
	require.Len(t, film.Chapters, 3)
	assert.Equal(t, "1  Open the WMS and press Receive.", film.Chapters[1].Name)
	code, data := reader.do("GET", document+"/film/mp4", nil)
	require.Equal(t, 200, code)
	path := filepath.Join(t.TempDir(), "film.mp4")
	require.NoError(t, os.WriteFile(path, []byte(data), 0o600))
	info, err := media.Probe(t.Context(), path)
	require.NoError(t, err)
	assert.InDelta(t, film.Length, info.Ms, 100)
	assert.Equal(t, [2]int{1280, 720}, [2]int{info.Width, info.Height})
	quiet, err := media.Silences(t.Context(), path, -45, 300)
	require.NoError(t, err)
	for i, who := range []string{"a synthetic voice says the title", "and the first step", "a person speaks"} {
		at := film.Chapters[i].Start + doc.Pause + 500
		for _, s := range quiet {
			assert.False(t, s.From < at && s.To > at, "%s at %d ms: it is silent from %d to %d", who, at, s.From, s.To)
		}
	}
	silent := func(at int) bool {
		return slices.ContainsFunc(quiet, func(s media.Level) bool { return s.From <= at && s.To >= at })
	}
	assert.True(t, silent(film.Chapters[2].Start+150), "there is silence around what is said")
	code, vtt := reader.do("GET", document+"/film/vtt", nil)
	require.Equal(t, 200, code)
	assert.True(t, strings.HasPrefix(vtt, "WEBVTT"))
	assert.Contains(t, vtt, "Open the WMS and press Receive.")
}

package server_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/cookiejar"
	"net/http/httptest"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"raconte/api"
	"raconte/blobs"
	"raconte/demo"
	"raconte/jobs"
	"raconte/pictures"
	"raconte/press"
	"raconte/server"
	"raconte/store"
	"raconte/store/storetest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type house struct {
	address string
	store   *store.Store
	runner  *jobs.Runner
	server  *server.Server
}

func start(t *testing.T) house {
	ctx := context.Background()
	s := storetest.Open(t)
	b, err := blobs.Open(ctx, "mem://")
	require.NoError(t, err)
	maker := pictures.New(s, b)
	quiet := slog.New(slog.NewTextHandler(io.Discard, nil))
	runner := &jobs.Runner{Store: s, Log: quiet}
	srv, err := server.New(server.Config{Store: s, Pictures: maker, Jobs: runner, Files: b, Log: quiet,
		Press: press.Press{Pictures: maker, Address: "http://raconte.example"},
		Web:   fstest.MapFS{"index.html": {Data: []byte("<!doctype html>")}}})
	require.NoError(t, err)
	runner.Works = map[string]jobs.Work{"pdf": srv.MakePDF, "preview": srv.MakePreview}
	require.NoError(t, demo.Load(ctx, s, maker))
	require.NoError(t, demo.Load(ctx, s, maker), "loading it again does nothing")
	handler, err := srv.Handler()
	require.NoError(t, err)
	web := httptest.NewServer(handler)
	t.Cleanup(web.Close)
	return house{web.URL, s, runner, srv}
}

type browser struct {
	*http.Client
	t       *testing.T
	address string
}

func (h house) browser(t *testing.T, name string) browser {
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	b := browser{&http.Client{Jar: jar}, t, h.address}
	if name != "" {
		code, body := b.do("POST", "/api/session", map[string]string{"name": name, "password": demo.Password})
		require.Equal(t, 200, code, body)
	}
	return b
}

func (b browser) do(method, path string, body any, headers ...string) (int, string) {
	b.t.Helper()
	var raw []byte
	switch v := body.(type) {
	case nil:
	case []byte:
		raw = v
	default:
		var err error
		raw, err = json.Marshal(v)
		require.NoError(b.t, err)
	}
	req, err := http.NewRequest(method, b.address+path, bytes.NewReader(raw))
	require.NoError(b.t, err)
	for i := 0; i+1 < len(headers); i += 2 {
		req.Header.Set(headers[i], headers[i+1])
	}
	res, err := b.Do(req)
	require.NoError(b.t, err)
	defer res.Body.Close()
	out, err := io.ReadAll(res.Body)
	require.NoError(b.t, err)
	return res.StatusCode, string(out)
}

func (b browser) documents() map[string]string {
	_, body := b.do("GET", "/api/documents", nil)
	var list []api.Summary
	require.NoError(b.t, json.Unmarshal([]byte(body), &list))
	ids := map[string]string{}
	for _, d := range list {
		ids[d.Title] = d.Id
	}
	return ids
}

// TestEveryRouteChecksWhoAsks goes through all operations of the API's description.
func TestEveryRouteChecksWhoAsks(t *testing.T) {
	h := start(t)
	nobody, reader := h.browser(t, ""), h.browser(t, "ruben")
	ids := h.browser(t, "ines").documents()
	spec, err := api.GetSpec()
	require.NoError(t, err)
	checked := 0
	for path, item := range spec.Paths.Map() {
		for method, op := range item.Operations() {
			scopes, device := []string{}, false
			for _, s := range *op.Security {
				scopes = s["session"]
				_, device = s["device"]
			}
			address := strings.NewReplacer("{document}", ids["Reprint a lot label"], "{figure}", "f", "{shot}", "s", "{capture}", "c", "{device}", "v", "{delivery}", "d").Replace(path)
			if strings.Contains(address, "pages") {
				address += "?layout=4"
			}
			if strings.Contains(address, "changes") {
				address += "?since=0"
			}
			name := method + " " + path
			if device {
				for _, b := range []browser{nobody, reader} {
					code, _ := b.do(method, address, nil)
					assert.Equal(t, http.StatusUnauthorized, code, name)
				}
				continue
			}
			if len(scopes) == 0 {
				assert.Contains(t, []string{"GET /api/health", "POST /api/session"}, name, "what may be called without signing in")
				continue
			}
			code, _ := nobody.do(method, address, nil)
			assert.Equal(t, http.StatusUnauthorized, code, name)
			if scopes[0] != "reader" {
				code, _ = reader.do(method, address, nil)
				assert.Equal(t, http.StatusForbidden, code, name)
				checked++
			}
		}
	}
	assert.Greater(t, checked, 10)
	code, _ := reader.do("GET", "/api/nothing", nil)
	assert.Equal(t, http.StatusNotFound, code)
}

func TestAReaderReachesNoDraftAndNoShot(t *testing.T) {
	h := start(t)
	author, reader := h.browser(t, "ines"), h.browser(t, "ruben")
	draft := author.documents()["Answer a temperature alarm"]
	ready := author.documents()["Reprint a lot label"]
	assert.NotContains(t, reader.documents(), "Answer a temperature alarm")
	_, body := author.do("GET", "/api/documents/"+draft, nil)
	var whole api.Document
	require.NoError(t, json.Unmarshal([]byte(body), &whole))
	figure := whole.Steps[0].Content.Figures[0]
	for _, path := range []string{"", "/pages?layout=4", "/figures/" + figure.ID} {
		code, _ := reader.do("GET", "/api/documents/"+draft+path, nil)
		assert.Equal(t, http.StatusNotFound, code, path)
		code, _ = author.do("GET", "/api/documents/"+draft+path, nil)
		assert.Equal(t, http.StatusOK, code, path)
	}
	code, _ := reader.do("POST", "/api/documents/"+draft+"/deliveries", map[string]int{"layout": 4})
	assert.Equal(t, http.StatusNotFound, code)
	for _, path := range []string{"/api/shots/" + figure.Shot, "/api/shots/" + figure.Shot + "/preview", "/api/documents/" + ready + "/bundle"} {
		code, _ := reader.do("GET", path, nil)
		assert.Equal(t, http.StatusForbidden, code, path)
	}
	code, body = reader.do("GET", "/api/documents/"+ready, nil)
	assert.Equal(t, http.StatusOK, code)
	assert.Contains(t, body, `"state":"ready"`)
	assert.NotContains(t, body, `"removed"`)
}

func TestSigningInIsThrottledAndOtherSitesAreRefused(t *testing.T) {
	h := start(t)
	b := h.browser(t, "")
	guess := func(password string) int {
		code, _ := b.do("POST", "/api/session", map[string]string{"name": "ines", "password": password})
		return code
	}
	for range 8 {
		assert.Equal(t, http.StatusUnauthorized, guess("wrong"))
	}
	assert.Equal(t, http.StatusTooManyRequests, guess(demo.Password), "even the right one has to wait now")
	code, _ := b.do("POST", "/api/session", map[string]string{"name": "tomasz", "password": demo.Password})
	assert.Equal(t, http.StatusOK, code, "others do not")
	code, body := b.do("POST", "/api/documents", map[string]string{"title": "Forged"}, "Sec-Fetch-Site", "cross-site")
	assert.Equal(t, http.StatusForbidden, code)
	assert.Contains(t, body, "another site")
	code, _ = b.do("POST", "/api/documents", map[string]string{"title": "Forged"}, "Origin", "https://evil.example")
	assert.Equal(t, http.StatusForbidden, code)
	assert.NotContains(t, b.documents(), "Forged")
}

func TestBadInputIsRefusedInWords(t *testing.T) {
	h := start(t)
	b := h.browser(t, "ines")
	id := b.documents()["Reprint a lot label"]
	step := func(content string) []byte {
		return []byte(`{"id":"c","steps":[{"id":"x","base":0,"order":"00A000","removed":false,"content":` + content + `}]}`)
	}
	for name, c := range map[string]struct {
		method, path string
		body         any
		code         int
		says         string
	}{
		"no title":           {"POST", "/api/documents", map[string]string{"title": " "}, 422, "A document needs a title."},
		"no JSON":            {"POST", "/api/documents", []byte("{"), 400, "Give a title."},
		"unknown document":   {"GET", "/api/documents/none", nil, 404, "not there"},
		"layout of three":    {"GET", "/api/documents/" + id + "/pages?layout=3", nil, 400, "2 or 4"},
		"script in words":    {"POST", "/api/documents/" + id + "/changes", step(`{"words":{"type":"doc","content":[{"type":"script"}]},"figures":[]}`), 422, "unknown text node"},
		"picture not here":   {"POST", "/api/documents/" + id + "/changes", step(`{"words":{"type":"doc"},"figures":[{"id":"f","shot":"none","alt":"","marks":[]}]}`), 422, "has not arrived"},
		"place off the keys": {"POST", "/api/documents/" + id + "/changes", bytes.Replace(step(`{"words":{"type":"doc"},"figures":[]}`), []byte("00A000"), []byte("'; --"), 1), 422, "no usable place"},
		"no picture":         {"PUT", "/api/shots/new", []byte("text"), 422, "not a picture that Raconte reads"},
		"picture too large":  {"PUT", "/api/shots/new", make([]byte, 40<<20+1), 413, "larger than 40 MB"},
		"no bundle":          {"POST", "/api/bundles", []byte("PK"), 422, "Nothing was imported."},
		"state unheard of":   {"PUT", "/api/documents/" + id + "/state", map[string]string{"state": "gone"}, 400, "draft or ready"},
		"written elsewhere":  {"POST", "/d/" + id, nil, 405, "only be read"},
	} {
		code, body := b.do(c.method, c.path, c.body)
		assert.Equal(t, c.code, code, "%s: %s", name, body)
		assert.Contains(t, body, c.says, name)
	}
}

// listen follows what the server tells by itself, from now on.
func (b browser) listen(t *testing.T) <-chan string {
	lines := make(chan string, 100)
	ctx, stop := context.WithCancel(context.Background())
	t.Cleanup(stop)
	req, err := http.NewRequestWithContext(ctx, "GET", b.address+"/api/events", nil)
	require.NoError(t, err)
	res, err := b.Do(req)
	require.NoError(t, err)
	go func() {
		defer res.Body.Close()
		buf := make([]byte, 4096)
		for {
			n, err := res.Body.Read(buf)
			if err != nil {
				return
			}
			lines <- string(buf[:n])
		}
	}()
	require.Contains(t, <-lines, "event: open")
	return lines
}

// heard is the next that the server told.
func heard(lines <-chan string) string {
	select {
	case l := <-lines:
		return l
	case <-time.After(time.Second):
		return "nothing within a second"
	}
}

func TestEventsReachThoseWhoMayKnow(t *testing.T) {
	h := start(t)
	author, reader := h.browser(t, "ines"), h.browser(t, "ruben")
	toAuthor, toReader := author.listen(t), reader.listen(t)
	draft := author.documents()["Answer a temperature alarm"]
	ready := author.documents()["Reprint a lot label"]
	for i, id := range []string{draft, ready} {
		body := fmt.Sprintf(`{"id":"c%d","steps":[{"id":"x","base":0,"order":"zzz000","removed":false,"content":{"words":{"type":"doc"},"figures":[]}}]}`, i)
		code, said := author.do("POST", "/api/documents/"+id+"/changes", []byte(body))
		require.Equal(t, 200, code, said)
	}
	assert.Contains(t, heard(toAuthor), draft)
	assert.Contains(t, heard(toReader), ready, "a reader hears nothing of the draft")
}

func TestAPDFIsMadeInTheBackgroundForItsOwner(t *testing.T) {
	h := start(t)
	ctx, stop := context.WithCancel(context.Background())
	ended := make(chan struct{})
	go func() { defer close(ended); h.runner.Run(ctx, 2) }()
	t.Cleanup(func() { stop(); <-ended })
	reader := h.browser(t, "ruben")
	code, body := reader.do("POST", "/api/documents/"+reader.documents()["Move a lot between rooms"]+"/deliveries", map[string]int{"layout": 2})
	require.Equal(t, http.StatusAccepted, code, body)
	var d api.Delivery
	require.NoError(t, json.Unmarshal([]byte(body), &d))
	require.Eventually(t, func() bool {
		_, body := reader.do("GET", "/api/deliveries/"+d.Id, nil)
		require.NoError(t, json.Unmarshal([]byte(body), &d))
		return d.State == "done"
	}, 20*time.Second, 50*time.Millisecond)
	assert.Equal(t, 6, d.Done)
	_, pdf := reader.do("GET", "/api/deliveries/"+d.Id+"/file", nil)
	assert.True(t, strings.HasPrefix(pdf, "%PDF-"))
	code, _ = h.browser(t, "ines").do("GET", "/api/deliveries/"+d.Id, nil)
	assert.Equal(t, http.StatusNotFound, code)
}

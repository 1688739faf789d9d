package server_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"image"
	"io"
	"net/http"
	"net/http/cookiejar"
	"os"
	"strings"
	"testing"
	"time"

	"raconte/api"
	"raconte/practice/demo"
	"raconte/server"
	"raconte/server/servertest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type house struct{ servertest.House }

// start is a house with the demo's people and documents, of this test alone: others go on beside it.
func start(t *testing.T) house { return startWith(t) }

func startWith(t *testing.T, change ...func(*server.Config)) house {
	t.Parallel()
	return house{servertest.StartDemo(t, os.Stderr, change...)}
}

type browser struct {
	*http.Client
	t       *testing.T
	address string
}

func (h house) browser(t *testing.T, name string) browser {
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	b := browser{&http.Client{Jar: jar}, t, h.Address}
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
	if len(raw) > 0 {
		req.Header.Set("Content-Type", "application/json")
	}
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

// ready marks a document ready as one who has seen it as it is now.
func (b browser) ready(id string) (int, string) {
	_, body := b.do("GET", "/api/documents/"+id, nil)
	var whole api.Document
	require.NoError(b.t, json.Unmarshal([]byte(body), &whole))
	return b.do("PUT", "/api/documents/"+id+"/state", map[string]any{"act": "release", "seq": whole.Seq})
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
	figure := whole.Blocks[0].Content.Figures[0]
	for _, path := range []string{"", "/pages?layout=running", "/figures/" + figure.ID} {
		code, _ := reader.do("GET", "/api/documents/"+draft+path, nil)
		assert.Equal(t, http.StatusNotFound, code, path)
		code, _ = author.do("GET", "/api/documents/"+draft+path, nil)
		assert.Equal(t, http.StatusOK, code, path)
	}
	code, _ := reader.do("POST", "/api/documents/"+draft+"/deliveries", map[string]any{"format": "pdf", "layout": "running"})
	assert.Equal(t, http.StatusNotFound, code)
	for _, path := range []string{"/api/shots/" + figure.Shot, "/api/shots/" + figure.Shot + "/preview"} {
		code, _ := reader.do("GET", path, nil)
		assert.Equal(t, http.StatusForbidden, code, path)
	}
	code, _ = reader.do("POST", "/api/documents/"+ready+"/deliveries", map[string]any{"format": "bundle"})
	assert.Equal(t, http.StatusForbidden, code, "a bundle holds the shots")
	_, body = reader.do("GET", "/api/formats", nil)
	assert.NotContains(t, body, "bundle")
	code, body = reader.do("GET", "/api/documents/"+ready, nil)
	assert.Equal(t, http.StatusOK, code)
	assert.Contains(t, body, `"state":"ready"`)
	assert.NotContains(t, body, `"removed"`)
}

func TestSigningInIsThrottledAndOtherSitesAreRefused(t *testing.T) {
	h := start(t)
	b := h.browser(t, "")
	guess := func(from browser, name, password string) int {
		code, _ := from.do("POST", "/api/session", map[string]string{"name": name, "password": password})
		return code
	}
	known := h.browser(t, "ines") // has signed in from here before
	refused := 0
	// However a name is spelt, it is one account's; and every spelling counts.
	for _, name := range []string{"ines", "INES", "ＩＮＥＳ", "ines", "ｉｎｅｓ", "Ines", "ines", "ines"} {
		if guess(b, name, "wrong") == http.StatusTooManyRequests {
			refused++
		}
	}
	assert.GreaterOrEqual(t, refused, 2)
	assert.Equal(t, http.StatusTooManyRequests, guess(b, "ines", demo.Password), "even the right one has to wait now")
	assert.Equal(t, http.StatusOK, guess(known, "ines", demo.Password), "but for one who comes from a browser that is known")
	for _, odd := range []string{"ines ", "ínes", "in\u200bes", strings.Repeat("i", 101), "\x00"} {
		assert.Contains(t, []int{400, 401, 413}, guess(b, odd, demo.Password), "%q is nobody", odd)
	}
	code, _ := b.do("POST", "/api/session", map[string]string{"name": strings.Repeat("i", 5000), "password": "x"})
	assert.Equal(t, http.StatusRequestEntityTooLarge, code)
	assert.Equal(t, http.StatusOK, guess(b, "tomasz", demo.Password), "others do not wait")
	var body string
	code, body = b.do("POST", "/api/documents", map[string]string{"title": "Forged"}, "Sec-Fetch-Site", "cross-site")
	assert.Equal(t, http.StatusForbidden, code)
	assert.Contains(t, body, "another site")
	code, _ = b.do("POST", "/api/documents", map[string]string{"title": "Forged"}, "Origin", "https://evil.example")
	assert.Equal(t, http.StatusForbidden, code)
	assert.NotContains(t, b.documents(), "Forged")
}

// heavy are 500 marks of 2,000 letters with a line around each.
func heavy() string {
	marks := make([]string, 500)
	for i := range marks {
		marks[i] = fmt.Sprintf(`{"id":"m%d","kind":"text","ink":"red","weight":"fine","plate":"bare","text":"%s","points":[{"x":0,"y":0},{"x":90,"y":9}]}`, i, strings.Repeat("W", 2000))
	}
	return strings.Join(marks, ",")
}

func TestADatabaseThatFailsIsNoWrongPassword(t *testing.T) {
	h := start(t)
	b := h.browser(t, "")
	require.NoError(t, h.Store.Close())
	for range 12 {
		code, body := b.do("POST", "/api/session", map[string]string{"name": "ines", "password": demo.Password})
		assert.Equal(t, http.StatusInternalServerError, code, "it is told as what it is, and counted against nobody")
		assert.NotContains(t, body, "sql")
	}
}

func TestBadInputIsRefusedInWords(t *testing.T) {
	h := start(t)
	b := h.browser(t, "ines")
	id := b.documents()["Reprint a lot label"]
	step := func(content string) []byte {
		return []byte(`{"id":"c","blocks":[{"id":"x","base":0,"order":"00A000","removed":false,"content":` + content + `}]}`)
	}
	for name, c := range map[string]struct {
		method, path string
		body         any
		code         int
		says         string
	}{
		"no title":           {"POST", "/api/documents", map[string]string{"title": " "}, 422, "A document needs a title."},
		"no JSON":            {"POST", "/api/documents", []byte("{"), 400, "not JSON"},
		"unknown document":   {"GET", "/api/documents/none", nil, 404, "not there"},
		"layout of three":    {"GET", "/api/documents/" + id + "/pages?layout=3", nil, 400, "layout"},
		"script in words":    {"POST", "/api/documents/" + id + "/changes", step(`{"type":"step","words":{"type":"doc","content":[{"type":"script"}]},"figures":[]}`), 422, "unknown text node"},
		"picture not here":   {"POST", "/api/documents/" + id + "/changes", step(`{"type":"step","words":{"type":"doc"},"figures":[{"id":"f","shot":"none","alt":"","marks":[]}]}`), 422, "has not arrived"},
		"place off the keys": {"POST", "/api/documents/" + id + "/changes", bytes.Replace(step(`{"type":"step","words":{"type":"doc"},"figures":[]}`), []byte("00A000"), []byte("'; --"), 1), 422, "no usable place"},
		"no picture":         {"PUT", "/api/shots/new", []byte("text"), 422, "not a picture that Raconte reads"},
		"picture too large":  {"PUT", "/api/shots/new", make([]byte, 40<<20+1), 413, "larger than 40 MB"},
		"no bundle":          {"POST", "/api/bundles", []byte("PK"), 422, "Nothing was imported."},
		"act unheard of":     {"PUT", "/api/documents/" + id + "/state", map[string]any{"act": "burn", "seq": 1}, 400, "at /act"},
		"no chapter here":    {"POST", "/api/documents/" + id + "/changes", step(`{"type":"chapter","document":"p","words":{"type":"doc"},"figures":[]}`), 422, "can't have a chapter"},
		"a loop of one":      {"POST", "/api/documents/" + id + "/changes", step(`{"type":"step","document":"` + id + `","words":{"type":"doc"},"figures":[]}`), 422, "lead back to"},
		"a format of none":   {"POST", "/api/documents/" + id + "/deliveries", map[string]any{"format": "scroll"}, 422, "no format"},
		"pages of three":     {"POST", "/api/documents/" + id + "/deliveries", map[string]any{"format": "pdf", "layout": "three"}, 400, "layout"},
		"no such template":   {"POST", "/api/documents/" + id + "/deliveries", map[string]any{"format": "html", "template": "../x"}, 422, "has no template"},
		"too sharp":          {"POST", "/api/documents/" + id + "/weighed", map[string]any{"format": "pdf", "quality": map[string]any{"dpi": 9000}}, 400, "dpi"},
		"steps not here":     {"POST", "/api/documents/" + id + "/weighed", map[string]any{"format": "txt", "steps": []string{"none"}}, 422, "None of the steps"},
		"ready unseen":       {"PUT", "/api/documents/" + id + "/state", map[string]any{"act": "reopen", "seq": 0}, 409, "since you saw it"},
		"unknown attribute":  {"POST", "/api/documents", map[string]string{"title": "x", "more": "y"}, 400, "not in order"},
		"countless values":   {"POST", "/api/documents/" + id + "/changes", []byte(`{"id":"c","blocks":[` + strings.Repeat("{},", 1_100_000) + "{}]}"), 400, "values"},
		"bottomless nesting": {"POST", "/api/documents", []byte(strings.Repeat("[", 90) + strings.Repeat("]", 90)), 400, "nested"},
		"a body of text":     {"POST", "/api/documents", []byte("title=x"), 400, "not JSON"},
		"a name too large":   {"POST", "/api/styles", map[string]string{"name": strings.Repeat("x", 300<<10)}, 413, "256 KB"},
		"id with a slash":    {"PUT", "/api/shots/a%2Fb", []byte("x"), 404, ""},
		"id with a space":    {"PUT", "/api/shots/a%20b", []byte("x"), 400, "not one of those"},
		"bytes in a path":    {"GET", "/api/documents/%ff%fe", nil, 400, "UTF-8"},
		"bytes in a query":   {"GET", "/api/shots?text=%ff", nil, 400, "UTF-8"},
		"a long search":      {"GET", "/api/documents?title=" + strings.Repeat("a+", 15_000), nil, 400, "title"},
		"the year 0":         {"GET", "/api/shots?day=0000-01-01", nil, 400, "1990"},
		"the year 9999":      {"GET", "/api/shots?day=9999-12-31", nil, 400, "1990"},
		"lines without end":  {"POST", "/api/documents/" + id + "/changes", step(`{"type":"step","words":{"type":"doc","content":[{"type":"bulletList","content":[` + strings.Repeat(`{"type":"listItem"},`, 4200) + `{"type":"listItem"}]}]},"figures":[]}`), 400, "at /blocks"},
		"a mark far off":     {"POST", "/api/finished", []byte(`{"first":1,"type":"png","figure":{"id":"f","shot":"s","alt":"","marks":[{"id":"m","kind":"line","ink":"red","weight":"fine","dash":"dotted","points":[{"x":-1e6,"y":0},{"x":1e6,"y":0}]}]}}`), 400, "no place"},
		"too many letters":   {"POST", "/api/finished", []byte(`{"first":1,"type":"png","figure":{"id":"f","shot":"s","alt":"","marks":[` + heavy() + `]}}`), 400, "more and larger marks"},
		"written elsewhere":  {"POST", "/d/" + id, nil, 405, "only be read"},
	} {
		code, body := b.do(c.method, c.path, c.body)
		assert.Equal(t, c.code, code, "%s: %s", name, body)
		assert.Contains(t, body, c.says, name)
	}
}

// listen follows what the server tells by itself, from now on; that it is still there is nothing told.
func (b browser) listen(t *testing.T) <-chan string {
	lines := make(chan string, 100)
	ctx, stop := context.WithCancel(context.Background())
	t.Cleanup(stop)
	req, err := http.NewRequestWithContext(ctx, "GET", b.address+"/api/events", nil)
	require.NoError(t, err)
	res, err := b.Do(req)
	require.NoError(t, err)
	go func() {
		defer close(lines)
		defer res.Body.Close()
		buf := make([]byte, 4096)
		for {
			n, err := res.Body.Read(buf)
			if err != nil {
				return
			}
			if told := strings.ReplaceAll(string(buf[:n]), ": still here\n\n", ""); told != "" {
				lines <- told
			}
		}
	}()
	require.Contains(t, <-lines, "event: open")
	return lines
}

// heard is the next that the server told.
func heard(lines <-chan string) string { return within(lines, 5*time.Minute) }

// soon is what the server told within a moment, for those who should hear nothing.
func soon(lines <-chan string) string { return within(lines, time.Second) }

func within(lines <-chan string, moment time.Duration) string {
	select {
	case l := <-lines:
		return l
	case <-time.After(moment):
		return "nothing"
	}
}

func TestEventsReachThoseWhoMayKnow(t *testing.T) {
	h := start(t)
	author, reader := h.browser(t, "ines"), h.browser(t, "ruben")
	toAuthor, toReader := author.listen(t), reader.listen(t)
	draft := author.documents()["Answer a temperature alarm"]
	ready := author.documents()["Reprint a lot label"]
	for i, id := range []string{draft, ready} {
		body := fmt.Sprintf(`{"id":"c%d","blocks":[{"id":"x","base":0,"order":"zzz000","removed":false,"content":{"type":"step","words":{"type":"doc"},"figures":[]}}]}`, i)
		code, said := author.do("POST", "/api/documents/"+id+"/changes", []byte(body))
		require.Equal(t, 200, code, said)
	}
	assert.Contains(t, heard(toAuthor), draft)
	assert.Equal(t, "nothing", soon(toReader), "a reader hears nothing of drafts, not even of one after a revision")
	code, said := author.ready(ready)
	require.Equal(t, 422, code, said)
	_, body := author.do("GET", "/api/documents/"+ready, nil)
	code, said = author.do("POST", "/api/documents/"+ready+"/changes", []byte(`{"id":"d","blocks":[{"id":"x","base":1,"order":"zzz000","removed":true,"content":{"type":"step","words":{"type":"doc"},"figures":[]}}],"facts":{"base":1,"facts":{"title":"Secret plans"}}}`))
	require.Equal(t, 200, code, said, body)
	assert.NotContains(t, reader.documents(), "Secret plans", "nor do they see its title in the library")
	_, found := reader.do("GET", "/api/documents?title=Secret", nil)
	assert.Equal(t, "[]", found, "or find it by that")
	code, said = author.ready(ready)
	require.Equal(t, 200, code, said)
	assert.Contains(t, heard(toReader), ready, "but of another revision")
	assert.Contains(t, reader.documents(), "Secret plans")
}

func TestAPasswordIsChangedAndEndsOtherSessions(t *testing.T) {
	h := start(t)
	here, there := h.browser(t, "ines"), h.browser(t, "ines")
	stream := there.listen(t)
	code, body := here.do("POST", "/api/password", map[string]string{"old": "wrong", "new": "a better one"})
	assert.Equal(t, 422, code, body)
	code, body = here.do("POST", "/api/password", map[string]string{"old": demo.Password, "new": "short"})
	assert.Equal(t, 422, code, body)
	code, body = here.do("POST", "/api/password", map[string]string{"old": demo.Password, "new": "Brackwater1"})
	assert.Equal(t, 422, code, body)
	code, body = here.do("POST", "/api/password", map[string]string{"old": demo.Password, "new": "a better one"})
	require.Equal(t, 204, code, body)
	code, _ = here.do("GET", "/api/session", nil)
	assert.Equal(t, 200, code, "the one who changed it stays signed in")
	code, _ = there.do("GET", "/api/session", nil)
	assert.Equal(t, 401, code, "others do not")
	select {
	case _, open := <-stream:
		assert.False(t, open)
	case <-time.After(5 * time.Minute):
		t.Error("their streams of events go on")
	}
	code, _ = there.do("POST", "/api/session", map[string]string{"name": "ines", "password": demo.Password})
	assert.Equal(t, 401, code)
	code, _ = there.do("POST", "/api/session", map[string]string{"name": "ines", "password": "a better one"})
	assert.Equal(t, 200, code)
	code, _ = there.do("DELETE", "/api/sessions", nil)
	require.Equal(t, 204, code)
	code, _ = here.do("GET", "/api/session", nil)
	assert.Equal(t, 401, code)
}

func TestALostRoleTakesItsDownloadsWithIt(t *testing.T) {
	h := start(t)
	h.Work(t)
	tomasz := h.browser(t, "tomasz")
	_, body := tomasz.do("POST", "/api/documents/"+tomasz.documents()["Answer a temperature alarm"]+"/deliveries", map[string]any{"format": "pdf", "layout": "running"})
	var d api.Delivery
	require.NoError(t, json.Unmarshal([]byte(body), &d))
	get := func() int {
		code, _ := tomasz.do("GET", "/api/deliveries/"+d.Id+"/file", nil)
		return code
	}
	require.Eventually(t, func() bool { return get() == 200 }, 5*time.Minute, 50*time.Millisecond)
	_, err := h.Store.SQL().Exec("UPDATE accounts SET role = 'reader' WHERE name = 'tomasz'")
	require.NoError(t, err)
	assert.Equal(t, 404, get(), "a draft's PDF is not a reader's")
}

func TestDeliveriesAreSeenByTheirOwnerAndByEditors(t *testing.T) {
	h := start(t)
	ines, tomasz, ruben := h.browser(t, "ines"), h.browser(t, "tomasz"), h.browser(t, "ruben")
	list := "/api/documents/" + tomasz.documents()["Move a lot between rooms"] + "/deliveries"
	order := func(b browser) string {
		code, body := b.do("POST", list, map[string]any{"format": "pdf", "layout": "two"})
		require.Equal(t, 202, code, body)
		var d api.Delivery
		require.NoError(t, json.Unmarshal([]byte(body), &d))
		return d.Id
	}
	seen := func(b browser, path string) (ids []string) {
		_, body := b.do("GET", path, nil)
		var all []api.Delivery
		require.NoError(t, json.Unmarshal([]byte(body), &all), body)
		for _, d := range all {
			ids = append(ids, d.Id)
		}
		return ids
	}
	authors, readers := order(tomasz), order(ruben)
	assert.ElementsMatch(t, []string{authors, readers}, seen(ines, list))
	assert.Equal(t, []string{readers}, seen(ruben, list))
	assert.Equal(t, []string{authors}, seen(tomasz, "/api/deliveries"))
	code, _ := ruben.do("GET", "/api/deliveries/"+authors, nil)
	assert.Equal(t, 404, code)
	code, _ = ines.do("DELETE", "/api/deliveries/"+authors, nil)
	assert.Equal(t, 404, code, "seen, and not hers to cancel")
}

func TestOtherNamesOfThisMachineAreRefusedWithAllHeaders(t *testing.T) {
	h := start(t)
	for host, want := range map[string]int{"raconte.example": 200, "localhost:1": 200, "127.0.0.1": 200, "evil.example": 421, "raconte.example.evil.example": 421} {
		req, err := http.NewRequest("GET", h.Address+"/api/health", nil)
		require.NoError(t, err)
		req.Host = host
		res, err := http.DefaultClient.Do(req)
		require.NoError(t, err)
		res.Body.Close()
		assert.Equal(t, want, res.StatusCode, host)
		assert.NotEmpty(t, res.Header.Get("Content-Security-Policy"), host)
	}
}

func TestAnotherAuthorsUnplacedShotCanNotBePlaced(t *testing.T) {
	h := start(t)
	ines, tomasz := h.browser(t, "ines"), h.browser(t, "tomasz")
	code, body := ines.do("PUT", "/api/shots/private", screenshot(t, 90, 60, 1, image.Point{}), "Content-Type", "application/octet-stream")
	require.Equal(t, 200, code, body)
	document := tomasz.documents()["Answer a temperature alarm"]
	change := `{"id":"steal","blocks":[{"id":"x","base":0,"order":"zzz000","removed":false,"content":{"type":"step","words":{"type":"doc"},"figures":[{"id":"fx","shot":"private","alt":"","marks":[]}]}}]}`
	code, _ = tomasz.do("POST", "/api/documents/"+document+"/changes", []byte(change))
	assert.Equal(t, 422, code)
	code, _ = tomasz.do("GET", "/api/shots/private", nil)
	assert.Equal(t, 404, code)
	code, body = ines.do("POST", "/api/documents/"+document+"/changes", []byte(strings.Replace(change, "steal", "own", 1)))
	assert.Equal(t, 200, code, body)
	code, body = ines.do("POST", "/api/documents/"+document+"/changes", []byte(strings.NewReplacer("steal", "again", `"id":"x"`, `"id":"y"`).Replace(change)))
	assert.Equal(t, 422, code, "no figure stands in two steps: %s", body)
}

func TestAPDFIsMadeInTheBackgroundForItsOwner(t *testing.T) {
	h := start(t)
	h.Work(t)
	reader := h.browser(t, "ruben")
	code, body := reader.do("POST", "/api/documents/"+reader.documents()["Move a lot between rooms"]+"/deliveries", map[string]any{"format": "pdf", "layout": "two"})
	require.Equal(t, http.StatusAccepted, code, body)
	var d api.Delivery
	require.NoError(t, json.Unmarshal([]byte(body), &d))
	require.Eventually(t, func() bool {
		_, body := reader.do("GET", "/api/deliveries/"+d.Id, nil)
		require.NoError(t, json.Unmarshal([]byte(body), &d))
		return d.State == "done"
	}, 5*time.Minute, 50*time.Millisecond)
	assert.Equal(t, 6, d.Done)
	_, pdf := reader.do("GET", "/api/deliveries/"+d.Id+"/file", nil)
	assert.True(t, strings.HasPrefix(pdf, "%PDF-"))
	assert.EqualValues(t, len(pdf), *d.Bytes)
	code, part := reader.do("GET", "/api/deliveries/"+d.Id+"/file", nil, "Range", "bytes=5-9")
	assert.Equal(t, http.StatusPartialContent, code)
	assert.Equal(t, pdf[5:10], part)
	ines, admin := h.browser(t, "ines"), h.browser(t, "admin")
	_, body = reader.do("GET", "/api/deliveries", nil)
	assert.Contains(t, body, d.Id)
	_, body = ines.do("GET", "/api/deliveries", nil)
	assert.NotContains(t, body, d.Id, "it is not hers")
	_, body = ines.do("GET", "/api/documents/"+d.Document+"/deliveries", nil)
	assert.Contains(t, body, d.Id, "but one of a document that she edits")
	code, _ = ines.do("DELETE", "/api/deliveries/"+d.Id, nil)
	assert.Equal(t, http.StatusNotFound, code)
	code, _ = ines.do("POST", "/api/documents/"+d.Document+"/deliveries", map[string]any{"format": "bundle"})
	require.Equal(t, http.StatusAccepted, code)
	_, body = reader.do("GET", "/api/documents/"+d.Document+"/deliveries", nil)
	assert.NotContains(t, body, "Ines", "a reader sees their own")
	_, body = admin.do("GET", "/api/documents/"+d.Document+"/deliveries", nil)
	assert.Contains(t, body, "Ines Brackwater")
}

func TestAPDFThatWasCancelledIsTriedAgain(t *testing.T) {
	h := start(t)
	ines := h.browser(t, "ines")
	_, body := ines.do("POST", "/api/documents/"+ines.documents()["Move a lot between rooms"]+"/deliveries", map[string]any{"format": "pdf", "layout": "running"})
	var d api.Delivery
	require.NoError(t, json.Unmarshal([]byte(body), &d))
	state := func() string {
		_, body := ines.do("GET", "/api/deliveries/"+d.Id, nil)
		require.NoError(t, json.Unmarshal([]byte(body), &d))
		return string(d.State)
	}
	code, _ := ines.do("DELETE", "/api/deliveries/"+d.Id, nil)
	require.Equal(t, 204, code)
	assert.Equal(t, "cancelled", state())
	code, _ = ines.do("GET", "/api/deliveries/"+d.Id+"/file", nil)
	assert.Equal(t, 404, code)
	code, _ = ines.do("POST", "/api/deliveries/"+d.Id, nil)
	require.Equal(t, 202, code)
	assert.Equal(t, "waiting", state())
	h.Work(t)
	require.Eventually(t, func() bool { return state() == "done" }, 5*time.Minute, 50*time.Millisecond)
}

package server_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"image"
	"log/slog"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"raconte/api"
	"raconte/core/figure"
	"raconte/core/receiver"
	"raconte/core/scene"
	"raconte/engines/raster"
	"raconte/platform/seal"
	"raconte/practice/demo"
	"raconte/practice/standin/chat"
	"raconte/practice/standin/tracker"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// moody is a receiver that has moods: each answers some requests in place of what it stands before.
type moody struct {
	http.Handler
	mu    sync.Mutex
	moods []func(http.ResponseWriter, *http.Request) bool // false: it is not its business
	heard []string
}

func (m *moody) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	m.mu.Lock()
	m.heard = append(m.heard, r.Method+" "+r.URL.Path)
	for i, mood := range m.moods {
		if mood(w, r) {
			m.moods = append(m.moods[:i:i], m.moods[i+1:]...)
			m.mu.Unlock()
			return
		}
	}
	m.mu.Unlock()
	m.Handler.ServeHTTP(w, r)
}

func says(code int, body string, headers ...string) func(http.ResponseWriter, *http.Request) bool {
	return func(w http.ResponseWriter, _ *http.Request) bool {
		for i := 0; i+1 < len(headers); i += 2 {
			w.Header().Set(headers[i], headers[i+1])
		}
		w.WriteHeader(code)
		_, _ = w.Write([]byte(body))
		return true
	}
}

// lost has something done, whose answer gets lost.
func lost(of http.Handler) func(http.ResponseWriter, *http.Request) bool {
	return func(w http.ResponseWriter, r *http.Request) bool {
		of.ServeHTTP(httptest.NewRecorder(), r)
		return says(502, "lost")(w, r)
	}
}

func onFiles(of func(http.ResponseWriter, *http.Request) bool) func(http.ResponseWriter, *http.Request) bool {
	return func(w http.ResponseWriter, r *http.Request) bool {
		return strings.HasSuffix(r.URL.Path, "/files") && of(w, r)
	}
}

// sender is a house with the stand-ins as receivers, whose clock can be put forward.
type sender struct {
	house
	tracker *tracker.Tracker
	chat    *chat.Chat
	moods   map[string]*moody
	ahead   atomic.Int64
}

func startSending(t *testing.T) *sender {
	h := start(t)
	var err error
	h.Works.Key, err = seal.Parse("MDEyMzQ1Njc4OTAxMjM0NTY3ODkwMTIzNDU2Nzg5MDE=")
	require.NoError(t, err)
	s := &sender{house: h, moods: map[string]*moody{}}
	s.tracker = &tracker.Tracker{Tell: h.Address + "/api/told/" + tracker.Receiver, Key: tracker.Token, Log: slog.Default()}
	s.chat = chat.New("")
	admin := h.browser(t, "admin")
	for _, r := range demo.Receivers(70_000) {
		handler := map[string]http.Handler{tracker.Receiver: s.tracker, "standin-chat": s.chat}[r.ID]
		if handler == nil {
			continue
		}
		m := &moody{Handler: handler}
		web := httptest.NewServer(m)
		t.Cleanup(web.Close)
		s.moods[r.ID] = m
		raw, err := json.Marshal(r)
		require.NoError(t, err)
		for _, port := range []string{"70003", "70004"} { // no real address holds them
			raw = bytes.ReplaceAll(raw, []byte("http://127.0.0.1:"+port), []byte(web.URL))
		}
		if r.ID == tracker.Receiver {
			s.tracker.Address = web.URL
		}
		code, body := admin.do("POST", "/api/receivers", raw)
		require.Equal(t, 201, code, body)
		id := decoded[api.KeptReceiver](t, body).Id
		if r.ID == tracker.Receiver {
			s.tracker.Tell = h.Address + "/api/told/" + id
		}
		s.moods[r.ID+" id"] = &moody{heard: []string{id}}
	}
	h.Store.SetClock(func() time.Time { return time.Now().Add(time.Duration(s.ahead.Load())) })
	h.Work(t)
	return s
}

func (s *sender) receiver(name string) string { return s.moods[name+" id"].heard[0] }

// sends sends a document and waits for how that ends, putting the clock forward.
func (s *sender) sends(t *testing.T, b browser, document, to string) api.Sending {
	code, body := b.do("POST", "/api/documents/"+document+"/sendings", map[string]string{"receiver": s.receiver(to)})
	require.Equal(t, 202, code, body)
	return s.ends(t, b, document, to)
}

func (s *sender) ends(t *testing.T, b browser, document, to string) api.Sending {
	var n api.Sending
	leapt := time.Time{}
	require.Eventually(t, func() bool {
		n = s.sent(t, b, document, to)
		if n.State == "waiting" && n.Error != nil && time.Since(leapt) > 2500*time.Millisecond { // a worker looks every two seconds
			leapt = time.Now()
			s.ahead.Add(int64(time.Hour))
			_, err := s.Store.SQL().Exec("UPDATE jobs SET not_before = UTC_TIMESTAMP(3) WHERE not_before IS NOT NULL") // leases and waits run by the database's clock
			require.NoError(t, err)
		}
		return n.State == "done" || n.State == "failed"
	}, 5*time.Minute, 200*time.Millisecond, "%+v", &n)
	return n
}

func (s *sender) sent(t *testing.T, b browser, document, to string) api.Sending {
	_, body := b.do("GET", "/api/documents/"+document+"/sendings", nil)
	for _, n := range decoded[[]api.Sending](t, body) {
		if n.Receiver == s.receiver(to) {
			return n
		}
	}
	return api.Sending{}
}

// noisy is a report with a picture of noise, which no form makes small.
func noisy(t *testing.T, b browser, title string) string {
	img := image.NewRGBA(image.Rect(0, 0, 480, 300))
	random := rand.New(rand.NewPCG(1, 2))
	for i := range img.Pix {
		img.Pix[i] = uint8(random.IntN(256))
		if i%4 == 3 {
			img.Pix[i] = 255
		}
	}
	var data bytes.Buffer
	require.NoError(t, raster.EncodePNG(&data, img, raster.Quick))
	shot := fmt.Sprintf("noise-%d", len(title))
	code, body := b.do("PUT", "/api/shots/"+shot+"?name=x.png", data.Bytes(), "Content-Type", "application/octet-stream")
	require.Less(t, code, 300, body)
	f := figure.Figure{ID: "f", Shot: shot, Marks: []figure.Mark{{ID: "m", Kind: figure.Box, Style: figure.Style{Ink: "red", Weight: figure.Medium}, Points: []scene.Point{{X: 20, Y: 20}, {X: 200, Y: 200}}}}}
	happened := map[string]any{"type": "passage", "asks": "happened", "words": saying("It <b>breaks</b> & \"falls\""), "figures": []any{f}}
	code, body = b.do("POST", "/api/documents", map[string]any{"title": title, "kind": "report", "blocks": []any{happened}})
	require.Equal(t, 201, code, body)
	return decoded[api.Summary](t, body).Id
}

func saying(s string) map[string]any {
	return map[string]any{"type": "doc", "content": []any{map[string]any{"type": "paragraph", "content": []any{map[string]any{"type": "text", "text": s}}}}}
}

func TestWhateverAReceiverDoesAReportGetsThereOnce(t *testing.T) {
	s := startSending(t)
	ines := s.browser(t, "ines")
	title := `Alarm "stays" on, {text} \ é`
	id := noisy(t, ines, title)
	m := s.moods[tracker.Receiver]
	// Down, its answer lost on the way, busy, talking nonsense, breaking off after the text, and finding the picture too
	// large, one after the other.
	m.moods = []func(http.ResponseWriter, *http.Request) bool{
		says(503, "down"), lost(s.tracker), says(429, "slow", "Retry-After", "2"), says(200, "<html>welcome</html>"), onFiles(says(500, "oh")), onFiles(says(413, "large")),
	}
	n := s.sends(t, ines, id, tracker.Receiver)
	require.Equal(t, api.SendingState("done"), n.State, of(n.Error))
	assert.Empty(t, m.moods, "each was met")
	issues := s.tracker.Issues()
	require.Len(t, issues, 1, "once, whatever happened on the way")
	assert.Equal(t, title, issues[0].Title)
	assert.Contains(t, issues[0].Text, "What happened")
	assert.NotContains(t, issues[0].Text, "How often", "what nobody answered stays out")
	require.Len(t, issues[0].Files, 1)
	assert.Less(t, issues[0].Files[0].Size, 480*300*3/2, "it was made smaller when it was found too large")
	assert.Equal(t, []string{"1", s.tracker.Address + "/issues/1"}, []string{n.Number, n.Link})
	assert.False(t, n.Changed)

	// Sent again, it is changed.
	_, body := ines.do("GET", "/api/documents/"+id, nil)
	block := decoded[api.Document](t, body).Blocks[1]
	change := map[string]any{"id": "c1", "blocks": []any{map[string]any{"id": block.Id, "base": block.Version, "order": block.Order, "removed": false,
		"content": map[string]any{"type": "passage", "asks": "expected", "words": saying("Silence"), "figures": []any{}}}}}
	code, body := ines.do("POST", "/api/documents/"+id+"/changes", change)
	require.Equal(t, 200, code, body)
	assert.True(t, s.sent(t, ines, id, tracker.Receiver).Changed)
	require.Equal(t, api.SendingState("done"), s.sends(t, ines, id, tracker.Receiver).State)
	issues = s.tracker.Issues()
	require.Len(t, issues, 1)
	assert.Equal(t, 1, issues[0].Changes)
	assert.Contains(t, issues[0].Text, "Silence")
	assert.Len(t, issues[0].Files, 1)

	// What is said there comes back, signed; and nothing that is not.
	res, err := http.PostForm(s.tracker.Address+"/issues/1", map[string][]string{"state": {"fixed"}, "by": {"Mira"}, "said": {"Fixed in 4.3 <b>"}})
	require.NoError(t, err)
	res.Body.Close()
	require.Eventually(t, func() bool { return s.sent(t, ines, id, tracker.Receiver).Standing == "fixed" }, 5*time.Minute, 100*time.Millisecond)
	var threads []api.Thread
	require.Eventually(t, func() bool {
		_, body := ines.do("GET", "/api/documents/"+id+"/comments", nil)
		threads = decoded[[]api.Thread](t, body)
		return len(threads) == 1
	}, 5*time.Minute, 100*time.Millisecond)
	assert.Equal(t, "Mira (Lotroom’s tracker (a stand-in))", threads[0].Comments[0].By)
	assert.False(t, threads[0].Comments[0].Mine)
	forged := []byte(`{"id": "x", "number": "1", "state": "closed"}`)
	for _, signature := range []string{"", "00", strings.Repeat("ab", 32)} {
		code, _ := s.browser(t, "").do("POST", "/api/told/"+s.receiver(tracker.Receiver), forged, "X-Signature-256", signature)
		assert.GreaterOrEqual(t, code, 400)
	}
	assert.Equal(t, "fixed", s.sent(t, ines, id, tracker.Receiver).Standing)

	// A dead end says why, and nothing is lost.
	m.moods = []func(http.ResponseWriter, *http.Request) bool{says(401, "who?")}
	n = s.sends(t, ines, id, tracker.Receiver)
	assert.Equal(t, api.SendingState("failed"), n.State)
	assert.Contains(t, of(n.Error), "does not let Raconte in (401)")
	assert.Equal(t, "1", n.Number)
}

func TestAChatThatTakesNoFilesIsWaitedFor(t *testing.T) {
	s := startSending(t)
	ines := s.browser(t, "ines")
	id := noisy(t, ines, "Blank labels")
	attach := func(name string, size int) (int, string) {
		return ines.do("POST", "/api/documents/"+id+"/attachments?name="+name, bytes.Repeat([]byte("log "), size/4), "Content-Type", "application/octet-stream")
	}
	for _, name := range []string{"app.log", "app.log", "..%2F..%2Fpicture-1.png"} { // the same twice, kept once
		code, body := attach(name, 4000+4*len(name))
		require.Equal(t, 204, code, body)
	}
	code, body := attach("huge.log", 300_000)
	require.Equal(t, 204, code, body)
	code, _ = attach("larger.log", 6<<20)
	assert.Equal(t, 413, code)
	_, body = ines.do("GET", "/api/documents/"+id+"/parcel?receiver="+s.receiver("standin-chat"), nil)
	parcel := decoded[api.Parcel](t, body)
	names := []string{}
	for _, f := range parcel.Files {
		names = append(names, f.Name)
	}
	assert.Equal(t, []string{"picture-1.png", "app.log", "2-picture-1.png"}, names)
	assert.Contains(t, of(parcel.Left), "“huge.log” stays out: it has 300 KB.")
	s.chat.LetFilesIn("help", false)
	code, body = ines.do("POST", "/api/documents/"+id+"/sendings", map[string]string{"receiver": s.receiver("standin-chat")})
	require.Equal(t, 202, code, body)
	require.Eventually(t, func() bool {
		return strings.Contains(of(s.sent(t, ines, id, "standin-chat").Error), "takes no files at the moment")
	}, 5*time.Minute, 100*time.Millisecond)
	code, body = ines.do("POST", "/api/documents/"+id+"/sendings", map[string]string{"receiver": s.receiver("standin-chat")})
	assert.Equal(t, 422, code, "it is on its way: %s", body)
	assert.Empty(t, s.chat.Messages("help"))
	s.chat.LetFilesIn("help", true)
	s.ahead.Add(int64(5 * time.Minute))
	n := s.ends(t, ines, id, "standin-chat")
	require.Equal(t, api.SendingState("done"), n.State, of(n.Error))
	messages := s.chat.Messages("help")
	require.Len(t, messages, 1)
	require.Len(t, messages[0].Files, 3)
	assert.LessOrEqual(t, messages[0].Files[0].Bytes(), chat.Largest, "it was made to fit")
	assert.Greater(t, messages[0].Files[0].Bytes(), chat.Largest/3, "and is no smaller than it must be")
	assert.NotContains(t, messages[0].Text, "**", "plain text, as the chat takes it")
}

func TestReceiversAreSetUpByAdministratorsAndTheirSecretsAreNobodys(t *testing.T) {
	s := startSending(t)
	admin, ines := s.browser(t, "admin"), s.browser(t, "ines")
	id := s.receiver(tracker.Receiver)
	_, body := admin.do("GET", "/api/receivers", nil)
	assert.NotContains(t, body, tracker.Token+`"`)
	assert.NotContains(t, body, "sealed:")
	var kept api.KeptReceiver
	for _, r := range decoded[[]api.KeptReceiver](t, body) {
		if r.Id == id {
			kept = r
		}
	}
	require.NotNil(t, kept.Receiver)
	_, body = ines.do("GET", "/api/receivers", nil)
	assert.NotContains(t, body, "Authorization", "authors see what it takes, not how it is reached")
	row, err := s.Store.Exchange.Receiver(context.Background(), id)
	require.NoError(t, err)
	assert.True(t, seal.Sealed(row.Content.Reached.Header[0].Value), "and the database has it sealed")

	// Changed without its secret, it keeps it; a secret does not come along to another host by a new name.
	change := func(r receiver.Receiver, version int) (int, string) {
		return admin.do("PUT", "/api/receivers/"+id, map[string]any{"version": version, "receiver": r})
	}
	r := *kept.Receiver
	r.Name, r.Takes.Around = "Faults", "Seen by {sender}\n\n{text}"
	code, body := change(r, kept.Version)
	require.Equal(t, 200, code, body)
	code, _ = change(r, kept.Version)
	assert.Equal(t, 409, code, "someone else has changed it")
	report := noisy(t, ines, "Sealed")
	require.Equal(t, api.SendingState("done"), s.sends(t, ines, report, tracker.Receiver).State, "it still lets us in")
	assert.Contains(t, s.tracker.Issues()[0].Text, "Seen by Ines Brackwater\n\n## What happened")
	r.Reached.Make.Address = strings.Replace(r.Reached.Make.Address, "127.0.0.1", "evil.example", 1)
	code, body = change(r, kept.Version+1)
	assert.Equal(t, 422, code, "secrets do not go along to another host: %s", body)
	r = *kept.Receiver
	r.Reached.Header = []receiver.Header{{Name: "X-Other", Secret: true}}
	code, body = change(r, kept.Version+1)
	assert.Equal(t, 422, code, body)
	r = *kept.Receiver
	r.Reached.Make.Address = "file:///etc/passwd"
	code, body = change(r, kept.Version+1)
	assert.Equal(t, 422, code)
	assert.Contains(t, body, "Nothing was changed")
	code, _ = admin.do("DELETE", "/api/receivers/"+id, nil)
	require.Equal(t, 204, code)
	code, body = ines.do("POST", "/api/documents/"+report+"/sendings", map[string]string{"receiver": id})
	assert.Equal(t, 422, code, body)
	assert.Equal(t, "1", s.sent(t, ines, report, tracker.Receiver).Number, "what is there stays told")
}

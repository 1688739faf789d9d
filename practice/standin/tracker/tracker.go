// Package tracker stands in for a house's tracker of faults: issues with text, pictures, states and comments, an API,
// and pages of its own. It keeps the last ones in memory, and tells of what happens to whoever it was told to tell.
package tracker

import (
	"bytes"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"
)

// Token is what its API asks for, and the key by which it signs what it tells of.
const Token = "standin"

// Receiver is the id by which the demo's Raconte knows it.
const Receiver = "standin-tracker"

const (
	mostIssues = 500
	mostFiles  = 20
	mostBytes  = 2 << 20 // of a file
	mostText   = 64 << 10
)

// States are what an issue can be.
var States = []string{"open", "being looked at", "fixed", "no fault"}

// Issue is one of its issues.
type Issue struct {
	Number   int       `json:"number"`
	Title    string    `json:"title"`
	Text     string    `json:"text"` // Markdown
	Reporter string    `json:"reporter"`
	Link     string    `json:"link"`
	State    string    `json:"state"`
	At       time.Time `json:"at"`
	Changes  int       `json:"changes"` // that it was sent again
	Files    []File    `json:"files"`
	Comments []Comment `json:"comments"`
}

// File is a file of an issue.
type File struct {
	Name string `json:"name"`
	Type string `json:"type"`
	Size int    `json:"size"`
	data []byte
}

// Comment is what someone said of an issue.
type Comment struct {
	By   string    `json:"by"`
	Said string    `json:"said"`
	At   time.Time `json:"at"`
}

// Tracker keeps issues. It is an http.Handler.
type Tracker struct {
	Address string // of its pages, as "http://127.0.0.1:8425"
	Tell    string // where it tells of changes; "" tells nobody
	Key     string // that it signs with
	Log     *slog.Logger

	mu     sync.Mutex
	issues []*Issue
	last   int
	seen   map[string]int // numbers by the keys of requests that were answered
	told   int
}

// Issues are all of them, the last first.
func (t *Tracker) Issues() []Issue {
	t.mu.Lock()
	defer t.mu.Unlock()
	all := make([]Issue, 0, len(t.issues))
	for _, i := range slices.Backward(t.issues) {
		all = append(all, *i)
	}
	return all
}

// ServeHTTP answers the API and the pages.
func (t *Tracker) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	mux := http.NewServeMux()
	mux.HandleFunc("POST /api/issues", t.known(t.make))
	mux.HandleFunc("PUT /api/issues/{number}", t.known(t.change))
	mux.HandleFunc("POST /api/issues/{number}/files", t.known(t.file))
	mux.HandleFunc("GET /api/issues/{number}", t.known(t.get))
	mux.HandleFunc("GET /{$}", t.list)
	mux.HandleFunc("GET /issues/{number}", t.show)
	mux.HandleFunc("POST /issues/{number}", t.act)
	mux.HandleFunc("GET /issues/{number}/files/{file}", t.download)
	w.Header().Set("Content-Security-Policy", "default-src 'none'; img-src 'self'; media-src 'self'; style-src 'unsafe-inline'; form-action 'self'")
	w.Header().Set("X-Content-Type-Options", "nosniff")
	mux.ServeHTTP(w, r)
}

// known asks for the token.
func (t *Tracker) known(next http.HandlerFunc) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		if r.Header.Get("Authorization") != "Bearer "+Token {
			http.Error(w, `{"error": "who are you?"}`, http.StatusUnauthorized)
			return
		}
		next(w, r)
	}
}

func (t *Tracker) make(w http.ResponseWriter, r *http.Request) {
	var in Issue
	if !read(w, r, &in) {
		return
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	key := r.Header.Get("Idempotency-Key")
	if number, again := t.seen[key]; again && key != "" {
		t.answer(w, http.StatusOK, number)
		return
	}
	t.last++
	i := &Issue{Number: t.last, Title: in.Title, Text: in.Text, Reporter: in.Reporter, Link: in.Link, State: States[0], At: time.Now(), Files: []File{}, Comments: []Comment{}}
	if t.issues = append(t.issues, i); len(t.issues) > mostIssues {
		t.issues = t.issues[1:]
	}
	t.remember(key, i.Number)
	t.answer(w, http.StatusCreated, i.Number)
}

func (t *Tracker) remember(key string, number int) {
	if t.seen == nil || len(t.seen) > 10*mostIssues {
		t.seen = map[string]int{}
	}
	t.seen[key] = number
}

func (t *Tracker) change(w http.ResponseWriter, r *http.Request) {
	var in Issue
	if !read(w, r, &in) {
		return
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	i := t.of(w, r)
	if i == nil {
		return
	}
	key := r.Header.Get("Idempotency-Key")
	if _, again := t.seen[key]; !again || key == "" {
		i.Title, i.Text, i.Changes, i.Files = in.Title, in.Text, i.Changes+1, []File{}
		t.remember(key, i.Number)
	}
	t.answer(w, http.StatusOK, i.Number)
}

func (t *Tracker) file(w http.ResponseWriter, r *http.Request) {
	r.Body = http.MaxBytesReader(w, r.Body, mostBytes+4096)
	f, header, err := r.FormFile("file")
	if err != nil {
		http.Error(w, `{"error": "no file, or one that is too large"}`, http.StatusRequestEntityTooLarge)
		return
	}
	defer f.Close()
	data, err := io.ReadAll(io.LimitReader(f, mostBytes+1))
	if err != nil || len(data) > mostBytes {
		http.Error(w, `{"error": "too large"}`, http.StatusRequestEntityTooLarge)
		return
	}
	t.mu.Lock()
	defer t.mu.Unlock()
	i := t.of(w, r)
	if i == nil {
		return
	}
	key := r.Header.Get("Idempotency-Key")
	if _, again := t.seen[key]; !again || key == "" {
		if len(i.Files) >= mostFiles {
			http.Error(w, `{"error": "too many files"}`, http.StatusUnprocessableEntity)
			return
		}
		i.Files = append(i.Files, File{Name: header.Filename, Type: http.DetectContentType(data), Size: len(data), data: data})
		t.remember(key, i.Number)
	}
	t.answer(w, http.StatusCreated, i.Number)
}

func (t *Tracker) get(w http.ResponseWriter, r *http.Request) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if i := t.of(w, r); i != nil {
		writeJSON(w, http.StatusOK, map[string]any{"issue": i})
	}
}

// of is the issue that a request is about; where there is none, that is answered.
func (t *Tracker) of(w http.ResponseWriter, r *http.Request) *Issue {
	number, _ := strconv.Atoi(r.PathValue("number"))
	at := slices.IndexFunc(t.issues, func(i *Issue) bool { return i.Number == number })
	if at < 0 {
		http.Error(w, `{"error": "no such issue"}`, http.StatusNotFound)
		return nil
	}
	return t.issues[at]
}

func (t *Tracker) answer(w http.ResponseWriter, code, number int) {
	writeJSON(w, code, map[string]any{"issue": map[string]any{"number": number, "url": fmt.Sprintf("%s/issues/%d", t.Address, number)}})
}

func read(w http.ResponseWriter, r *http.Request, into any) bool {
	if err := json.NewDecoder(http.MaxBytesReader(w, r.Body, mostText)).Decode(into); err != nil {
		http.Error(w, `{"error": "not in order, or too large"}`, http.StatusBadRequest)
		return false
	}
	return true
}

func writeJSON(w http.ResponseWriter, code int, v any) {
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(code)
	_ = json.NewEncoder(w).Encode(v)
}

// act changes an issue's state or adds a comment, by its page, and tells of it.
func (t *Tracker) act(w http.ResponseWriter, r *http.Request) {
	r.Body = http.MaxBytesReader(w, r.Body, mostText)
	t.mu.Lock()
	i := t.of(w, r)
	if i == nil {
		t.mu.Unlock()
		return
	}
	told := map[string]any{"number": strconv.Itoa(i.Number)}
	if state := r.FormValue("state"); slices.Contains(States, state) && state != i.State {
		i.State, told["state"] = state, state
	}
	if said := strings.TrimSpace(r.FormValue("said")); said != "" && len(said) <= 3000 {
		by := strings.TrimSpace(r.FormValue("by"))
		if by == "" {
			by = "A developer"
		}
		i.Comments = append(i.Comments, Comment{By: by, Said: said, At: time.Now()})
		told["comment"], told["by"] = said, by
	}
	t.told++
	told["id"] = fmt.Sprintf("%d-%d", i.Number, t.told)
	number := i.Number
	t.mu.Unlock()
	if len(told) > 2 {
		go t.tell(told)
	}
	http.Redirect(w, r, fmt.Sprintf("/issues/%d", number), http.StatusSeeOther)
}

// tell tells of a change, signed, and tries again for a while where nobody hears.
func (t *Tracker) tell(told map[string]any) {
	if t.Tell == "" {
		return
	}
	body, _ := json.Marshal(told)
	mac := hmac.New(sha256.New, []byte(t.Key))
	mac.Write(body)
	for wait := time.Second; wait < time.Minute; wait *= 3 {
		req, err := http.NewRequest(http.MethodPost, t.Tell, bytes.NewReader(body))
		if err != nil {
			return
		}
		req.Header.Set("Content-Type", "application/json")
		req.Header.Set("X-Signature-256", hex.EncodeToString(mac.Sum(nil)))
		res, err := http.DefaultClient.Do(req)
		if err == nil {
			res.Body.Close()
			if res.StatusCode < 500 {
				return
			}
		}
		time.Sleep(wait)
	}
	t.Log.Warn("nobody hears", "address", t.Tell)
}

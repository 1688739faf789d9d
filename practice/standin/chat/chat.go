// Package chat stands in for a house's support chat: rooms in which people write, and an agent who lets files in or
// does not. It has an API and pages of its own, and keeps the last messages in memory.
package chat

import (
	"encoding/json"
	"fmt"
	"html/template"
	"io"
	"net/http"
	"slices"
	"strconv"
	"sync"
	"time"
)

// Token is what its API asks for.
const Token = "standin"

const (
	mostMessages = 300
	mostText     = 4000 // characters and a little more
	// Largest are the bytes of a file that are taken.
	Largest = 200_000
)

// Rooms are those that there are.
var Rooms = []string{"help", "packing"}

// Message is one of a room.
type Message struct {
	ID    int
	By    string
	Text  string
	At    time.Time
	Files []File
}

// File is a picture of a message.
type File struct {
	Name, Type string
	data       []byte
}

// Bytes is how large it is.
func (f File) Bytes() int { return len(f.data) }

type room struct {
	closed   bool // to files
	messages []*Message
}

// Chat keeps rooms. It is an http.Handler.
type Chat struct {
	Address string

	mu    sync.Mutex
	rooms map[string]*room
	last  int
	seen  map[string]int // messages by the keys of requests that were answered
}

// New is a chat whose rooms are empty.
func New(address string) *Chat {
	c := &Chat{Address: address, rooms: map[string]*room{}, seen: map[string]int{}}
	for _, name := range Rooms {
		c.rooms[name] = &room{}
	}
	return c
}

// Messages are those of a room.
func (c *Chat) Messages(name string) []Message {
	c.mu.Lock()
	defer c.mu.Unlock()
	var all []Message
	for _, m := range c.rooms[name].messages {
		all = append(all, *m)
	}
	return all
}

// LetFilesIn says whether a room takes files.
func (c *Chat) LetFilesIn(name string, open bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.rooms[name].closed = !open
}

// ServeHTTP answers the API and the pages.
func (c *Chat) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /api/rooms/{room}", c.known(c.about))
	mux.HandleFunc("POST /api/rooms/{room}/messages", c.known(c.say))
	mux.HandleFunc("POST /api/rooms/{room}/messages/{message}/files", c.known(c.file))
	mux.HandleFunc("GET /{$}", func(w http.ResponseWriter, r *http.Request) { _ = page.ExecuteTemplate(w, "rooms", Rooms) })
	mux.HandleFunc("GET /{room}", c.in(c.show))
	mux.HandleFunc("POST /{room}", c.in(c.act))
	mux.HandleFunc("GET /{room}/{message}/{file}", c.in(c.download))
	w.Header().Set("Content-Security-Policy", "default-src 'none'; img-src 'self'; style-src 'unsafe-inline'; form-action 'self'")
	w.Header().Set("X-Content-Type-Options", "nosniff")
	mux.ServeHTTP(w, r)
}

type inRoom func(w http.ResponseWriter, r *http.Request, in *room)

func (c *Chat) in(next inRoom) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		c.mu.Lock()
		defer c.mu.Unlock()
		in := c.rooms[r.PathValue("room")]
		if in == nil {
			http.NotFound(w, r)
			return
		}
		next(w, r, in)
	}
}

func (c *Chat) known(next inRoom) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		if r.Header.Get("X-Chat-Token") != Token {
			http.Error(w, `{"error": "who are you?"}`, http.StatusUnauthorized)
			return
		}
		c.in(next)(w, r)
	}
}

func (c *Chat) about(w http.ResponseWriter, _ *http.Request, in *room) {
	answer(w, map[string]any{"files": !in.closed, "largest": Largest})
}

func (c *Chat) say(w http.ResponseWriter, r *http.Request, in *room) {
	var said struct{ Text, By string }
	if err := json.NewDecoder(http.MaxBytesReader(w, r.Body, 8*mostText)).Decode(&said); err != nil || len([]rune(said.Text)) > mostText {
		http.Error(w, `{"error": "not in order, or too long"}`, http.StatusBadRequest)
		return
	}
	key := r.Header.Get("Idempotency-Key")
	id, again := c.seen[key]
	if !again || key == "" {
		id = c.add(in, said.By, said.Text)
		c.seen[key] = id
	}
	answer(w, map[string]any{"message": map[string]any{"id": strconv.Itoa(id), "url": fmt.Sprintf("%s/%s#m%d", c.Address, r.PathValue("room"), id)}})
}

func (c *Chat) add(in *room, by, text string) int {
	c.last++
	if in.messages = append(in.messages, &Message{ID: c.last, By: by, Text: text, At: time.Now()}); len(in.messages) > mostMessages {
		in.messages = in.messages[1:]
	}
	return c.last
}

func (c *Chat) file(w http.ResponseWriter, r *http.Request, in *room) {
	if in.closed {
		http.Error(w, `{"error": "no files at the moment"}`, http.StatusServiceUnavailable)
		return
	}
	m := in.message(r)
	if m == nil {
		http.NotFound(w, r)
		return
	}
	r.Body = http.MaxBytesReader(w, r.Body, Largest+4096)
	f, header, err := r.FormFile("file")
	if err != nil {
		http.Error(w, `{"error": "too large"}`, http.StatusRequestEntityTooLarge)
		return
	}
	defer f.Close()
	data, err := io.ReadAll(io.LimitReader(f, Largest+1))
	if err != nil || len(data) > Largest {
		http.Error(w, `{"error": "too large"}`, http.StatusRequestEntityTooLarge)
		return
	}
	key := r.Header.Get("Idempotency-Key")
	if _, again := c.seen[key]; !again || key == "" {
		m.Files = append(m.Files, File{header.Filename, http.DetectContentType(data), data})
		c.seen[key] = m.ID
	}
	answer(w, map[string]any{"files": len(m.Files)})
}

func (in *room) message(r *http.Request) *Message {
	id, _ := strconv.Atoi(r.PathValue("message"))
	at := slices.IndexFunc(in.messages, func(m *Message) bool { return m.ID == id })
	if at < 0 {
		return nil
	}
	return in.messages[at]
}

func answer(w http.ResponseWriter, v any) {
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(v)
}

func (c *Chat) show(w http.ResponseWriter, r *http.Request, in *room) {
	_ = page.ExecuteTemplate(w, "room", map[string]any{"Name": r.PathValue("room"), "Open": !in.closed, "Messages": in.messages, "Largest": Largest})
}

// act is what the agent does on the page of a room.
func (c *Chat) act(w http.ResponseWriter, r *http.Request, in *room) {
	r.Body = http.MaxBytesReader(w, r.Body, 8*mostText)
	switch r.FormValue("files") {
	case "on", "off":
		in.closed = r.FormValue("files") == "off"
	default:
		if said := r.FormValue("said"); said != "" && len([]rune(said)) <= mostText {
			c.add(in, "Agent", said)
		}
	}
	http.Redirect(w, r, "/"+r.PathValue("room"), http.StatusSeeOther)
}

func (c *Chat) download(w http.ResponseWriter, r *http.Request, in *room) {
	m := in.message(r)
	k, err := strconv.Atoi(r.PathValue("file"))
	if m == nil || err != nil || k < 0 || k >= len(m.Files) {
		http.NotFound(w, r)
		return
	}
	w.Header().Set("Content-Type", m.Files[k].Type)
	_, _ = w.Write(m.Files[k].data)
}

var page = template.Must(template.New("").Parse(`
{{define "head"}}<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Chat, a stand-in</title>
<style>body{font:16px/1.5 sans-serif;margin:2rem auto;max-width:46rem;padding:0 1rem;color:#222}img{max-width:20rem;border:1px solid #999;display:block}.plain{background:#ffd;padding:.3rem .6rem;border:1px solid #cc9}.m{border-bottom:1px solid #ddd;padding:.4rem 0;white-space:pre-wrap}textarea{font:inherit;width:100%}</style>
<p class="plain">A stand-in for a support chat, for trying Raconte. It forgets everything when it stops.</p>{{end}}
{{define "rooms"}}{{template "head"}}<h1>Rooms</h1><ul>{{range .}}<li><a href="/{{.}}">{{.}}</a>{{end}}</ul>{{end}}
{{define "room"}}{{template "head"}}<p><a href="/">All rooms</a></p><h1>{{.Name}}</h1>
<form method="post"><p>{{if .Open}}Files of up to {{.Largest}} bytes are let in. <button name="files" value="off">Let none in</button>{{else}}No files are let in. <button name="files" value="on">Let files in</button>{{end}}</p></form>
{{$room := .Name}}{{range .Messages}}<div class="m" id="m{{.ID}}"><b>{{.By}}</b> {{.At.Format "15:04"}}
{{.Text}}{{$m := .ID}}{{range $k, $f := .Files}}<img src="/{{$room}}/{{$m}}/{{$k}}" alt="{{$f.Name}}">{{$f.Bytes}} bytes{{end}}</div>{{else}}<p>Nothing was said yet.</p>{{end}}
<form method="post"><p><label>Answer as the agent<br><textarea name="said" rows="2"></textarea></label></p><button>Say it</button></form>{{end}}`))

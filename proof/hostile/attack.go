// Package hostile makes things to send to Raconte that nobody should send, always the same for a seed, and sends them
// to a server while a well-behaved author works beside it. What is promised then is in docs/security.md.
package hostile

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"path"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"
)

// Result is how one request went.
type Result struct {
	Name string
	Code int // 0: no answer
	Took time.Duration
	Said string
}

// Person is someone who is signed in.
type Person struct {
	*http.Client
	address string
}

// SignIn signs someone in.
func SignIn(address, name, password string) (*Person, error) {
	jar, err := cookiejar.New(nil)
	if err != nil {
		return nil, err
	}
	p := &Person{&http.Client{Jar: jar, Timeout: 2 * time.Minute}, address}
	body, _ := json.Marshal(map[string]string{"name": name, "password": password}) // two strings
	if r := p.Send(context.Background(), "signing in", "POST", "/api/session", body, "application/json"); r.Code != http.StatusOK {
		return nil, fmt.Errorf("signing in as %s: %d %s", name, r.Code, r.Said)
	}
	return p, nil
}

// Send makes one request and reads its whole answer.
func (p *Person) Send(ctx context.Context, name, method, path string, body []byte, kind string) Result {
	r := Result{Name: name}
	began := time.Now()
	req, err := http.NewRequestWithContext(ctx, method, p.address+path, bytes.NewReader(body))
	if err != nil {
		r.Code, r.Said = http.StatusTeapot, err.Error() // an address that no client sends
		return r
	}
	if kind != "" {
		req.Header.Set("Content-Type", kind)
	}
	res, err := p.Do(req)
	if err != nil {
		r.Took, r.Said = time.Since(began), err.Error()
		return r
	}
	defer res.Body.Close()
	head, _ := io.ReadAll(io.LimitReader(res.Body, 400))
	_, err = io.Copy(io.Discard, res.Body)
	r.Code, r.Took, r.Said = res.StatusCode, time.Since(began), string(head)
	if err != nil {
		r.Code = 0
	}
	return r
}

// Get is the whole of an answer that is in order.
func (p *Person) Get(path string) ([]byte, error) {
	res, err := p.Client.Get(p.address + path)
	if err != nil {
		return nil, err
	}
	defer res.Body.Close()
	if res.StatusCode != http.StatusOK {
		return nil, fmt.Errorf("answered %d", res.StatusCode)
	}
	return io.ReadAll(res.Body)
}

// Attack sends the corpus of a seed, every so many'th thing of it, several at a time, and tells how each went. The
// attacker is an author; what it could put into a document, a reader then asks for in every form.
func Attack(ctx context.Context, author, reader *Person, seed uint64, every int, tell func(Result)) error {
	shot := uuid.NewString()
	if r := author.Send(ctx, "a shot", "PUT", "/api/shots/"+shot, bases()[0].Data, "application/octet-stream"); r.Code != http.StatusOK {
		return fmt.Errorf("bringing a shot in: %d %s", r.Code, r.Said)
	}
	made := author.Send(ctx, "a document", "POST", "/api/documents", []byte(`{"title":"Attacked"}`), "application/json")
	var d struct {
		ID string `json:"id"`
	}
	if err := json.Unmarshal([]byte(made.Said), &d); err != nil {
		return fmt.Errorf("making a document: %d %s", made.Code, made.Said)
	}
	insert := func(b []byte) []byte {
		return bytes.ReplaceAll(bytes.ReplaceAll(b, []byte("SHOT"), []byte(shot)), []byte("DOC"), []byte(d.ID))
	}
	var work []func()
	add := func(n int, do func() Result) {
		if n%every == 0 {
			work = append(work, func() { tell(do()) })
		}
	}
	for n, f := range Pictures(seed) {
		add(n, func() Result {
			id := uuid.NewString()
			r := author.Send(ctx, "picture "+f.Name, "PUT", "/api/shots/"+id, f.Data, "application/octet-stream")
			if r.Code == http.StatusOK { // and it is shown, several times at once
				for range 2 {
					tell(author.Send(ctx, "preview of picture "+f.Name, "GET", "/api/shots/"+id+"/preview", nil, ""))
				}
			}
			return r
		})
	}
	clips, kind := Recordings(seed)
	for n, f := range clips {
		add(n, func() Result {
			return author.Send(ctx, "recording "+f.Name, "PUT", "/api/shots/"+uuid.NewString()+"/clip", f.Data, kind)
		})
	}
	for n, u := range Uploads(seed) {
		add(n, func() Result {
			return author.Send(ctx, u.Name, "POST", strings.ReplaceAll(u.Path, "DOC", d.ID), u.Data, "application/octet-stream")
		})
	}
	stranger := &Person{&http.Client{Timeout: 2 * time.Minute}, author.address}
	open := ""
	for n, f := range append(Pictures(seed), Asks(seed)...) {
		if n%aDoorTakes == 0 { // from one address
			made = author.Send(ctx, "a door", "POST", "/api/doors", []byte(`{"name":"Attacked"}`), "application/json")
			var door struct{ Address string }
			if err := json.Unmarshal([]byte(made.Said), &door); err != nil {
				return fmt.Errorf("opening a door: %d %s", made.Code, made.Said)
			}
			open = "/api/door/" + path.Base(door.Address)
		}
		at := open
		add(n, func() Result {
			if json.Valid(f.Data) {
				return stranger.Send(ctx, f.Name, "POST", at, f.Data, "application/json")
			}
			return stranger.Send(ctx, "at the door, picture "+f.Name, "PUT", at+"/pictures/"+uuid.NewString(), f.Data, "application/octet-stream")
		})
	}
	for n, f := range Bundles(seed) {
		add(n, func() Result {
			r := author.Send(ctx, "bundle "+f.Name, "POST", "/api/bundles", f.Data, "application/zip")
			var in struct {
				ID string `json:"id"`
			}
			if r.Code == http.StatusCreated && json.Unmarshal([]byte(r.Said), &in) == nil {
				for _, path := range []string{"", "/pages?layout=two", "/pages?layout=running", "/figures/f1?width=900", "/deliveries"} {
					tell(author.Send(ctx, "bundle "+f.Name+" "+path, "GET", "/api/documents/"+in.ID+path, nil, ""))
				}
			}
			return r
		})
	}
	for n, f := range Changes(seed) {
		add(n, func() Result {
			return author.Send(ctx, "change "+f.Name, "POST", "/api/documents/"+d.ID+"/changes", insert(f.Data), "application/json")
		})
		if n%25 == 0 {
			add(n, func() Result {
				for _, path := range []string{"/pages?layout=two", "/pages?layout=running", ""} {
					tell(author.Send(ctx, "the attacked document "+path, "GET", "/api/documents/"+d.ID+path, nil, ""))
				}
				return author.Send(ctx, "a PDF of it", "POST", "/api/documents/"+d.ID+"/deliveries", []byte(`{"format":"pdf","layout":"running"}`), "application/json")
			})
		}
	}
	for n, v := range Values(seed) {
		who, role := author, "author"
		if n%5 == 4 {
			who, role = reader, "reader"
		}
		add(n, func() Result {
			kind := ""
			if v.Body != nil {
				kind = "application/json"
			}
			path := string(insert([]byte(v.Path)))
			return who.Send(ctx, fmt.Sprintf("value by a %s: %s %.120s", role, v.Method, path), v.Method, path, insert(v.Body), kind)
		})
	}
	return inTurns(ctx, work)
}

const (
	atOnce     = 4
	aDoorTakes = 12 // of one address at once, and less
)

func inTurns(ctx context.Context, work []func()) error {
	next := make(chan func())
	var group sync.WaitGroup
	for range atOnce {
		group.Go(func() {
			for do := range next {
				do()
			}
		})
	}
	defer group.Wait()
	defer close(next)
	for _, do := range work {
		select {
		case next <- do:
		case <-ctx.Done():
			return ctx.Err()
		}
	}
	return nil
}

// Work is a well-behaved author, who brings a picture in now and then until ctx is done; tell is told how long it took.
func Work(ctx context.Context, author *Person, tell func(Result)) {
	for n := 0; ctx.Err() == nil; n++ {
		r := author.Send(ctx, "the author beside it", "PUT", "/api/shots/"+uuid.NewString(), bases()[n%2].Data, "application/octet-stream")
		if ctx.Err() == nil {
			tell(r)
		}
		select {
		case <-ctx.Done():
		case <-time.After(400 * time.Millisecond):
		}
	}
}

// Broken tells whether an answer is one that must not be: none at all, or a failure of the server's own.
func (r Result) Broken() bool {
	return r.Code == 0 || r.Code >= 500 || strings.Contains(r.Said, "inside Raconte")
}

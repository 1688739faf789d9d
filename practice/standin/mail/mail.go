// Package mail stands in for a house's mail server: it takes mails by SMTP, keeps the last ones in memory, and shows
// them on a web page. Nothing leaves the machine.
package mail

import (
	"bytes"
	"crypto/tls"
	"errors"
	"fmt"
	"html/template"
	"io"
	"net"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/emersion/go-message"
	_ "github.com/emersion/go-message/charset" // of mails in other character sets
	gomail "github.com/emersion/go-message/mail"
	"github.com/emersion/go-sasl"
	"github.com/emersion/go-smtp"
)

// Who may send: the stand-in's only account.
const (
	User     = "raconte"
	Password = "standin"
)

const (
	mostMails = 500
	mostBytes = 20 << 20
)

// Received is a mail that came in.
type Received struct {
	ID       int
	At       time.Time
	From, To string
	Subject  string
	Text     string
	HTML     string
	Secured  bool              // the connection was encrypted
	Parts    map[string][]byte // what the HTML shows, by its Content-ID
	Raw      []byte
}

// Box keeps what came in. It is a backend of go-smtp, and an http.Handler that shows its mails.
type Box struct {
	mu    sync.Mutex
	mails []Received
	next  int
}

// Serve takes mails on a listener, offering STARTTLS with a certificate where there is one, until the listener closes.
func (b *Box) Serve(l net.Listener, certificate *tls.Certificate) error {
	s := smtp.NewServer(b)
	s.Domain = "localhost"
	s.MaxMessageBytes, s.MaxRecipients = mostBytes, 20
	s.ReadTimeout, s.WriteTimeout = 30*time.Second, 30*time.Second
	s.AllowInsecureAuth = certificate == nil
	if certificate != nil {
		s.TLSConfig = &tls.Config{Certificates: []tls.Certificate{*certificate}, MinVersion: tls.VersionTLS12}
	}
	return s.Serve(l)
}

// NewSession is a conversation.
func (b *Box) NewSession(c *smtp.Conn) (smtp.Session, error) { return &talk{box: b, conn: c}, nil }

// Mails are those that came in, the last first.
func (b *Box) Mails() []Received {
	b.mu.Lock()
	defer b.mu.Unlock()
	all := slices.Clone(b.mails)
	slices.Reverse(all)
	return all
}

// talk is one conversation.
type talk struct {
	box      *Box
	conn     *smtp.Conn
	known    bool
	from, to string
}

// AuthMechanisms are how one says who one is.
func (t *talk) AuthMechanisms() []string { return []string{sasl.Plain} }

// Auth takes the stand-in's account.
func (t *talk) Auth(string) (sasl.Server, error) {
	return sasl.NewPlainServer(func(_, user, password string) error {
		if user != User || password != Password {
			return errors.New("this is not the account of the stand-in")
		}
		t.known = true
		return nil
	}), nil
}

// Mail begins a mail.
func (t *talk) Mail(from string, _ *smtp.MailOptions) error {
	if !t.known {
		return smtp.ErrAuthRequired
	}
	t.from = from
	return nil
}

// Rcpt says to whom it goes. Addresses that begin with “nobody@” are there to be refused.
func (t *talk) Rcpt(to string, _ *smtp.RcptOptions) error {
	if strings.HasPrefix(to, "nobody@") {
		return &smtp.SMTPError{Code: 550, EnhancedCode: smtp.EnhancedCode{5, 1, 1}, Message: "There is no such mailbox here"}
	}
	t.to = to
	return nil
}

// Data takes the mail.
func (t *talk) Data(r io.Reader) error {
	raw, err := io.ReadAll(io.LimitReader(r, mostBytes))
	if err != nil {
		return err
	}
	_, secured := t.conn.TLSConnectionState()
	m := read(raw)
	m.From, m.To, m.Secured, m.At = t.from, t.to, secured, time.Now()
	b := t.box
	b.mu.Lock()
	defer b.mu.Unlock()
	b.next++
	m.ID = b.next
	if b.mails = append(b.mails, m); len(b.mails) > mostMails {
		b.mails = b.mails[1:]
	}
	return nil
}

// Reset forgets a mail that was begun.
func (t *talk) Reset() { t.from, t.to = "", "" }

// Logout ends the conversation.
func (t *talk) Logout() error { return nil }

// read takes a mail apart. What can't be read is shown as it came.
func read(raw []byte) Received {
	m := Received{Raw: raw, Parts: map[string][]byte{}}
	r, err := gomail.CreateReader(bytes.NewReader(raw))
	if err != nil && !message.IsUnknownCharset(err) {
		m.Text = string(raw)
		return m
	}
	m.Subject, _ = r.Header.Subject()
	for {
		p, err := r.NextPart()
		if err != nil {
			return m
		}
		body, err := io.ReadAll(p.Body)
		if err != nil {
			return m
		}
		kind := strings.TrimSpace(strings.Split(p.Header.Get("Content-Type"), ";")[0])
		switch id := strings.Trim(p.Header.Get("Content-Id"), "<>"); {
		case id != "":
			m.Parts[id] = body
		case kind == "text/html":
			m.HTML = string(body)
		case kind == "text/plain":
			m.Text = string(body)
		}
	}
}

// ServeHTTP shows the mails: /, /mail?id=3, /html?id=3, /part?id=3&cid=picture, /raw?id=3, and as JSON-free text
// nothing else.
func (b *Box) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("X-Content-Type-Options", "nosniff")
	// What a mail says runs nothing and fetches nothing.
	w.Header().Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; img-src 'self'; frame-src 'self'")
	if r.URL.Path == "/" {
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		_ = page.ExecuteTemplate(w, "list", b.Mails()) // who has gone is not told
		return
	}
	id, _ := strconv.Atoi(r.URL.Query().Get("id"))
	i := slices.IndexFunc(b.Mails(), func(m Received) bool { return m.ID == id })
	if i < 0 {
		http.NotFound(w, r)
		return
	}
	m := b.Mails()[i]
	switch r.URL.Path {
	case "/mail":
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		_ = page.ExecuteTemplate(w, "mail", m)
	case "/html":
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		html := m.HTML
		for cid := range m.Parts {
			html = strings.ReplaceAll(html, "cid:"+cid, fmt.Sprintf("/part?id=%d&amp;cid=%s", id, cid))
		}
		_, _ = io.WriteString(w, html)
	case "/part":
		w.Header().Set("Content-Type", "image/png")
		_, _ = w.Write(m.Parts[r.URL.Query().Get("cid")])
	case "/raw":
		w.Header().Set("Content-Type", "text/plain; charset=utf-8")
		_, _ = w.Write(m.Raw)
	default:
		http.NotFound(w, r)
	}
}

var page = template.Must(template.New("").Parse(`
{{define "head"}}<!doctype html><html lang="en"><meta charset="utf-8"><title>Mail stand-in</title><meta name="viewport" content="width=device-width">
<style>body{font:16px/1.5 sans-serif;margin:2rem auto;max-width:60rem;padding:0 1rem;color:#16272d}table{border-collapse:collapse;width:100%}
td,th{border-bottom:1px solid #d0d8da;padding:.4rem .6rem;text-align:left}iframe{width:100%;height:32rem;border:1px solid #d0d8da}pre{white-space:pre-wrap;background:#f3f7f8;padding:1rem}a{color:#0b5f66}</style>
<p>This stands in for a mail server. What is sent here stays on this machine, in memory.</p>{{end}}
{{define "list"}}{{template "head"}}<h1>Mails</h1>{{if .}}<table><tr><th>To<th>Subject<th>At</tr>{{range .}}<tr><td>{{.To}}<td><a href="/mail?id={{.ID}}">{{.Subject}}</a><td>{{.At.Format "15:04:05"}}</tr>{{end}}</table>{{else}}<p>Nothing was sent yet.</p>{{end}}{{end}}
{{define "mail"}}{{template "head"}}<p><a href="/">All mails</a></p><h1>{{.Subject}}</h1><p>From {{.From}} to {{.To}}, {{if .Secured}}encrypted{{else}}in the open{{end}}. <a href="/raw?id={{.ID}}">As it came</a></p>
{{if .HTML}}<h2>As a page</h2><iframe title="The mail as a page" sandbox src="/html?id={{.ID}}"></iframe>{{end}}<h2>As plain text</h2><pre>{{.Text}}</pre>{{end}}
`))

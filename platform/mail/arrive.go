package mail

import (
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"net"
	"strings"
	"time"

	"github.com/emersion/go-message"
	_ "github.com/emersion/go-message/charset" // of mails in other character sets
	gomail "github.com/emersion/go-message/mail"
	"github.com/emersion/go-smtp"
)

// Arrived is a mail that came in, as far as it is of use.
type Arrived struct {
	ID       string // its Message-ID
	From     string // an address
	Name     string // of who wrote it; "" where it says none
	Subject  string
	Text     string
	Pictures [][]byte // of what says that it is one: whether it is, is for others to see
}

// What is read of a mail.
const (
	MostBytes    = 25 << 20
	mostPictures = 5
	mostPicture  = 10 << 20
	mostText     = 64 << 10
	mostParts    = 100
	mostNested   = 60
)

// ErrUnwanted says that a mail is not for a person: it was written by a program, or tells of one that was not
// delivered.
var ErrUnwanted = errors.New("it was written by a program")

// Listen takes mails by SMTP until the listener closes. An error of take refuses the mail for now, so that whoever
// brings it tries again; ErrUnwanted refuses it for good.
func Listen(l net.Listener, take func(Arrived) error) error {
	s := smtp.NewServer(backend(take))
	s.Domain = "localhost"
	s.MaxMessageBytes, s.MaxRecipients = MostBytes, 20
	s.ReadTimeout, s.WriteTimeout = time.Minute, 30*time.Second
	if err := s.Serve(l); err != nil && !errors.Is(err, smtp.ErrServerClosed) {
		return fmt.Errorf("taking mails: %w", err)
	}
	return nil
}

type backend func(Arrived) error

// NewSession is a conversation.
func (b backend) NewSession(*smtp.Conn) (smtp.Session, error) { return &bringing{take: b}, nil }

type bringing struct {
	take backend
	from string
}

// Mail begins a mail. One without a sender tells of a mail that was not delivered (RFC 5321, 4.5.5).
func (b *bringing) Mail(from string, _ *smtp.MailOptions) error {
	if from == "" {
		return refusedFor(ErrUnwanted)
	}
	b.from = from
	return nil
}

// Rcpt takes whatever address the house's mail server leads here.
func (b *bringing) Rcpt(string, *smtp.RcptOptions) error { return nil }

// Data takes the mail.
func (b *bringing) Data(r io.Reader) error {
	raw, err := io.ReadAll(r)
	if err != nil {
		return fmt.Errorf("reading a mail: %w", err)
	}
	m, err := Read(raw)
	if err == nil {
		if m.From == "" {
			m.From = b.from
		}
		err = b.take(m)
	}
	if errors.Is(err, ErrUnwanted) {
		return refusedFor(err)
	}
	if err != nil {
		return &smtp.SMTPError{Code: 451, EnhancedCode: smtp.EnhancedCode{4, 3, 0}, Message: "It can't be kept now"}
	}
	return nil
}

func refusedFor(err error) error {
	return &smtp.SMTPError{Code: 554, EnhancedCode: smtp.EnhancedCode{5, 7, 1}, Message: "Not taken: " + err.Error()}
}

// Reset forgets a mail that was begun.
func (b *bringing) Reset() { b.from = "" }

// Logout ends the conversation.
func (b *bringing) Logout() error { return nil }

// Read takes a mail apart (RFC 5322, RFC 2045). What can't be read of it is left out.
func Read(raw []byte) (Arrived, error) {
	// Each part within a part is read through all around it.
	if n := bytes.Count(bytes.ToLower(raw), []byte("boundary=")); n > mostNested {
		return Arrived{}, fmt.Errorf("%w: it has %d parts within each other", ErrUnwanted, n)
	}
	r, err := gomail.CreateReader(bytes.NewReader(raw))
	if err != nil && !message.IsUnknownCharset(err) {
		return Arrived{}, fmt.Errorf("%w, or it is no mail: %w", ErrUnwanted, err)
	}
	var m Arrived
	h := r.Header
	if auto := h.Get("Auto-Submitted"); auto != "" && !strings.EqualFold(auto, "no") {
		return m, ErrUnwanted
	}
	if p := strings.ToLower(h.Get("Precedence")); p == "bulk" || p == "list" || p == "junk" {
		return m, ErrUnwanted
	}
	m.Subject, _ = h.Subject()
	if all, err := h.AddressList("From"); err == nil && len(all) > 0 {
		m.From, m.Name = all[0].Address, all[0].Name
	}
	html := ""
	for range mostParts {
		p, err := r.NextPart()
		if err != nil {
			break
		}
		kind := strings.ToLower(strings.TrimSpace(strings.Split(p.Header.Get("Content-Type"), ";")[0]))
		switch {
		case strings.HasPrefix(kind, "image/") && len(m.Pictures) < mostPictures:
			if data, err := io.ReadAll(io.LimitReader(p.Body, mostPicture+1)); err == nil && len(data) <= mostPicture {
				m.Pictures = append(m.Pictures, data)
			}
		case (kind == "text/plain" || kind == "") && m.Text == "":
			m.Text = text(p.Body)
		case kind == "text/html" && html == "":
			html = text(p.Body)
		}
	}
	if strings.TrimSpace(m.Text) == "" {
		m.Text = plain(html)
	}
	m.Text = fresh(m.Text)
	id, _ := h.MessageID()
	m.ID = m.is(id, h.Get("Date"))
	return m, nil
}

// is by what a mail is known when it comes again: its Message-ID alone may be missing, or that of another.
func (m Arrived) is(messageID, date string) string {
	sum := sha256.New()
	for _, part := range append([][]byte{[]byte(messageID), []byte(date), []byte(m.From), []byte(m.Subject), []byte(m.Text)}, m.Pictures...) {
		fmt.Fprintf(sum, "%d ", len(part))
		sum.Write(part)
	}
	return hex.EncodeToString(sum.Sum(nil))
}

func text(r io.Reader) string {
	data, err := io.ReadAll(io.LimitReader(r, mostText))
	if err != nil && len(data) == 0 {
		return ""
	}
	return strings.ToValidUTF8(string(data), "")
}

// fresh is what was written anew in a mail: without the mail that it answers, and without a signature.
func fresh(s string) string {
	var kept []string
	for line := range strings.Lines(s) {
		line = strings.TrimRight(line, "\r\n")
		if line == "-- " || strings.HasPrefix(line, "-----Original Message") {
			break
		}
		if !strings.HasPrefix(line, ">") {
			kept = append(kept, line)
		}
	}
	return strings.TrimSpace(strings.Join(kept, "\n"))
}

// Package receiver knows where reports and requests go: how a receiver is reached, what it takes, and how what is sent
// is made to fit.
package receiver

import (
	"errors"
	"fmt"
	"net/url"
	"slices"
	"strings"
	"unicode/utf8"
)

// Way is how a receiver is reached.
type Way string

// The ways, by open means alone.
const (
	HTTP   Way = "http"   // a tracker or a chat
	Mail   Way = "mail"   // by the house's mail server
	WebDAV Way = "webdav" // a folder on the network (RFC 4918)
	Folder Way = "folder" // a place of the house
)

// Form is how the text of what is sent is written.
type Form string

// The forms of text.
const (
	Markdown Form = "markdown"
	HTML     Form = "html"
	Plain    Form = "plain"
)

// Takes is what a receiver takes. A limit of 0 is none.
type Takes struct {
	Text        Form     `json:"text"`
	LongestText int      `json:"longestText"` // characters
	Pictures    []string `json:"pictures"`    // media types, of clips too, the preferred first; none where it takes no files
	PDF         bool     `json:"pdf"`         // all of it as pages beside the text
	LargestFile int64    `json:"largestFile"` // bytes
	LargestSum  int64    `json:"largestSum"`  // bytes of all files
	MostFiles   int      `json:"mostFiles"`
	// Around is what stands around the text, with {text} where it goes, and {title}, {sender} and {link}; "" is the text
	// alone.
	Around string `json:"around,omitempty"`
	Style  string `json:"style,omitempty"` // the house style of the pages, by its id; "" is the document's own
}

// Call is a request to a receiver. Address and Body may hold placeholders: {title}, {text}, {id}, {number}, {sender}
// and {link}; see Filled.
type Call struct {
	Method  string `json:"method,omitempty"`
	Address string `json:"address,omitempty"`
	Type    string `json:"type,omitempty"` // of the body
	Body    string `json:"body,omitempty"`
}

// Header is a header of every request; where Secret is set, its value is kept sealed, and never shown again.
type Header struct {
	Name   string `json:"name"`
	Value  string `json:"value"`
	Secret bool   `json:"secret,omitempty"`
}

// Reached says how a receiver is reached.
type Reached struct {
	// Over HTTP: making a thing, changing one that is there (by {number}), sending a file to it, and asking what it takes
	// now.
	Make   Call     `json:"make,omitzero"`
	Change Call     `json:"change,omitzero"`
	File   Call     `json:"file,omitzero"` // Type is the field's name of multipart/form-data (RFC 7578)
	Ask    Call     `json:"ask,omitzero"`
	Header []Header `json:"header,omitempty"`
	// Where, in a JSON answer, stand the number and the address of what was made, and whether files are taken now: names
	// with points between them.
	Number string `json:"number,omitempty"`
	Link   string `json:"link,omitempty"`
	Files  string `json:"files,omitempty"`

	To       string `json:"to,omitempty"`       // of mail
	Address  string `json:"address,omitempty"`  // of a WebDAV folder
	Name     string `json:"name,omitempty"`     // that WebDAV asks for
	Password string `json:"password,omitempty"` // sealed
	Place    string `json:"place,omitempty"`    // of the house
	// Told is the key by which the receiver signs what it tells of, sealed; "" where it tells nothing.
	Told string `json:"told,omitempty"`
}

// Receiver is where reports and requests go.
type Receiver struct {
	ID      string  `json:"id"`
	Name    string  `json:"name"`
	Way     Way     `json:"way"`
	Takes   Takes   `json:"takes"`
	Reached Reached `json:"reached"`
}

const (
	longestName    = 100
	longestAddress = 2000
	longestBody    = 20_000
	mostHeaders    = 20
)

// Check tells what is wrong with a receiver that someone has set up; nil where nothing is.
func (r Receiver) Check() error {
	switch n := utf8.RuneCountInString(strings.TrimSpace(r.Name)); {
	case n == 0 || n > longestName || oneLine(r.Name) != nil:
		return errors.New("a receiver has a name, of at most 100 characters")
	case !slices.Contains([]Form{Markdown, HTML, Plain}, r.Takes.Text):
		return errors.New("the text is Markdown, HTML or plain")
	case r.Takes.LongestText < 0 || r.Takes.LargestFile < 0 || r.Takes.LargestSum < 0 || r.Takes.MostFiles < 0:
		return errors.New("a limit is a number, or 0 for none")
	}
	if len(r.Takes.Around) > longestBody || r.Takes.Around != "" && !strings.Contains(r.Takes.Around, "{text}") {
		return errors.New("what stands around the text says {text} where that goes")
	}
	if len(r.Takes.Style) > longestName {
		return errors.New("there is no such house style")
	}
	for _, p := range r.Takes.Pictures {
		if !slices.Contains(Pictures, p) {
			return fmt.Errorf("%.40q is no picture that can be sent", p)
		}
	}
	switch r.Way {
	case HTTP:
		return r.Reached.checkHTTP(len(r.Takes.Pictures) > 0 || r.Takes.PDF)
	case Mail:
		if !strings.Contains(r.Reached.To, "@") || oneLine(r.Reached.To) != nil || len(r.Reached.To) > 254 {
			return errors.New("the mail has no address to go to")
		}
	case WebDAV:
		return webAddress(r.Reached.Address)
	case Folder:
		if r.Reached.Place == "" {
			return errors.New("the place of the house is missing")
		}
	default:
		return fmt.Errorf("there is no way %.20q to reach a receiver", r.Way)
	}
	return nil
}

// Pictures are the media types in which pictures and clips can be sent.
var Pictures = []string{"image/png", "image/jpeg", "image/webp", "image/gif", "video/mp4"}

func (r Reached) checkHTTP(files bool) error {
	if r.Make.Address == "" || files && r.File.Address == "" {
		return errors.New("the address is missing to which it is sent, or the one for files")
	}
	for _, c := range []Call{r.Make, r.Change, r.File, r.Ask} {
		if c.Address == "" {
			continue
		}
		if err := webAddress(c.Address); err != nil {
			return err
		}
		if c.Method != "" && !slices.Contains([]string{"GET", "POST", "PUT", "PATCH"}, c.Method) {
			return errors.New("the method is GET, POST, PUT or PATCH")
		}
		if len(c.Body) > longestBody || oneLine(c.Type) != nil || len(c.Type) > longestName {
			return errors.New("a body or its type is too long")
		}
	}
	if len(r.Header) > mostHeaders {
		return fmt.Errorf("there are more than %d headers", mostHeaders)
	}
	for _, h := range r.Header {
		if !token(h.Name) || oneLine(h.Value) != nil || len(h.Value) > longestAddress {
			return fmt.Errorf("the header %.40q is no header", h.Name)
		}
		if slices.Contains([]string{"host", "content-length", "transfer-encoding", "connection", "content-type"}, strings.ToLower(h.Name)) {
			return fmt.Errorf("the header %s is set by itself", h.Name)
		}
	}
	return nil
}

// webAddress tells what is wrong with an address; its host may hold no placeholder, so that nothing else is ever
// reached.
func webAddress(s string) error {
	u, err := url.Parse(strings.NewReplacer("{", "", "}", "").Replace(s))
	if err != nil || u.Scheme != "http" && u.Scheme != "https" || u.Host == "" || u.User != nil || len(s) > longestAddress || oneLine(s) != nil {
		return errors.New("an address begins with http:// or https:// and names a host, without a name or password in it")
	}
	scheme, rest, _ := strings.Cut(s, "://")
	host := rest
	if end := strings.IndexAny(rest, "/?#"); end >= 0 {
		host = rest[:end]
	}
	if strings.ContainsAny(scheme+host, "{}\\") {
		return errors.New("placeholders stand behind the host of an address")
	}
	return nil
}

// Hosts are those that a receiver is reached at, over HTTP and WebDAV.
func (r Receiver) Hosts() []string {
	var hosts []string
	for _, address := range []string{r.Reached.Make.Address, r.Reached.Change.Address, r.Reached.File.Address, r.Reached.Ask.Address, r.Reached.Address} {
		if u, err := url.Parse(strings.NewReplacer("{", "", "}", "").Replace(address)); err == nil && u.Host != "" {
			hosts = append(hosts, u.Scheme+"://"+u.Host)
		}
	}
	slices.Sort(hosts)
	return slices.Compact(hosts)
}

// token tells whether s is the name of a header (RFC 9110, 5.6.2).
func token(s string) bool {
	for _, r := range s {
		if r > 126 || r < 33 || strings.ContainsRune(`()<>@,;:\"/[]?={}`, r) {
			return false
		}
	}
	return s != "" && len(s) <= longestName
}

func oneLine(s string) error {
	if strings.ContainsAny(s, "\r\n\x00") || !utf8.ValidString(s) {
		return errors.New("it is not one line")
	}
	return nil
}

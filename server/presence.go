package server

import (
	"cmp"
	"net/http"
	"slices"
	"sync"
	"time"

	"raconte/api"
	"raconte/core/access"
	"raconte/core/id"
	"raconte/store"

	"github.com/gin-gonic/gin"
)

// Who has which document open, in memory: each of their pages says so again and again, and is forgotten when it does
// not. Servers that share a database do not know of each other's.
type presence struct {
	mu   sync.Mutex
	open map[string]map[string]here // by document, and by page
}

// here is where someone is in a document.
type here struct {
	account, name string
	at            string // the block that they look at
	writing       bool   // it
	seen          time.Time
}

const (
	awayAfter = 25 * time.Second // pages say that they are there every ten
	mostHere  = 500              // pages of one document
	mostOfOne = 20               // of one person
)

func newPresence() *presence { return &presence{open: map[string]map[string]here{}} }

// put says where a page is; it tells who are in the document, whether that is news to the others, and the page that was
// taken over from, "" for none. Someone else's writing of the same block goes on, unless it is taken over.
func (p *presence) put(document, page string, h here, take bool, now time.Time) (all []api.Present, news bool, taken string) {
	p.mu.Lock()
	defer p.mu.Unlock()
	pages := p.open[document]
	if pages == nil {
		pages = map[string]here{}
		p.open[document] = pages
	}
	for other, o := range pages {
		switch {
		case now.Sub(o.seen) > awayAfter:
			delete(pages, other)
			news = true
		case h.writing && other != page && o.writing && o.at == h.at:
			if !take {
				h.writing = false
				continue
			}
			o.writing, taken, news = false, other, true
			pages[other] = o
		}
	}
	was, there := pages[page]
	if there && was.account != h.account {
		return p.list(document), news, taken
	}
	if !there { // one person's many pages hide nobody: the one that was not heard of for longest makes room
		oldest, own := "", 0
		for other, o := range pages {
			if o.account == h.account {
				if own++; oldest == "" || o.seen.Before(pages[oldest].seen) {
					oldest = other
				}
			}
		}
		if own >= mostOfOne {
			delete(pages, oldest)
		} else if len(pages) >= mostHere {
			return p.list(document), news, taken
		}
	}
	h.seen = now
	pages[page] = h
	news = news || !there || was.at != h.at || was.writing != h.writing
	return p.list(document), news, taken
}

// leave says that a page is gone.
func (p *presence) leave(document, page, account string) []api.Present {
	p.mu.Lock()
	defer p.mu.Unlock()
	if p.open[document][page].account != account {
		return p.list(document) // nobody sends another away
	}
	delete(p.open[document], page)
	if len(p.open[document]) == 0 {
		delete(p.open, document)
	}
	return p.list(document)
}

func (p *presence) list(document string) []api.Present {
	all := []api.Present{}
	for page, h := range p.open[document] {
		all = append(all, api.Present{Page: page, Account: h.account, Name: h.name, At: h.at, Writing: h.writing})
	}
	slices.SortFunc(all, func(a, b api.Present) int { return cmp.Or(cmp.Compare(a.Name, b.Name), cmp.Compare(a.Page, b.Page)) })
	return all
}

// PutPresence says where one of the caller's pages is in a document, and answers with who else is there.
func (s *Server) PutPresence(c *gin.Context, document string, in api.PutPresenceJSONRequestBody) error {
	if !id.Valid(in.Page) {
		return problem(http.StatusBadRequest, "Say where you are.")
	}
	d, err := s.Store.Documents.Head(c.Request.Context(), document)
	if err != nil {
		return err
	}
	me := accountOf(c)
	if of(in.Gone) {
		s.present(d, s.presence.leave(document, in.Page, me.ID), "")
		return answer(c, http.StatusOK, []api.Present{})
	}
	h := here{account: me.ID, name: me.DisplayName, at: of(in.At), writing: of(in.Writing)}
	writes := may(c, access.Edit, access.Thing{Folder: of(d.FolderID)}) // who only reviews takes nothing over
	h.writing = h.writing && writes
	all, news, taken := s.presence.put(document, in.Page, h, of(in.Take) && writes, time.Now())
	if news {
		s.present(d, all, taken)
	}
	return answer(c, http.StatusOK, all)
}

type presentEvent struct {
	Document string        `json:"document"`
	Present  []api.Present `json:"present"`
	Taken    string        `json:"taken,omitempty"` // the page that has to stop writing
}

// present tells those who are in a document, or may come to it, who is there: in a closed folder that is its members'
// alone.
func (s *Server) present(d store.Document, all []api.Present, taken string) {
	s.tellReviewers("presence", d.ID, presentEvent{d.ID, all, taken})
}

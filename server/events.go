package server

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"sync"
	"time"

	"raconte/core/access"
	"raconte/store"
	"raconte/works"

	"github.com/gin-gonic/gin"
)

// event is something that happened, told to the browsers that may know of it.
type event struct {
	kind string // "document", "delivery" or "shot"
	data any
	to   audience
}

// audience tells whether an account may know of an event.
type audience func(store.Account) bool

func toOwner(id string) audience { return func(a store.Account) bool { return a.ID == id } }

// tellReviewers tells of a document those who may see its draft.
func (s *Server) tellReviewers(kind, document string, data any) {
	s.tellOf(kind, document, data, func(v access.Viewer, in access.Thing) bool { return access.May(v, access.Review, in) })
}

// tellReaders tells of a document those who may follow it and see no drafts.
func (s *Server) tellReaders(kind, document string, data any) {
	s.tellOf(kind, document, data, func(v access.Viewer, in access.Thing) bool {
		return access.May(v, access.Read, in) && !access.May(v, access.Review, in)
	})
}

// tellOf tells of a document whom it may be told to: where it lies is asked each time, and where that is not known
// nobody is.
func (s *Server) tellOf(kind, document string, data any, may func(access.Viewer, access.Thing) bool) {
	ctx, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	folder, err := s.Store.Documents.FolderOf(ctx, document)
	if err != nil {
		if !errors.Is(err, store.ErrNotFound) {
			s.Log.Warn("telling of a document", "document", document, "error", err)
		}
		return
	}
	s.events.send(event{kind: kind, data: data, to: func(a store.Account) bool { return may(a.Viewer(), access.Thing{Folder: folder}) }})
}

type documentEvent struct {
	Document string `json:"document"`
	Seq      int64  `json:"seq"`
	Change   string `json:"change,omitempty"` // by which a browser knows its own change
}

// broker hands events to all who listen.
type broker struct {
	mu        sync.Mutex
	listeners map[chan event]string // to the account that listens
}

// mostStreams bounds the streams of one account: a browser has one for each of its tabs.
const mostStreams = 40

func newBroker() *broker { return &broker{listeners: map[chan event]string{}} }

// listen is a new stream of an account's; false where it has too many already.
func (b *broker) listen(account string) (ch chan event, stop func(), ok bool) {
	b.mu.Lock()
	defer b.mu.Unlock()
	n := 0
	for _, of := range b.listeners {
		if of == account {
			n++
		}
	}
	if n >= mostStreams {
		return nil, nil, false
	}
	ch = make(chan event, 64)
	b.listeners[ch] = account
	return ch, func() {
		b.mu.Lock()
		delete(b.listeners, ch)
		b.mu.Unlock()
	}, true
}

// send never waits: a listener that does not keep up loses its stream, reconnects and reads anew.
func (b *broker) send(e event) {
	b.mu.Lock()
	defer b.mu.Unlock()
	for ch := range b.listeners {
		select {
		case ch <- e:
		default:
			b.drop(ch)
		}
	}
}

// endAll closes all streams, as when folders are closed: those that may still listen connect again.
func (b *broker) endAll() {
	b.mu.Lock()
	defer b.mu.Unlock()
	for ch := range b.listeners {
		b.drop(ch)
	}
}

// end closes all streams of an account, as when it signs out; those that may still listen connect again.
func (b *broker) end(account string) {
	b.mu.Lock()
	defer b.mu.Unlock()
	for ch, of := range b.listeners {
		if of == account {
			b.drop(ch)
		}
	}
}

func (b *broker) drop(ch chan event) {
	delete(b.listeners, ch)
	close(ch)
}

func (s *Server) jobChanged(j store.Job) {
	if _, is := works.OrderOf(j); is {
		s.events.send(event{kind: "delivery", data: deliveryFor(j.Owner)(j), to: toOwner(j.Owner)})
		return
	}
	if j.DocumentID != nil {
		s.tellReviewers("sending", *j.DocumentID, documentEvent{Document: *j.DocumentID})
	}
}

// stillSignedIn tells whether the session that a stream began with still is that of the same account in the
// same role. The request's own context holds the session as it was then, so it is asked in a new one.
func (s *Server) stillSignedIn(r *http.Request, account store.Account) bool {
	ctx, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	_, a, err := s.whoAsks(r.Clone(ctx))
	return err == nil && a.ID == account.ID && a.Role == account.Role && a.Epoch == account.Epoch
}

// heartbeat keeps proxies from closing a quiet stream and notices browsers that have gone.
const heartbeat = 20 * time.Second

// GetEvents streams events until the browser goes, signs out or the server stops.
func (s *Server) GetEvents(c *gin.Context) error {
	account := accountOf(c)
	ch, stop, ok := s.events.listen(account.ID)
	if !ok {
		return problem(http.StatusTooManyRequests, "Raconte is open in too many tabs. Close some of them.")
	}
	defer stop()
	if w, ok := c.Writer.(*pacedWriter); ok {
		w.live = true // each write has a deadline: one who does not read loses the stream
	}
	c.Header("Content-Type", "text/event-stream")
	c.Header("X-Accel-Buffering", "no")
	fmt.Fprint(c.Writer, "retry: 1000\nevent: open\ndata: {}\n\n")
	c.Writer.Flush()
	tick := time.NewTicker(heartbeat)
	defer tick.Stop()
	for {
		select {
		case <-c.Request.Context().Done():
			return nil
		case <-s.closing:
			return nil
		case <-tick.C:
			if !s.stillSignedIn(c.Request, account) {
				return nil
			}
			if _, err := fmt.Fprint(c.Writer, ": still here\n\n"); err != nil {
				return nil
			}
		case e, ok := <-ch:
			if !ok {
				return nil
			}
			if !e.to(account) {
				continue
			}
			data, err := json.Marshal(e.data)
			if err != nil {
				s.Log.Error("writing an event", "error", err)
				continue
			}
			if _, err := fmt.Fprintf(c.Writer, "event: %s\ndata: %s\n\n", e.kind, data); err != nil {
				return nil
			}
		}
		c.Writer.Flush()
	}
}

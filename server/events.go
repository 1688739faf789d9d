package server

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"sync"
	"time"

	"raconte/store"

	"github.com/gin-gonic/gin"
)

// event is something that happened, told to the browsers that may know of it.
type event struct {
	kind     string // "document", "delivery" or "shot"
	data     any
	owner    string // of a delivery or shot: nobody else is told
	revision int    // of a document: readers are told of those with a ready revision
}

type documentEvent struct {
	Document string `json:"document"`
	Seq      int64  `json:"seq"`
	Change   string `json:"change,omitempty"` // by which a browser knows its own change
}

// broker hands events to all who listen.
type broker struct {
	mu        sync.Mutex
	listeners map[chan event]bool
}

func newBroker() *broker { return &broker{listeners: map[chan event]bool{}} }

func (b *broker) listen() (chan event, func()) {
	ch := make(chan event, 64)
	b.mu.Lock()
	b.listeners[ch] = true
	b.mu.Unlock()
	return ch, func() {
		b.mu.Lock()
		delete(b.listeners, ch)
		b.mu.Unlock()
	}
}

// send never waits: a listener that does not keep up loses its stream, reconnects and reads anew.
func (b *broker) send(e event) {
	b.mu.Lock()
	defer b.mu.Unlock()
	for ch := range b.listeners {
		select {
		case ch <- e:
		default:
			delete(b.listeners, ch)
			close(ch)
		}
	}
}

func (s *Server) jobChanged(j store.Job) {
	if j.Kind == "pdf" {
		s.events.send(event{kind: "delivery", data: delivery(j), owner: j.Owner})
	}
}

// stillSignedIn tells whether the session that a stream began with still is that of the same account in the
// same role. The request's own context holds the session as it was then, so it is asked in a new one.
func (s *Server) stillSignedIn(r *http.Request, account store.Account) bool {
	ctx, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	_, a, err := s.whoAsks(r.Clone(ctx))
	return err == nil && a.ID == account.ID && a.Role == account.Role
}

// heartbeat keeps proxies from closing a quiet stream and notices browsers that have gone.
const heartbeat = 20 * time.Second

// GetEvents streams events until the browser goes, signs out or the server stops.
func (s *Server) GetEvents(c *gin.Context) {
	ch, stop := s.events.listen()
	defer stop()
	control := http.NewResponseController(c.Writer)
	_ = control.SetWriteDeadline(time.Time{})
	_ = control.SetReadDeadline(time.Time{})
	c.Header("Content-Type", "text/event-stream")
	c.Header("X-Accel-Buffering", "no")
	fmt.Fprint(c.Writer, "retry: 1000\nevent: open\ndata: {}\n\n")
	c.Writer.Flush()
	account := accountOf(c)
	tick := time.NewTicker(heartbeat)
	defer tick.Stop()
	for {
		select {
		case <-c.Request.Context().Done():
			return
		case <-s.closing:
			return
		case <-tick.C:
			if !s.stillSignedIn(c.Request, account) {
				return
			}
			fmt.Fprint(c.Writer, ": still here\n\n")
		case e, ok := <-ch:
			if !ok {
				return
			}
			if (e.owner != "" && e.owner != account.ID) || (e.kind == "document" && e.revision == 0 && !mayEdit(c)) {
				continue
			}
			data, err := json.Marshal(e.data)
			if err != nil {
				s.Log.Error("writing an event", "error", err)
				continue
			}
			fmt.Fprintf(c.Writer, "event: %s\ndata: %s\n\n", e.kind, data)
		}
		c.Writer.Flush()
	}
}

package server

import (
	"io"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"
)

// How slow one who sends or reads may be. A large bundle on a slow line takes an hour and is fine; one who sends a byte
// now and then, or does not read at all, holds a connection for nothing.
const (
	stall     = 20 * time.Second // without any byte
	leastRate = 2 << 10          // bytes a second, on the whole
	patience  = 30 * time.Second // before the rate counts
)

// paced gives every read of the body and every write of the answer a deadline of its own.
func paced(c *gin.Context) {
	control := http.NewResponseController(c.Writer)
	began := time.Now()
	if c.Request.Body != nil && c.Request.Body != http.NoBody {
		c.Request.Body = &pacedBody{ReadCloser: c.Request.Body, control: control, began: began}
	}
	c.Writer = &pacedWriter{ResponseWriter: c.Writer, control: control}
	c.Next()
}

// due is when the next byte has to have come, of one who has moved some bytes since a time.
func due(began time.Time, moved int64) time.Time {
	by := time.Now().Add(stall)
	if slowest := began.Add(patience + time.Duration(moved/leastRate+1)*time.Second); slowest.Before(by) {
		return slowest
	}
	return by
}

type pacedBody struct {
	io.ReadCloser
	control *http.ResponseController
	began   time.Time
	read    int64
}

func (b *pacedBody) Read(p []byte) (int, error) {
	_ = b.control.SetReadDeadline(due(b.began, b.read)) // where it can't be set, as in tests without a network, none is needed
	n, err := b.ReadCloser.Read(p)
	b.read += int64(n)
	if err != nil {
		// The server watches the connection for the asker's going from now on, for as long as the work takes.
		_ = b.control.SetReadDeadline(time.Time{})
	}
	return n, err
}

type pacedWriter struct {
	gin.ResponseWriter
	control *http.ResponseController
	began   time.Time
	written int64
	live    bool // a stream of events, which is quiet for hours
}

// atATime is how much is written before the deadline is set anew: less than the system takes in at once on a slow line.
const atATime = 64 << 10

func (w *pacedWriter) Write(p []byte) (int, error) {
	all := 0
	if w.began.IsZero() {
		w.began = time.Now()
	}
	for {
		part := p[all:min(len(p), all+atATime)]
		by := due(w.began, w.written)
		if w.live {
			by = time.Now().Add(stall / 2)
		}
		_ = w.control.SetWriteDeadline(by)
		n, err := w.ResponseWriter.Write(part)
		all += n
		w.written += int64(n)
		if err != nil || all == len(p) {
			return all, err
		}
	}
}

func (w *pacedWriter) WriteString(s string) (int, error) { return w.Write([]byte(s)) }

// ReadFrom would go round Write.
func (w *pacedWriter) ReadFrom(r io.Reader) (int64, error) {
	return io.Copy(struct{ io.Writer }{w}, r)
}

func (w *pacedWriter) Unwrap() http.ResponseWriter { return w.ResponseWriter }

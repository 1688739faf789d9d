package blobs_test

import (
	"bufio"
	"io"
	"net/http"
	"net/http/httptest"
	"strconv"
	"strings"
	"sync"
	"testing"

	"raconte/platform/blobs"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// objectStore stands in for an object store that speaks the S3 protocol: objects are put, read and removed by their
// path.
type objectStore struct {
	mu      sync.Mutex
	objects map[string]string
}

func (o *objectStore) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	o.mu.Lock()
	defer o.mu.Unlock()
	if !strings.Contains(r.Header.Get("Authorization"), "AWS4-HMAC-SHA256") {
		w.WriteHeader(http.StatusForbidden)
		return
	}
	switch r.Method {
	case http.MethodPut:
		data, err := io.ReadAll(r.Body)
		if strings.Contains(r.Header.Get("Content-Encoding"), "aws-chunked") {
			data = unchunked(data)
		}
		if err != nil {
			w.WriteHeader(http.StatusBadRequest)
			return
		}
		o.objects[r.URL.Path] = string(data)
		w.Header().Set("ETag", `"x"`)
	case http.MethodGet, http.MethodHead:
		data, there := o.objects[r.URL.Path]
		if !there {
			w.WriteHeader(http.StatusNotFound)
			return
		}
		w.Header().Set("Content-Length", strconv.Itoa(len(data)))
		w.Header().Set("Last-Modified", "Mon, 02 Jan 2006 15:04:05 GMT")
		_, _ = io.WriteString(w, data)
	case http.MethodDelete:
		delete(o.objects, r.URL.Path)
		w.WriteHeader(http.StatusNoContent)
	}
}

// unchunked is a body that was sent in signed pieces: each after a line with its length.
func unchunked(data []byte) (out []byte) {
	r := bufio.NewReader(strings.NewReader(string(data)))
	for {
		line, err := r.ReadString('\n')
		if err != nil {
			return out
		}
		size, _, _ := strings.Cut(strings.TrimSpace(line), ";")
		n, err := strconv.ParseInt(size, 16, 32)
		if err != nil || n == 0 {
			return out
		}
		piece := make([]byte, n+2)
		if _, err := io.ReadFull(r, piece); err != nil {
			return out
		}
		out = append(out, piece[:n]...)
	}
}

func TestAPlaceMayBeAnObjectStore(t *testing.T) {
	t.Setenv("AWS_ACCESS_KEY_ID", "key")
	t.Setenv("AWS_SECRET_ACCESS_KEY", "secret")
	o := &objectStore{objects: map[string]string{}}
	web := httptest.NewServer(o)
	defer web.Close()
	b, err := blobs.OpenPlace(t.Context(), "s3://manuals?region=eu-west-1&use_path_style=true&prefix=dock/&endpoint="+web.URL)
	require.NoError(t, err)
	defer b.Close()
	require.NoError(t, b.Put(t.Context(), "a/Receive a lot.txt", strings.NewReader("Scan the card")))
	assert.Equal(t, map[string]string{"/manuals/dock/a/Receive a lot.txt": "Scan the card"}, o.objects)
	got, err := b.Get(t.Context(), "a/Receive a lot.txt")
	require.NoError(t, err)
	assert.Equal(t, "Scan the card", string(got))
	require.NoError(t, b.Delete(t.Context(), "a/Receive a lot.txt"))
	assert.Empty(t, o.objects)
	_, err = b.Get(t.Context(), "a/Receive a lot.txt")
	assert.ErrorIs(t, err, blobs.ErrNotFound)
}

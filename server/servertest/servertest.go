// Package servertest gives tests a server of their own, on a database of its own, with its files in memory.
package servertest

import (
	"bytes"
	"context"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"raconte/platform/blobs"
	"raconte/platform/packed"
	"raconte/platform/seal"
	"raconte/practice/demo"
	"raconte/server"
	"raconte/store"
	"raconte/store/storetest"
	"raconte/works"
	"raconte/works/pictures"

	"github.com/stretchr/testify/require"
)

// House is a server and what it stands on.
type House struct {
	Address  string
	Store    *store.Store
	Pictures *pictures.Maker
	Works    *works.Works
}

// Start serves an empty house until the test ends; errors are logged to log, and the configuration can be changed.
// Nothing is worked on before Work.
func Start(t *testing.T, log io.Writer, change ...func(*server.Config)) House {
	t.Helper()
	b, err := blobs.Open(context.Background(), "mem://")
	require.NoError(t, err)
	return serve(t, storetest.Open(t), b, log, change...)
}

// demoHouse is the demo's house, made once for all tests of a process.
var demoHouse = sync.OnceValues(func() (h struct {
	mould *storetest.Mould
	files *blobs.Bucket
}, err error) {
	ctx := context.Background()
	if h.files, err = blobs.Open(ctx, "mem://"); err != nil {
		return h, err
	}
	h.mould, err = storetest.NewMould(func(s *store.Store) error {
		maker := pictures.New(s, h.files, slog.New(slog.DiscardHandler))
		return errors.Join(demo.Load(ctx, s, maker, h.files), demo.Load(ctx, s, maker, h.files)) // again: it does nothing
	})
	return h, err
})

// StartDemo is Start for a house with the demo's people and documents.
func StartDemo(t *testing.T, log io.Writer, change ...func(*server.Config)) House {
	t.Helper()
	if os.Getenv("RACONTE_TEST_DATABASE") == "" {
		t.Skip("RACONTE_TEST_DATABASE is not set: run make test")
	}
	h, err := demoHouse()
	require.NoError(t, err)
	ctx := context.Background()
	b, err := blobs.Open(ctx, "mem://")
	require.NoError(t, err)
	require.NoError(t, h.files.Each(ctx, "", func(key string, _ time.Time) error {
		data, err := h.files.Get(ctx, key)
		if err == nil {
			err = b.Put(ctx, key, bytes.NewReader(data))
		}
		return err
	}))
	return serve(t, h.mould.Open(t), b, log, change...)
}

func serve(t *testing.T, s *store.Store, b *blobs.Bucket, log io.Writer, change ...func(*server.Config)) House {
	t.Helper()
	quiet := slog.New(slog.NewTextHandler(log, &slog.HandlerOptions{Level: slog.LevelError}))
	const address = "http://raconte.example"
	maker := pictures.New(s, b, quiet)
	key, err := seal.Parse("cmFjb250ZSB0ZXN0cyBzZWFsIHdpdGggdGhpcyBrZXk=")
	require.NoError(t, err)
	w := &works.Works{Store: s, Pictures: maker, Blobs: b, Log: quiet, Address: address, Key: key}
	config := server.Config{Store: s, Pictures: maker, Works: w, Log: quiet, Address: address,
		Key: filepath.Join(t.TempDir(), "recorder.pem"),
		Web: packed.New(fstest.MapFS{"index.html": {Data: []byte("<!doctype html>")}})}
	for _, c := range change {
		c(&config)
	}
	srv, err := server.New(config)
	require.NoError(t, err)
	handler, err := srv.Handler()
	require.NoError(t, err)
	web := httptest.NewServer(handler)
	t.Cleanup(web.Close)
	return House{web.URL, s, maker, w}
}

// Work does background work until the test ends.
func (h House) Work(t *testing.T) {
	ctx, stop := context.WithCancel(context.Background())
	ended := make(chan struct{})
	go func() { defer close(ended); h.Works.Run(ctx, 2) }()
	t.Cleanup(func() { stop(); <-ended })
}

// Stay is for a client that is to look at where it is sent instead of going there.
func Stay(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }

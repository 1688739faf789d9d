// Package servertest gives tests a server of their own, on a database of its own, with its files in memory.
package servertest

import (
	"context"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"path/filepath"
	"testing"
	"testing/fstest"

	"raconte/blobs"
	"raconte/pictures"
	"raconte/seal"
	"raconte/server"
	"raconte/store"
	"raconte/store/storetest"
	"raconte/works"

	"github.com/stretchr/testify/require"
)

// House is a server and what it stands on.
type House struct {
	Address  string
	Store    *store.Store
	Pictures *pictures.Maker
	Works    *works.Works
}

// Start serves an empty house until the test ends; errors are logged to log, and the configuration can be changed. Nothing is worked on
// before Work.
func Start(t *testing.T, log io.Writer, change ...func(*server.Config)) House {
	t.Helper()
	s := storetest.Open(t)
	b, err := blobs.Open(context.Background(), "mem://")
	require.NoError(t, err)
	quiet := slog.New(slog.NewTextHandler(log, &slog.HandlerOptions{Level: slog.LevelError}))
	const address = "http://raconte.example"
	maker := pictures.New(s, b, quiet)
	key, err := seal.Parse("cmFjb250ZSB0ZXN0cyBzZWFsIHdpdGggdGhpcyBrZXk=")
	require.NoError(t, err)
	w := &works.Works{Store: s, Pictures: maker, Blobs: b, Log: quiet, Address: address, Key: key}
	config := server.Config{Store: s, Pictures: maker, Works: w, Log: quiet, Address: address,
		Key: filepath.Join(t.TempDir(), "recorder.pem"),
		Web: fstest.MapFS{"index.html": {Data: []byte("<!doctype html>")}}}
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

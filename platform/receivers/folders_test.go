package receivers_test

import (
	"context"
	"net/http"
	"net/http/httptest"
	"testing"

	"raconte/core/receiver"
	"raconte/platform/blobs"
	"raconte/platform/receivers"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/webdav"
)

// parcel is a text with a picture, sent for the first time.
func parcel(id string) receivers.Parcel {
	return receivers.Parcel{
		ID: id, Title: "T", Text: "It \"stays\" on", Form: receiver.Markdown,
		Files: []receivers.File{{Name: "picture 1 & ü.png", Type: "image/png", Data: []byte("\x89PNG")}},
	}
}

// TestFoldersHoldWhatWasSentOnce sends to a WebDAV folder, by golang.org/x/net/webdav, and to a place of the house:
// again after it broke off, and again after it was changed.
func TestFoldersHoldWhatWasSentOnce(t *testing.T) {
	files := webdav.NewMemFS()
	fails := 0
	dav := &webdav.Handler{FileSystem: files, LockSystem: webdav.NewMemLS()}
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		name, password, _ := r.BasicAuth()
		if name != "raconte" || password != "secret" {
			w.WriteHeader(http.StatusUnauthorized)
			return
		}
		if r.Method == http.MethodPut && fails > 0 {
			fails--
			w.WriteHeader(http.StatusInsufficientStorage)
			return
		}
		dav.ServeHTTP(w, r)
	}))
	t.Cleanup(server.Close)
	bucket, err := blobs.Open(context.Background(), "mem://")
	require.NoError(t, err)
	means := receivers.Means{Place: func(name string) *blobs.Bucket {
		if name == "Intranet" {
			return bucket
		}
		return nil
	}}
	network := receiver.Receiver{Name: "N", Way: receiver.WebDAV, Takes: receiver.Takes{Text: receiver.Markdown}, Reached: receiver.Reached{Address: server.URL + "/", Name: "raconte", Password: "secret"}}
	place := receiver.Receiver{Name: "P", Way: receiver.Folder, Takes: receiver.Takes{Text: receiver.Markdown}, Reached: receiver.Reached{Place: "Intranet"}}
	for name, r := range map[string]receiver.Receiver{"network": network, "place": place} {
		require.NoError(t, r.Check())
		d, err := receivers.Of(r, means)
		require.NoError(t, err)
		fails = 1
		var made receivers.Made
		keep := func(m receivers.Made, _ int) error { made = m; return nil }
		err = d.Send(t.Context(), parcel("s-1"), keep)
		if name == "network" {
			var busy receivers.Busy
			require.ErrorAs(t, err, &busy, "what is full is tried again")
			err = d.Send(t.Context(), parcel("s-1"), keep)
		}
		require.NoError(t, err, name)
		assert.Equal(t, "s-1", made.Number)
		p := parcel("s-2")
		p.Number, p.Text = made.Number, "It is off"
		require.NoError(t, d.Send(t.Context(), p, keep), name)
		assert.Equal(t, "s-1", made.Number, "changed, and not made anew")
	}
	f, err := files.OpenFile(t.Context(), "/s-1/text.md", 0, 0)
	require.NoError(t, err)
	said := make([]byte, 100)
	n, _ := f.Read(said)
	assert.Equal(t, "It is off", string(said[:n]))
	_, err = files.Stat(t.Context(), "/s-1/picture 1 & ü.png")
	assert.NoError(t, err)
	kept, err := bucket.Get(t.Context(), "reports/s-1/text.md")
	require.NoError(t, err)
	assert.Equal(t, "It is off", string(kept))

	network.Reached.Password = "another"
	d, err := receivers.Of(network, means)
	require.NoError(t, err)
	var refused receivers.Refused
	assert.ErrorAs(t, d.Send(t.Context(), parcel("x"), func(receivers.Made, int) error { return nil }), &refused)
	place.Reached.Place = "Elsewhere"
	_, err = receivers.Of(place, means)
	assert.ErrorAs(t, err, &refused)
}

func TestARedirectionIsNotFollowed(t *testing.T) {
	reached := false
	elsewhere := httptest.NewServer(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { reached = true }))
	t.Cleanup(elsewhere.Close)
	here := httptest.NewServer(http.RedirectHandler(elsewhere.URL, http.StatusTemporaryRedirect))
	t.Cleanup(here.Close)
	d, err := receivers.Of(receiver.Receiver{Way: receiver.HTTP, Reached: receiver.Reached{Make: receiver.Call{Address: here.URL}}}, receivers.Means{})
	require.NoError(t, err)
	err = d.Send(t.Context(), receivers.Parcel{ID: "x"}, func(receivers.Made, int) error { return nil })
	assert.ErrorContains(t, err, "points elsewhere (307)")
	assert.False(t, reached)
}

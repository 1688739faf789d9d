package receivers_test

import (
	"net/http"
	"net/http/httptest"
	"testing"

	"raconte/core/receiver"
	"raconte/platform/receivers"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestWhatWasHandedOverIsKnownByItsPlaceThoughOthersAreLeftOut(t *testing.T) {
	var came []string
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		f, h, err := r.FormFile("file")
		if assert.NoError(t, err) {
			f.Close()
			came = append(came, h.Filename+" "+r.Header.Get("Idempotency-Key"))
		}
	}))
	t.Cleanup(server.Close)
	d, err := receivers.Of(receiver.Receiver{Way: receiver.HTTP, Reached: receiver.Reached{File: receiver.Call{Address: server.URL + "/{number}"}}}, receivers.Means{})
	require.NoError(t, err)
	p := parcel("s1")
	// The text and the first file are there; the second was found too large, and stays out from now on.
	p.Number, p.Handed = "7", 2
	p.Files = []receivers.File{{Name: "a.png", Place: 0}, {Name: "c.png", Place: 2}, {Name: "d.png", Place: 3}}
	var handed []int
	require.NoError(t, d.Send(t.Context(), p, func(_ receivers.Made, n int) error { handed = append(handed, n); return nil }))
	assert.Equal(t, []string{"c.png s1-2", "d.png s1-3"}, came)
	assert.Equal(t, []int{4, 5}, handed)
}

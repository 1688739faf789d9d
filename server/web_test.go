package server_test

import (
	"bytes"
	"io"
	"net/http"
	"testing"

	"raconte/core/text"

	"github.com/andybalholm/brotli"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestFacesAreSentPackedOrPlainAndOnlyOnce(t *testing.T) {
	h := start(t)
	get := func(headers ...string) (*http.Response, []byte) {
		r, err := http.NewRequest("GET", h.Address+"/fonts/hebrew.ttf", nil)
		require.NoError(t, err)
		for i := 0; i < len(headers); i += 2 {
			r.Header.Set(headers[i], headers[i+1])
		}
		answer, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		defer answer.Body.Close()
		body, err := io.ReadAll(answer.Body)
		require.NoError(t, err)
		return answer, body
	}
	plain, face := get("Accept-Encoding", "identity")
	assert.Equal(t, "font/ttf", plain.Header.Get("Content-Type"))
	require.NoError(t, text.Register("sent", face), "it is a face")
	packed, small := get("Accept-Encoding", "gzip, br")
	assert.Equal(t, "br", packed.Header.Get("Content-Encoding"))
	assert.Less(t, len(small), len(face))
	read, err := io.ReadAll(brotli.NewReader(bytes.NewReader(small)))
	require.NoError(t, err)
	assert.Equal(t, face, read)
	again, _ := get("Accept-Encoding", "gzip, br", "If-None-Match", packed.Header.Get("ETag"))
	assert.Equal(t, 304, again.StatusCode)
	other, _ := get("Accept-Encoding", "identity", "If-None-Match", packed.Header.Get("ETag"))
	assert.Equal(t, 200, other.StatusCode, "it is another file")
}
